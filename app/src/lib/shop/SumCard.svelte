<script lang="ts">
  /** One sum: what is asked, typed as anywhere, and what comes out, in both units. */
  import type { Snippet } from 'svelte';
  import { formatFeed, formatLength, otherUnit, type LengthUnit } from '@kerbe/core/length';
  import { usualFigures, type Result, type Sum } from '@kerbe/core/sums';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { duration, each, len } from '$lib/ui/format';
  import { SHOP } from '$lib/labels/shop';

  interface Props {
    sum: Sum;
    unit: LengthUnit;
    /** Where a figure may be put, beside which it is then offered. */
    put?: Snippet<[Result]>;
  }
  let { sum, unit, put }: Props = $props();
  // svelte-ignore state_referenced_locally
  const given = $state(usualFigures(sum));
  // svelte-ignore state_referenced_locally
  let chosen = $state(sum.choice?.options[0] ?? '');
  const results = $derived(sum.results(given, chosen));
  const other = $derived(otherUnit({ unit }).unit);
  const area = (mm2: number, of: LengthUnit) =>
    of === 'in' ? `${(mm2 / 645.16).toFixed(2)} in²` : mm2 < 1e5 ? `${mm2.toFixed(1)} mm²` : `${(mm2 / 1e6).toFixed(3)} m²`;
  const weight = (kg: number, of: LengthUnit) => (of === 'in' ? `${(kg * 2.20462).toFixed(2)} lb` : `${kg.toFixed(2)} kg`);
  /** What a figure is in a unit; nothing when it has none. */
  function said({ as, value, unit: of = '', each: by, decimals = 2, says = '' }: Result, shown: LengthUnit): string {
    if (by) return each(value, of, by, shown, 4);
    switch (as) {
      case 'length':
        return decimals !== 2
          ? formatLength(value, { unit: shown, decimals: shown === 'in' ? decimals + 1 : decimals })
          : shown === unit
            ? len(value, shown)
            : formatLength(value, otherUnit({ unit }));
      case 'feed':
        return formatFeed(value, shown);
      case 'area':
        return area(value, shown);
      case 'weight':
        return weight(value, shown);
      case 'time':
        return duration(value);
      case 'number':
        return `${value.toFixed(decimals)} ${of}`.trim();
      case 'text':
        return says;
    }
  }
</script>

<article aria-label={sum.title}>
  <h2 class="text-2xl">{sum.title}</h2>
  <p class="pb-3 text-surface-600-400">{sum.asks}</p>
  <div class="max-w-120">
    {#if sum.choice}
      <Choice label={sum.choice.label} value={chosen} options={sum.choice.options.map((one) => ({ value: one, label: one }))} onchange={(v) => (chosen = v)} />
    {/if}
    {#each sum.fields as { key, label, as, unit: of, per, min, max } (key)}
      {#if as === 'number'}
        <NumberField {label} unit={of} value={given[key]} min={min ?? 0} max={max ?? 1e6} step={0.001} onchange={(v) => (given[key] = v)} />
      {:else}
        <LengthField {label} feed={as === 'feed'} {per} value={given[key]} {unit} {min} {max} onchange={(v) => (given[key] = v)} />
      {/if}
    {/each}
  </div>
  <dl class="mt-4 border-t border-surface-200-800" aria-live="polite" aria-label={SHOP.whatComesOut}>
    {#each results as one (one.label)}
      {@const [here, there] = [said(one, unit), said(one, other)]}
      <div class="flex flex-wrap items-baseline gap-x-4 border-b border-surface-200-800 py-2.5">
        <dt class="flex-1">{one.label}</dt>
        <dd class="text-2xl font-semibold tabular-nums">{here}</dd>
        <dd class="min-w-24 text-right text-sm text-surface-600-400 tabular-nums" data-other-unit>{there === here ? '' : there}</dd>
        {#if put && one.into}<dd class="w-full">{@render put(one)}</dd>{/if}
        {#if one.says && one.as !== 'text'}<dd class="caution w-full">{one.says[0].toUpperCase()}{one.says.slice(1)}.</dd>{/if}
      </div>
    {/each}
  </dl>
  <p class="pt-3 text-sm text-surface-600-400">From {sum.source}.</p>
</article>
