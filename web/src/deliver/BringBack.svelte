<script lang="ts">
  /** A delivered file that was edited elsewhere: what was changed in it, taken over change by change or all as one step. */
  import { Button, Checkbox, FileUploaderButton } from 'carbon-components-svelte';
  import { api, type Operation, type ReturnedChange, type ReturnedView } from '../api/client';
  import { notices } from '../state/notices.svelte';
  import { wordChanges } from './wordChanges';

  let { id, disabled, taken }: { id: string; disabled: boolean; taken: () => void } = $props();

  let name = $state('');
  let found = $state.raw<ReturnedView | null>(null);
  let wanted = $state<boolean[]>([]);
  let problem = $state('');
  let busy = $state(false);

  const NAMES: Record<ReturnedChange['kind'], string> = {
    words: 'words changed',
    kind: 'made something else',
    alignment: 'set to another side',
    added: 'put in',
    removed: 'taken out',
    table: 'table rebuilt',
    description: 'picture described',
    'not taken': 'cannot be taken over by itself',
  };

  async function bring(files: ReadonlyArray<File>) {
    const file = files[0];
    if (!file) return;
    busy = true;
    problem = '';
    found = null;
    name = file.name;
    try {
      found = await api.bringBack(id, file);
      wanted = found.changes.map((change) => !!change.operation && !change.also_here);
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
    busy = false;
  }

  const chosen = $derived(found?.changes.filter((change, n) => wanted[n] && change.operation) ?? []);
  const counted = (n: number) => (n === 1 ? '1 change' : `${n} changes`);

  async function takeOver() {
    if (!found) return;
    busy = true;
    try {
      const steps = chosen.flatMap((change) => change.operation!.steps);
      await api.operate(id, found.revision, { op: 'together', steps } as Operation);
      notices.say(`${counted(chosen.length)} taken over from “${name}”. Undo at the desk takes that back.`);
      found = null;
      taken();
    } catch (error) {
      notices.wrong(error);
    }
    busy = false;
  }
</script>

<section aria-labelledby="back">
  <h2 id="back">Bring a file back</h2>
  <p>A DOCX or ODT file that was delivered from here and edited elsewhere is laid beside the document. You choose which of its changes are taken over.</p>
  <FileUploaderButton
    labelText={busy ? 'Comparing …' : 'Choose the file'}
    accept={['.docx', '.odt']}
    disabled={busy || disabled}
    disableLabelChanges
    kind="tertiary"
    size="field"
    on:change={(event) => bring(event.detail)}
  />
  {#if problem}<p class="problem" role="alert">{problem}</p>{/if}
  {#if found}
    {#if found.remarks.length}
      <ul class="remarks">
        {#each found.remarks as remark, n (n)}<li>{remark}</li>{/each}
      </ul>
    {/if}
    <p role="status">
      {found.changes.length ? `${counted(found.changes.length)} in “${name}”` : `Nothing was changed in “${name}”`},
      {found.compared_with ? 'compared with what was delivered last.' : 'compared with the document as it is: nothing was delivered in this format yet.'}
    </p>
    {#if found.changes.length}
      <ul class="changes" aria-label="Changes">
        {#each found.changes as change, n (n)}
          <li>
            <Checkbox labelText="Row {change.place + 1}: {NAMES[change.kind]}" disabled={!change.operation || busy} bind:checked={wanted[n]} />
            <div class="texts">
              <p>
                {#each wordChanges(change.before, change.after) as part, m (m)}{#if part.kind === 'gone'}<del>{part.text}</del>{:else if part.kind === 'new'}<ins
                      >{part.text}</ins
                    >{:else}{part.text}{/if}{/each}
              </p>
              {#if change.also_here}<p class="also">This row was changed here too since then: what it says here would be replaced.</p>{/if}
            </div>
          </li>
        {/each}
      </ul>
      <Button disabled={busy || disabled || !chosen.length} on:click={takeOver}>
        {chosen.length ? `Take over ${counted(chosen.length)}` : 'Choose changes'}
      </Button>
    {/if}
  {/if}
</section>

<style>
  section {
    padding: 18px 22px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
  }
  h2 {
    margin: 0 0 12px;
    font-family: var(--serif);
    font-size: 20px;
    font-weight: 650;
  }
  p {
    max-width: 65ch;
    margin: 0 0 12px;
  }
  .problem,
  .remarks,
  .also {
    color: var(--saffron);
  }
  .remarks {
    padding-left: 20px;
    list-style: disc;
  }
  .problem {
    margin-top: 12px;
  }
  [role='status'] {
    margin-top: 14px;
  }
  .changes {
    margin: 0 0 16px;
    padding: 0;
    list-style: none;
  }
  .changes li {
    display: grid;
    grid-template-columns: 250px minmax(0, 1fr);
    gap: 4px 16px;
    padding: 8px 0;
    border-bottom: 1px solid var(--paper-edge);
  }
  .texts p {
    margin: 0 0 3px;
    font-family: var(--serif);
    line-height: 1.4;
    overflow-wrap: anywhere;
    white-space: pre-wrap;
  }
  del {
    background: var(--saffron-wash);
    color: var(--saffron);
    text-decoration: line-through;
  }
  ins {
    padding: 0 2px;
    background: var(--verdigris-wash);
    font-weight: 650;
    text-decoration: none;
  }
  .texts .also {
    font-family: var(--sans);
    font-size: 13px;
  }
  @media (max-width: 640px) {
    .changes li {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
