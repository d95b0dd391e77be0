<script lang="ts">
  /** One length, or one feed: typed as a carver types it, shown in the shop's unit with the other quietly beside. */
  import { FEED_UNIT, feedNumber, formatFeed, formatLength, formatNumber, otherUnit, readFeed, readLength, type LengthUnit } from '@kerbe/core/length';

  interface Props {
    label: string;
    value: number | undefined;
    unit: LengthUnit;
    onchange: (mm: number) => void;
    min?: number;
    max?: number;
    /** It is a feed: the value is mm/min. */
    feed?: boolean;
    /** What the length is by: `/s²` for an acceleration. */
    per?: string;
    hint?: string;
    /** Allows an empty field, meaning `onclear`. */
    onclear?: () => void;
    placeholder?: string;
  }
  let { label, value, unit, onchange, min, max, feed = false, per = '', hint, onclear, placeholder }: Props = $props();
  const id = $props.id();
  let typed = $state<string | null>(null);
  let why = $state<string | null>(null);
  const shown = $derived(value === undefined ? '' : feed ? feedNumber(value, unit) : formatNumber(value, { unit }));
  const said = (mm: number, of = unit) => (feed ? formatFeed(mm, of) : formatLength(mm, of === unit ? { unit } : otherUnit({ unit })));
  const other = $derived(value === undefined ? '' : said(value, otherUnit({ unit }).unit));

  function commit() {
    if (typed === null) return;
    if (typed.trim() === '' && onclear) {
      onclear();
      typed = null;
      why = null;
      return;
    }
    const reading = (feed ? readFeed : readLength)(typed, { unit });
    if (!reading.ok) {
      why = reading.why;
      return;
    }
    if (min !== undefined && reading.mm < min) {
      why = min <= 0.001 ? 'It must be more than nothing.' : `At least ${said(min)}.`;
      return;
    }
    if (max !== undefined && reading.mm > max) {
      why = `At most ${said(max)}.`;
      return;
    }
    why = null;
    typed = null;
    onchange(reading.mm);
  }
</script>

<div class="grid grid-cols-[1fr_8.5rem_5.2rem] items-center gap-x-2.5 py-1">
  <label class="text-sm" for={id}>{label}</label>
  <div class="field-group grid-cols-[1fr_auto] gap-0">
    <input
      {id}
      class={['input figure px-2 text-right', why !== null && 'ring-error-600-400']}
      type="text"
      inputmode="text"
      autocomplete="off"
      spellcheck="false"
      {placeholder}
      value={typed ?? shown}
      aria-invalid={why !== null}
      data-settled={typed === null ? '' : undefined}
      aria-describedby={why || hint ? `${id}-note` : undefined}
      oninput={(event) => (typed = event.currentTarget.value)}
      onblur={commit}
      onkeydown={(event) => {
        if (event.key === 'Enter') commit();
        if (event.key === 'Escape') {
          typed = null;
          why = null;
        }
      }}
    />
    <span class="label w-auto px-1.5 text-xs whitespace-nowrap text-surface-600-400">{feed ? FEED_UNIT[unit] : unit + per}</span>
  </div>
  <span class="text-xs whitespace-nowrap tabular-nums text-surface-600-400" data-other-unit>{other}{other && per}</span>
  {#if why || hint}<p id="{id}-note" class={['col-span-full text-xs', why ? 'text-error-600-400' : 'text-surface-600-400']}>{why ?? hint}</p>{/if}
</div>
