<script lang="ts">
  /** The tools that work on the board, with what they say and how near they snap. */
  import { bitName } from '@kerbe/core/bits';
  import Circle from '@lucide/svelte/icons/circle-dashed';
  import Maximize from '@lucide/svelte/icons/maximize';
  import Minus from '@lucide/svelte/icons/minus';
  import MousePointer from '@lucide/svelte/icons/mouse-pointer-2';
  import PenTool from '@lucide/svelte/icons/spline-pointer';
  import Plus from '@lucide/svelte/icons/plus';
  import Ruler from '@lucide/svelte/icons/ruler';
  import Slash from '@lucide/svelte/icons/slash';
  import Scissors from '@lucide/svelte/icons/scissors';
  import Extend from '@lucide/svelte/icons/arrow-right-to-line';
  import TypeHere from './TypeHere.svelte';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { ToolName } from '$lib/art/hand.svelte';
  import ToolButton from '$lib/ui/ToolButton.svelte';
  import { DRAWING } from '$lib/labels/drawing';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    editor: ArtEditor;
    onzoom: (factor: number) => void;
    onfit: () => void;
  }
  let { editor, onzoom, onfit }: Props = $props();
  const TOOLS: { name: ToolName; label: string; title: string; keys: string; Icon: typeof Circle }[] = [
    { name: 'select', label: DRAWING.select, title: DRAWING.selectAndMove, keys: 'V', Icon: MousePointer },
    { name: 'nodes', label: COMMON.nodes, title: DRAWING.nodesOfAFreePath, keys: 'N', Icon: PenTool },
    { name: 'line', label: COMMON.line, title: DRAWING.drawALine, keys: 'L', Icon: Slash },
    { name: 'trim', label: DRAWING.trim, title: DRAWING.cutAwayALineBetween, keys: 'T', Icon: Scissors },
    { name: 'extend', label: DRAWING.extend, title: DRAWING.drawTheEndOfA, keys: 'E', Icon: Extend },
    { name: 'measure', label: COMMON.measure, title: COMMON.measure, keys: 'M', Icon: Ruler },
    { name: 'bit', label: DRAWING.tryABit, title: DRAWING.aCircleAsWideAs, keys: 'B', Icon: Circle },
  ];
  const bits = $derived(Object.values(editor.job.tools));
  const GRIDS = $derived(editor.job.units === 'in' ? [0, 25.4 / 16, 25.4 / 8, 25.4 / 4, 25.4 / 2, 25.4] : [0, 1, 2, 5, 10, 20]);
  const gridName = (mm: number) =>
    mm === 0 ? 'no grid' : editor.job.units === 'in' ? `grid ${mm === 25.4 ? '1' : `1/${Math.round(25.4 / mm)}`} in` : `grid ${mm} mm`;

  /** The measure becomes a note on the drawing. */
  function keepDimension() {
    const { span } = editor.hand;
    if (!span) return;
    editor.session.edit(DRAWING.keepADimension, (d) => void (d.dimensions = [...(d.dimensions ?? []), span]));
    editor.hand.span = null;
  }
</script>

<div
  class="border border-surface-300-700 absolute bottom-9 left-9 flex bg-surface-50-950 whitespace-nowrap [&_button]:gap-1 [&_button]:px-1.5"
  role="toolbar"
  aria-label={DRAWING.toolsOnTheBoard}
>
  {#each TOOLS as { name, label, title, keys, Icon } (name)}
    <ToolButton
      {label}
      tip={title}
      {keys}
      pressed={editor.hand.tool === name}
      disabled={name === 'nodes' && editor.only?.kind !== 'path'}
      onclick={() => (editor.hand.tool = name)}><Icon size={17} /><span class="tablet:hidden">{label}</span></ToolButton
    >
  {/each}
  <span class="vr h-auto"></span>
  <ToolButton label={COMMON.zoomIn} keys="+" onclick={() => onzoom(1.3)}><Plus size={18} /></ToolButton>
  <ToolButton label={COMMON.zoomOut} keys="-" onclick={() => onzoom(1 / 1.3)}><Minus size={18} /></ToolButton>
  <ToolButton label={DRAWING.showTheWholeBoard} keys="0" onclick={onfit}><Maximize size={18} /></ToolButton>
</div>
<div class="py-1 px-2.5 gap-3 border border-surface-300-700 absolute top-3.5 right-3.5 flex items-center bg-surface-50-950 text-sm">
  <label class="flex items-center gap-1.5"><input class="checkbox" type="checkbox" bind:checked={editor.hand.snapping} /> {DRAWING.snap}</label>
  <select class="select text-sm" aria-label={DRAWING.grid} bind:value={editor.hand.grid}>
    {#each GRIDS as step (step)}<option value={step}>{gridName(step)}</option>{/each}
  </select>
  {#if editor.hand.tool === 'bit' && bits.length}
    <select
      class="select text-sm"
      aria-label={DRAWING.bitToTry}
      value={editor.hand.bit ?? bits[0].id}
      onchange={(e) => (editor.hand.bit = e.currentTarget.value)}
    >
      {#each bits as bit (bit.id)}<option value={bit.id}>{bitName(bit, editor.job.units)}</option>{/each}
    </select>
  {/if}
  {#if editor.job.guides.length}
    <button
      class="btn preset-outlined-surface-300-700 py-0.5 px-2 text-xs"
      onclick={() => editor.session.edit(DRAWING.clearTheGuides, (d) => void (d.guides = []))}>{DRAWING.clearGuides}</button
    >
  {/if}
  {#if editor.job.dimensions?.length}
    <button
      class="btn preset-outlined-surface-300-700 py-0.5 px-2 text-xs"
      onclick={() => editor.session.edit(DRAWING.clearTheDimensions, (d) => void (d.dimensions = undefined))}>{DRAWING.clearDimensions}</button
    >
  {/if}
</div>
{#if editor.hand.typing}<TypeHere {editor} {...editor.hand.typing} />{/if}
{#if ['measure', 'line', 'trim', 'extend', 'split', 'bridge', 'point'].includes(editor.hand.tool)}
  <p class="py-1 px-2.5 border border-surface-300-700 absolute bottom-21.5 left-9 bg-surface-50-950 text-sm" role="status">
    {#if editor.hand.tool === 'measure'}
      <span class="figure">{editor.hand.measured.length ? editor.hand.measured.join(' · ') : 'press two points, or a thing'}</span>
      {#if editor.hand.span}<button class="btn ml-2 preset-outlined-surface-300-700 px-2 py-0.5 text-xs" onclick={keepDimension}
          >{DRAWING.keepItOnTheDrawing}</button
        >{/if}
    {:else if editor.hand.tool === 'line'}<span>press where it starts and where it ends</span>
    {:else if editor.hand.tool === 'trim'}<span>press the part of a line that is to go; Escape when done</span>
    {:else if editor.hand.tool === 'extend'}<span>press a line near the end that is to go on; Escape when done</span>
    {:else if editor.hand.tool === 'split'}<span>press a line to split it where others cross it; Escape when done</span>
    {:else if editor.hand.tool === 'bridge'}<span>press on the strokes to be bridged; Escape when done</span>
    {:else if editor.hand.tool === 'point'}<span>press the {editor.hand.pointFor?.what ?? 'point'}; Escape to leave it</span>{/if}
  </p>
{/if}
