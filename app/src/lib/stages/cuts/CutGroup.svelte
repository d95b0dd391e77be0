<script lang="ts">
  /** The head of cuts that stand together: how long they take, folded away, and switched on and off as one. */
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { Cut } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import { duration } from '$lib/ui/format';
  import { CUTS } from '$lib/labels/cuts';

  let { session, cuts, folded = $bindable() }: { session: JobSession; cuts: readonly Cut[]; folded: boolean } = $props();
  const name = $derived(cuts[0].group);
  const off = $derived(cuts.every((cut) => cut.off));
  const seconds = $derived(
    (session.plan?.cuts ?? []).filter(({ id }) => cuts.some((cut) => cut.id === id && !cut.off)).reduce((sum, one) => sum + one.seconds, 0),
  );

  const turn = () =>
    session.edit(off ? CUTS.switchOnNamed(name) : CUTS.switchOffNamed(name), (d) => {
      for (const { id } of cuts) d.cuts[id].off = !off;
    });
</script>

<div class="flex items-center gap-2.5 border-t border-surface-200-800 py-1.5 text-sm" role="group" aria-label={CUTS.group(name)}>
  <button class="flex flex-1 items-center gap-1.5 text-left" aria-expanded={!folded} onclick={() => (folded = !folded)}>
    {#if folded}<ChevronRight size={16} aria-hidden="true" />{:else}<ChevronDown size={16} aria-hidden="true" />{/if}
    <b>{name}</b> <span class="text-surface-600-400">{cuts.length} {cuts.length === 1 ? CUTS.cut : CUTS.cuts}</span>
    <span class="flex-1"></span>
    <span class="figure">{off ? CUTS.off : session.plan && !session.stale ? duration(seconds) : '…'}</span>
  </button>
  <button class="btn preset-outlined-surface-300-700" aria-pressed={off} onclick={turn}>{off ? CUTS.switchAllOn : CUTS.switchAllOff}</button>
</div>
