<script lang="ts">
  /** What can be done with several rows at once: shown while rows are marked. */
  import { api } from '../api/client';
  import { KINDS } from '../shared/blocks';
  import { save } from '../shared/save';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import { drawColumns, joinRows, lineUp, moveRows, rowsToTable, setAside, setKind, setLevel } from './rowActions';

  let { proof }: { proof: Proof } = $props();

  const rows = $derived(proof.inHand);

  async function deliver() {
    try {
      const made = await api.deliver(proof.id, 'docx', { rows: rows.map((row) => row.id), name: '{name}, some rows' });
      save(made);
      notices.say(`“${made.file_name}” has these ${rows.length} rows.`);
    } catch (error) {
      notices.wrong(error);
    }
  }

  function choose(select: HTMLSelectElement) {
    const kind = KINDS.find((one) => one.name === select.value);
    select.value = '';
    if (kind) setKind(proof, rows, kind);
  }
</script>

<div class="small-tools marked" role="toolbar" aria-label="Tools for the marked rows">
  <b role="status">{rows.length} rows marked</b>
  <select aria-label="Kind of the marked rows" onchange={(event) => choose(event.currentTarget)}>
    <option value="">Make them…</option>
    {#each KINDS as one (one.name)}<option>{one.name}</option>{/each}
  </select>
  <button onclick={() => setLevel(proof, rows, -1)} title="One level up ([)">Less deep</button>
  <button onclick={() => setLevel(proof, rows, 1)} title="One level deeper (])">Deeper</button>
  <button onclick={() => joinRows(proof, rows)} title="Make one row of them (J)">Join</button>
  <button onclick={() => rowsToTable(proof, rows)} title="Cells where their tabs are (Y)">Make a table</button>
  <button onclick={() => lineUp(proof, rows)} title="The same tab stops for all; wide gaps and dots become tabs">Line up</button>
  <button onclick={() => drawColumns(proof, rows)} title="Lines on their strips say where columns end">Columns by lines</button>
  <button onclick={() => moveRows(proof, rows, -1)} title="Move up (Alt ↑)">Up</button>
  <button onclick={() => moveRows(proof, rows, 1)} title="Move down (Alt ↓)">Down</button>
  <button onclick={() => setAside(proof, rows)} title="Keep them out of the result (X)">Set aside</button>
  <button onclick={deliver} title="A DOCX file of these rows alone">Deliver</button>
  <button onclick={() => proof.unmark()} title="Mark no rows (Esc)">Unmark</button>
</div>

<style>
  .marked {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    padding: 8px 18px;
    border-top: 2px solid var(--verdigris);
    background: var(--sheet);
  }
  b {
    margin-right: 8px;
  }
</style>
