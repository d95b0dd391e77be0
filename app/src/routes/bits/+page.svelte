<script lang="ts">
  /** The crib: every bit of the shop to one scale, with its figures and hours. */
  import { format } from 'date-fns';
  import { decodeText } from '@kerbe/core/text';
  import { bitName, cuttingWidth } from '@kerbe/core/bits';
  import { nozzleFor } from '@kerbe/core/bits/nozzle';
  import { cribToCsv, cribToJson, readCrib } from '@kerbe/core/bits/crib';
  import { Bit as BitSchema, type Bit } from '@kerbe/core/job';
  import BitDrawing from '$lib/board/BitDrawing.svelte';
  import BitFields from '$lib/stages/cuts/BitFields.svelte';
  import Presets from '$lib/shop/Presets.svelte';
  import { saveFile } from '$lib/ui/files';
  import { duration, len, way } from '$lib/ui/format';
  import { ask } from '$lib/ui/post';
  import Segments from '$lib/ui/Segments.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import type { PageData } from './$types';
  import { SHOP } from '$lib/labels/shop';
  import { COMMON } from '$lib/labels/common';

  type Crib = Pick<PageData, 'bits'>;
  let { data } = $props();
  // svelte-ignore state_referenced_locally
  let bits = $state.raw<Crib['bits']>(data.bits);
  let open = $state<string | null>(null);
  const VIEWS = [
    { value: 'bits', label: SHOP.inTheCrib },
    { value: 'presets', label: SHOP.whatWasFoundForThem },
  ] as const;
  let view = $state<'bits' | 'presets'>('bits');
  let note = $state<{ text: string; bad: boolean } | null>(null);
  // svelte-ignore state_referenced_locally
  let unit = $state(data.units);
  let chooser: HTMLInputElement;
  const opened = $derived(bits.find(({ bit }) => bit.id === open) ?? null);

  async function change(url: string, method: 'POST' | 'PATCH' | 'DELETE', body: unknown, said: string) {
    const answer = await ask<Crib>(url, method, body);
    if (answer.ok) bits = answer.value.bits;
    note = answer.ok ? (said ? { text: said, bad: false } : null) : { text: answer.why, bad: true };
  }
  let cost = $state('');
  const numberOf = (text: string) => (text.trim() === '' ? null : Number(text.replace(',', '.')));
  const giveLife = (id: string, text: string) => change('/api/bits', 'PATCH', { id, life: numberOf(text) }, '');
  async function sharp(id: string, kind: 'sharpened' | 'replaced') {
    await change('/api/bits', 'PATCH', { id, kind, cost: numberOf(cost), note: '' }, 'Its hours count from now.');
    cost = '';
  }
  const keep = (list: Bit[], said = '') => change('/api/bits', 'POST', { bits: list }, said);
  /** What can be added: what turns becomes any other bit, a nozzle and a head stay what they are. */
  const NEW = {
    bit: { label: SHOP.addABit, begin: (id: string): Bit => BitSchema.parse({ kind: 'end', id, name: 'New bit', diameter: 6 }) },
    nozzle: { label: SHOP.addANozzle, begin: (id: string): Bit => ({ ...nozzleFor(3), id, name: 'New nozzle' }) },
    head: { label: SHOP.addAHead, begin: (id: string): Bit => BitSchema.parse({ kind: 'head', id, name: 'New laser head' }) },
  };
  async function add(what: keyof typeof NEW) {
    let n = 1;
    while (bits.some(({ bit }) => bit.id === `${what}${n}`)) n++;
    await keep([NEW[what].begin(`${what}${n}`)]);
    open = `${what}${n}`;
  }
  const wide = (bit: Bit): string => {
    if (bit.kind === 'nozzle')
      return `a kerf of about ${len(bit.diameter, unit)}, charted for ${bit.chart.length} ${bit.chart.length === 1 ? 'plate' : 'plates'}`;
    if (bit.kind === 'head') return `${bit.watts} W, a spot of ${len(bit.diameter, unit)}`;
    const cuts =
      bit.kind === 'drag' ? `scratches ${len(bit.lineWidth, unit)}` : `cuts ${len(cuttingWidth(bit), unit)}${bit.measuredWidth ? ' (measured)' : ''}`;
    return `${cuts}, shank ${len(bit.shank, unit)}, reaches ${len(bit.fluteLength, unit)}`;
  };
  const sharpens = ({ kind }: Bit) => kind !== 'nozzle' && kind !== 'head';
  async function bringIn(file: File) {
    const { bits: read, why } = readCrib(decodeText(new Uint8Array(await file.arrayBuffer())));
    if (read.length) await keep(read, `${read.length} ${read.length === 1 ? 'bit was' : 'bits were'} brought in.`);
    if (why.length) note = { text: `${read.length ? `${read.length} brought in. ` : ''}${why.slice(0, 4).join(' ')}`, bad: true };
  }
  async function drop(id: string) {
    await change(`/api/bits?id=${encodeURIComponent(id)}`, 'DELETE', undefined, 'The bit is out of the crib. Jobs that use it keep their own copy.');
    open = null;
  }
