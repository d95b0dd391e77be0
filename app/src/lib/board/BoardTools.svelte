<script lang="ts">
  /** The tools that work on the board, with what they say and how near they snap. */
  import Circle from '@lucide/svelte/icons/circle-dashed';
  import Maximize from '@lucide/svelte/icons/maximize';
  import Minus from '@lucide/svelte/icons/minus';
  import MousePointer from '@lucide/svelte/icons/mouse-pointer-2';
  import PenTool from '@lucide/svelte/icons/spline-pointer';
  import Plus from '@lucide/svelte/icons/plus';
  import Ruler from '@lucide/svelte/icons/ruler';
  import Slash from '@lucide/svelte/icons/slash';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { ToolName } from '$lib/art/hand.svelte';

  interface Props {
    editor: ArtEditor;
    onzoom: (factor: number) => void;
    onfit: () => void;
  }
  let { editor, onzoom, onfit }: Props = $props();
  const TOOLS: { name: ToolName; label: string; title: string; Icon: typeof Circle }[] = [
    { name: 'select', label: 'Select', title: 'Select and move (V)', Icon: MousePointer },
    { name: 'nodes', label: 'Nodes', title: 'Nodes of a free path (N)', Icon: PenTool },
    { name: 'line', label: 'Line', title: 'Draw a line (L)', Icon: Slash },
    { name: 'measure', label: 'Measure', title: 'Measure (M)', Icon: Ruler },
    { name: 'bit', label: 'Try a bit', title: 'A circle as wide as the bit (B)', Icon: Circle },
  ];
  const bits = $derived(Object.values(editor.job.tools));
  const GRIDS = $derived(editor.job.units === 'in' ? [0, 25.4 / 16, 25.4 / 8, 25.4 / 4, 25.4 / 2, 25.4] : [0, 1, 2, 5, 10, 20]);
  const gridName = (mm: number) =>
    mm === 0 ? 'no grid' : editor.job.units === 'in' ? `grid ${mm === 25.4 ? '1' : `1/${Math.round(25.4 / mm)}`} in` : `grid ${mm} mm`;
</script>

<div class="tools" role="toolbar" aria-label="Tools on the board">
  {#each TOOLS as { name, label, title, Icon } (name)}
    <button
      {title}
      aria-pressed={editor.hand.tool === name}
      disabled={name === 'nodes' && editor.only?.kind !== 'path'}
      onclick={() => (editor.hand.tool = name)}><Icon size={17} />{label}</button
    >
  {/each}
  <hr />
  <button aria-label="Nearer" title="Nearer (+)" onclick={() => onzoom(1.3)}><Plus size={18} /></button>
  <button aria-label="Farther" title="Farther (-)" onclick={() => onzoom(1 / 1.3)}><Minus size={18} /></button>
  <button aria-label="Show the whole board" title="Whole board (0)" onclick={onfit}><Maximize size={18} /></button>
</div>
<div class="snaps">
  <label><input type="checkbox" bind:checked={editor.hand.snapping} /> snap</label>
  <select aria-label="Grid" bind:value={editor.hand.grid}>
    {#each GRIDS as step (step)}<option value={step}>{gridName(step)}</option>{/each}
  </select>
  {#if editor.hand.tool === 'bit' && bits.length}
    <select aria-label="Bit to try" value={editor.hand.bit ?? bits[0].id} onchange={(e) => (editor.hand.bit = e.currentTarget.value)}>
      {#each bits as bit (bit.id)}<option value={bit.id}>{bit.name || bit.id}</option>{/each}
    </select>
  {/if}
  {#if editor.job.guides.length}
    <button class="press" onclick={() => editor.session.edit('Clear the guides', (d) => void (d.guides = []))}>clear guides</button>
  {/if}
</div>
{#if editor.hand.tool === 'measure' || editor.hand.tool === 'line' || editor.hand.tool === 'bridge' || editor.hand.tool === 'point'}
  <p class="hint" role="status">
    {#if editor.hand.tool === 'measure'}
      <span class="figure">{editor.hand.measured.length ? editor.hand.measured.join(' · ') : 'press two points, or a thing'}</span>
    {:else if editor.hand.tool === 'line'}<span>press where it starts and where it ends</span>
    {:else if editor.hand.tool === 'bridge'}<span>press on the strokes to be bridged; Escape when done</span>
    {:else if editor.hand.tool === 'point'}<span>press the {editor.hand.pointFor?.what ?? 'point'}; Escape to leave it</span>{/if}
  </p>
{/if}

<style>
  .tools {
    position: absolute;
    bottom: 2.2rem;
    left: 2.2rem;
    display: flex;
    background: var(--sheet);
    border: 1px solid var(--line-strong);
  }
  .tools button {
    padding: 0.5rem 0.7rem;
    min-height: 2.4rem;
    display: flex;
    gap: 0.4rem;
    align-items: center;
    font-size: 0.86rem;
  }
  .tools button:disabled {
    opacity: 0.35;
  }
  .tools [aria-pressed='true'] {
    background: var(--ink);
    color: var(--paper);
  }
  .tools hr {
    border: 0;
    border-left: 1px solid var(--line-strong);
    height: auto;
    margin: 0;
  }
  .snaps {
    position: absolute;
    top: 0.8rem;
    right: 0.8rem;
    display: flex;
    gap: 0.7rem;
    align-items: center;
    background: var(--sheet);
    border: 1px solid var(--line-strong);
    padding: 0.25rem 0.6rem;
    font-size: 0.86rem;
  }
  .hint {
    position: absolute;
    bottom: 5.3rem;
    left: 2.2rem;
    background: var(--sheet);
    border: 1px solid var(--line-strong);
    padding: 0.25rem 0.6rem;
    font-size: 0.88rem;
  }
  .snaps select {
    background: var(--sheet);
    color: var(--ink);
    border: 0;
    padding: 0.15rem;
    font-size: 0.86rem;
  }
  .snaps .press {
    padding: 0.1rem 0.5rem;
    font-size: 0.82rem;
  }
</style>
