<script lang="ts">
  /** An equation in a row, drawn; a click on it opens it. */
  import type { Equation } from '../api/client';
  import { drawInto } from '../shared/equations';

  interface Props {
    equation: Equation;
    language: string;
    open: () => void;
  }
  let { equation, language, open }: Props = $props();

  function drawing(place: HTMLElement, given: { equation: Equation; language: string }) {
    drawInto(place, given.equation, given.language);
    return { update: (next: { equation: Equation; language: string }) => drawInto(place, next.equation, next.language) };
  }
</script>

<!-- svelte-ignore a11y_click_events_have_key_events: the key F on the row opens it too -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<span
  class:display={equation.display}
  role="math"
  use:drawing={{ equation, language }}
  onclick={(event) => {
    event.stopPropagation();
    open();
  }}
></span>{#if equation.number}<span class="number">{equation.number}</span>{/if}

<style>
  span {
    cursor: pointer;
  }
  .display {
    display: inline-block;
    max-width: 100%;
    overflow-x: auto;
    padding: 2px 4px;
  }
  .number {
    float: inline-end;
    color: var(--ink-soft);
  }
</style>