</script>

<svelte:head><title>Bits · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="bits" />
<main class="py-5 px-6.5">
  <div class="gap-2.5 flex flex-wrap items-center pb-3.5">
    <h1 class="text-3xl">{COMMON.bits}</h1>
    <Segments label={COMMON.whatIsShown} value={view} options={VIEWS} onchange={(to) => (view = to)} />
    <button class="btn preset-outlined-surface-300-700" onclick={() => (unit = unit === 'mm' ? 'in' : 'mm')}>{SHOP.shownIn(unit)}</button>
    <span class="flex-1"></span>
    {#if view === 'bits'}
      <button class="btn preset-outlined-surface-300-700" onclick={() => chooser.click()}>{SHOP.import}</button>
      <button
        class="btn preset-outlined-surface-300-700"
        disabled={bits.length === 0}
        onclick={() => saveFile('bits.csv', cribToCsv(bits.map(({ bit }) => bit)), 'text/csv')}>{COMMON.saveAsCsv}</button
      >
      <button
        class="btn preset-outlined-surface-300-700"
        disabled={bits.length === 0}
        onclick={() => saveFile('bits.json', cribToJson(bits.map(({ bit }) => bit)), 'application/json')}>{SHOP.saveAsJson}</button
      >
      <button class="btn preset-outlined-surface-300-700" onclick={() => add('nozzle')}>{NEW.nozzle.label}</button>
      <button class="btn preset-outlined-surface-300-700" onclick={() => add('head')}>{NEW.head.label}</button>
      <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => add('bit')}>{NEW.bit.label}</button>
    {/if}
  </div>
  <input
    bind:this={chooser}
    type="file"
    hidden
    accept=".csv,.json,text/csv,application/json"
    onchange={(event) => {
      const [file] = event.currentTarget.files ?? [];
      event.currentTarget.value = '';
      if (file) void bringIn(file);
    }}
  />
  {#if note}<p class:caution={note.bad} role={note.bad ? 'alert' : 'status'}>{note.text}</p>{/if}
  {#if view === 'presets'}<Presets
      bits={bits.map(({ bit }) => bit)}
      {unit}
      onopen={(bit) => {
        view = 'bits';
        open = bit;
      }}
    />{/if}
  <div class={['gap-5.5 grid', view === 'presets' && 'hidden', opened !== null && 'grid-cols-[minmax(0,1fr)_27rem]']}>
    <ul class="gap-3 grid grid-cols-[repeat(auto-fill,minmax(11.5rem,1fr))] content-start">
      {#each bits as { bit, hours, since, life, strikesSince, strikesLife } (bit.id)}
        {@const worn = Math.max(life === null ? 0 : since / life, strikesLife === null ? 0 : strikesSince / strikesLife)}
        <li>
          <button
            class={[
              'card grid h-full w-full content-start gap-1 border bg-surface-50-950 p-3 text-left text-sm',
              bit.id === open ? 'border-primary-600-400 shadow-[inset_0_-2px_0_var(--color-primary-600-400)]' : 'border-surface-200-800',
            ]}
            aria-pressed={bit.id === open}
            onclick={() => (open = bit.id === open ? null : bit.id)}
          >
            <span class="overflow-hidden h-29.5 grid items-end justify-items-center"><BitDrawing {bit} {unit} scale={2.2} height={118} /></span>
            <strong>{bitName(bit, unit)}</strong>
            <span class="text-surface-600-400">{wide(bit)}</span>
            <span class={[worn > 1 ? 'font-semibold text-error-600-400' : worn >= 0.8 ? 'text-warning-600-400' : 'text-surface-600-400']}
              >{hours === 0
                ? SHOP.notUsedYet
                : bit.kind === 'nozzle'
                  ? SHOP.pierces(strikesSince, strikesLife === null ? '' : ` of ${strikesLife}`, worn > 1 ? ': worn' : '')
                  : life !== null
                    ? `${duration(3600 * since)} of ${duration(3600 * life)}${since > life ? (sharpens(bit) ? ': dull' : ': worn') : ''}`
                    : since < hours
                      ? SHOP.sinceItWas(duration(3600 * since), sharpens(bit) ? 'sharp' : 'new')
                      : SHOP.atWork(duration(3600 * hours))}</span
            >
          </button>
        </li>
      {:else}
        <li class="py-8 col-span-full">
          <p>No bit in the crib yet. Jobs take their bits from here, and hours are counted here.</p>
          <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => change('/api/bits', 'POST', { usual: true }, '')}
            >{SHOP.beginWithTheUsualSet}</button
          >
        </li>
      {/each}
    </ul>
    {#if opened}
      <section
        class="sticky top-4 max-h-[calc(100vh-2rem)] self-start overflow-y-auto border-l border-surface-200-800 pl-5"
        aria-label={SHOP.toolTitle(bitName(opened.bit, unit))}
      >
        {#key opened.bit.id}<BitFields bit={opened.bit} {unit} onchange={(bit) => void keep([bit])} />{/key}
        <h3 class="pt-3 font-semibold">{sharpens(opened.bit) ? SHOP.edge : SHOP.wear}</h3>
        <p class="text-sm">
          {opened.hours === 0
            ? 'Not used yet.'
            : `${duration(3600 * opened.since)} and ${way(opened.metresSince, unit)} since it was ${sharpens(opened.bit) ? 'sharp' : 'new'}, ${duration(3600 * opened.hours)} and ${way(opened.metres, unit)} in all.`}
          {#if opened.bit.kind === 'nozzle' && opened.hours > 0}{opened.strikesSince} pierces since then, {opened.strikes} in all.{/if}
        </p>
        <div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
          <label class="text-sm" for="life">{SHOP.lifeHours}</label>
          <input
            id="life"
            class="input"
            inputmode="decimal"
            placeholder={SHOP.noLimit}
            value={opened.life ?? ''}
            onchange={(event) => void giveLife(opened.bit.id, event.currentTarget.value)}
          />
        </div>
        {#if opened.bit.kind === 'nozzle'}
          <div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
            <label class="text-sm" for="pierces">{SHOP.lifePierces}</label>
            <input
              id="pierces"
              class="input"
              inputmode="numeric"
              placeholder={SHOP.noLimit}
              value={opened.strikesLife ?? ''}
              onchange={(event) => void change('/api/bits', 'PATCH', { id: opened.bit.id, strikesLife: numberOf(event.currentTarget.value) }, '')}
            />
          </div>
        {/if}
        <div class="flex flex-wrap items-end gap-2 py-1">
          <label class="text-sm">{SHOP.cost(data.currency)}<input class="input w-24" inputmode="decimal" bind:value={cost} /></label>
          {#if sharpens(opened.bit)}
            <button class="btn preset-outlined-surface-300-700" onclick={() => void sharp(opened.bit.id, 'sharpened')}>{SHOP.itWasSharpened}</button>
          {/if}
          <button class="btn preset-outlined-surface-300-700" onclick={() => void sharp(opened.bit.id, 'replaced')}>{SHOP.itWasReplaced}</button>
        </div>
        {#if opened.events.length > 0}
          <ul class="py-1 text-sm" aria-label={sharpens(opened.bit) ? SHOP.dateItWasSharpened : SHOP.dateItWasReplaced}>
            {#each opened.events.slice(0, 8) as one (one.at)}
              <li class="border-t border-surface-200-800 py-1">
                {format(new Date(one.at), 'd MMM yyyy')}: {one.kind}{one.cost === null ? '' : `, ${data.currency}${one.cost.toFixed(2)}`}, {one.by}
              </li>
            {/each}
          </ul>
        {/if}
        <button class="btn preset-outlined-surface-300-700" onclick={() => drop(opened.bit.id)}>{SHOP.removeItFromTheCrib}</button>
      </section>
    {/if}
  </div>
</main>
