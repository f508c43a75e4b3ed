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

  function opened(event: Event) {
    event.stopPropagation();
    open();
  }

  function drawing(place: HTMLElement, given: { equation: Equation; language: string }) {
    drawInto(place, given.equation, given.language);
    return { update: (next: { equation: Equation; language: string }) => drawInto(place, next.equation, next.language) };
  }
</script>

{#if equation.display}
  <!-- It has the focus so that a long one can be moved along by keys. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <span
    class="display"
    role="group"
    tabindex="0"
    aria-label="Displayed equation {equation.number ?? ''}"
    use:drawing={{ equation, language }}
    onclick={opened}
    onkeydown={(event) => event.key === 'Enter' && opened(event)}
  ></span>
{:else}
  <!-- svelte-ignore a11y_click_events_have_key_events: the key F on the row opens it too -->
  <span role="presentation" use:drawing={{ equation, language }} onclick={opened}></span>
{/if}{#if equation.number}<span class="number">{equation.number}</span>{/if}

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
