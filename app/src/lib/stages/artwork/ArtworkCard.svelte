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

  interface Props {
    editor: ArtEditor;
    faces: readonly { id: string; name: string }[];
    /** Asks for a file to bring in, opens the list of plates, shows a place on the board. */
    onfile: () => void;
    onlist: () => void;
    onlook: (at: readonly [number, number]) => void;
  }
  let { editor, faces, onfile, onlist, onlook }: Props = $props();
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
      { kind: 'text', name: 'Words', x: job.board.width / 2, y: job.board.height / 2, text: 'Words', face: 'cinzel', capHeight: 25 },
      'words1',
    );
  function addShape(kind: ShapeName) {
    if (kind === 'line') editor.hand.tool = 'line';
    else editor.add(`Add ${shapeLabel(kind).toLowerCase()}`, newShape(kind, job.board), kind);
  }
</script>

<div class="row">
  <button class="press" onclick={addWords}>Add text</button>
  <select
    class="press"
    aria-label="Add a shape"
    value=""
    onchange={(e) => {
      addShape(e.currentTarget.value as ShapeName);
      e.currentTarget.value = '';
    }}
  >
    <option value="" disabled>Add a shape…</option>
    {#each SHAPES as kind (kind)}<option value={kind}>{shapeLabel(kind)}</option>{/each}
  </select>
  <button class="press" onclick={onfile}>Import a file…</button>
  <button class="press" onclick={onlist}>Plates from a list…</button>
</div>

{#if editor.note}<p class={editor.note.bad ? 'caution' : 'quiet'} role={editor.note.bad ? 'alert' : 'status'}>{editor.note.text}</p>{/if}

{#if current?.kind === 'text'}<WordFields {editor} item={current} {faces} onface={onfile} />{/if}
{#if current}
  <ThingFields {editor} item={current} />
{:else if editor.selection.size > 1}
  <h2>{editor.selection.size} things</h2>
{:else if job.itemOrder.length === 0}
  <p class="quiet">The board is empty. Add text or a shape, or drop a drawing on it.</p>
  <button class="next" onclick={addWords}>Add text</button>
{/if}
{#if editor.hand.tool === 'nodes'}<NodeActions {editor} />{/if}
{#if editor.selection.size}<Arrange {editor} />{/if}

{#if editor.selection.size === 0}
  <h2>Outline of the sign</h2>
  {#if outline?.kind === 'rectangle'}
    {@const set = (label: string, key: 'width' | 'height' | 'radius', v: number) =>
      editor.set<Extract<Item, { kind: 'rectangle' }>>(label, outline.id, (d) => void (d[key] = v))}
    <LengthField label="Width" value={outline.width} unit={job.units} min={1} onchange={(v) => set('Outline width', 'width', v)} />
    <LengthField label="Height" value={outline.height} unit={job.units} min={1} onchange={(v) => set('Outline depth', 'height', v)} />
    <LengthField label="Corner radius" value={outline.radius} unit={job.units} min={0} onchange={(v) => set('Corner radius', 'radius', v)} />
  {:else if outline}
    <div class="row"><button class="press" onclick={() => editor.select([outline.id])}>Select it</button></div>
  {:else}
    <p class="quiet">Select a shape and choose “Cut the sign out along it”.</p>
  {/if}
{/if}

<ArtFindings {editor} {onlook} />
<Things {editor} />
<SizeAndFiles {editor} />

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    padding: 0.2rem 0 0.5rem;
  }
  select.press {
    text-align: left;
  }
</style>
