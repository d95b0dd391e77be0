<script lang="ts">
  /** Words: what they say, their face and size, what they stand on, and how many of them have islands. */
  import type { Item } from '@kerbe/core/job';
  import { invalidate } from '$app/navigation';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { nameOf } from '$lib/art/fields';
  import Choice from '$lib/ui/Choice.svelte';
  import FontPicker from './FontPicker.svelte';
  import LetterPairs from './LetterPairs.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ask } from '$lib/ui/post';
  import { ARTWORK } from '$lib/labels/artwork';
  import { COMMON } from '$lib/labels/common';

  type Text = Extract<Item, { kind: 'text' }>;
  interface Props {
    editor: ArtEditor;
    item: Text;
    /** Faces the shop brought itself. */
    faces: readonly { id: string; name: string }[];
    /** Asks for a face file. */
    onface: () => void;
  }
  let { editor, item, faces, onface }: Props = $props();
  const unit = $derived(editor.job.units);
  const thing = $derived(editor.drawing.things.get(item.id));
  const others = $derived(Object.values(editor.job.items).filter((other) => other.id !== item.id && other.kind !== 'text' && other.kind !== 'picture'));

  const change = (label: string, set: (item: Text) => void, key: string | null = null) => editor.set<Text>(label, item.id, set, key);

  function stand(kind: string) {
    change('Baseline', (d) => {
      if (kind === 'straight') d.baseline = { kind: 'straight' };
      else if (kind === 'over' || kind === 'under') {
        const radius = d.baseline.kind === 'arc' ? d.baseline.radius : Math.round(Math.max(editor.job.board.height, 3 * d.capHeight));
        d.baseline = { kind: 'arc', radius, side: kind };
      } else d.baseline = { kind: 'path', item: others[0].id, from: 0, raise: 0 };
    });
  }
  let why = $state('');
  /** Takes a face of the shop's own out of it; the server refuses one that words are set in. */
  async function drop(id: string) {
    const answer = await ask(`/api/faces/${encodeURIComponent(id)}`, 'DELETE');
    why = answer.ok ? '' : answer.why;
    if (answer.ok) await invalidate('kerbe:job');
  }
  function centre() {
    const { width, height } = editor.job.board;
    change('Centre on the board', (d) => {
      d.x = width / 2;
      d.y = height / 2;
      d.align = 'centre';
    });
  }
</script>

<h2>{ARTWORK.text}</h2>
<label class="text-sm" for="words">{ARTWORK.whatTheSignSays}</label>
<textarea
  class="textarea w-full text-lg mt-1 mb-1.5"
  id="words"
  rows="2"
  value={item.text}
  placeholder={ARTWORK.typeTheWordsOfThe}
  oninput={(e) => change('Text', (d) => (d.text = e.currentTarget.value), `text-${item.id}`)}></textarea>
{#key item.id}<FontPicker {editor} {item} own={faces} />{/key}
<LengthField label={ARTWORK.capitalHeight} value={item.capHeight} {unit} min={0.5} onchange={(v) => change('Letter height', (d) => (d.capHeight = v))} />
<LengthField
  label={ARTWORK.fitToWidth}
  value={item.fitWidth}
  {unit}
  min={1}
  placeholder={ARTWORK.anyWidth}
  onclear={() => change('Any width', (d) => delete d.fitWidth)}
  onchange={(v) => change('Width to fit', (d) => (d.fitWidth = v))}
/>
<LengthField label={ARTWORK.letterSpacing} value={item.letterSpacing} {unit} onchange={(v) => change('Letter spacing', (d) => (d.letterSpacing = v))} />
<LetterPairs {editor} {item} />
<NumberField
  label={ARTWORK.lineSpacing}
  value={item.lineSpacing}
  unit={ARTWORK.timesCapitals}
  min={0.5}
  max={10}
  step={0.1}
  onchange={(v) => change('Line spacing', (d) => (d.lineSpacing = v))}
/>
<Choice
  label={ARTWORK.align}
  value={item.align}
  options={[
    { value: 'left', label: ARTWORK.left },
    { value: 'centre', label: ARTWORK.centre },
    { value: 'right', label: ARTWORK.right },
  ]}
  onchange={(v) => change('Alignment', (d) => (d.align = v))}
/>
<Choice
  label={ARTWORK.baseline}
  value={item.baseline.kind === 'arc' ? item.baseline.side : item.baseline.kind}
  options={[
    { value: 'straight', label: COMMON.straight },
    { value: 'over', label: ARTWORK.arcOver },
    { value: 'under', label: ARTWORK.arcUnder },
    ...(others.length ? [{ value: 'path', label: ARTWORK.alongAPath }] : []),
  ]}
  onchange={stand}
/>
{#if item.baseline.kind === 'arc'}
  <LengthField
    label={ARTWORK.radiusOfTheArc}
    value={item.baseline.radius}
    {unit}
    min={1}
    onchange={(v) => change('Radius of the arc', (d) => d.baseline.kind === 'arc' && (d.baseline.radius = v))}
  />
{:else if item.baseline.kind === 'path'}
  {@const on = item.baseline}
  <Choice
    label={ARTWORK.along}
    value={on.item}
    options={others.slice(0, 200).map((other) => ({ value: other.id, label: nameOf(other) }))}
    onchange={(v) => change('Along', (d) => d.baseline.kind === 'path' && (d.baseline.item = v))}
  />
  <LengthField
    label={ARTWORK.startOffset}
    value={on.from}
    {unit}
    onchange={(v) => change('Beginning', (d) => d.baseline.kind === 'path' && (d.baseline.from = v))}
  />
  <LengthField
    label={ARTWORK.baselineShift}
    value={on.raise}
    {unit}
    onchange={(v) => change('Raised', (d) => d.baseline.kind === 'path' && (d.baseline.raise = v))}
  />
{/if}
{#if thing && thing.islands > 0}
  <p class="text-surface-600-400">
    {thing.islands} of {thing.parts} letters {thing.islands === 1 ? 'has an island' : 'have islands'}: {thing.islands === 1 ? 'it drops' : 'they drop'} out when cut
    through. A stencil font has none.
  </p>
{/if}
<div class="py-2 gap-1.5 flex flex-wrap">
  <button class="btn preset-outlined-surface-300-700" onclick={centre}>{COMMON.centreOnTheBoard}</button>
  <button class="btn preset-outlined-surface-300-700" onclick={onface}>{ARTWORK.addAFont}</button>
</div>
{#if faces.length > 0}
  <details>
    <summary>{ARTWORK.facesOfYourOwn}</summary>
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
    <ul>
      {#each faces as face (face.id)}<li>
          {face.name} <button onclick={() => drop(face.id)} aria-label={ARTWORK.removeFromTheShop(face.name)}>{COMMON.takeItOut}</button>
        </li>{/each}
    </ul>
  </details>
{/if}
