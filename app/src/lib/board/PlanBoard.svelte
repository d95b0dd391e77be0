<script lang="ts">
  /** The board from above: artwork, tool paths, datum - and, with the pointer's tools, where artwork is worked on. */
  import * as Konva from './konva';
  import { onMount } from 'svelte';
  import type { Job } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { ToolName } from '$lib/art/hand.svelte';
  import type { PlanView } from '$lib/job/planner';
  import { prefs } from '$lib/ui/prefs.svelte';
  import { paintBoard, paintDatum, paintDimensions, paintGuides, paintHint, paintHolders, paintRulers, paintThing } from './paint';
  import { hearPointer } from './pointer';
  import { nodesTool } from './tools/nodes';
  import { bitTool, bridgeTool, lineTool, measureTool, meetTool, pointTool } from './tools/probes';
  import { cutsTool, type CutMarks, type CutsTool } from './tools/cuts';
  import { selectTool } from './tools/select';
  import type { Tool } from './tools/tool';
  import { Tracks } from './tracks';
  import { BoardView } from './view';
  import { coloursOf } from '$lib/ui/theme';
  import { DRAWING } from '$lib/labels/drawing';

  interface Props {
    job: Job;
    editor: ArtEditor;
    plan: PlanView | null;
    showPaths: boolean;
    /** May artwork be worked on here? */
    working?: boolean;
    /** Order and tabs of the cuts, when they may be pulled about here. */
    marks?: CutMarks | null;
    /** Where the bit is, board coordinates, while a program runs. */
    bit?: [number, number] | null;
    /** What has been cut so far: runs of board coordinates x, y. */
    trail?: number[][];
  }
  let { job, editor, plan, showPaths, working = false, marks = null, bit = null, trail = [] }: Props = $props();

  let host: HTMLDivElement;
  let view: BoardView | null = null;
  let marker: Konva.Group;
  let size = $state({ width: 0, height: 0 });
  let fitted = '';
  /** Things shown elsewhere than they lie, and how. */
  let lifted: { ids: ReadonlySet<string>; matrix: readonly [number, number, number, number, number, number] } | null = null;
  let tools: Record<ToolName, Tool> | null = null;
  let cutting: CutsTool | null = null;
  let select: ReturnType<typeof selectTool>;
  let nodes: ReturnType<typeof nodesTool>;
  let cursor = $state('default');
  /** Pictures of picture things, by asset; null until they are there. */
  const pictures = new Map<string, ImageBitmap | null>();
  /** No screen shows more columns of a picture. */
  const SHARP = 2000;

  const painted = new Tracks();
  const ways = $derived(painted.of(plan?.cuts ?? [], plan?.deepest ?? 0));

  function pictureOf(asset: string): ImageBitmap | null {
    if (!pictures.has(asset)) {
      pictures.set(asset, null);
      void fetchPicture(asset).then((picture) => {
        pictures.set(asset, picture);
        view?.base.batchDraw();
      });
    }
    return pictures.get(asset) ?? null;
  }
  /** Decoded off the page: millions of pixels in the middle of a painting hold it up. */
  async function fetchPicture(asset: string): Promise<ImageBitmap | null> {
    try {
      const whole = await createImageBitmap(await (await fetch(`/api/assets/${asset}`)).blob());
      if (whole.width <= SHARP) return whole;
      const small = await createImageBitmap(whole, { resizeWidth: SHARP, resizeQuality: 'medium' });
      whole.close();
      return small;
    } catch {
      return null;
    }
  }

  function paintArt(context: CanvasRenderingContext2D, ids: ReadonlySet<string> | null, but: ReadonlySet<string> | null, px: number) {
    const c = coloursOf(host);
    const seen = view!.visible;
    for (const id of ids ?? job.itemOrder) {
      if (but?.has(id)) continue;
      const item = job.items[id];
      const thing = editor.drawing.things.get(id);
      if (!item || !thing) continue;
      const { box } = thing;
      // What is out of sight, or smaller than a pixel, is not painted.
      if (!ids && (box.maxX < seen.minX || box.minX > seen.maxX || box.maxY < seen.minY || box.minY > seen.maxY)) continue;
      if (box.maxX - box.minX < 0.4 * px && box.maxY - box.minY < 0.4 * px) continue;
      if (item.kind === 'picture') {
        const image = pictureOf(item.asset);
        context.save();
        context.translate(item.x, item.y);
        context.rotate((item.angle * Math.PI) / 180);
        context.scale(item.mirror ? -1 : 1, -1);
        context.globalAlpha = item.later ? 0.2 : 0.6;
        if (image) {
          const { left, right, top, bottom } = item.trim ?? { left: 0, right: 0, top: 0, bottom: 0 };
          const [w, h] = [image.width, image.height];
          const [halfWidth, halfHeight] = [item.width / 2, item.height / 2];
          context.drawImage(image, left * w, top * h, (1 - left - right) * w, (1 - top - bottom) * h, -halfWidth, -halfHeight, item.width, item.height);
        }
        context.globalAlpha = 1;
        context.lineWidth = px;
        context.strokeStyle = editor.selection.has(id) ? c.accent : c.quiet;
        context.strokeRect(-item.width / 2, -item.height / 2, item.width, item.height);
        context.restore();
        continue;
      }
      paintThing(
        context,
        thing,
        {
          selected: working && editor.selection.has(id),
          outline: id === job.outline,
          guide: job.items[id]?.guide === true || job.items[id]?.bridge === true || job.items[id]?.later === true,
          open: thing.contours.length === 0,
        },
        c,
        px,
      );
    }
    context.setLineDash([]);
  }

  function paintBase(context: CanvasRenderingContext2D) {
    if (!view) return;
    const c = coloursOf(host);
    const px = 1 / view.scale;
    paintBoard(context, job, c, px);
    paintArt(context, null, lifted?.ids ?? null, px);
    if (showPaths) painted.paint(context, ways, c, px);
    paintHolders(context, job, c, px);
    paintDatum(context, job, c, px);
  }
  function paintLift(context: CanvasRenderingContext2D) {
    if (!view || !lifted) return;
    context.save();
    context.transform(...lifted.matrix);
    paintArt(context, lifted.ids, null, 1 / view.scale / Math.max(0.1, Math.hypot(lifted.matrix[0], lifted.matrix[1])));
    context.restore();
  }
  function paintOver(context: CanvasRenderingContext2D) {
    if (!view) return;
    const c = coloursOf(host);
    if (working) {
      paintGuides(context, job, view, c);
      paintDimensions(context, job, view, c);
      paintMarks(context);
      tools?.[editor.hand.tool].paint?.(context);
      paintRulers(context, view, job.units, c);
    } else if (marks) {
      cutting?.paint?.(context);
      if (picking) tools?.point.paint?.(context);
    }
    paintForeseen(context, c);
    paintShown(context, c);
  }
  /** What a button that is pointed at would make. */
  function paintForeseen(context: CanvasRenderingContext2D, c: ReturnType<typeof coloursOf>) {
    if (!editor.foreseen) return;
    context.strokeStyle = c.accent;
    context.lineWidth = 2;
    context.setLineDash([6, 4]);
    context.beginPath();
    for (const xy of editor.foreseen)
      for (let i = 0; i < xy.length; i += 2) {
        const [x, y] = view!.toScreen(xy[i], xy[i + 1]);
        if (i === 0) context.moveTo(x, y);
        else context.lineTo(x, y);
      }
    context.stroke();
    context.setLineDash([]);
  }
  /** The place somebody asked to be shown. */
  function paintShown(context: CanvasRenderingContext2D, c: ReturnType<typeof coloursOf>) {
    const { shown } = editor;
    if (!shown?.at) return;
    const [x, y] = view!.toScreen(...shown.at);
    context.strokeStyle = c.amber;
    context.lineWidth = 2.5;
    context.beginPath();
    context.arc(x, y, 18, 0, 2 * Math.PI);
    context.stroke();
    paintHint(context, shown.what, x + 10, y, c);
  }
  /** A point on the board is asked for while cuts are worked on. */
  const picking = $derived(marks !== null && editor.hand.tool === 'point');
  /** Where findings are, and the order of things when it is asked for. */
  function paintMarks(context: CanvasRenderingContext2D) {
    const c = coloursOf(host);
    for (const found of editor.drawing.findings) {
      if (!found.at || found.severity === 'note') continue;
      const [x, y] = view!.toScreen(...found.at);
      context.fillStyle = c.amber;
      context.strokeStyle = c.sheet;
      context.lineWidth = 1.5;
      context.beginPath();
      context.moveTo(x, y - 9);
      context.lineTo(x + 8, y + 6);
      context.lineTo(x - 8, y + 6);
      context.closePath();
      context.fill();
      context.stroke();
    }
    if (!editor.showOrder) return;
    context.font = '600 11px "IBM Plex Sans Variable", sans-serif';
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    job.itemOrder.forEach((id, i) => {
      const thing = editor.drawing.things.get(id);
      if (!thing || thing.box.minX > thing.box.maxX || id === job.outline) return;
      const [x, y] = view!.toScreen((thing.box.minX + thing.box.maxX) / 2, (thing.box.minY + thing.box.maxY) / 2);
      context.fillStyle = c.ink;
      context.beginPath();
      context.arc(x, y, 10, 0, 2 * Math.PI);
      context.fill();
      context.fillStyle = c.sheet;
      context.fillText(String(i + 1), x, y + 0.5);
    });
    context.textAlign = 'start';
    context.textBaseline = 'alphabetic';
  }

  /** Fits the board into the view. */
  export function fit() {
    if (view && size.width > 0) view.fit(job.board.width, job.board.height);
  }
  export function zoom(factor: number) {
    view?.zoom(factor);
  }
  /** Brings a place into view. */
  export function lookAt([x, y]: readonly [number, number]) {
    if (!view) return;
    const { minX, maxX, minY, maxY } = view.visible;
    if (x > minX && x < maxX && y > minY && y < maxY) return;
    const [sx, sy] = view.toScreen(x, y);
    view.pan(size.width / 2 - sx, size.height / 2 - sy);
  }

  const shapeOf = (paint: (context: CanvasRenderingContext2D) => void) =>
    new Konva.Shape({ sceneFunc: (context) => paint(context._context as CanvasRenderingContext2D), listening: false, perfectDrawEnabled: false });

  onMount(() => {
    view = new BoardView(host, () => select?.sync());
    const v = view;
    marker = new Konva.Group({ visible: false });
    v.base.add(shapeOf(paintBase));
    v.lift.add(shapeOf(paintLift), marker);
    v.over.add(shapeOf(paintOver));
    const bench = {
      editor,
      view: v,
      colours: () => coloursOf(host),
      repaint: () => v.stage.batchDraw(),
      repaintOver: () => v.over.batchDraw(),
      lift(ids: ReadonlySet<string> | null, matrix: readonly [number, number, number, number, number, number] = [1, 0, 0, 1, 0, 0]) {
        const before = lifted;
        lifted = ids && { ids: new Set([...ids].filter((id) => !editor.isLocked(id))), matrix };
        // What stands still is painted once, when the lifting begins and when it ends.
        if (!before !== !lifted) v.base.batchDraw();
        v.lift.batchDraw();
      },
    };
    select = selectTool(bench);
    nodes = nodesTool(bench);
    tools = {
      select,
      nodes,
      measure: measureTool(bench),
      bit: bitTool(bench),
      line: lineTool(bench),
      trim: meetTool(bench, 'trim'),
      extend: meetTool(bench, 'extend'),
      split: meetTool(bench, 'split'),
      bridge: bridgeTool(bench),
      point: pointTool(bench),
    };
    cutting = cutsTool(bench, () => marks);
    hearPointer(v, host, () => ({
      tool: () => (picking ? tools!.point : working ? tools![editor.hand.tool] : null),
      picking: () => picking,
      taker: (press) => (marks && !held && cutting!.takes(press) ? cutting : null),
      pushes: () => !working || held,
      guide: working ? (axis, at) => editor.addGuide(axis, at) : null,
    }));
    const observer = new ResizeObserver(([entry]) => {
      size = { width: Math.floor(entry.contentRect.width), height: Math.floor(entry.contentRect.height) };
    });
    observer.observe(host);
    return () => {
      observer.disconnect();
      select.destroy();
      v.stage.destroy();
      view = null;
    };
  });
  /** Space held down: the pointer pushes the board about. */
  let held = false;

  $effect(() => {
    if (size.width === 0 || !view) return;
    view.stage.size(size);
    const key = `${job.board.width} ${job.board.height} ${size.width} ${size.height}`;
    if (key !== fitted) {
      fitted = key;
      fit();
    }
  });

  let before: ToolName = 'select';
  $effect(() => {
    const { tool } = editor.hand;
    cursor = tools?.[tool].cursor ?? 'default';
    if (before !== tool) tools?.[before].leave?.();
    before = tool;
    void [editor.selection, editor.drawing.things];
    select?.sync();
    if (tool === 'nodes') nodes?.sync();
    view?.over.batchDraw();
  });
  $effect(() => {
    // Paint again when anything drawn changes.
    void [editor.drawing.things, ways, editor.selection, showPaths, working, job, prefs.mode];
    view?.base.batchDraw();
  });
  $effect(() => {
    void [
      editor.drawing.findings,
      editor.shown,
      editor.foreseen,
      editor.showOrder,
      editor.nodes,
      job.guides,
      job.dimensions,
      job.units,
      prefs.mode,
      working,
      marks,
      picking,
    ];
    view?.over.batchDraw();
  });
  $effect(() => {
    const at = bit;
    const done = trail;
    void size;
    if (!marker || !view) return;
    const c = coloursOf(host);
    const px = 1 / view.scale;
    marker.visible(at !== null || done.length > 0);
    marker.destroyChildren();
    for (const points of done)
      if (points.length >= 4) marker.add(new Konva.Line({ points, stroke: c.ink, strokeWidth: 3 * px, lineCap: 'round', lineJoin: 'round' }));
    if (at) {
      marker.add(new Konva.Ring({ x: at[0], y: at[1], innerRadius: 7 * px, outerRadius: 11 * px, fill: c.accent }));
      marker.add(new Konva.Circle({ x: at[0], y: at[1], radius: 2 * px, fill: c.accent }));
    }
    view.lift.batchDraw();
  });

  function keydown(event: KeyboardEvent) {
    if (event.key === ' ' && working) {
      held = true;
      event.preventDefault();
      return;
    }
    if (event.key === '+' || event.key === '=') view?.zoom(1.2);
    else if (event.key === '-') view?.zoom(1 / 1.2);
    else if (event.key === '0') fit();
    else if (picking && tools?.point.key?.(event)) editor.hand.pointFor = null;
    else if (marks && cutting?.key?.(event)) view?.over.batchDraw();
    else if (!working || event.ctrlKey || event.metaKey || event.altKey || !tools?.[editor.hand.tool].key?.(event)) return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<!-- The drawing takes keys: arrows nudge what is selected. -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="plan inset-0 absolute touch-none bg-surface-100-900"
  bind:this={host}
  role="application"
  tabindex="0"
  style="cursor: {working ? cursor : picking ? 'crosshair' : 'grab'}"
  aria-label={DRAWING.boardFromAboveArrowKeys}
  onkeydown={keydown}
  onkeyup={(event) => event.key === ' ' && (held = false)}
></div>
