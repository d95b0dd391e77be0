<script lang="ts">
  /** The figures of one drawn thing: where it is, how it is turned, and what its kind asks for. */
  import { cutOutSign } from '@kerbe/core/artwork/begin-cut';
  import { SIDES, trimmed, trimmedOff, type Side } from '@kerbe/core/artwork/trim';
  import type { Item } from '@kerbe/core/job';
  import { usualOrder } from '@kerbe/core/plan/order';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { equalTo, fieldsOf, HOLE_FIELDS, kindName, type Field } from '$lib/art/fields';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ARTWORK } from '$lib/labels/artwork';
  import { COMMON } from '$lib/labels/common';

  let { editor, item }: { editor: ArtEditor; item: Item } = $props();
  const unit = $derived(editor.job.units);
  type Bag = Record<string, string | number>;

  const twins = $derived(equalTo(item, Object.values(editor.job.items)));
  /** The equal ones change with it. */
  let all = $state(false);
  const shown = (field: Field, bag: Bag) => Number(bag[field.key]) / (field.kind === 'length' && field.half ? 2 : 1);
  function put(bag: Bag, field: Field, value: string | number) {
    const real = field.kind === 'length' && field.half ? 2 * Number(value) : value;
    bag[field.key] = real;
    if (field.kind === 'length' && field.also) bag[field.also] = real;
  }
  function set(field: Field, value: string | number) {
    const ids = [item.id, ...(all ? twins.map(({ id }) => id) : [])];
    editor.type(field.label, ids, (d) => field.key in d && put(d as unknown as Bag, field, value));
  }
  const setLayout = (field: Field, value: string | number) =>
    editor.set<Extract<Item, { kind: 'holes' }>>(field.label, item.id, (d) => void ((d.layout as unknown as Bag)[field.key] = value));
  const place = (key: 'x' | 'y' | 'angle', value: number) => editor.type(key === 'angle' ? 'Turn' : 'Move', [item.id], (d) => (d[key] = value));
  const LAYOUTS = {
    rows: { kind: 'rows', columns: 4, rows: 2, dx: 30, dy: 30 },
    circle: { kind: 'circle', count: 6, across: 60 },
    corners: { kind: 'corners', width: 200, height: 100, inset: 10 },
  } as const;
  const AT: Record<Side, string> = { left: 'on the left', right: 'on the right', top: 'at the top', bottom: 'at the bottom' };
  const trim = (side: Side, off: number) =>
    editor.set<Extract<Item, { kind: 'picture' }>>('Trim', item.id, (d) => {
      const left = trimmed(d, side, off);
      delete d.trim;
      Object.assign(d, left);
    });
  const isLine = $derived(item.kind === 'line');

  /** It becomes the outline; where no cut goes along that yet, one does now. */
  function cutOut() {
    const job = { ...editor.job, outline: item.id };
    const cut = cutOutSign(job);
    editor.session.edit(ARTWORK.outlineOfTheSign, (d) => {
      d.outline = item.id;
      if (!cut) return;
      d.cuts[cut.id] = cut as (typeof d.cuts)[string];
      d.cutOrder = usualOrder({ ...job, cuts: { ...job.cuts, [cut.id]: cut }, cutOrder: [...job.cutOrder, cut.id] });
    });
    if (cut) editor.note = { text: `“${cut.name}” is among the cuts now.`, bad: false };
  }

  function pickStart() {
    editor.hand.pointFor = {
      what: isLine ? 'start of the line' : 'middle',
      then: (x, y) =>
        editor.set<Item>('Move to a point', item.id, (d) => {
          d.x = Math.round(x * 1e4) / 1e4;
          d.y = Math.round(y * 1e4) / 1e4;
        }),
    };
    editor.hand.tool = 'point';
  }
</script>

