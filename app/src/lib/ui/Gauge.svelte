<script lang="ts">
  /** Sheet steel by its gauge: the number sets the thickness, and the thickness shows its number. */
  import { gaugeOf, STEEL_GAUGES } from '@kerbe/core/board/gauge';
  import type { LengthUnit } from '@kerbe/core/length';
  import Choice from './Choice.svelte';
  import { len } from './format';
  import { COMMON } from '$lib/labels/common';

  let { thickness, unit, onchange }: { thickness: number; unit: LengthUnit; onchange: (mm: number) => void } = $props();
  const gauge = $derived(gaugeOf(thickness));
  const options = $derived([
    { value: '', label: COMMON.noGaugeAsTyped },
    ...Object.entries(STEEL_GAUGES).map(([number, mm]) => ({ value: number, label: `${number} ga, ${len(mm, unit)}` })),
  ]);
</script>

<Choice
  label={COMMON.steelGauge}
  value={gauge === null ? '' : String(gauge)}
  {options}
  onchange={(number) => number !== '' && onchange(STEEL_GAUGES[Number(number)])}
/>
