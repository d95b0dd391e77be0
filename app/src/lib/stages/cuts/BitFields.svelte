<script lang="ts">
  /** Everything that can be said of a bit. */
  import { workingDiameter } from '@kerbe/core/feeds';
  import { chipLoad, deepestOfV, isPointed, surfaceSpeed } from '@kerbe/core/bits';
  import { Bit as BitSchema, type Bit } from '@kerbe/core/job';
  import { FEED_UNIT, feedNumber, formatChip, formatSurface, type LengthUnit } from '@kerbe/core/length';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { len } from '$lib/ui/format';
  import ChartFields from './ChartFields.svelte';
  import HeadFields from './HeadFields.svelte';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    bit: Bit;
    unit: LengthUnit;
    onchange: (bit: Bit) => void;
  }
  let { bit, unit, onchange }: Props = $props();
  let why = $state<string | null>(null);
  const KINDS: { value: Bit['kind']; label: string }[] = [
    { value: 'v', label: 'V' },
    { value: 'end', label: CUTS.endMill },
    { value: 'ball', label: CUTS.ballNose },
    { value: 'tapered', label: CUTS.tapered },
    { value: 'engraving', label: CUTS.engravingCutter },
    { value: 'drag', label: CUTS.dragDiamond },
    { value: 'drill', label: CUTS.drill },
    { value: 'surfacing', label: CUTS.surfacing },
  ];

  function set(change: Record<string, unknown>) {
    const parsed = BitSchema.safeParse({ ...bit, ...change });
    why = parsed.success ? null : parsed.error.issues[0].message;
    if (parsed.success) onchange(parsed.data);
  }
  /** Another kind keeps what both have. */
  function become(kind: Bit['kind']) {
    const { id, name, diameter, shank, fluteLength, flutes, measuredWidth, crib, feeds } = bit;
    const cone = isPointed(bit) ? { angle: bit.angle } : { angle: kind === 'engraving' ? 20 : kind === 'tapered' ? 11 : 60 };
    const more = kind === 'v' || kind === 'tapered' || kind === 'engraving' ? cone : {};
    onchange(BitSchema.parse({ kind, id, name, diameter, shank, fluteLength, flutes, measuredWidth, crib, feeds, ...more }));
  }
  const presets = $derived(Object.entries(bit.feeds ?? {}));
</script>

<label class="name gap-2.5 flex items-center justify-between text-sm"
  >{COMMON.name} <input class="input w-57.5" value={bit.name} maxlength="80" onchange={(e) => set({ name: e.currentTarget.value.trim() })} /></label
>
{#if bit.kind === 'nozzle'}
  <ChartFields {bit} {unit} onchange={set} />
{:else if bit.kind === 'head'}
  <HeadFields {bit} {unit} onchange={set} />
{:else}
  {@render ofBit()}
{/if}
{#snippet ofBit()}
  <Choice label={CUTS.kind} value={bit.kind} options={KINDS} onchange={become} />
  <LengthField label={CUTS.cuttingDiameter} value={bit.diameter} {unit} min={0.05} onchange={(v) => set({ diameter: v })} />
  {#if isPointed(bit)}
    <NumberField label={CUTS.includedAngle} value={bit.angle} unit={COMMON.degrees} min={1} max={170} step={0.1} onchange={(v) => set({ angle: v })} />
    <LengthField label={CUTS.tipFlat} value={bit.tipFlat} {unit} min={0} onchange={(v) => set({ tipFlat: v, ...(v > 0 ? { tipRadius: 0 } : {}) })} />
    <LengthField label={CUTS.tipRadius} value={bit.tipRadius} {unit} min={0} onchange={(v) => set({ tipRadius: v, ...(v > 0 ? { tipFlat: 0 } : {}) })} />
    <p class="text-surface-600-400">Deepest before its shank meets the wood: {len(deepestOfV(bit), unit)}.</p>
  {:else if bit.kind === 'end'}
    <Choice
      label={CUTS.fluteDirection}
      value={bit.spiral}
      options={[
        { value: 'up', label: CUTS.upCut },
        { value: 'down', label: CUTS.downCut },
        { value: 'compression', label: CUTS.compression },
        { value: 'straight', label: COMMON.straight },
      ]}
      onchange={(v) => set({ spiral: v })}
    />
    {#if bit.spiral === 'compression'}
      <LengthField label={CUTS.upCuttingPart} value={bit.upLength} {unit} min={0.1} hint={CUTS.theFirstPassShouldGo} onchange={(v) => set({ upLength: v })} />
    {/if}
  {:else if bit.kind === 'drag'}
    <LengthField label={CUTS.lineWidth} value={bit.lineWidth} {unit} min={0.02} onchange={(v) => set({ lineWidth: v })} />
  {:else if bit.kind === 'drill'}
    <NumberField label={CUTS.pointAngle} value={bit.pointAngle} unit={COMMON.degrees} min={60} max={180} onchange={(v) => set({ pointAngle: v })} />
  {/if}
  {#if bit.kind !== 'drag'}
    <LengthField
      label={CUTS.measuredSlotWidth}
      value={bit.measuredWidth}
      {unit}
      min={0.05}
      placeholder={CUTS.notMeasured}
      hint={bit.measuredWidth === undefined ? CUTS.cutASlotMeasureIt : undefined}
      onclear={() => set({ measuredWidth: undefined })}
      onchange={(v) => set({ measuredWidth: v })}
    />
  {/if}
  <LengthField label={CUTS.shank} value={bit.shank} {unit} min={0.5} hint={CUTS.itDecidesTheCollet} onchange={(v) => set({ shank: v })} />
  <LengthField label={CUTS.cuttingLength} value={bit.fluteLength} {unit} min={0.1} onchange={(v) => set({ fluteLength: v })} />
  <NumberField label={CUTS.flutes} value={bit.flutes} min={1} max={12} onchange={(v) => set({ flutes: v })} />
{/snippet}
{#if why}<p class="caution" role="alert">{why}</p>{/if}
{#if presets.length}
  <h3>{CUTS.presets}</h3>
  <table class="table">
    <thead
      ><tr
        ><th>{COMMON.material}</th><th>{CUTS.feedIn(FEED_UNIT[unit])}</th><th>{CUTS.plunge}</th><th>{COMMON.spindle}</th><th>{CUTS.chipLoad}</th><th
          >{CUTS.surfaceSpeed}</th
        ><th>{COMMON.from}</th><th></th></tr
      ></thead
    >
    <tbody>
      {#each presets as [material, preset] (material)}
        <tr
          ><td>{material}</td><td>{feedNumber(preset.feed, unit)}</td><td>{feedNumber(preset.plunge, unit)}</td><td>{preset.speed}</td><td
            >{formatChip(chipLoad(preset.feed, preset.speed, bit.flutes), unit)}</td
          ><td>{formatSurface(surfaceSpeed(workingDiameter(bit), preset.speed), unit)}</td><td>{preset.source}</td><td
            ><button
              class="btn preset-outlined-surface-300-700"
              onclick={() => set({ feeds: Object.fromEntries(presets.filter(([name]) => name !== material)) })}>{COMMON.delete}</button
            ></td
          ></tr
        >
      {/each}
    </tbody>
  </table>
{/if}
