<script lang="ts">
  import StageMark from '$lib/ui/StageMark.svelte';
  import { STAGES, STATE_WORD, type Stage, type StageState } from './stages';
  import Tip from '$lib/ui/Tip.svelte';
  import { JOB } from '$lib/labels/job';

  let { stage, states, ongo }: { stage: Stage; states: Record<Stage, StageState>; ongo: (stage: Stage) => void } = $props();
</script>

<nav class="flex flex-col gap-0.5 border-r border-surface-200-800 py-2.5 phone:overflow-y-auto phone:p-0" aria-label={JOB.stagesOfTheJob}>
  {#each STAGES as { id, title }, i (id)}
    <Tip tip={title} keys="Alt {i + 1}" side="right"
      >{#snippet children(attributes)}
        <button
          {...attributes}
          class={[
            'flex items-center gap-2.5 border-l-3 px-3.5 py-2.5 text-left text-sm whitespace-nowrap tablet:gap-1.5 tablet:px-2 phone:min-h-11 phone:px-2.5 phone:py-1.5',
            stage === id ? 'border-primary-600-400 bg-surface-50-950 font-semibold' : 'border-transparent',
          ]}
          aria-current={stage === id ? 'step' : undefined}
          onclick={() => ongo(id)}
        >
          <StageMark state={states[id]} />
          <span class="phone:sr-only">{title}</span>
          <span class="sr-only">, {STATE_WORD[states[id]]}</span>
        </button>{/snippet}</Tip
    >
  {/each}
</nav>
