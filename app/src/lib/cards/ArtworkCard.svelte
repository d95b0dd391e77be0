<script lang="ts">
  import { makeItem, type Item } from '@kerbe/core/job';
  import { FACES } from '@kerbe/core/artwork/faces';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';

  let { session, selected, onselect }: { session: JobSession; selected: string | null; onselect: (id: string | null) => void } = $props();
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const words = $derived(job.itemOrder.map((id) => job.items[id]).filter((item): item is Extract<Item, { kind: 'text' }> => item.kind === 'text'));
  const outline = $derived(job.outline ? job.items[job.outline] : null);
  const current = $derived(words.find(({ id }) => id === selected) ?? words[0]);
  const LEGENDS = { serif: 'serif', slab: 'slab', script: 'script', condensed: 'condensed', sans: 'sans', stencil: 'stencil, no islands' };

  type Text = Extract<Item, { kind: 'text' }>;
  const change = (label: string, set: (item: Text) => void, key: string | null = null) => {
    const { id } = current;
    session.edit(
      label,
      (d) => {
        const item = d.items[id];
        if (item.kind === 'text') set(item);
      },
      key,
    );
  };

  function addWords() {
    let n = 1;
    while (job.items[`words${n}`]) n++;
    const id = `words${n}`;
    session.edit('Add words', (d) => {
      d.items[id] = makeItem({ kind: 'text', id, name: 'Words', x: d.board.width / 2, y: d.board.height / 2, text: 'Words', face: 'cinzel', capHeight: 25 });
      d.itemOrder = [...d.itemOrder, id];
    });
    onselect(id);
  }

  function remove(id: string) {
    session.edit('Delete words', (d) => {
      delete d.items[id];
      d.itemOrder = d.itemOrder.filter((other) => other !== id);
      for (const cut of Object.values(d.cuts)) if (Array.isArray(cut.on)) cut.on = cut.on.filter((other) => other !== id);
    });
  }

  function centre() {
    const { width, height } = job.board;
    change('Centre on the board', (item) => {
      item.x = width / 2;
      item.y = height / 2;
      item.align = 'centre';
    });
  }
</script>

<h2>Words</h2>
{#if words.length > 1}
  <div class="pieces" role="group" aria-label="Pieces of text">
    {#each words as item (item.id)}
      <button class="press" aria-pressed={item.id === current?.id} onclick={() => onselect(item.id)}>{item.text.split('\n')[0].slice(0, 18) || 'empty'}</button>
    {/each}
  </div>
{/if}
{#if current}
  <label class="text" for="words">What the sign says</label>
  <textarea
    id="words"
    rows="3"
    value={current.text}
    placeholder="Type the words of the sign"
    oninput={(e) => change('Words', (item) => (item.text = e.currentTarget.value), `text-${current.id}`)}></textarea>
  <Choice
    label="Face"
    value={current.face}
    options={FACES.map(({ id, name, style }) => ({ value: id, label: `${name} (${LEGENDS[style]})` }))}
    onchange={(v) => change('Face', (item) => (item.face = v))}
  />
  <LengthField
    label="Height of a capital"
    value={current.capHeight}
    {unit}
    min={0.5}
    onchange={(v) => change('Letter height', (item) => (item.capHeight = v))}
  />
  <LengthField
    label="Extra space between letters"
    value={current.letterSpacing}
    {unit}
    onchange={(v) => change('Letter spacing', (item) => (item.letterSpacing = v))}
  />
  <NumberField
    label="Distance of lines"
    value={current.lineSpacing}
    unit="× capitals"
    min={0.5}
    max={10}
    step={0.1}
    onchange={(v) => change('Line spacing', (item) => (item.lineSpacing = v))}
  />
  <Choice
    label="Lines set"
    value={current.align}
    options={[
      { value: 'left', label: 'from the left' },
      { value: 'centre', label: 'on the middle' },
      { value: 'right', label: 'to the right' },
    ]}
    onchange={(v) => change('Alignment', (item) => (item.align = v))}
  />
  <LengthField label="From the left edge" value={current.x} {unit} onchange={(v) => change('Move words', (item) => (item.x = v))} />
  <LengthField label="From the front edge" value={current.y} {unit} onchange={(v) => change('Move words', (item) => (item.y = v))} />
  <div class="row">
    <button class="press" onclick={centre}>Centre on the board</button>
    {#if words.length > 1}<button class="press" onclick={() => remove(current.id)}>Delete</button>{/if}
    <button class="press" onclick={addWords}>More words</button>
  </div>
{:else}
  <p class="quiet">No words yet.</p>
  <button class="next" onclick={addWords}>Add words</button>
{/if}

<h2>Outline of the sign</h2>
{#if outline?.kind === 'rectangle'}
  {@const set = (label: string, key: 'width' | 'height' | 'radius', v: number) =>
    session.edit(label, (d) => {
      const item = d.items[outline.id];
      if (item.kind === 'rectangle') item[key] = v;
    })}
  <LengthField label="Width" value={outline.width} {unit} min={1} onchange={(v) => set('Outline width', 'width', v)} />
  <LengthField label="Depth" value={outline.height} {unit} min={1} onchange={(v) => set('Outline depth', 'height', v)} />
  <LengthField label="Corner radius" value={outline.radius} {unit} min={0} onchange={(v) => set('Corner radius', 'radius', v)} />
  <button
    class="press"
    onclick={() =>
      session.edit('Centre the outline', (d) => {
        d.items[outline.id].x = d.board.width / 2;
        d.items[outline.id].y = d.board.height / 2;
      })}>Centre on the board</button
  >
{:else}
  <p class="quiet">This sign has no outline: the board is not cut out.</p>
{/if}

<style>
  .text {
    font-size: 0.9rem;
  }
  textarea {
    width: 100%;
    background: var(--sheet);
    border: 1px solid var(--line-strong);
    padding: 0.5rem;
    font-size: 1.1rem;
    color: var(--ink);
    margin: 0.2rem 0 0.4rem;
  }
  .row,
  .pieces {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    padding: 0.5rem 0;
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
</style>
