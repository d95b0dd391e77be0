<script lang="ts">
  /** Where the tabs of a cut through the board are, and how they came there. */
  import type { CutOf } from '@kerbe/core/job';
  import type { ExtraProps } from './extra';
  import { CUTS } from '$lib/labels/cuts';

  const { session, cut, view }: ExtraProps<CutOf<'profile'>> = $props();
  const evenly = () => session.edit(CUTS.placeTheTabsEvenly, (d) => void ((d.cuts[cut.id] as typeof cut).tabsAt = []));
</script>

{#if view?.through}
  <p class="text-surface-600-400">
    {cut.tabsAt.length
      ? `${cut.tabsAt.length === 1 ? 'One tab' : `${cut.tabsAt.length} tabs`} put by hand; pull them along the line on the board, Delete takes one away.`
      : 'Tabs lie on straight runs; pull one along the line on the board to put it elsewhere.'}
  </p>
  {#if cut.tabsAt.length}<button class="btn preset-outlined-surface-300-700" onclick={evenly}>{CUTS.placeTheTabsEvenlyAgain}</button>{/if}
{/if}
