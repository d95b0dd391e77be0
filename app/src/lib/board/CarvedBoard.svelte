<script lang="ts">
  /** The carved board in the round: drag to turn, wheel or + and − to come nearer, arrows to turn by keyboard. */
  import { measureAt, type Measured } from '@kerbe/core/proof/measure';
  import { silhouette } from '@kerbe/core/bits/silhouette';
  import { tilesOf } from '@kerbe/core/proof/tiles';
  import type { Bit, Job } from '@kerbe/core/job';
  import type { BoardMap } from '$lib/job/planner';
  import type { Marks } from '$lib/stages/proof/desk.svelte';
  import { len } from '$lib/ui/format';
  import { saveFile } from '$lib/ui/files';
  import { prefs } from '$lib/ui/prefs.svelte';
  import { onMount, untrack } from 'svelte';
  import { cameraOf, pick, project, type View } from './camera';
  import { carvedRoom, type Frame, type Questions } from './carved';
  import { transfer } from 'comlink';
  import { Superseded } from '$lib/workers/superseded';
  import type { Workroom } from '$lib/workers/workroom';
  import { LOOKS, type LookName } from '@kerbe/core/proof/looks';
  import { coloursOf } from '$lib/ui/theme';
  import { DRAWING } from '$lib/labels/drawing';

  interface Props {
    job: Job;
    map: BoardMap | null;
    deepest: number;
    view: View;
    onview: (view: View) => void;
    look: LookName;
    /** Paint in what is carved, as #rrggbb. */
    paint?: string | null;
    marks?: Marks | null;
    /** The bit where it stands while the job is scrubbed. */
    bit?: { bit: Bit; x: number; y: number; z: number } | null;
    /** A press measures instead of turning. */
    measuring?: boolean;
    /** A line across the board that a section is taken along. */
    line?: { from: [number, number]; to: [number, number] } | null;
    label?: string;
  }
  let { job, map, deepest, view, onview, look, paint = null, marks = null, bit = null, measuring = false, line = null, label = '' }: Props = $props();

  let canvas = $state<HTMLCanvasElement>();
  let room = $state.raw<Workroom<Questions> | null>(null);
  /** A canvas is one worker's for life: with another worker comes another canvas, once. */
  let life = $state(0);
  let why = $state<string | null>(null);
  let size = $state({ width: 0, height: 0 });
  let moving = $state(false);
  let settle: ReturnType<typeof setTimeout>;
  /** Frames asked for, and the last one that was drawn. */
  let asked = 0;
  let newest = $state(0);
  let drawn = $state(0);
  /** Version of the map the drawing worker holds. */
  let held: { map: Float32Array; version: number } | null = null;
  let measured = $state.raw<(Measured & { at: [number, number] }) | null>(null);

  const board = $derived({ width: job.board.width, height: job.board.height, thickness: job.board.thickness });
  const camera = $derived(size.width > 0 ? cameraOf(view, board, size.width, size.height) : null);
  const rgb = (hex: string): [number, number, number] => {
    const n = parseInt(hex.slice(1), 16);
    return [(n >> 16) / 255, ((n >> 8) & 255) / 255, (n & 255) / 255];
  };
  const LOST = 'The carved view could not be drawn here. The plan and the section show the same figures.';
  /** Tells the drawing worker something; when it has died another is tried, once. */
  async function tell<T>(what: (to: Workroom<Questions>) => Promise<T>): Promise<T | undefined> {
    const now = room;
    if (!now) return;
    try {
      return await what(now);
    } catch (error) {
      if (error instanceof Superseded || room !== now) return;
      now.close();
      room = held = null;
      if (life === 0) life++;
      else why = LOST;
    }
  }
  const frame = (scale: number): Frame => ({
    view,
    width: Math.round(size.width * scale),
    height: Math.round(size.height * scale),
    ground: rgb(coloursOf(document.documentElement).bed),
    dark: prefs.mode === 'dark',
  });

  function turn(change: Partial<View>) {
    const next = { ...view, ...change };
    const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));
    onview({
      yaw: next.yaw,
      pitch: within(next.pitch, 0.12, Math.PI / 2 - 1e-3),
      distance: within(next.distance, 0.05, 4),
      x: within(next.x, 0, 1),
      y: within(next.y, 0, 1),
    });
    moving = true;
    clearTimeout(settle);
    settle = setTimeout(() => (moving = false), 160);
  }

  /** A picture of the view, twice as large, to the person's computer. */
  export async function savePicture(name: string) {
    const png = await tell((to) => to.ask('snap', frame(2)));
    if (png) saveFile(name, png, 'image/png');
    draw();
  }

  /** Asks for a frame; the picture is new when the newest of them was drawn. */
  function draw(scale = 1) {
    const id = (newest = ++asked);
    void tell((to) => to.ask('draw', frame(scale))).then((done) => {
      if (done) drawn = id;
    });
  }

  onMount(() => {
    const observer = new ResizeObserver(([entry]) => (size = { width: Math.floor(entry.contentRect.width), height: Math.floor(entry.contentRect.height) }));
    observer.observe(canvas!.parentElement!);
    return () => observer.disconnect();
  });
  $effect(() => {
    if (!canvas) return;
    const now = carvedRoom();
    const off = canvas.transferControlToOffscreen();
    room = now;
    void untrack(() => tell((to) => to.ask('canvas', transfer({ canvas: off }, [off])))).then((made) => {
      if (made?.flat) why = 'This browser has no WebGL2: the board is shown flat, with depth as shade. Figures and sections are the same.';
    });
    return () => now.close();
  });
  $effect(() => {
    const dress = { look: $state.snapshot(LOOKS[look]), paint: paint ? rgb(paint) : null };
    if (room) void untrack(() => tell((to) => to.ask('dress', dress)));
  });
  $effect(() => {
    if (!room || !map) return;
    // Only what changed goes over, when the worker has the version before.
    if (map.changed && held?.map === map.height && held.version === map.version - 1) {
      const data = tilesOf(map, map.changed);
      const what = transfer({ tiles: map.changed.slice(), data }, [data.buffer]);
      void untrack(() => tell((to) => to.ask('renew', what)));
    } else {
      const { spare, ...rest } = map;
      const what = transfer({ map: { ...rest, height: spare ?? map.height, changed: null }, board, deepest }, spare ? [spare.buffer] : []);
      void untrack(() => tell((to) => to.ask('load', what)));
      map.spare = undefined;
    }
    held = { map: map.height, version: map.version };
  });
  $effect(() => {
    const what = { marks: marks ? { ...marks } : null };
    if (room) void untrack(() => tell((to) => to.ask('mark', what)));
  });
  $effect(() => {
    void [map, marks, look, paint, prefs.mode];
    if (!room || size.width === 0) return;
    // Half the size while it moves; every pixel when it rests.
    void [view, moving];
    untrack(() => draw(moving ? 0.5 : 1));
  });
  $effect(() => {
    void [map, measuring];
    measured = null;
  });

  const bitPath = $derived.by(() => {
    if (!bit || !camera) return null;
    const tip = project(camera, [bit.x, bit.y, bit.z]);
    const { cutting, shank } = silhouette(bit.bit, 0, 0, tip.scale, -(bit.bit.fluteLength + 30) * tip.scale);
    // A bit stands upright: seen from above it is foreshortened.
    return { ...tip, cutting, shank, squash: Math.max(0.06, Math.cos(view.pitch)) };
  });
  const ends = $derived(
    camera && measured?.from && measured.to
      ? ([measured.from, measured.to].map(([x, y]) => project(camera!, [x, y, 0])) as [ReturnType<typeof project>, ReturnType<typeof project>])
      : null,
  );
  const spot = $derived(camera && measured ? project(camera, [...measured.at, -measured.depth]) : null);
  const lineEnds = $derived(camera && line ? [line.from, line.to].map(([x, y]) => project(camera!, [x, y, 0])) : null);

  function measureUnder(event: PointerEvent) {
    if (!camera || !map) return;
    const box = canvas!.getBoundingClientRect();
    const at = pick(camera, map, board, event.clientX - box.left, event.clientY - box.top);
    measured = at ? { ...measureAt(map, ...at), at } : null;
  }

  let drag: { x: number; y: number; slide: boolean } | null = null;
  function move(event: PointerEvent) {
    if (!drag) {
      if (measuring) measureUnder(event);
      return;
    }
    const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
    drag = { ...drag, x: event.clientX, y: event.clientY };
    if (!drag.slide || !camera) return turn({ yaw: view.yaw - dx * 0.008, pitch: view.pitch + dy * 0.008 });
    // Slid along the board: as far as the pointer went, at the middle.
    const { scale } = project(camera, [view.x * board.width, view.y * board.height, 0]);
    const [sin, cos] = [Math.sin(view.yaw), Math.cos(view.yaw)];
    const [u, v] = [dx / scale, dy / scale / Math.max(0.3, Math.sin(view.pitch))];
    turn({ x: view.x - (u * cos + v * sin) / board.width, y: view.y + (v * cos - u * sin) / board.height });
  }
  const keys: Record<string, () => void> = {
    ArrowLeft: () => turn({ yaw: view.yaw - 0.1 }),
    ArrowRight: () => turn({ yaw: view.yaw + 0.1 }),
    ArrowUp: () => turn({ pitch: view.pitch + 0.1 }),
    ArrowDown: () => turn({ pitch: view.pitch - 0.1 }),
    '+': () => turn({ distance: view.distance / 1.15 }),
    '-': () => turn({ distance: view.distance * 1.15 }),
  };