{#snippet fields(list: Field[], bag: Bag, change: (field: Field, value: string | number) => void)}
  {#each list as field (field.label)}
    {#if field.kind === 'length'}
      <LengthField label={field.label} value={shown(field, bag)} {unit} min={field.min} onchange={(v) => change(field, v)} />
    {:else if field.kind === 'number'}
      <NumberField
        label={field.label}
        value={Number(bag[field.key])}
        unit={field.unit}
        min={field.min}
        max={field.max}
        step={field.step ?? 1}
        onchange={(v) => change(field, v)}
      />
    {:else}
      <Choice label={field.label} value={String(bag[field.key])} options={field.options} onchange={(v) => change(field, v)} />
    {/if}
  {/each}
{/snippet}

{#if item.kind !== 'text'}
  <h2>{item.name || kindName(item)}</h2>
  <div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
    <label class="text-sm" for="name-{item.id}">{COMMON.name}</label>
    <input
      class="input"
      id="name-{item.id}"
      value={item.name}
      placeholder={kindName(item)}
      maxlength="80"
      onchange={(event) => editor.set<Item>('Name', item.id, (d) => void (d.name = event.currentTarget.value.trim()))}
    />
  </div>
  {@render fields(fieldsOf(item), item as unknown as Bag, set)}
  {#if twins.length > 0}
    <label class="flex items-center gap-2 py-1.5 text-sm"
      ><input class="checkbox" type="checkbox" bind:checked={all} /> {ARTWORK.changeAllOfThisSize(twins.length + 1)}</label
    >
  {/if}
  {#if item.kind === 'picture'}
    {#each SIDES as side (side)}
      <LengthField label={ARTWORK.trimmedOff(AT[side])} value={trimmedOff(item, side)} {unit} min={0} onchange={(v) => trim(side, v)} />
    {/each}
  {/if}
  {#if item.kind === 'holes'}
    <Choice
      label={ARTWORK.pattern}
      value={item.layout.kind}
      options={[
        { value: 'rows', label: ARTWORK.inRows },
        { value: 'circle', label: ARTWORK.onACircle },
        { value: 'corners', label: ARTWORK.inTheCornersOfA },
      ]}
      onchange={(v) => editor.set<Extract<Item, { kind: 'holes' }>>('Holes stand', item.id, (d) => void (d.layout = { ...LAYOUTS[v] }))}
    />
    {@render fields(HOLE_FIELDS[item.layout.kind], item.layout as unknown as Bag, setLayout)}
  {/if}
{/if}
<LengthField label={isLine ? ARTWORK.startsFromTheLeftEdge : COMMON.fromTheLeftEdge} value={item.x} {unit} onchange={(v) => place('x', v)} />
<LengthField label={isLine ? ARTWORK.startsFromTheFrontEdge : COMMON.fromTheFrontEdge} value={item.y} {unit} onchange={(v) => place('y', v)} />
<NumberField
  label={isLine ? ARTWORK.angle : ARTWORK.turnedBy}
  value={item.angle}
  unit={COMMON.degrees}
  min={-36000}
  max={36000}
  step={0.01}
  onchange={(v) => place('angle', v)}
/>
<div class="py-2 gap-1.5 flex flex-wrap">
  {#if item.kind === 'path'}
    <button
      class="btn preset-outlined-surface-300-700"
      aria-pressed={editor.hand.tool === 'nodes'}
      onclick={() => (editor.hand.tool = editor.hand.tool === 'nodes' ? 'select' : 'nodes')}>{ARTWORK.workOnItsNodes}</button
    >
  {/if}
  <button class="btn preset-outlined-surface-300-700" onclick={pickStart}>{isLine ? ARTWORK.startItAtAPoint : ARTWORK.putItAtAPoint}</button>
  {#if item.id !== editor.job.outline && item.kind !== 'picture' && item.kind !== 'line'}
    <button class="btn preset-outlined-surface-300-700" onclick={cutOut}>{ARTWORK.cutTheSignOutAlong}</button>
  {:else if item.id === editor.job.outline}
    <button class="btn preset-outlined-surface-300-700" onclick={() => editor.session.edit(ARTWORK.noOutline, (d) => void (d.outline = null))}
      >{ARTWORK.noLongerTheSignsOutline}</button
    >
  {/if}
</div>
