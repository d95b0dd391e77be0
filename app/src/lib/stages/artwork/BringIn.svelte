<script lang="ts">
  /** A file before it is on the board: its real size, what it holds, and - for a picture - the trace over it. */
  import { wordsOf } from '@kerbe/core/findings';
  import { UNITS } from '@kerbe/core/artwork/units';
  import { burnsPictures, type Incoming } from '$lib/art/incoming.svelte';
  import Segments from '$lib/ui/Segments.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import { len } from '$lib/ui/format';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { coloursOf } from '$lib/ui/theme';
  import { COMMON } from '$lib/labels/common';
  import { ARTWORK } from '$lib/labels/artwork';

  const UNIT_NAME: Record<string, string> = { mm: 'millimetres', cm: 'centimetres', in: 'inches' };
  let { incoming, onclose }: { incoming: Incoming; onclose: () => void } = $props();
  const units = $derived(incoming.editor.job.units);
  const view = $derived(incoming.view);
  const size = $derived(incoming.size);
  const board = $derived(incoming.editor.job.board);
  const tooLarge = $derived(size.width > board.width || size.height > board.height);
  let placing = $state(false);
  /** A picture is asked for its trace only when it is traced. */
  const asIs = $derived(incoming.picture !== null && incoming.as === 'picture');
  const AS = [
    { value: 'picture', label: COMMON.picture },
    { value: 'traced', label: ARTWORK.tracedOutlines },
    { value: 'over', label: ARTWORK.both },
  ] as const;
  const MEANS = $derived({
    picture: burnsPictures(incoming.editor.job) ? 'It is burned as it is, row by row.' : 'It lies there to be drawn over; no cut takes it.',
    traced: 'What is dark in it becomes a drawing.',
    over: 'The picture lies locked under the outlines.',
  });

  const holds = $derived.by(() => {
    if (!view) return '';
    const some = (n: number, one: string, more: string) => (n === 0 ? [] : [`${n} ${n === 1 ? one : more}`]);
    return [...some(view.shapes, 'shape', 'shapes'), ...some(view.lines, 'line', 'lines'), ...some(view.words, 'piece of words', 'pieces of words')].join(', ');
  });
  const frame = $derived.by(() => {
    if (incoming.picture)
      return { x: -incoming.picture.width / 2, y: -incoming.picture.height / 2, width: incoming.picture.width, height: incoming.picture.height };
    const b = view?.box;
    if (!b || b.minX > b.maxX) return { x: 0, y: 0, width: 1, height: 1 };
    return { x: b.minX, y: b.minY, width: Math.max(1e-3, b.maxX - b.minX), height: Math.max(1e-3, b.maxY - b.minY) };
  });
  let canvas = $state<HTMLCanvasElement>();
  $effect(() => {
    const context = canvas?.getContext('2d');
    if (!canvas || !context) return;
    const [w, h] = [canvas.width, canvas.height];
    context.clearRect(0, 0, w, h);
    if (!view || asIs) return;
    const scale = Math.min((w - 16) / frame.width, (h - 16) / frame.height);
    context.save();
    context.translate(w / 2 - (frame.x + frame.width / 2) * scale, h / 2 + (frame.y + frame.height / 2) * scale);
    context.scale(scale, -scale);
    context.lineWidth = 1.5 / scale;
    context.strokeStyle = coloursOf(canvas)[incoming.picture ? 'accent' : 'ink'];
    const path = new Path2D();
    for (const xy of view.preview) {
      path.moveTo(xy[0], xy[1]);
      for (let i = 2; i < xy.length; i += 2) path.lineTo(xy[i], xy[i + 1]);
    }
    context.stroke(path);
    context.restore();
  });
  let timer: ReturnType<typeof setTimeout> | null = null;
  function retrace() {
    incoming.tuned = true;
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void incoming.retrace(), 60);
  }
  async function place() {
    placing = true;
    try {
      await incoming.place();
      onclose();
    } catch (error) {
      incoming.failed = (error as Error).message;
    } finally {
      placing = false;
    }
  }
</script>

