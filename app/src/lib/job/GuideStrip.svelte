<script lang="ts">
  /** The step of the first job that is next, above the card. */
  import { firstJob, STEPS } from './guide.svelte';
  import type { Stage } from './stages';
  import { COMMON } from '$lib/labels/common';
  import { JOB } from '$lib/labels/job';

  let { job, stage, ongo }: { job: string; stage: Stage; ongo: (stage: Stage) => void } = $props();
  const at = $derived(firstJob.stepOf(job));
</script>

{#if at}
  <section class="mb-4 border-l-4 border-primary-600-400 bg-surface-100-900 px-3.5 py-2.5" aria-label={COMMON.yourFirstJob}>
    <p class="flex justify-between gap-3 text-sm text-surface-600-400">
      <span>Your first job, step {at.number} of {STEPS.length}</span>
      <button class="underline" onclick={() => firstJob.leave()}>{COMMON.leaveIt}</button>
    </p>
    <p class="pt-0.5 font-semibold">{at.step.title}</p>
    <p class="text-sm">{at.step.says}</p>
    {#if stage !== at.step.stage}<button class="btn mt-2 preset-outlined-surface-300-700" onclick={() => ongo(at.step.stage)}>{JOB.showMeWhere}</button>{/if}
  </section>
{/if}
