<script lang="ts">
  /** What can be done with what is selected: each button is one named step that can be undone. */
  import type { Edit } from '@kerbe/core/artwork/edit';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { nameOf } from '$lib/art/fields';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import { ARTWORK } from '$lib/labels/artwork';
  import { COMMON } from '$lib/labels/common';

  let { editor }: { editor: ArtEditor } = $props();
  const unit = $derived(editor.job.units);
  const ids = $derived(editor.ids);
  const many = $derived(ids.length > 1);
  const box = $derived.by(() => {
    void editor.drawing.things;
    return editor.selectionBox();
  });
  const grouped = $derived(ids.some((id) => editor.job.items[id]?.group));
  const locked = $derived(ids.length > 0 && ids.every((id) => editor.job.items[id]?.locked));
  const bridge = $derived(ids.length > 0 && ids.every((id) => editor.job.items[id]?.bridge));
  const guide = $derived(ids.length > 0 && ids.every((id) => editor.job.items[id]?.guide));
  const later = $derived(ids.length > 0 && ids.every((id) => editor.job.items[id]?.later));
  const lines = $derived(ids.some((id) => (editor.drawing.things.get(id)?.lines.length ?? 0) > 0));

  let to = $state<'each other' | 'board'>('board');
  let turn = $state(90);
  let by = $state(3);
  let join = $state<'round' | 'mitre' | 'square'>('round');
  let radius = $state(5);
  let margin = $state(5);
  let clear = $state(5);
  let gap = $state(1);
  let bar = $state(2);
  /** In the order they were picked; what was caught all at once stands in the order of the drawing. */
  const picked = $derived([...editor.selection].filter((id) => editor.job.items[id]));
  let around = $state('');
  let plate = $state('');
  const rows = $state({ columns: 3, rows: 1, dx: 50, dy: 50, count: 6, thick: 3 });
  const others = $derived(
    editor.job.itemOrder
      .filter((id) => !editor.selection.has(id))
      .map((id) => editor.job.items[id])
      .filter((item) => item.kind !== 'picture' && item.kind !== 'line')
      .slice(0, 200),
  );
  const act = (label: string, edit: Edit) => void editor.edit(label, edit);
  const EDGES = [
    ['left', 'Left'],
    ['middle', 'Middle'],
    ['right', 'Right'],
    ['top', 'Back'],
    ['centre', 'Centre'],
    ['bottom', 'Front'],
  ] as const;
  /** A button that shows on the board what it would make, while it is pointed at or has the focus. */
  interface Shaping {
    text: string;
    label?: string;
    edit: () => Edit;
    disabled?: boolean;
  }
  /** As wide, or as high, over all; done again it makes others as large, and not as much larger. */
  function grow(side: 'width' | 'height', wanted: number) {
    const all = editor.selectionBox();
    const now = all && (side === 'width' ? all.maxX - all.minX : all.maxY - all.minY);
    if (!now) return;
    act('Size', { do: 'scale', ids: editor.ids, x: wanted / now, y: wanted / now });
    editor.last = { label: ARTWORK.overall(side), again: () => grow(side, wanted) };
  }
</script>

