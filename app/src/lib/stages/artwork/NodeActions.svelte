<script lang="ts">
  /** What can be done with picked nodes; of one its place and its handles, to be typed. */
  import { nodesOf, type NodeAt } from '@kerbe/core/artwork/nodes';
  import { parsePath, placeOf, transformPath } from '@kerbe/core/artwork/path';
  import LengthField from '$lib/ui/LengthField.svelte';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { COMMON } from '$lib/labels/common';
  import { ARTWORK } from '$lib/labels/artwork';

  let { editor }: { editor: ArtEditor } = $props();
  const picked = $derived([...editor.nodes]);
  let radius = $state(5);
  const round = (how: 'fillet' | 'chamfer', label: string) => {
    const [[s, n]] = picked;
    void editor.edit(label, { do: 'corners', ids: editor.ids, radius, how, node: [s, n - 1] });
    editor.nodes = [];
  };
  const some = $derived(picked.length > 0);
  const paths = $derived(editor.only?.kind === 'path' ? transformPath(parsePath(editor.only.d).subpaths, placeOf(editor.only)) : []);
  /** The one picked node, and its handles by the segment and the end they belong to. */
  const one = $derived.by(() => {
    if (picked.length !== 1) return null;
    const [[s, n]] = picked;
    const path = paths[s];
    const node = path && nodesOf(path)[n];
    if (!node) return null;
    const before = n > 0 ? n - 1 : nodesOf(path).length - 1;
    return {
      node,
      handles: [
        ...(node.before ? [{ name: 'Handle before', at: [s, before] as NodeAt, handle: 2 as const, ...node.before }] : []),
        ...(node.after ? [{ name: 'Handle after', at: [s, n] as NodeAt, handle: 1 as const, ...node.after }] : []),
      ],
    };
  });
  const unit = $derived(editor.job.units);
  const move = (dx: number, dy: number) => void editor.editNodes('Move a node', { do: 'move', nodes: picked, dx, dy });
</script>

<h3>{COMMON.nodes}</h3>
<p class="text-surface-600-400">
  {some ? `${picked.length} selected.` : 'Press a node to select it, Shift for more.'} Pull to move, press a line twice for a new node, Tab goes from node to node.
</p>
<div class="py-1.5 gap-1.5 flex flex-wrap">
  <button class="btn preset-outlined-surface-300-700" disabled={!some} onclick={() => editor.editNodes('Smooth', { do: 'smooth', nodes: picked })}
    >{ARTWORK.smooth}</button
  >
  <button class="btn preset-outlined-surface-300-700" disabled={!some} onclick={() => editor.editNodes('Corner', { do: 'corner', nodes: picked })}
    >{ARTWORK.corner}</button
  >
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={!some}
    onclick={() => {
      void editor.editNodes('Delete nodes', { do: 'delete', nodes: picked });
      editor.nodes = [];
    }}>{COMMON.delete}</button
  >
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={picked.length !== 1}
    onclick={() => editor.editNodes('Split the path', { do: 'cut', at: picked[0] })}>{ARTWORK.splitHere}</button
  >
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={picked.length !== 2}
    onclick={() => editor.editNodes('Join two ends', { do: 'join', from: picked[0], to: picked[1] })}>{ARTWORK.joinTwoEnds}</button
  >
  <button class="btn preset-outlined-surface-300-700" onclick={() => (editor.hand.tool = 'select')}>{COMMON.done}</button>
</div>
{#if one}
  {@const { node, handles } = one}
  <LengthField label={ARTWORK.nodeFromTheLeft} value={node.x} {unit} onchange={(v) => move(v - node.x, 0)} />
  <LengthField label={ARTWORK.nodeFromTheFront} value={node.y} {unit} onchange={(v) => move(0, v - node.y)} />
  {#each handles as { name, at, handle, x, y } (name)}
    <LengthField
      label={ARTWORK.fromTheLeft(name)}
      value={x}
      {unit}
      onchange={(v) => void editor.editNodes('Move a handle', { do: 'handle', at, handle, x: v, y })}
    />
    <LengthField
      label={ARTWORK.fromTheFront(name)}
      value={y}
      {unit}
      onchange={(v) => void editor.editNodes('Move a handle', { do: 'handle', at, handle, x, y: v })}
    />
  {/each}
{/if}
<LengthField label={ARTWORK.sizeOfThisCorner} value={radius} unit={editor.job.units} min={0.01} onchange={(v) => (radius = v)} />
<div class="py-1.5 gap-1.5 flex flex-wrap">
  <button class="btn preset-outlined-surface-300-700" disabled={picked.length !== 1} onclick={() => round('fillet', 'Round a corner')}
    >{ARTWORK.roundThisCorner}</button
  >
  <button class="btn preset-outlined-surface-300-700" disabled={picked.length !== 1} onclick={() => round('chamfer', 'Chamfer a corner')}
    >{ARTWORK.cutItOff}</button
  >
</div>
