<script lang="ts">
  /** The board from above: artwork, outline, tool paths, datum. Artwork can be dragged and nudged. */
  import Konva from 'konva';
  import { onMount } from 'svelte';
  import { datumPoint, type Job } from '@kerbe/core/job';
  import type { PlanView } from '$lib/job/planner';
  import { DEPTH_STEPS, depthColour, depthStep } from './depth';
  import { prefs } from '$lib/ui/prefs.svelte';

  interface Props {
    job: Job;
    plan: PlanView | null;
    selected: string | null;
    showPaths: boolean;
    /** Where the bit is, board coordinates, while a program runs. */
    bit?: [number, number] | null;
    /** What has been cut so far: runs of board coordinates x, y. */
    trail?: number[][];
    onselect: (id: string | null) => void;
    onmove: (id: string, dx: number, dy: number) => void;
  }
  let { job, plan, selected, showPaths, bit = null, trail = [], onselect, onmove }: Props = $props();

  let host: HTMLDivElement;
  let stage: Konva.Stage | null = null;
  let layer: Konva.Layer;
  let top: Konva.Layer;
  let shape: Konva.Shape;
  let marker: Konva.Group;
  let size = $state({ width: 0, height: 0 });
  let fitted = '';

  const path2d = (contours: Float64Array[]) => {
    const path = new Path2D();
    for (const xy of contours) {
      for (let i = 0; i < xy.length; i += 2) {
        if (i === 0) path.moveTo(xy[0], xy[1]);
        else path.lineTo(xy[i], xy[i + 1]);
      }
      path.closePath();
    }
    return path;
  };

  const art = $derived((plan?.items ?? []).map(({ id, contours }) => ({ id, path: path2d(contours), box: boxOf(contours), outline: id === job.outline })));
  const tracks = $derived(
    (plan?.cuts ?? []).map((cut) => {
      const steps = Array.from({ length: DEPTH_STEPS }, () => new Path2D());
      const feed = new Path2D();
      const rapid = new Path2D();
      let last: Path2D | null = null;
      for (let i = 1; i < cut.kind.length; i++) {
        const cutting = cut.kind[i] !== 0;
        const step = depthStep(-(cut.z[i] + cut.z[i - 1]) / 2, plan!.deepest);
        const path = cutting ? steps[step] : rapid;
        if (path !== last) path.moveTo(cut.x[i - 1], cut.y[i - 1]);
        path.lineTo(cut.x[i], cut.y[i]);
        if (cutting) {
          feed.moveTo(cut.x[i - 1], cut.y[i - 1]);
          feed.lineTo(cut.x[i], cut.y[i]);
        }
        last = path;
      }
      return { steps, feed, rapid, width: cut.bit.kind === 'end' ? cut.bit.diameter : 0 };
    }),
  );

  function boxOf(contours: Float64Array[]) {
    const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
    for (const xy of contours)
      for (let i = 0; i < xy.length; i += 2) {
        box.x0 = Math.min(box.x0, xy[i]);
        box.x1 = Math.max(box.x1, xy[i]);
        box.y0 = Math.min(box.y0, xy[i + 1]);
        box.y1 = Math.max(box.y1, xy[i + 1]);
      }
    return box;
  }

  function colours() {
    const style = getComputedStyle(host);
    const get = (name: string) => style.getPropertyValue(name).trim();
    return { wood: get('--wood'), ink: get('--ink'), quiet: get('--quiet'), accent: get('--accent'), line: get('--line-strong'), paper: get('--paper') };
  }

  function draw(context: CanvasRenderingContext2D) {
    const c = colours();
    const { width, height } = job.board;
    const px = 1 / Math.abs(layer.scaleX());
    context.fillStyle = c.wood;
    context.fillRect(0, 0, width, height);
    context.lineWidth = px;
    context.strokeStyle = c.line;
    context.strokeRect(0, 0, width, height);
    for (const { id, path, outline } of art) {
      context.lineWidth = (id === selected ? 2.2 : 1.2) * px;
      context.strokeStyle = id === selected ? c.accent : c.ink;
      context.setLineDash(outline ? [7 * px, 4 * px] : []);
      if (!outline) {
        context.globalAlpha = 0.14;
        context.fillStyle = c.ink;
        context.fill(path, 'evenodd');
        context.globalAlpha = 1;
      }
      context.stroke(path);
    }
    context.setLineDash([]);
    if (showPaths)
      for (const { steps, feed, rapid, width: band } of tracks) {
        if (band > 0) {
          context.globalAlpha = 0.18;
          context.strokeStyle = c.ink;
          context.lineWidth = band;
          context.lineCap = 'round';
          context.stroke(feed);
          context.lineCap = 'butt';
          context.globalAlpha = 1;
        }
        // A dark edge under the ramp keeps its light end readable on wood.
        context.strokeStyle = c.quiet;
        context.lineWidth = 2.6 * px;
        context.stroke(feed);
        context.lineWidth = 1.8 * px;
        steps.forEach((path, step) => {
          context.strokeStyle = depthColour(step);
          context.stroke(path);
        });
        context.strokeStyle = c.quiet;
        context.lineWidth = 0.7 * px;
        context.setLineDash([3 * px, 4 * px]);
        context.stroke(rapid);
        context.setLineDash([]);
      }
    // The datum: a ring with its two axes.
    const [dx, dy] = datumPoint(job);
    context.strokeStyle = c.ink;
    context.lineWidth = 1.8 * px;
    context.beginPath();
    context.arc(dx, dy, 7 * px, 0, 2 * Math.PI);
    context.moveTo(dx, dy);
    context.lineTo(dx + 34 * px, dy);
    context.moveTo(dx, dy);
    context.lineTo(dx, dy + 34 * px);
    context.stroke();
    if (selected) {
      const thing = art.find(({ id }) => id === selected);
      if (thing && Number.isFinite(thing.box.x0)) {
        context.strokeStyle = c.accent;
        context.lineWidth = px;
        context.setLineDash([2 * px, 3 * px]);
        context.strokeRect(thing.box.x0, thing.box.y0, thing.box.x1 - thing.box.x0, thing.box.y1 - thing.box.y0);
        context.setLineDash([]);
      }
    }
  }

  /** Fits the board into the view. */
  export function fit() {
    if (!stage || size.width === 0) return;
    const margin = 46;
    const scale = Math.min((size.width - 2 * margin) / job.board.width, (size.height - 2 * margin) / job.board.height);
    for (const l of [layer, top]) {
      l.scale({ x: scale, y: -scale });
      l.position({ x: (size.width - scale * job.board.width) / 2, y: (size.height + scale * job.board.height) / 2 });
    }
    stage.batchDraw();
  }

  function toBoard(): [number, number] | null {
    const p = stage?.getPointerPosition();
    return p ? [(p.x - layer.x()) / layer.scaleX(), (p.y - layer.y()) / layer.scaleY()] : null;
  }

  function hit(x: number, y: number): string | null {
    const inside = art.filter(({ box, outline }) => !outline && x >= box.x0 && x <= box.x1 && y >= box.y0 && y <= box.y1);
    return inside.at(-1)?.id ?? null;
  }

  onMount(() => {
    stage = new Konva.Stage({ container: host, width: 10, height: 10 });
    layer = new Konva.Layer({ listening: false });
    top = new Konva.Layer({ listening: false });
    shape = new Konva.Shape({ sceneFunc: (context) => draw(context._context as CanvasRenderingContext2D), listening: false, perfectDrawEnabled: false });
    marker = new Konva.Group({ visible: false });
    layer.add(shape);
    top.add(marker);
    stage.add(layer, top);
    let drag: { id: string | null; at: [number, number]; screen: { x: number; y: number } } | null = null;
    stage.on('pointerdown', () => {
      const at = toBoard();
      const screen = stage!.getPointerPosition();
      if (!at || !screen) return;
      const id = hit(at[0], at[1]);
      onselect(id);
      drag = { id, at, screen };
      host.setPointerCapture?.((window.event as PointerEvent | undefined)?.pointerId ?? 0);
    });
    stage.on('pointermove', () => {
      const at = toBoard();
      const screen = stage!.getPointerPosition();
      if (!drag || !at || !screen) return;
      if (drag.id) {
        const [dx, dy] = [at[0] - drag.at[0], at[1] - drag.at[1]];
        if (Math.hypot(dx, dy) * Math.abs(layer.scaleX()) < 2) return;
        onmove(drag.id, dx, dy);
        drag.at = at;
      } else {
        for (const l of [layer, top]) l.position({ x: l.x() + screen.x - drag.screen.x, y: l.y() + screen.y - drag.screen.y });
        drag.screen = screen;
        stage!.batchDraw();
      }
    });
    const release = () => (drag = null);
    stage.on('pointerup pointerleave', release);
    stage.on('wheel', ({ evt }) => {
      evt.preventDefault();
      const p = stage!.getPointerPosition();
      if (!p) return;
      const factor = evt.deltaY < 0 ? 1.12 : 1 / 1.12;
      const scale = Math.min(200, Math.max(0.05, layer.scaleX() * factor));
      const k = scale / layer.scaleX();
      for (const l of [layer, top]) {
        l.position({ x: p.x - k * (p.x - l.x()), y: p.y - k * (p.y - l.y()) });
        l.scale({ x: scale, y: -scale });
      }
      stage!.batchDraw();
    });
    const observer = new ResizeObserver(([entry]) => {
      size = { width: Math.floor(entry.contentRect.width), height: Math.floor(entry.contentRect.height) };
    });
    observer.observe(host);
    return () => {
      observer.disconnect();
      stage?.destroy();
      stage = null;
    };
  });

  $effect(() => {
    if (size.width === 0 || !stage) return;
    stage.size(size);
    const key = `${job.board.width} ${job.board.height} ${size.width} ${size.height}`;
    if (key !== fitted) {
      fitted = key;
      fit();
    }
  });

  $effect(() => {
    // Redraw when anything drawn changes.
    void [art, tracks, selected, showPaths, job, prefs.mode];
    layer?.batchDraw();
  });

  $effect(() => {
    const at = bit;
    const done = trail;
    void size;
    if (!marker) return;
    const c = colours();
    const px = 1 / Math.abs(layer.scaleX());
    marker.visible(at !== null || done.length > 0);
    marker.destroyChildren();
    for (const points of done)
      if (points.length >= 4) marker.add(new Konva.Line({ points, stroke: c.ink, strokeWidth: 3 * px, lineCap: 'round', lineJoin: 'round' }));
    if (at) {
      marker.add(new Konva.Ring({ x: at[0], y: at[1], innerRadius: 7 * px, outerRadius: 11 * px, fill: c.accent }));
      marker.add(new Konva.Circle({ x: at[0], y: at[1], radius: 2 * px, fill: c.accent }));
    }
    top.batchDraw();
  });

  function nudge(event: KeyboardEvent) {
    const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
    const step = steps[event.key];
    if (!step || !selected) return;
    event.preventDefault();
    const by = (event.shiftKey ? 10 : 1) * (job.units === 'in' ? 25.4 / 16 : 1);
    onmove(selected, step[0] * by, step[1] * by);
  }
</script>

<!-- The drawing takes keys: arrows nudge what is selected. -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="plan"
  bind:this={host}
  role="application"
  tabindex="0"
  aria-label="Board from above. Arrow keys nudge the selected artwork."
  onkeydown={nudge}
></div>

<style>
  .plan {
    position: absolute;
    inset: 0;
    touch-action: none;
    background: var(--bed);
  }
</style>