{#snippet shaping({ text, label = text, edit, disabled = false }: Shaping)}
  <button
    class="btn preset-outlined-surface-300-700"
    {disabled}
    onpointerenter={() => void editor.foresee(edit())}
    onpointerleave={() => void editor.foresee(null)}
    onfocus={() => void editor.foresee(edit())}
    onblur={() => void editor.foresee(null)}
    onclick={() => act(label, edit())}>{text}</button
  >
{/snippet}

{#snippet deed(label: string, onclick: () => void, keys?: string, tip: string = label, pressed?: boolean)}
  <Tip {tip} {keys}
    >{#snippet children(attributes)}<button {...attributes} class="btn preset-outlined-surface-300-700" aria-pressed={pressed} {onclick}>{label}</button
      >{/snippet}</Tip
  >
{/snippet}

{#if box}
  <LengthField label={ARTWORK.overallWidth} value={box.maxX - box.minX} {unit} min={0.01} onchange={(v) => grow('width', v)} />
  <LengthField label={ARTWORK.overallHeight} value={box.maxY - box.minY} {unit} min={0.01} onchange={(v) => grow('height', v)} />
{/if}
<div class="py-1.5 gap-1.5 flex flex-wrap">
  {@render deed('Copy', () => act('Copy', { do: 'rows', ids, columns: 2, rows: 1, dx: 10, dy: 0 }), 'Ctrl D')}
  {@render deed('Delete', () => editor.remove(), 'Delete')}
  {#if many}{@render deed('Group', () => editor.group(), 'Ctrl G')}{/if}
  {#if grouped}{@render deed('Ungroup', () => editor.ungroup(), 'Ctrl Shift G')}{/if}
  <button class="btn preset-outlined-surface-300-700" onclick={() => editor.mark('locked', !locked)}>{locked ? ARTWORK.unlock : ARTWORK.lock}</button>
  <button class="btn preset-outlined-surface-300-700" onclick={() => editor.mark('hidden', true)}>{ARTWORK.hide}</button>
  {@render deed('A bridge', () => editor.mark('bridge', !bridge), undefined, 'A bar that stays: whatever it lies over is not cut there', bridge)}
  {@render deed('Not this time', () => editor.mark('later', !later), undefined, 'Left out of this run, and kept for the next', later)}
  {@render deed('Only a guide', () => editor.mark('guide', !guide), undefined, 'Drawn to look by; no cut works on it', guide)}
</div>

<details class="border-t border-surface-200-800">
  <summary class="py-2.5 cursor-pointer font-semibold text-base">{ARTWORK.lineUpAndSpread}</summary>
  <Choice
    label={ARTWORK.lineUpWith}
    value={to}
    options={[
      { value: 'board', label: ARTWORK.theBoard },
      { value: 'each other', label: ARTWORK.eachOther },
    ]}
    onchange={(v) => (to = v)}
  />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    {#each EDGES as [edge, label] (edge)}<button
        class="btn preset-outlined-surface-300-700"
        onclick={() => act(`Line up: ${label.toLowerCase()}`, { do: 'align', ids, edge, to })}>{label}</button
      >{/each}
  </div>
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={ids.length < 3}
      onclick={() => act('Distribute horizontally', { do: 'spread', ids, along: 'x' })}>{ARTWORK.distributeHorizontally}</button
    >
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={ids.length < 3}
      onclick={() => act('Distribute vertically', { do: 'spread', ids, along: 'y' })}>{ARTWORK.distributeVertically}</button
    >
  </div>
  <Choice
    label={ARTWORK.fitInto}
    value={plate}
    options={[{ value: '', label: ARTWORK.theBoard }, ...others.map((item) => ({ value: item.id, label: nameOf(item) }))]}
    onchange={(v) => (plate = v)}
  />
  <LengthField label={ARTWORK.marginAllRound} value={margin} {unit} min={0} onchange={(v) => (margin = v)} />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('Fit', { do: 'fit', ids, into: plate || ' board', margin })}
      >{ARTWORK.makeItFit}</button
    >
  </div>
</details>

<details class="border-t border-surface-200-800">
  <summary class="py-2.5 cursor-pointer font-semibold text-base">{ARTWORK.turnAndMirror}</summary>
  <NumberField label={ARTWORK.turnBy} value={turn} unit={COMMON.degrees} min={-360} max={360} step={0.01} onchange={(v) => (turn = v)} />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('Turn', { do: 'turn', ids, by: turn })}>{COMMON.turn}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('Mirror left to right', { do: 'mirror', ids, across: 'x' })}
      >{ARTWORK.mirrorLeftToRight}</button
    >
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('Mirror front to back', { do: 'mirror', ids, across: 'y' })}
      >{ARTWORK.mirrorFrontToBack}</button
    >
  </div>
</details>

<details class="border-t border-surface-200-800">
  <summary class="py-2.5 cursor-pointer font-semibold text-base">{ARTWORK.combineAndReshape}</summary>
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    {@render shaping({ text: 'Unite', edit: () => ({ do: 'unite', ids }), disabled: !many })}
    {@render shaping({
      text: many ? `Subtract from “${nameOf(editor.job.items[picked[0]])}”` : 'Subtract from the first selected',
      label: ARTWORK.takeTheOthersFromThe,
      edit: () => ({ do: 'subtract', ids: picked }),
      disabled: !many,
    })}
    {@render shaping({ text: 'Intersect', edit: () => ({ do: 'intersect', ids }), disabled: !many })}
  </div>
  <LengthField label={ARTWORK.gapsToBridgeUpTo} value={gap} {unit} min={0.01} onchange={(v) => (gap = v)} />
  <LengthField label={ARTWORK.bridgeWidth} value={bar} {unit} min={0.01} onchange={(v) => (bar = v)} />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    {@render shaping({ text: 'Bridge what nearly touches', edit: () => ({ do: 'bridge gaps', ids, gap, width: bar }) })}
  </div>
  <LengthField label={ARTWORK.offsetMinusInward} value={by} {unit} onchange={(v) => (by = v)} />
  <Choice
    label={ARTWORK.cornerStyle}
    value={join}
    options={[
      { value: 'round', label: ARTWORK.round },
      { value: 'mitre', label: ARTWORK.sharp },
      { value: 'square', label: ARTWORK.cutSquare },
    ]}
    onchange={(v) => (join = v)}
  />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    {@render shaping({ text: 'Offset outline', label: by < 0 ? ARTWORK.lineInside : ARTWORK.lineOutside, edit: () => ({ do: 'offset', ids, by, join }) })}
  </div>
  <LengthField label={ARTWORK.cornerSize} value={radius} {unit} min={0.01} onchange={(v) => (radius = v)} />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    {@render shaping({ text: 'Round the corners', edit: () => ({ do: 'corners', ids, radius, how: 'fillet' }) })}
    {@render shaping({ text: 'Cut them off', label: ARTWORK.cutOffTheCorners, edit: () => ({ do: 'corners', ids, radius, how: 'chamfer' }) })}
  </div>
  {#if others.length}
    <Choice
      label={ARTWORK.keepClearOf}
      value={around || others[0].id}
      options={others.map((item) => ({ value: item.id, label: nameOf(item) }))}
      onchange={(v) => (around = v)}
    />
    <LengthField label={ARTWORK.byAtLeast} value={clear} {unit} min={0} onchange={(v) => (clear = v)} />
    <div class="py-1.5 gap-1.5 flex flex-wrap">
      {@render shaping({ text: 'Trim back', label: ARTWORK.clearAround, edit: () => ({ do: 'clear around', ids, by: around || others[0].id, margin: clear }) })}
    </div>
  {/if}
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    {#if lines}<button class="btn preset-outlined-surface-300-700" onclick={() => act('Thicken the line', { do: 'thicken', ids, width: rows.thick })}
        >{ARTWORK.makeAShapeOfThe}</button
      >{/if}
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('Make free paths', { do: 'to paths', ids })}>{ARTWORK.makeFreePaths}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('Take apart', { do: 'take apart', ids })}>{ARTWORK.takeApart}</button>
  </div>
  {#if lines}<LengthField label={ARTWORK.widthOfThatShape} value={rows.thick} {unit} min={0.01} onchange={(v) => (rows.thick = v)} />{/if}
</details>

<details class="border-t border-surface-200-800">
  <summary class="py-2.5 cursor-pointer font-semibold text-base">{ARTWORK.copiesAndOrder}</summary>
  <NumberField label={ARTWORK.copiesAcross} value={rows.columns} min={1} max={500} onchange={(v) => (rows.columns = v)} />
  <NumberField label={COMMON.rows} value={rows.rows} min={1} max={500} onchange={(v) => (rows.rows = v)} />
  <LengthField label={ARTWORK.apartAcross} value={rows.dx} {unit} onchange={(v) => (rows.dx = v)} />
  <LengthField label={ARTWORK.apartBetweenRows} value={rows.dy} {unit} onchange={(v) => (rows.dy = v)} />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button
      class="btn preset-outlined-surface-300-700"
      onclick={() => act('Rows of copies', { do: 'rows', ids, columns: rows.columns, rows: rows.rows, dx: rows.dx, dy: rows.dy })}
      >{ARTWORK.setThemInRows}</button
    >
  </div>
  <NumberField label={ARTWORK.aroundACentre} value={rows.count} unit={ARTWORK.copies} min={2} max={500} onchange={(v) => (rows.count = v)} />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button
      class="btn preset-outlined-surface-300-700"
      onclick={() => {
        const { count } = rows;
        editor.hand.pointFor = { what: 'middle of the ring', then: (x, y) => act('Ring of copies', { do: 'ring', ids, count, about: [x, y] }) };
        editor.hand.tool = 'point';
      }}>{ARTWORK.setThemAroundAPoint}</button
    >
  </div>
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button class="btn preset-outlined-surface-300-700" disabled={!many} onclick={() => act('Order left to right', { do: 'order', ids, how: 'left to right' })}
      >{ARTWORK.orderLeftToRight}</button
    >
    <button class="btn preset-outlined-surface-300-700" disabled={!many} onclick={() => act('Order inside out', { do: 'order', ids, how: 'inside out' })}
      >{ARTWORK.orderInsideOut}</button
    >
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('First in order', { do: 'order', ids, how: 'first' })}>{ARTWORK.first}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => act('Last in order', { do: 'order', ids, how: 'last' })}>{ARTWORK.last}</button>
    <button class="btn preset-outlined-surface-300-700" aria-pressed={editor.showOrder} onclick={() => (editor.showOrder = !editor.showOrder)}
      >{COMMON.showTheOrder}</button
    >
  </div>
</details>
