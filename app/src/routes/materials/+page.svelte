<script lang="ts">
  /** Materials of the shop: the usual ones with what it says of them, its own, and pieces that are left. */
  import { allMaterials, materialNamed, nameInJob, ShopMaterial, USUAL_MATERIALS, type Leftover } from '@kerbe/core/board/materials';
  import { MATERIALS } from '@kerbe/core/feeds';
  import { readLength } from '@kerbe/core/length';
  import { PROCESS_NAMES, type ProcessName } from '@kerbe/core/process';
  import { invalidateAll } from '$app/navigation';
  import Choice from '$lib/ui/Choice.svelte';
  import DataTable, { type Column, type Sorted } from '$lib/ui/DataTable.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { len, num, openings } from '$lib/ui/format';
  import { ask } from '$lib/ui/post';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { COMMON } from '$lib/labels/common';
  import { SHOP } from '$lib/labels/shop';

  let { data } = $props();
  const unit = $derived(data.units);
  const mayWrite = $derived(data.user?.role !== 'watcher');
  const all = $derived(allMaterials(data.materials));
  const isOwn = (name: string) => data.materials.some((one) => one.name.toLowerCase() === name.toLowerCase());
  const isUsual = (name: string) => USUAL_MATERIALS.some((one) => one.name.toLowerCase() === name.toLowerCase());
  /** Prices are for a square metre; a shop in inches buys by the square foot. */
  const area = $derived(unit === 'in' ? { of: 0.3048 ** 2, one: 'a square foot', sign: 'ft²' } : { of: 1, one: 'a square metre', sign: 'm²' });
  const ON: Record<ProcessName, string> = { router: 'router', torch: 'plasma table', laser: 'laser' };
  /** The one that is written on, and what it was called. */
  let edited = $state<ShopMaterial | null>(null);
  let was = $state('');
  let thick = $state('');
  let why = $state<string | null>(null);
  let said = $state<string | null>(null);
  let piece = $state<Leftover>(newPiece());

  function newPiece(): Leftover {
    return { id: '', material: 'oak', width: 300, height: 200, thickness: 18, place: '', note: '' };
  }
  function open(material: ShopMaterial | null) {
    edited = material
      ? structuredClone($state.snapshot(material))
      : { name: '', like: 'oak', on: ['router'], density: null, thicknesses: [], price: null, care: '' };
    was = material?.name ?? '';
    thick = edited.thicknesses.map((mm) => num(mm, unit)).join(', ');
    [why, said] = [null, null];
  }
  async function put(change: object, done: string) {
    const answer = await ask('/api/materials', 'PUT', change);
    why = answer.ok ? null : answer.why;
    said = answer.ok ? done : null;
    if (answer.ok) await invalidateAll();
    return answer.ok;
  }
  async function keep() {
    if (!edited) return;
    const lengths = thick
      .split(/[,;]\s*|\s{2,}/)
      .filter((text) => text.trim() !== '')
      .map((text) => readLength(text, { unit, decimals: 3 }));
    const wrong = lengths.find((one) => !one.ok);
    if (wrong && !wrong.ok) return void (why = `Thicknesses: ${wrong.why}`);
    const material = { ...$state.snapshot(edited), thicknesses: lengths.flatMap((one) => (one.ok ? [one.mm] : [])).sort((a, b) => a - b) };
    const others = data.materials.filter(({ name }) => name.toLowerCase() !== was.toLowerCase());
    if (await put({ materials: [...others, material] }, `${material.name} is kept. Jobs that are drawn already stay as they are.`)) edited = null;
  }
  async function forget() {
    if (edited && (await put({ materials: data.materials.filter(({ name }) => name !== was) }, `${was} is as Kerbe knows it, or gone.`))) edited = null;
  }
  async function addPiece() {
    const id = crypto.randomUUID().slice(0, 8);
    if (await put({ leftovers: [...data.leftovers, { ...$state.snapshot(piece), id }] }, 'The piece is kept: New sign offers it where a board fits on it.'))
      piece = newPiece();
  }
  const usedUp = (id: string) => put({ leftovers: data.leftovers.filter((one) => one.id !== id) }, 'Gone from the list.');
  const perMetre = (text: string) => {
    const price = typed(text);
    return price === null ? null : price / area.of;
  };
  const typed = (text: string) => (text.trim() === '' ? null : Number(text.replace(',', '.')));
  let sorted = $state<Sorted | null>(null);
  const columns: Column<ShopMaterial>[] = $derived([
    { id: 'name', title: COMMON.material, cell: nameCell, sortBy: nameInJob },
    { id: 'on', title: 'On', cell: onCell, sortBy: ({ on }) => on.join() },
    { id: 'density', title: SHOP.density, cell: densityCell, sortBy: ({ density }) => density ?? Infinity, figures: true },
    { id: 'bought', title: SHOP.bought, cell: boughtCell },
    { id: 'price', title: SHOP.pricePer(data.currency, area.sign), cell: priceCell, sortBy: ({ price }) => price ?? Infinity, figures: true },
    { id: 'care', title: SHOP.cautions, cell: careCell },
    { id: 'change', title: '', cell: changeCell },
  ]);