<!-- What was brought in is selected: keys mean it, and not the field that was typed in before. -->
<Sheet title={incoming.name} wide then={() => document.querySelector<HTMLElement>('.plan')} {onclose}>
  {#if incoming.failed}
    <p class="caution py-0.5 px-0 text-sm" role="alert">{incoming.failed}</p>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={onclose}>{ARTWORK.backToTheBoard}</button>
  {:else if incoming.doing || !(view || asIs)}
    <p class="py-0.5 text-sm" role="status">{incoming.doing ?? 'Reading the file'}…</p>
    <progress></progress>
    <p class="py-0.5 text-sm">
      <button
        class="btn preset-outlined-surface-300-700"
        onclick={() => {
          incoming.editor.desk.cancel();
          void incoming.editor.redraw(incoming.editor.job);
          onclose();
        }}>{COMMON.cancel}</button
      >
    </p>
  {:else}
    <div class="gap-5.5 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] max-[800px]:grid-cols-1">
      <div class="relative bg-surface-100-900" style="aspect-ratio: 4 / 3">
        {#if incoming.picture}<img
            class={['p-[calc(8%_/_5.6)] inset-0 absolute w-full h-full object-contain', !asIs && 'opacity-55']}
            src={incoming.picture.url}
            alt={ARTWORK.original}
          />{/if}
        <canvas
          class="inset-0 absolute w-full h-full object-contain"
          bind:this={canvas}
          width="560"
          height="420"
          aria-label={asIs ? ARTWORK.notTraced : ARTWORK.outlineOfWhatWasRead}
        ></canvas>
      </div>
      <div>
        <p class="figure big py-0.5 text-2xl" data-size>{len(size.width, units)} × {len(size.height, units)}</p>
        {#if incoming.picture}
          <Segments label={ARTWORK.importAs} value={incoming.as} options={AS} onchange={(as) => void incoming.become(as)} />
          <p class="text-surface-600-400 py-0.5 text-sm">{MEANS[incoming.as]}</p>
        {/if}
        {#if !asIs}<p class="py-0.5 text-sm">{holds}</p>{/if}
        {#if incoming.picture}
          <LengthField label={ARTWORK.widthOfThePicture} value={incoming.pictureWidth} unit={units} min={1} onchange={(v) => void incoming.sizeTo(v)} />
          <LengthField
            label={ARTWORK.heightOfThePicture}
            value={(incoming.pictureWidth * incoming.picture.height) / incoming.picture.width}
            unit={units}
            min={1}
            onchange={(v) => void incoming.sizeTo((v * incoming.picture!.width) / incoming.picture!.height)}
          />
          <NumberField
            label={ARTWORK.pixelsToTheInch}
            value={Math.round((incoming.picture.width * 254) / incoming.pictureWidth) / 10}
            min={1}
            max={10_000}
            step={0.1}
            onchange={(dpi) => void incoming.sizeTo((incoming.picture!.width * 25.4) / dpi)}
          />
          <p class="text-surface-600-400 py-0.5 text-sm">
            {incoming.picture.width} × {incoming.picture.height} pixels{incoming.picture.dpi
              ? `, ${incoming.picture.dpi} to the inch`
              : '; it states no size, so one that suits the board is proposed'}.
          </p>
          {#if !asIs}{@render traced()}{/if}
        {:else if view}
          {#if view.size.known}
            <p class="text-surface-600-400 py-0.5 text-sm">Size given in {UNIT_NAME[view.size.unit] ?? view.size.unit}.</p>
          {:else}
            <p class="py-0.5 text-sm">The file does not say how large it is. It was likely drawn in:</p>
            <Choice
              label={ARTWORK.oneUnitOfTheFile}
              value={String(incoming.unit)}
              options={UNITS.map(({ unit }, i) => ({ value: String(i), label: `1 ${unit}` }))}
              onchange={(v) => {
                incoming.unit = Number(v);
                incoming.width = null;
              }}
            />
          {/if}
          <LengthField label={COMMON.width} value={size.width} unit={units} min={0.01} onchange={(v) => (incoming.width = v)} />
          <LengthField
            label={COMMON.height}
            value={size.height}
            unit={units}
            min={0.01}
            onchange={(v) => size.height > 0 && (incoming.width = (v * size.width) / size.height)}
          />
          <label class="py-1 gap-2 flex items-center text-sm"
            ><input class="checkbox" type="checkbox" bind:checked={incoming.together} disabled={incoming.oneThing} /> {ARTWORK.keepItTogetherAsA}</label
          >
          <label class="py-1 gap-2 flex items-center text-sm"
            ><input
              class="checkbox"
              type="checkbox"
              bind:checked={incoming.apart}
              onchange={() => incoming.apart && (incoming.together = false)}
              disabled={incoming.oneThing}
            />
            {ARTWORK.outlinesAndHolesAsThings}</label
          >
          <label class="py-1 gap-2 flex items-center text-sm"
            ><input class="checkbox" type="checkbox" bind:checked={incoming.oneThing} /> {ARTWORK.makeOneThingOfEach}</label
          >
        {/if}
        {#if tooLarge}
          <p class="caution py-0.5 px-0 text-sm">It is larger than the board ({len(board.width, units)} × {len(board.height, units)}).</p>
          <button
            class="btn preset-outlined-surface-300-700"
            onclick={() => {
              const k = 0.9 * Math.min(board.width / size.width, board.height / size.height);
              if (incoming.picture) void incoming.sizeTo(incoming.pictureWidth * k);
              else incoming.width = size.width * k;
            }}>{ARTWORK.makeItFitTheBoard}</button
          >
        {/if}
        {#each (asIs ? [] : (view?.findings ?? [])).slice(0, 6).map((f) => wordsOf(f, incoming.editor.job.units)) as words, i (i)}<p
            class="text-surface-600-400 py-0.5 text-sm"
          >
            ▲ {words.what}
            {words.why}
          </p>{/each}
        <p class="text-surface-600-400 py-0.5 text-sm" data-kept={incoming.kept.state}>
          {incoming.kept.state === 'kept'
            ? 'The file is kept with the job.'
            : incoming.kept.state === 'sending'
              ? 'Sending the file to be kept with the job…'
              : incoming.kept.why}
        </p>
        <p class="text-surface-600-400 py-0.5 text-sm">Drawings belong to who made them: have the owner’s permission before you sell work made from one.</p>
        <div class="gap-2.5 flex pt-3">
          <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={placing || !incoming.ready} onclick={place}
            >{ARTWORK.putItOnTheBoard}</button
          >
          <button class="btn preset-outlined-surface-300-700" onclick={onclose}>{COMMON.cancel}</button>
        </div>
      </div>
    </div>
  {/if}
</Sheet>

{#snippet traced()}
  <label class="py-1 block text-sm"
    >{ARTWORK.darkerThan} <b class="figure">{incoming.trace.threshold}</b>
    {ARTWORK.isTraced}
    <input class="input w-full" type="range" min="1" max="254" bind:value={incoming.trace.threshold} oninput={retrace} /></label
  >
  <label class="py-1 block text-sm"
    >{ARTWORK.spotsUnder} <b class="figure">{incoming.trace.despeckle}</b>
    {ARTWORK.pixelsAreLeftOut}
    <input
      class="input w-full"
      type="range"
      min="0"
      max={Math.max(200, 2 * incoming.trace.despeckle)}
      bind:value={incoming.trace.despeckle}
      oninput={retrace}
    /></label
  >
  <label class="py-1 block text-sm"
    >{ARTWORK.curvesKeepWithin} <b class="figure">{incoming.trace.smooth.toFixed(2)}</b>
    {ARTWORK.pixels}
    <input class="input w-full" type="range" min="0.1" max="3" step="0.05" bind:value={incoming.trace.smooth} oninput={retrace} /></label
  >
  {#if incoming.trace.along === 'outline'}
    <LengthField
      label={ARTWORK.roundBendsTighterThan}
      value={incoming.trace.round * incoming.pixel}
      unit={units}
      min={0}
      onchange={(v) => {
        incoming.trace.round = v / incoming.pixel;
        retrace();
      }}
    />
  {/if}
  <label class="py-1 gap-2 flex items-center text-sm"
    ><input class="checkbox" type="checkbox" bind:checked={incoming.trace.invert} onchange={retrace} /> {ARTWORK.traceWhatIsLightInstead}</label
  >
  <Choice
    label={ARTWORK.trace}
    value={incoming.trace.along}
    options={[
      { value: 'outline', label: ARTWORK.roundTheDarkAreas },
      { value: 'middle', label: ARTWORK.alongTheMiddleOfThin },
    ]}
    onchange={(v) => {
      incoming.trace.along = v;
      retrace();
    }}
  />
{/snippet}
