<script lang="ts">
  /** Plates from a list: one row a plate, its columns put into lines of words, laid out in a grid on the board. */
  import { decodeText } from '@kerbe/core/text';
  import Papa from 'papaparse';
  import { FACES, SINGLE_LINE } from '@kerbe/core/artwork/faces';
  import { filled, layPlates, type PlateLayout, type PlateList } from '@kerbe/core/artwork/list';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { COMMON } from '$lib/labels/common';
  import { ARTWORK } from '$lib/labels/artwork';

  let chooser: HTMLInputElement;
  let { editor, text, onclose }: { editor: ArtEditor; text: string; onclose: () => void } = $props();
  const EXAMPLE = 'Name,Latin\nOak,Quercus robur\nElm,Ulmus';
  /** Stands for the number of the plate. */
  const COUNTER = '{#}';
  const units = $derived(editor.job.units);
  // svelte-ignore state_referenced_locally
  let typed = $state(text);
  const layout = $state<PlateLayout>({
    width: 80,
    height: 30,
    radius: 3,
    gap: 6,
    margin: 10,
    face: 'barlow',
    lines: [{ pattern: '{1}', capHeight: 8, above: 3 }],
    hole: { diameter: 3, inset: 4 },
  });
  const parsed = $derived(Papa.parse<string[]>(typed.trim(), { skipEmptyLines: 'greedy' }));
  const list = $derived<PlateList>({ columns: parsed.data[0] ?? [], rows: parsed.data.slice(1) });
  const laid = $derived(layPlates(editor.job, list, layout));
  const plates = $derived(new Set(laid.items.map(({ group }) => group)).size);

  function addLine() {
    const n = layout.lines.length;
    layout.lines.push({ pattern: `{${n + 1}}`, capHeight: 4, above: -6 * n });
  }
  async function read(event: Event) {
    const file = (event.currentTarget as HTMLInputElement).files?.[0];
    if (file) typed = decodeText(new Uint8Array(await file.arrayBuffer()));
  }
  function place() {
    const { items } = layPlates($state.snapshot(editor.job) as typeof editor.job, $state.snapshot(list), $state.snapshot(layout));
    editor.addAll(`${plates} plates from a list`, items);
    onclose();
  }
</script>

<Sheet title={COMMON.platesFromAList} wide {onclose}>
  <div class="gap-5.5 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] max-[800px]:grid-cols-1">
    <div>
      <label class="text-sm" for="list">{ARTWORK.theListTheNamesOf}</label>
      <textarea class="textarea w-full" id="list" rows="9" bind:value={typed} placeholder={EXAMPLE}></textarea>
      <input bind:this={chooser} type="file" hidden accept=".csv,.tsv,.txt,text/csv" onchange={read} />
      <button class="btn preset-outlined-surface-300-700" onclick={() => chooser.click()}>{ARTWORK.openACsv}</button>
      {#if parsed.errors.length && parsed.errors[0].type !== 'Delimiter'}<p class="caution py-1 px-0 text-sm">
          Line {(parsed.errors[0].row ?? 0) + 1} of the list: {parsed.errors[0].message}. Look at its quotation marks.
        </p>{/if}
      <p class="text-surface-600-400 py-1 text-sm">
        {list.rows.length} rows; columns: {list.columns.map((name, i) => `{${name || i + 1}}`).join(' ') || 'none yet'}. {COUNTER} counts.
      </p>
      {#each layout.lines as line, i (i)}
        <div class="pt-2.5">
          <label class="text-sm"
            >{ARTWORK.textOfLine(i + 1)}
            <input class="input w-full" type="text" bind:value={line.pattern} /></label
          >
          <span class="text-surface-600-400">{list.rows[0] ? filled(line.pattern, list, list.rows[0], 1) : ''}</span>
          {#if layout.lines.length > 1}<button class="btn preset-outlined-surface-300-700" onclick={() => layout.lines.splice(i, 1)}>{COMMON.remove}</button
            >{/if}
        </div>
        <LengthField label={ARTWORK.capitalHeight} value={line.capHeight} unit={units} min={0.5} onchange={(v) => (line.capHeight = v)} />
        <LengthField label={ARTWORK.aboveTheMiddle} value={line.above} unit={units} onchange={(v) => (line.above = v)} />
      {/each}
      <button class="btn preset-outlined-surface-300-700" onclick={addLine}>{ARTWORK.oneMoreLine}</button>
    </div>
    <div>
      <LengthField label={ARTWORK.widthOfAPlate} value={layout.width} unit={units} min={1} onchange={(v) => (layout.width = v)} />
      <LengthField label={ARTWORK.heightOfAPlate} value={layout.height} unit={units} min={1} onchange={(v) => (layout.height = v)} />
      <LengthField label={ARTWORK.cornerRadius} value={layout.radius} unit={units} min={0} onchange={(v) => (layout.radius = v)} />
      <LengthField label={ARTWORK.betweenPlates} value={layout.gap} unit={units} min={0} onchange={(v) => (layout.gap = v)} />
      <LengthField label={ARTWORK.fromTheBoardsEdges} value={layout.margin} unit={units} min={0} onchange={(v) => (layout.margin = v)} />
      <Choice
        label={ARTWORK.font}
        value={layout.face}
        options={[...FACES.map(({ id, name }) => ({ value: id, label: name })), { value: SINGLE_LINE, label: ARTWORK.singleLineForEngraving }]}
        onchange={(v) => (layout.face = v)}
      />
      <label class="py-1.5 gap-2 text-sm flex items-center"
        ><input
          class="checkbox"
          type="checkbox"
          checked={layout.hole !== undefined}
          onchange={(e) => (layout.hole = e.currentTarget.checked ? { diameter: 3, inset: 4 } : undefined)}
        />
        {ARTWORK.holesInTheCorners}</label
      >
      {#if layout.hole}
        {@const hole = layout.hole}
        <LengthField label={ARTWORK.holeDiameter} value={hole.diameter} unit={units} min={0.1} onchange={(v) => (hole.diameter = v)} />
        <LengthField label={ARTWORK.inFromBothEdges} value={hole.inset} unit={units} min={0.1} onchange={(v) => (hole.inset = v)} />
      {/if}
      <p class="text-surface-600-400 py-1 text-sm">Words wider than a plate are made smaller until they fit.</p>
      {#if laid.leftOver}<p class="caution py-1 px-0 text-sm">
          {laid.leftOver}
          {laid.leftOver === 1 ? 'plate finds' : 'plates find'} no room on this board.
        </p>{/if}
      <div class="gap-2.5 flex pt-3.5">
        <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={plates === 0} onclick={place}
          >{ARTWORK.layOut(plates, plates === 1 ? 'plate' : 'plates')}</button
        >
        <button class="btn preset-outlined-surface-300-700" onclick={onclose}>{COMMON.cancel}</button>
      </div>
    </div>
  </div>
</Sheet>