</script>

{#snippet nameCell(one: ShopMaterial)}<b>{nameInJob(one)}</b>{/snippet}
{#snippet onCell({ on }: ShopMaterial)}{on.map((kind) => ON[kind]).join(', ')}{/snippet}
{#snippet densityCell({ density }: ShopMaterial)}<span class="whitespace-nowrap">{density === null ? '' : `${density} g/cm³`}</span>{/snippet}
{#snippet boughtCell({ thicknesses }: ShopMaterial)}<span class="figure"
    >{thicknesses.map((mm) => num(mm, unit)).join(', ')}{thicknesses.length ? ` ${unit}` : ''}</span
  >{/snippet}
{#snippet priceCell({ price }: ShopMaterial)}{price === null ? '' : (price * area.of).toFixed(2)}{/snippet}
{#snippet careCell({ care }: ShopMaterial)}<span class="block max-w-90 text-sm whitespace-normal text-surface-600-400">{care}</span>{/snippet}
{#snippet changeCell(one: ShopMaterial)}<button
    class="btn preset-outlined-surface-300-700"
    disabled={!mayWrite}
    aria-label={SHOP.changeNamed(one.name)}
    onclick={() => open(one)}>{SHOP.change}</button
  >{/snippet}

<svelte:head><title>Materials · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="materials" />
<main class="grid gap-4 px-6.5 py-5">
  <div class="flex items-center gap-3">
    <h1 class="text-3xl">{COMMON.materials}</h1>
    <span class="flex-1"></span>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={!mayWrite} onclick={() => open(null)}>{SHOP.addAMaterial}</button>
  </div>
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
  {#if said}<p role="status">{said}</p>{/if}
  {#if edited}
    <form
      class="grid max-w-220 gap-1 border border-surface-300-700 p-4"
      onsubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <div class="grid grid-cols-2 gap-x-8">
        <div>
          <label class="label"><span>{COMMON.name}</span><input class="input" bind:value={edited.name} maxlength="40" required disabled={isUsual(was)} /></label
          >
          {#if !isUsual(was)}
            <Choice
              label={COMMON.cutsLike}
              value={edited.like ?? ''}
              options={[{ value: '', label: SHOP.noOtherMaterial }, ...Object.keys(MATERIALS).map((key) => ({ value: key, label: key }))]}
              onchange={(like) => edited && (edited.like = like || null)}
            />
          {/if}
          <div class="flex gap-4 py-2" role="group" aria-label={SHOP.workedOn}>
            {#each PROCESS_NAMES as kind (kind)}
              <label class="flex items-center gap-1.5 text-sm"
                ><input
                  class="checkbox"
                  type="checkbox"
                  checked={edited.on.includes(kind)}
                  onchange={(event) => edited && (edited.on = event.currentTarget.checked ? [...edited.on, kind] : edited.on.filter((one) => one !== kind))}
                />
                {ON[kind]}</label
              >
            {/each}
          </div>
        </div>
        <div>
          <label class="label"
            ><span>{SHOP.thicknessesYouBuy(unit)}</span><input
              class="input"
              bind:value={thick}
              placeholder={unit === 'in' ? '1/4, 1/2, 3/4' : '6, 12, 18'}
            /></label
          >
          <div class="grid grid-cols-2 gap-3">
            <label class="label"
              ><span>{SHOP.densityGCm}</span><input
                class="input"
                inputmode="decimal"
                value={edited.density ?? ''}
                onchange={(event) => edited && (edited.density = typed(event.currentTarget.value))}
              /></label
            >
            <label class="label"
              ><span>{SHOP.priceFor(data.currency, area.one)}</span><input
                class="input"
                inputmode="decimal"
                value={edited.price === null ? '' : Number((edited.price * area.of).toFixed(2))}
                onchange={(event) => edited && (edited.price = perMetre(event.currentTarget.value))}
              /></label
            >
          </div>
          <label class="label"><span>{SHOP.cautions}</span><input class="input" bind:value={edited.care} maxlength="300" /></label>
        </div>
      </div>
      <p class="flex gap-2 pt-2">
        <button class="btn preset-filled-brand px-4 py-2.5 font-semibold">{COMMON.save}</button>
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (edited = null)}>{COMMON.cancel}</button>
        {#if isOwn(was)}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => void forget()}
            >{isUsual(was) ? SHOP.backToWhatKerbeKnows : SHOP.deleteIt}</button
          >{/if}
      </p>
    </form>
  {/if}
  <DataTable label={COMMON.materials} rows={all} idOf={({ name }) => name} {columns} bind:sorted />
  <h2>{SHOP.piecesThatAreLeft}</h2>
  <ul class="grid max-w-220 text-sm" aria-label={SHOP.piecesThatAreLeft}>
    {#each data.leftovers as one (one.id)}
      <li class="flex items-center gap-3 border-t border-surface-200-800 py-1.5">
        <span class="flex-1"
          ><b>{one.material}</b>
          {len(one.width, unit)} × {len(one.height, unit)} × {len(one.thickness, unit)}{one.place ? `, ${one.place}` : ''}{one.note
            ? `: ${one.note}`
            : ''}{one.gone ? `, ${openings(one.gone.length)}` : ''}</span
        >
        <button class="btn preset-outlined-surface-300-700" disabled={!mayWrite} onclick={() => void usedUp(one.id)}>{SHOP.usedUp}</button>
      </li>
    {:else}<li class="text-surface-600-400">None is written down. What is left of a board is offered again when a sign fits on it.</li>{/each}
  </ul>
  <form
    class="grid max-w-110 gap-1"
    onsubmit={(event) => {
      event.preventDefault();
      void addPiece();
    }}
  >
    <Choice
      label={SHOP.aPieceOf}
      value={piece.material}
      options={[...new Set(all.map(nameInJob))].map((name) => ({ value: name, label: name }))}
      onchange={(material) => {
        const bought = materialNamed(material, data.materials)?.thicknesses[0];
        piece = { ...piece, material, thickness: bought ?? piece.thickness };
      }}
    />
    <LengthField label={COMMON.width} value={piece.width} {unit} min={5} onchange={(width) => (piece.width = width)} />
    <LengthField label={COMMON.height} value={piece.height} {unit} min={5} onchange={(height) => (piece.height = height)} />
    <LengthField label={COMMON.thickness} value={piece.thickness} {unit} min={0.3} onchange={(thickness) => (piece.thickness = thickness)} />
    <label class="label"><span>{COMMON.whereItIsKept}</span><input class="input" bind:value={piece.place} maxlength="80" placeholder={SHOP.rack2Left} /></label>
    <p class="pt-2"><button class="btn preset-outlined-surface-300-700" disabled={!mayWrite}>{SHOP.addThePiece}</button></p>
  </form>
</main>
