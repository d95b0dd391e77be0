<script lang="ts">
  /** What can be done with picked nodes. */
  import LengthField from '$lib/ui/LengthField.svelte';
  import type { ArtEditor } from '$lib/art/editor.svelte';

  let { editor }: { editor: ArtEditor } = $props();
  const picked = $derived([...editor.nodes]);
  let radius = $state(5);
  const round = (how: 'fillet' | 'chamfer', label: string) => {
    const [[s, n]] = picked;
    void editor.edit(label, { do: 'corners', ids: editor.ids, radius, how, node: [s, n - 1] });
    editor.nodes = [];
  };
  const some = $derived(picked.length > 0);
</script>

<h3>Nodes</h3>
<p class="text-surface-600-400">
  {some ? `${picked.length} picked.` : 'Press a node to pick it, Shift for more.'} Pull to move, press a line twice for a new node, Tab goes from node to node.
</p>
<div class="py-1.5 gap-1.5 flex flex-wrap">
  <button class="btn preset-outlined-surface-300-700" disabled={!some} onclick={() => editor.editNodes('Smooth', { do: 'smooth', nodes: picked })}
    >Smooth</button
  >
  <button class="btn preset-outlined-surface-300-700" disabled={!some} onclick={() => editor.editNodes('Corner', { do: 'corner', nodes: picked })}
    >Corner</button
  >
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={!some}
    onclick={() => {
      void editor.editNodes('Delete nodes', { do: 'delete', nodes: picked });
      editor.nodes = [];
    }}>Delete</button
  >
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={picked.length !== 1}
    onclick={() => editor.editNodes('Cut the line', { do: 'cut', at: picked[0] })}>Cut here</button
  >
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={picked.length !== 2}
    onclick={() => editor.editNodes('Join two ends', { do: 'join', from: picked[0], to: picked[1] })}>Join two ends</button
  >
  <button class="btn preset-outlined-surface-300-700" onclick={() => (editor.hand.tool = 'select')}>Done</button>
</div>
<LengthField label="Size of this corner" value={radius} unit={editor.job.units} min={0.01} onchange={(v) => (radius = v)} />
<div class="py-1.5 gap-1.5 flex flex-wrap">
  <button class="btn preset-outlined-surface-300-700" disabled={picked.length !== 1} onclick={() => round('fillet', 'Round a corner')}>Round this corner</button
  >
  <button class="btn preset-outlined-surface-300-700" disabled={picked.length !== 1} onclick={() => round('chamfer', 'Cut off a corner')}>Cut it off</button>
</div>
