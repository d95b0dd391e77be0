<script lang="ts">
  /** The card of the artwork: what to add, the figures of what is selected, what the check found, everything drawn. */
  import type { Item } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { newShape, shapeLabel, SHAPES, type ShapeName } from '$lib/art/fields';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Arrange from './Arrange.svelte';
  import ArtFindings from './ArtFindings.svelte';
  import NodeActions from './NodeActions.svelte';
  import SizeAndFiles from './SizeAndFiles.svelte';
  import ThingFields from './ThingFields.svelte';
  import Things from './Things.svelte';
  import WordFields from './WordFields.svelte';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import { Menu, Portal } from '@skeletonlabs/skeleton-svelte';
  import { ARTWORK } from '$lib/labels/artwork';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    editor: ArtEditor;
    faces: readonly { id: string; name: string }[];
    /** Asks for a file to bring in, opens the list of plates, shows a place on the board. */
    onfile: () => void;
    onlist: () => void;
    /** The pieces are to be laid out on the sheet. */
    onlayout: () => void;
    onlook: (at: readonly [number, number]) => void;
  }
  let { editor, faces, onfile, onlist, onlayout, onlook }: Props = $props();
  const job = $derived(editor.job);
  const firstWords = $derived.by(() => {
    const id = job.itemOrder.find((key) => job.items[key].kind === 'text');
    return id ? job.items[id] : null;
  });
  /** Before anything is picked, the words are what a newcomer wants to type. */
  const current = $derived(editor.selection.size === 0 ? firstWords : editor.only);
  const outline = $derived(job.outline ? job.items[job.outline] : null);

  const addWords = () =>
    editor.add(
      'Add text',
      { kind: 'text', name: 'Text', x: job.board.width / 2, y: job.board.height / 2, text: 'Words', face: 'cinzel', capHeight: 25 },
      'words1',
    );
  function addShape(kind: ShapeName) {
    if (kind === 'line') editor.hand.tool = 'line';
    else editor.add(`Add ${shapeLabel(kind).toLowerCase()}`, newShape(kind, job.board), kind);
  }
</script>

<div class="gap-1.5 flex flex-wrap pt-1 pb-2">
  <button class="btn preset-outlined-surface-300-700" onclick={addWords}>{ARTWORK.addText}</button>
  <Menu onSelect={({ value }) => addShape(value as ShapeName)}>
    <Menu.Trigger class="btn preset-outlined-surface-300-700">{ARTWORK.addAShape} <ChevronDown /></Menu.Trigger>
    <Portal>
      <Menu.Positioner>
        <Menu.Content class="card preset-outlined-surface-300-700 bg-surface-50-950 p-1">
          {#each SHAPES as kind (kind)}
            <Menu.Item value={kind} class="cursor-pointer px-3 py-1.5 data-[highlighted]:preset-filled-brand"
              ><Menu.ItemText>{shapeLabel(kind)}</Menu.ItemText></Menu.Item
            >
          {/each}
        </Menu.Content>
      </Menu.Positioner>
    </Portal>
  </Menu>
  <button class="btn preset-outlined-surface-300-700" onclick={onfile}>{ARTWORK.importAFile}</button>
  <button class="btn preset-outlined-surface-300-700" onclick={onlist}>{ARTWORK.platesFromAList}</button>
  {#if job.itemOrder.length > 0}<button class="btn preset-outlined-surface-300-700" onclick={onlayout}>{ARTWORK.layThePiecesOutMore}</button>{/if}
</div>

{#if editor.note}<p class={editor.note.bad ? 'caution' : 'text-surface-600-400'} role={editor.note.bad ? 'alert' : 'status'}>{editor.note.text}</p>{/if}

{#if current?.kind === 'text'}<WordFields {editor} item={current} {faces} onface={onfile} />{/if}
{#if current}
  {#key current.id}<ThingFields {editor} item={current} />{/key}
{:else if editor.selection.size > 1}
  <h2>{ARTWORK.things(editor.selection.size)}</h2>
{:else if job.itemOrder.length === 0}
  <p class="text-surface-600-400">The board is empty. Add text or a shape, or drop a drawing on it.</p>
  <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={addWords}>{ARTWORK.addText}</button>
{/if}
{#if editor.hand.tool === 'nodes'}<NodeActions {editor} />{/if}
{#if editor.selection.size}<Arrange {editor} />{/if}

{#if editor.selection.size === 0}
  <h2>{ARTWORK.outlineOfTheSign}</h2>
  {#if outline?.kind === 'rectangle'}
    {@const set = (label: string, key: 'width' | 'height' | 'radius', v: number) =>
      editor.set<Extract<Item, { kind: 'rectangle' }>>(label, outline.id, (d) => void (d[key] = v))}
    <LengthField label={COMMON.width} value={outline.width} unit={job.units} min={1} onchange={(v) => set('Outline width', 'width', v)} />
    <LengthField label={COMMON.height} value={outline.height} unit={job.units} min={1} onchange={(v) => set('Outline depth', 'height', v)} />
    <LengthField label={ARTWORK.cornerRadius} value={outline.radius} unit={job.units} min={0} onchange={(v) => set('Corner radius', 'radius', v)} />
  {:else if outline}
    <div class="gap-1.5 flex flex-wrap pt-1 pb-2">
      <button class="btn preset-outlined-surface-300-700" onclick={() => editor.select([outline.id])}>{ARTWORK.selectIt}</button>
    </div>
  {:else}
    <p class="text-surface-600-400">Select a shape and choose “Cut the sign out along it”.</p>
  {/if}
{/if}

<ArtFindings {editor} {onlook} />
<Things {editor} />
<SizeAndFiles {editor} />
