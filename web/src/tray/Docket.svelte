<script lang="ts">
  import { Button, TextInput } from 'carbon-components-svelte';
  import type { DocumentRow } from '../api/client';
  import { deskAddress } from '../state/route.svelte';
  import { tray } from '../state/tray.svelte';
  import { languageName } from '../shared/languages.svelte';
  import OrderQuestion from './OrderQuestion.svelte';
  import PageSquares from './PageSquares.svelte';

  let { document }: { document: DocumentRow } = $props();

  let renaming = $state(false);
  let name = $state('');
  let password = $state('');
  let ordering = $state(false);

  const openable = $derived(document.revision > 0);
  const going = $derived(document.state === 'waiting' || document.state === 'reading');
  const facts = $derived(
    [
      document.page_count ? (document.page_count === 1 ? '1 page' : `${document.page_count} pages`) : '',
      document.sized_up,
      document.language ? languageName(document.language) : '',
      document.producer ? `made by ${document.producer}` : '',
      document.files > 1 ? `joined from ${document.files} files` : '',
      `came by ${document.route === 'demo' ? 'demonstration' : document.route}`,
      new Date(document.arrived_at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' }),
    ].filter(Boolean),
  );

  function rename() {
    renaming = false;
    if (name.trim() && name !== document.name) void tray.rename(document.id, name);
  }
</script>

<article class="eases" aria-label={document.name}>
  <div class="what">
    {#if renaming}
      <form
        onsubmit={(event) => {
          event.preventDefault();
          rename();
        }}
      >
        <TextInput
          size="sm"
          hideLabel
          labelText="New name"
          autofocus
          bind:value={name}
          on:keydown={(event) => event.key === 'Escape' && (renaming = false)}
        />
        <Button size="small" type="submit">Rename</Button>
      </form>
    {:else if openable}
      <a class="name" href={deskAddress(document.id)}>{document.name}</a>
    {:else}
      <span class="name">{document.name}</span>
    {/if}
    <div class="facts quiet">{facts.join(' · ')}</div>
    {#if document.page_count}
      <PageSquares total={document.page_count} read={document.pages_read} reading={document.state === 'reading'} />
    {/if}
    {#if document.problem}<p class="problem">{document.problem}</p>{/if}
    {#if document.needs === 'password'}
      <form
        onsubmit={(event) => {
          event.preventDefault();
          void tray.password(document.id, password);
          password = '';
        }}
      >
        <TextInput size="sm" type="password" hideLabel labelText="Password of the file" placeholder="Password" bind:value={password} />
        <Button size="small" type="submit" disabled={!password}>Unlock</Button>
      </form>
    {:else if document.needs === 'rights'}
      <Button size="small" kind="tertiary" on:click={() => tray.rights(document.id)}>I may work on this file</Button>
    {/if}
  </div>
  <div class="standing">
    <div class="state" data-state={document.state}>
      {document.state === 'reading' && document.page_count ? `reading ${document.pages_read} of ${document.page_count}` : document.state}
    </div>
    {#if document.again}<div class="quiet">read again: {document.again_read} of {document.again}</div>{/if}
    {#if (going || document.busy) && document.stage}<div class="quiet">{document.stage}</div>{/if}
    {#if !going && document.open_queries}
      <div class="quiet">{document.open_queries === 1 ? '1 query open' : `${document.open_queries} queries open`}</div>
    {/if}
  </div>
  <div class="actions">
    {#if openable}<Button size="small" href={deskAddress(document.id)}>{going ? 'Look' : 'Open'}</Button>{/if}
    {#if going || document.busy}<Button size="small" kind="tertiary" on:click={() => tray.stop(document.id)}>Stop</Button>{/if}
    {#if (document.state === 'stopped' || document.state === 'failed') && !document.needs}
      <Button size="small" kind="tertiary" on:click={() => tray.read(document.id)}>Read on</Button>
    {/if}
    {#if document.files > 1 && !going && !document.busy}
      <Button size="small" kind="ghost" on:click={() => (ordering = true)}>Order</Button>
    {/if}
    <Button
      size="small"
      kind="ghost"
      on:click={() => {
        name = document.name;
        renaming = true;
      }}>Rename</Button
    >
    <Button size="small" kind="ghost" on:click={() => tray.remove(document)}>Delete</Button>
  </div>
</article>
{#if document.files > 1}<OrderQuestion {document} bind:open={ordering} />{/if}

<style>
  article {
    display: grid;
    grid-template-columns: 1fr 130px auto;
    gap: 14px;
    align-items: center;
    padding: 12px 14px 12px 18px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
  }
  .what {
    min-width: 0;
  }
  .name {
    color: var(--ink);
    font-family: var(--serif);
    font-size: 19px;
    font-weight: 600;
    overflow-wrap: anywhere;
    text-decoration: none;
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    overflow: hidden;
    line-height: 1.35;
  }
  a.name:hover {
    color: var(--verdigris);
    text-decoration: underline;
  }
  .facts {
    font-size: 13px;
    line-height: 1.4;
    margin: 2px 0 6px;
  }
  .problem {
    margin: 6px 0 0;
    color: var(--alarm);
    font-size: 14px;
  }
  form {
    display: flex;
    gap: 8px;
    max-width: 480px;
    margin: 6px 0;
  }
  .standing {
    display: grid;
    gap: 4px;
    justify-items: start;
    font-size: 13px;
  }
  .state {
    padding: 2px 10px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    font-size: 13px;
  }
  .state[data-state='to correct'] {
    border-color: var(--verdigris);
    color: var(--verdigris);
  }
  .state[data-state='delivered'] {
    border-color: var(--verdigris);
    background: var(--verdigris);
    color: var(--sheet);
  }
  .state[data-state='failed'],
  .state[data-state='stopped'] {
    border-color: var(--alarm);
    color: var(--alarm);
  }
  .actions {
    display: flex;
    gap: 4px;
    justify-content: end;
    min-width: 220px;
  }
  @media (max-width: 680px) {
    article {
      grid-template-columns: 1fr;
      gap: 8px;
    }
    .actions {
      justify-content: start;
    }
  }
</style>
