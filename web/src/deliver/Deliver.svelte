<script lang="ts">
  import { Button, Checkbox } from 'carbon-components-svelte';
  import { onMount } from 'svelte';
  import { api, deliveryAddress, type Delivery, type Format, type Opened, type Work } from '../api/client';
  import TopBar from '../shared/TopBar.svelte';
  import { save } from '../shared/save';
  import BringBack from './BringBack.svelte';
  import Checks from './Checks.svelte';
  import Preview from './Preview.svelte';
  import { notices } from '../state/notices.svelte';
  import { deskAddress } from '../state/route.svelte';
  import { session } from '../state/session.svelte';

  let { id }: { id: string } = $props();

  let opened = $state.raw<Opened | null>(null);
  let deliveries = $state.raw<Delivery[]>([]);
  let work = $state.raw<Work | null>(null);
  let formats = $state.raw<Format[]>([]);
  /** Formats that are wanted, by name. */
  let chosen = $state<Record<string, boolean>>({ docx: true });
  /** Options that are wanted, by format and name. */
  let wanted = $state<Record<string, boolean>>({});
  /** The format of which the first page is shown. */
  let seen = $state('');
  let problem = $state('');
  let writing = $state(false);

  onMount(load);

  async function load() {
    try {
      [formats, opened, deliveries, work] = await Promise.all([api.formats(), api.open(id), api.deliveries(id), api.work(id)]);
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }

  const optionsOf = (format: Format) => format.options.map((option) => option.name).filter((name) => wanted[`${format.name} ${name}`]);

  const inAll = $derived(formats.filter((format) => chosen[format.name]));

  const NAME = 'evenquill file names';
  /** Which pages of the source are wanted, all where it is empty; and what files are called. */
  let pages = $state('');
  let name = $state(localStorage.getItem(NAME) ?? '{name}');

  type Wanted = { format: string } & Parameters<typeof api.deliver>[2];

  /** Writes files one after the other, each from the document as it is then. */
  async function deliver(files: Wanted[]) {
    writing = true;
    localStorage.setItem(NAME, name);
    try {
      const made: Delivery[] = [];
      for (const { format, ...more } of files) {
        const one = await api.deliver(id, format, more);
        save(one);
        made.push(one);
      }
      const names = made.map((one) => `“${one.file_name}”`).join(', ');
      notices.say(`${names} ${made.length === 1 ? 'was' : 'were'} delivered from revision ${made.at(-1)?.revision}.`);
    } catch (error) {
      notices.wrong(error);
    }
    writing = false;
    await load();
  }

  const deliverChosen = () => deliver(inAll.map((format) => ({ format: format.name, options: optionsOf(format), pages: pages.trim(), name: name.trim() })));

  /** Takes the source's columns away; an undo at the desk brings them back. */
  async function inOneColumn() {
    if (!opened) return;
    try {
      await api.operate(id, opened.document.revision, { op: 'one_flow' });
      notices.say('It is set in one column now. Undo at the desk brings the columns back.');
    } catch (error) {
      notices.wrong(error);
    }
    await load();
  }

  const when = (time: string) => new Date(time).toLocaleString([], { dateStyle: 'medium', timeStyle: 'medium' });
  const size = (bytes: number) => (bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`);
</script>

<svelte:head><title>Deliver · Even Quill</title></svelte:head>

<TopBar>
  {#snippet children()}<h1>{opened?.document.name ?? ''}</h1>{/snippet}
  {#snippet actions()}<Button size="field" kind="ghost" href={deskAddress(id)}>Back to the desk</Button>{/snippet}
</TopBar>

<main>
  {#if problem}
    <p class="problem">{problem}</p>
  {:else if opened}
    <section aria-labelledby="open">
      <h2 id="open">Before it goes out</h2>
      {#if opened.remarks.length}
        <ul class="remarks">
          {#each opened.remarks as remark, i (i)}<li>{remark.sentence}</li>{/each}
        </ul>
      {:else}
        <p>Nothing is to be said of the source: every page was read as it is.</p>
      {/if}
      {#if opened.columns}
        <p>
          Some of it stands in columns, as in the source.
          <button class="plain" disabled={opened.document.preview} onclick={inOneColumn}>Set it all in one column</button>
        </p>
      {/if}
      {#if !opened.document.preview}<Checks {id} revision={opened.document.revision} />{/if}
      <fieldset class="formats">
        <legend>Formats</legend>
        {#each formats as format (format.name)}
          <div class="format">
            <Checkbox labelText={format.title} bind:checked={chosen[format.name]} />
            <span class="quiet about">{format.about}</span>
            {#each format.options as option (option.name)}
              <Checkbox labelText={option.title} disabled={!chosen[format.name]} bind:checked={wanted[`${format.name} ${option.name}`]} />
            {/each}
            <button
              class="plain see"
              aria-expanded={seen === format.name}
              aria-label="First page as {format.title}"
              disabled={opened.document.preview}
              onclick={() => (seen = seen === format.name ? '' : format.name)}>{seen === format.name ? 'Hide page' : 'First page'}</button
            >
          </div>
          {#if seen === format.name}<Preview {id} {format} options={optionsOf(format)} revision={opened.document.revision} />{/if}
        {/each}
      </fieldset>
      <div class="part">
        <label>Pages of the source <input bind:value={pages} placeholder="all" aria-describedby="part-help" /></label>
        <label>File name <input class="long" bind:value={name} placeholder={'{name}'} aria-describedby="part-help" /></label>
        <p id="part-help" class="quiet">
          Pages as in 1-3, 7. A name can have {'{name}'}, {'{title}'}, {'{date}'}, {'{revision}'} and {'{pages}'} in it.
        </p>
      </div>
      <Button disabled={writing || opened.document.preview || !inAll.length} on:click={deliverChosen}>
        {writing ? 'Writing …' : inAll.length ? `Deliver as ${inAll.map((format) => format.title).join(', ')}` : 'Choose a format'}
      </Button>
      <p class="quiet">
        Each file is written from revision {opened.document.revision}, as it is now.
      </p>
    </section>
    {#if work}
      <section aria-labelledby="work">
        <h2 id="work">What was done</h2>
        <p>
          {work.words} words read; {work.raised === 1 ? '1 query' : `${work.raised} queries`} raised: {work.changed} changed, {work.kept} kept,
          {work.left} left for later, {work.open} open. {work.typed} characters typed, where the whole text has {work.characters}.
        </p>
        {#if work.open}<p class="open">Queries are still open: {work.open}. The document can go out all the same.</p>{/if}
        <Button kind="tertiary" disabled={writing || opened.document.preview} on:click={() => deliver([{ format: 'certificate' }])}>
          Deliver the certificate
        </Button>
        <Button kind="tertiary" disabled={writing || opened.document.preview} on:click={() => deliver([{ format: 'certificate_pdf' }])}>
          The certificate as PDF
        </Button>
        <p class="quiet">It lists, page by page, what was corrected, what was kept, and what stays in doubt.</p>
      </section>
    {/if}
    <section aria-labelledby="delivered">
      <h2 id="delivered">Delivered so far</h2>
      {#if deliveries.length}
        <div class="scrolls">
          <table>
            <thead><tr><th>File</th><th>When</th><th>Revision</th><th>Size</th></tr></thead>
            <tbody>
              {#each deliveries as one (one.id)}
                <tr>
                  <td><a href={deliveryAddress(one.id)} download={one.file_name}>{one.file_name}</a></td>
                  <td>{when(one.made_at)}{session.person ? `, ${one.actor}` : ''}</td>
                  <td
                    >{one.revision}{#if one.revision < opened.document.revision}<span class="quiet">, corrected since</span>{/if}</td
                  >
                  <td>{size(one.size)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
      {:else}
        <p class="quiet">Nothing yet.</p>
      {/if}
    </section>
    <BringBack {id} disabled={opened.document.preview} taken={load} />
  {/if}
</main>

<style>
  .plain {
    padding: 3px 10px;
    border: 1px solid var(--verdigris);
    border-radius: 3px;
    background: none;
    color: var(--verdigris);
    font: inherit;
    cursor: pointer;
  }
  main {
    display: grid;
    gap: 20px;
    max-width: 900px;
    margin: 0 auto;
    padding: 24px 18px;
  }
  section {
    padding: 18px 22px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
  }
  .formats {
    margin: 0 0 18px;
    padding: 0;
    border: 0;
  }
  legend {
    margin-bottom: 4px;
    color: var(--ink-soft);
    font-size: 13px;
  }
  .format {
    display: grid;
    grid-template-columns: 120px minmax(0, 1fr) 240px 96px;
    gap: 4px 16px;
    align-items: center;
    padding: 4px 0;
    border-bottom: 1px solid var(--paper-edge);
  }
  .see {
    grid-column: -2;
    padding: 3px 8px;
    font-size: 14px;
  }
  .part {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 18px;
    align-items: end;
    margin-bottom: 16px;
  }
  .part label {
    display: grid;
    gap: 3px;
    color: var(--ink-soft);
    font-size: 13px;
  }
  .part input {
    width: 130px;
    height: 34px;
    padding: 0 8px;
    border: 1px solid var(--ink-soft);
    border-radius: 3px;
    background: var(--sheet);
    color: var(--ink);
    font: inherit;
    font-size: 15px;
  }
  .part .long {
    width: 280px;
    max-width: 100%;
  }
  .part p {
    flex-basis: 100%;
    margin: 0;
  }
  .about {
    font-size: 14px;
    line-height: 1.35;
  }
  @media (max-width: 640px) {
    .format {
      grid-template-columns: minmax(0, 1fr);
    }
    .see {
      grid-column: 1;
      justify-self: start;
    }
  }
  h2 {
    margin: 0 0 12px;
    font-family: var(--serif);
    font-size: 20px;
    font-weight: 650;
  }
  p {
    max-width: 65ch;
    margin: 0 0 14px;
  }
  section > p:last-child {
    margin: 12px 0 0;
  }
  .remarks {
    margin: 0 0 16px;
    padding-left: 20px;
    color: var(--saffron);
    list-style: disc;
  }
  .scrolls {
    overflow-x: auto;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  th,
  td {
    padding: 7px 14px 7px 0;
    border-bottom: 1px solid var(--paper-edge);
    text-align: left;
  }
  th {
    color: var(--ink-soft);
    font-size: 13px;
    font-weight: 500;
  }
  a {
    color: var(--verdigris);
  }
  .open {
    color: var(--saffron);
  }
</style>
