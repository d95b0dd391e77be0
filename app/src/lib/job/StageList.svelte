<script lang="ts">
  import StageMark from '$lib/ui/StageMark.svelte';
  import { STAGES, STATE_WORD, type Stage, type StageState } from './stages';

  let { stage, states, ongo }: { stage: Stage; states: Record<Stage, StageState>; ongo: (stage: Stage) => void } = $props();
</script>

<nav aria-label="Stages of the job">
  {#each STAGES as { id, title }, i (id)}
    <button class:here={stage === id} aria-current={stage === id ? 'step' : undefined} onclick={() => ongo(id)} title="Alt {i + 1}">
      <StageMark state={states[id]} />
      <span>{title}</span>
      <span class="sr-only">, {STATE_WORD[states[id]]}</span>
    </button>
  {/each}
</nav>

<style>
  nav {
    display: flex;
    flex-direction: column;
    border-right: 1px solid var(--line);
    padding: 0.6rem 0;
    gap: 0.1rem;
  }
  nav button {
    display: flex;
    gap: 0.55rem;
    align-items: center;
    padding: 0.65rem 0.8rem;
    text-align: left;
    font-size: 0.92rem;
    border-left: 3px solid transparent;
  }
  nav .here {
    border-left-color: var(--accent);
    background: var(--sheet);
    font-weight: 600;
  }
  /* A phone: the marks stay, the words make room for the run. */
  @media (max-height: 480px), (max-width: 600px) {
    nav {
      overflow-y: auto;
      padding: 0;
    }
    nav button {
      min-height: 44px;
      padding: 0.4rem 0.6rem;
    }
    nav button span:not(.sr-only) {
      position: absolute;
      width: 1px;
      height: 1px;
      overflow: hidden;
      clip-path: inset(50%);
    }
  }
</style>
