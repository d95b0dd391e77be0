<script lang="ts">
  /** A laser head: its power and spot, and what it was found to be good at. */
  import { kindNamed } from '@kerbe/core/cuts';
  import type { Bit, Cut } from '@kerbe/core/job';
  import { formatFeed, type LengthUnit } from '@kerbe/core/length';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { len } from '$lib/ui/format';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  let { bit, unit, onchange }: { bit: Extract<Bit, { kind: 'head' }>; unit: LengthUnit; onchange: (change: Record<string, unknown>) => void } = $props();
  const presets = $derived(bit.presets ?? []);
</script>

<NumberField label={CUTS.fullPower} unit="W" value={bit.watts} min={0.1} max={1000} step={0.5} onchange={(watts) => onchange({ watts })} />
<LengthField label={CUTS.spotInFocus} value={bit.diameter} {unit} min={0.01} onchange={(diameter) => onchange({ diameter })} />
<p class="text-surface-600-400">Power of the beam, as its maker states it - not what its supply draws.</p>
<h3>{CUTS.presets}</h3>
{#if presets.length > 0}
  <table class="table text-sm">
    <thead><tr><th>{COMMON.cut}</th><th>{CUTS.sheet}</th><th>{CUTS.powerFeed}</th><th>{COMMON.from}</th><th></th></tr></thead>
    <tbody>
      {#each presets as one, k (k)}
        <tr>
          <td>{kindNamed(one.kind as Cut['kind']).title}</td>
          <td>{one.material}{one.thickness ? `, ${len(one.thickness, unit)}` : ''}</td>
          <td class="tabular-nums">{one.power} %, {formatFeed(one.feed, unit)}{(one.passes ?? 1) > 1 ? `, ${one.passes} passes` : ''}</td>
          <td
            >{one.source}{one.date ? `, ${one.date}` : ''}{#if one.care}<br /><b>{one.care}</b>{/if}</td
          >
          <td
            ><button class="btn preset-outlined-surface-300-700" onclick={() => onchange({ presets: presets.filter((_, other) => other !== k) })}
              >{COMMON.delete}</button
            ></td
          >
        </tr>
      {/each}
    </tbody>
  </table>
{:else}<p class="text-surface-600-400">None yet. On a cut, <i>{CUTS.saveMineAsThePreset}</i> saves one; a test card finds it.</p>{/if}
