<script lang="ts">
  /** What the burn comes to: shares of the sheet by how it looks, and the energy of it. */
  import type { LengthUnit } from '@kerbe/core/length';
  import type { BurnFigures } from '@kerbe/core/proof';
  import { each } from '$lib/ui/format';

  let { figures, material, unit }: { figures: BurnFigures; material: string; unit: LengthUnit } = $props();
  const share = (part: number) => (part > 0 && part < 0.0005 ? '< 0.1 %' : `${(100 * part).toFixed(1)} %`);
  const rows = $derived([
    ['Marked at all', figures.marked],
    ['As dark as it gets', figures.full],
    ['Charred', figures.charred],
    ['Cut through', figures.through],
  ] as const);
</script>

<h2>What the beam leaves</h2>
<table class="table tabular-nums [&_td]:text-right">
  <tbody>
    {#each rows as [says, part] (says)}<tr><th class="text-left font-normal">{says}</th><td>{share(part)} of the sheet</td></tr>{/each}
    <tr><th class="text-left font-normal">Most in one place</th><td>{each(figures.most, 'J', 'area', unit)}</td></tr>
    <tr
      ><th class="text-left font-normal">Energy of it all</th><td
        >{figures.joules < 1000 ? `${figures.joules.toFixed(0)} J` : `${(figures.joules / 1000).toFixed(1)} kJ`}</td
      ></tr
    >
  </tbody>
</table>
<p class="text-surface-600-400">How {material} takes it is from memory: a test card on a piece of the same sheet decides.</p>
