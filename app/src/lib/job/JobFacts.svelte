<script lang="ts">
  /** The foot of a job: the facts that are wanted at every stage. */
  import { processOf } from '@kerbe/core/process';
  import { duration, len, num } from '$lib/ui/format';
  import type { JobSession } from './session.svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import { JOB } from '$lib/labels/job';

  /** `onfaster`: what would make it faster is asked for. */
  let { session, onfaster }: { session: JobSession; onfaster: () => void } = $props();
  const job = $derived(session.job);
  const count = (severity: string) => session.plan?.findings.filter((found) => found.severity === severity).length ?? 0;
  const errors = $derived(count('error'));
  const warnings = $derived(count('warning'));
  const bits = $derived(new Set((session.plan?.cuts ?? []).filter(({ facts }) => facts.moves > 0).map(({ bit }) => bit.id)).size);
  const process = $derived(processOf(job));
  const pierces = $derived((session.plan?.cuts ?? []).reduce((sum, { lifts }) => sum + lifts, 0));
  const changes = $derived(session.plan?.time.changeCount ?? 0);
</script>

<footer class="phone:hidden py-2.5 px-5 gap-7.5 border-t border-surface-200-800 row-start-4 flex text-base" aria-label={JOB.facts}>
  <span
    ><b class="figure">{num(job.board.width, job.units)} × {num(job.board.height, job.units)} × {len(job.board.thickness, job.units)}</b>
    {job.board.material}</span
  >
  {#if session.plan}
    {#if process.header.depths}
      <span>deepest <b class="figure">{len(session.plan.deepest, job.units)}</b></span>
    {:else if process.burns}
      <span><b class="figure">{pierces}</b> {pierces === 1 ? process.counts.one : process.counts.many}</span>
    {:else}
      {@const parts = session.plan.pieces.filter(({ part }) => part).length}
      <span><b class="figure">{parts}</b> {parts === 1 ? 'part' : 'parts'}, <b class="figure">{pierces}</b> {pierces === 1 ? 'pierce' : 'pierces'}</span>
    {/if}
    <span><b class="figure">{bits}</b> {bits === 1 ? process.tool.one : process.tool.many}</span>
    <span
      ><Tip tip={JOB.atTheMachineCuttingStarting}
        >{#snippet children(attributes)}<b {...attributes} class="figure">{duration(session.plan!.time.atMachine)}</b>{/snippet}</Tip
      >{changes > 0 ? ` with ${changes === 1 ? `a ${process.tool.one} change` : `${changes} ${process.tool.one} changes`}` : ''}
      {#if session.plan.cuts.length > 0 && job.process === 'router'}<button class="px-1 text-primary-600-400 underline" onclick={onfaster}>{JOB.faster}</button
        >{/if}</span
    >
    <span class={[errors > 0 && 'text-error-600-400 font-semibold', errors === 0 && warnings > 0 && 'text-warning-600-400 font-semibold']}
      >{errors ? `✕ ${errors} to fix` : warnings ? `▲ ${warnings} ${warnings === 1 ? 'warning' : 'warnings'}` : 'no problems found'}</span
    >
    {#if session.stale}<span class="text-surface-600-400">planning…</span>{/if}
  {/if}
</footer>
