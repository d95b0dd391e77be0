<script lang="ts">
  /** Choosing where a program goes on: a letter, a stroke, a pass, a hole, or any line; with what the machine will do to get there. */
  import type { Job } from '@kerbe/core/job';
  import { firstBitFitted, resumePoints, readProgram, resumeProgram, spanAt, toPath, type ProgramSpan, type Reentry } from '@kerbe/core/program';
  import { len } from '$lib/ui/format';
  import { saidOf } from './said';
  import Choice from '$lib/ui/Choice.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import type { LengthUnit } from '@kerbe/core/length';
  import { RUN } from '$lib/labels/run';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    text: string;
    /** Which of its lines cut what, and the drawn things by their ids. */
    spans: readonly ProgramSpan[];
    items: Job['items'];
    unit: LengthUnit;
    /** Lines finished, and lines that may have been cut. */
    finished: number;
    sent: number;
    spindleSeconds: number;
    reentry: Reentry;
    busy: boolean;
    /** Why the last press was refused. */
    why: string | null;
    onsetup: () => void;
    onstart: (line: number) => void;
    onclose: () => void;
  }
  let { text, spans, items, unit, finished, sent, spindleSeconds, reentry, busy, why, onsetup, onstart, onclose }: Props = $props();
  const pierced = $derived(reentry === 'pierce again');
  const WAY_IN: Record<Reentry, string> = {
    'running before it comes down': 'To get there: up to the top, the spindle to speed, across, then down slowly.',
    'pierce again': 'To get there: up to the top, across with the arc off, the plate felt for, and pierced anew.',
    'on with the motion': 'To get there: across, dark; the beam comes on where it goes on.',
  };
  const places = $derived(resumePoints(text));
  const lines = $derived(text.split(/\r?\n/).filter((line) => line.trim() !== '').length);
  /** The place where it stopped: the first that is not finished. */
  const stopped = $derived.by(() => {
    const k = places.findIndex(({ last }) => last > finished);
    return k < 0 ? Math.max(0, places.length - 1) : k;
  });
  let chosen = $state<number | null>(null);
  const spanOf = $derived(places.map(({ last }) => spanAt(spans, last)));
  const saidAt = (k: number) => (spanOf[k] ? saidOf(spanOf[k], items) : places[k].label);
  /** Every letter and thing with the place it is begun at, in the order they are carved; one that several cuts go over comes once for each. */
  const begun = $derived.by(() => {
    const seen = new Set<string>();
    return places.flatMap((_, k) => {
      const span = spanOf[k];
      const key = `${span?.cut} ${span?.label} ${span?.item} ${span?.part}`;
      if (!span?.item || seen.has(key)) return [];
      seen.add(key);
      return [{ k, said: saidOf(span, items) }];
    });
  });
  const line = $derived(chosen ?? places[stopped]?.line ?? 1);
  const here = $derived(places.findLastIndex((place) => place.line <= line));
  const entry = $derived.by(() => {
    const resumed = resumeProgram(firstBitFitted(text), line, spindleSeconds, reentry);
    return 'why' in resumed ? null : resumed.text.split('\n').slice(0, 14);
  });
  const path = $derived(toPath(readProgram(text)));
  /** Each place as a line to be drawn and pressed. */
  const drawn = $derived(
    places.map(({ line: from, last }) => {
      const points: string[] = [];
      for (let i = 0; i < path.line.length; i++)
        if (path.line[i] >= from && path.line[i] <= last) points.push(`${path.x[i].toFixed(2)},${(-path.y[i]).toFixed(2)}`);
      return points.join(' ');
    }),
  );
  const box = $derived.by(() => {
    const all = places.map(({ at }) => at);
    const xs = Array.from(path.x).filter(Number.isFinite);
    const ys = Array.from(path.y).filter(Number.isFinite);
    if (all.length === 0) return '0 0 100 100';
    const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    const m = 0.04 * Math.max(x1 - x0, y1 - y0) + 2;
    return `${x0 - m} ${-y1 - m} ${x1 - x0 + 2 * m} ${y1 - y0 + 2 * m}`;
  });
</script>

<Sheet title={RUN.goOnFromTheMiddle} wide {onclose}>
  <p>
    {finished > 0 ? `Line ${finished} was finished.` : 'Nothing of it was finished.'}
    {sent > finished ? `Lines up to ${sent} had been sent and may have been cut.` : ''}
    {pierced
      ? 'A contour that is cut again only opens its kerf a little; one left out stays in the plate.'
      : 'Cutting a stroke again does no harm; leaving one out does.'}
  </p>
  <svg class="my-1.5 w-full max-h-64 bg-surface-100-900" viewBox={box} role="group" aria-label={RUN.strokesOfTheProgramPress}>
    {#each drawn as points, k (k)}
      <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
      <polyline
        class={[
          'fill-none cursor-pointer',
          places[k].last <= finished ? 'stroke-surface-950-50' : 'stroke-surface-600-400',
          k === here ? 'stroke-primary-600-400 stroke-[5px]' : 'stroke-[2px]',
        ]}
        {points}
        vector-effect="non-scaling-stroke"
        onclick={() => (chosen = places[k].line)}
      />
    {/each}
  </svg>
  <div class="gap-2 flex flex-wrap items-center">
    <button class="btn preset-outlined-surface-300-700" disabled={here <= 0} onclick={() => (chosen = places[here - 1].line)}>{RUN.theStrokeBefore}</button>
    <button class="btn preset-outlined-surface-300-700" disabled={here >= places.length - 1} onclick={() => (chosen = places[here + 1].line)}
      >{RUN.theStrokeAfter}</button
    >
    <button class="btn preset-outlined-surface-300-700" onclick={() => (chosen = places[stopped]?.line ?? 1)}>{RUN.whereItStopped}</button>
    {#if begun.length > 0}
      <Choice
        label={RUN.beginWith}
        value={String(begun.findLast(({ k }) => k <= here)?.k)}
        options={begun.map(({ k, said }) => ({ value: String(k), label: said }))}
        onchange={(k) => (chosen = places[Number(k)].line)}
      />
    {/if}
    <NumberField label={COMMON.line} value={line} min={1} max={lines} onchange={(n) => (chosen = n)} />
  </div>
  {#if places[here]}
    <p>
      Stroke {here + 1} of {places.length}: <b>{saidAt(here)}</b>, line {places[here].line} to {places[here].last}{pierced
        ? ''
        : `, to ${len(-places[here].deepest, unit)} below Z0`}.
    </p>
  {/if}
  {#if entry}
    <p class="text-surface-600-400">{WAY_IN[reentry]}</p>
    <ol class="entry py-1.5 px-2.5 flex flex-wrap gap-y-0.5 gap-x-4.5 text-xs bg-surface-100-900" aria-label={RUN.howItGoesIn}>
      {#each entry as word, k (k)}<li><code>{word}</code></li>{/each}
    </ol>
  {/if}
  <p class="caution">
    Is the {pierced ? 'plate' : 'board'} where it was, and zero too? After an emergency stop in motion or a power loss: home, and touch zero again.
  </p>
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
  <div class="gap-2 flex flex-wrap items-center">
    {#if why}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={onsetup}>{RUN.setUpForLine(line)}</button>{/if}
    <button
      class={why ? 'btn preset-outlined-surface-300-700' : 'btn preset-filled-brand px-4 py-2.5 font-semibold'}
      disabled={busy || !entry}
      onclick={() => onstart(line)}>{RUN.goOnFromLine(line)}</button
    >
    <button class="btn preset-outlined-surface-300-700" onclick={onclose}>{COMMON.cancel}</button>
  </div>
</Sheet>