</script>

<div class="overflow-hidden relative w-full h-full min-w-0 bg-surface-100-900">
  <!-- svelte-ignore a11y_no_interactive_element_to_noninteractive_role -->
  {#key life}<canvas
      class={['absolute w-full h-full touch-none', measuring && 'cursor-crosshair']}
      bind:this={canvas}
      tabindex="0"
      role="application"
      aria-label={DRAWING.carvedBoard(label ? `, ${label}` : '')}
      data-drawn={drawn > 0}
      data-rested={drawn === newest && !moving}
      onpointerdown={(event) => {
        drag = { x: event.clientX, y: event.clientY, slide: event.shiftKey || event.button === 1 };
        canvas!.setPointerCapture(event.pointerId);
        if (measuring) measureUnder(event);
      }}
      onpointermove={move}
      onpointerup={() => (drag = null)}
      onpointerleave={() => !drag && (measured = null)}
      onwheel={(event) => {
        event.preventDefault();
        turn({ distance: view.distance * (event.deltaY > 0 ? 1.12 : 1 / 1.12) });
      }}
      onkeydown={(event) => {
        const act = keys[event.key];
        if (!act) return;
        event.preventDefault();
        act();
      }}
    ></canvas>{/key}
  <svg class="inset-0 absolute w-full h-full pointer-events-none" aria-hidden="true">
    {#if lineEnds}<path
        d="M{lineEnds[0].x} {lineEnds[0].y}L{lineEnds[1].x} {lineEnds[1].y}"
        class="stroke-primary-600-400 stroke-2 [stroke-dasharray:7_4]"
      />{/if}
    {#if bitPath}
      <g transform="translate({bitPath.x} {bitPath.y}) scale(1 {bitPath.squash})" class="bit" data-bit>
        <path class="fill-surface-600-400 [fill-opacity:0.5] stroke-surface-950-50 stroke-[1.2] [vector-effect:non-scaling-stroke]" d={bitPath.shank} />
        <path class="fill-surface-600-400 [fill-opacity:0.5] stroke-surface-950-50 stroke-[1.2] [vector-effect:non-scaling-stroke]" d={bitPath.cutting} />
      </g>
    {/if}
    {#if ends}<path d="M{ends[0].x} {ends[0].y}L{ends[1].x} {ends[1].y}" class="stroke-primary-600-400 stroke-3" />{/if}
    {#if spot}<circle cx={spot.x} cy={spot.y} r="4" class="fill-surface-100-900 stroke-primary-600-400 stroke-[2.5]" />{/if}
  </svg>
  {#if measured && spot}
    <div
      class="py-1.5 px-2.5 border border-surface-300-700 absolute bg-surface-50-950 text-sm tabular-nums pointer-events-none"
      style="left: {Math.min(spot.x + 14, size.width - 190)}px; top: {Math.max(8, spot.y - 78)}px"
      role="status"
      aria-label={DRAWING.measured}
    >
      <b>{len(measured.depth, job.units)}</b> deep
      {#if measured.width !== undefined}<br /><b>{len(measured.width, job.units)}</b> across{/if}
      <br /><b>{Math.round(measured.slope)}°</b> from level
    </div>
  {/if}
  {#if why}<p class="caution absolute top-13.5 left-4 right-4">{why}</p>{/if}
  {#if label}<p
      class="label py-1 px-2.5 border border-surface-200-800 absolute left-3.5 bottom-3.5 w-[max-content] max-w-[calc(100%_-_1.6rem)] bg-surface-50-950 text-sm"
    >
      {label}
    </p>{/if}
</div>
