<script lang="ts">
  import { Button } from 'carbon-components-svelte';
  import { health } from '../state/health.svelte';
  import { notices } from '../state/notices.svelte';
</script>

<div class="notices" role="status" aria-live="polite">
  {#each health.shown as problem (problem)}
    <div class="notice wrong">
      <span>{problem}</span>
      <button class="close" aria-label="Close this message" onclick={() => health.close(problem)}>×</button>
    </div>
  {/each}
  {#each notices.shown as notice (notice.id)}
    <div class="notice" class:wrong={notice.kind === 'wrong'}>
      <span>{notice.sentence}</span>
      {#if notice.action}
        <Button
          size="small"
          kind="ghost"
          on:click={() => {
            notice.action?.run();
            notices.dismiss(notice.id);
          }}>{notice.action.name}</Button
        >
      {/if}
      <button class="close" aria-label="Close this message" onclick={() => notices.dismiss(notice.id)}>×</button>
    </div>
  {/each}
</div>

<style>
  .notices {
    position: fixed;
    z-index: 9100;
    right: 16px;
    bottom: 52px;
    display: grid;
    gap: 8px;
    max-width: min(460px, calc(100vw - 32px));
  }
  .notice {
    display: flex;
    gap: 10px;
    align-items: center;
    padding: 10px 8px 10px 14px;
    border: 1px solid var(--paper-edge);
    border-left: 4px solid var(--verdigris);
    background: var(--sheet);
    box-shadow: 0 4px 14px rgb(29 37 48 / 18%);
  }
  .notice.wrong {
    border-left-color: var(--alarm);
  }
  span {
    flex: 1;
    overflow-wrap: anywhere;
  }
  .close {
    border: 0;
    background: none;
    color: var(--ink-soft);
    font-size: 20px;
    cursor: pointer;
  }
</style>
