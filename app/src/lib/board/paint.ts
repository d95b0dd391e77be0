/** What the board from above shows, painted on a canvas: board, artwork, tool paths, rulers, marks. */
import { isStraight } from '@kerbe/core/bits';
import { datumPoint, type Job } from '@kerbe/core/job';
import { tilesOf } from '@kerbe/core/job/tiles';
import type { ArtThing } from '$lib/art/drawing.svelte';
import type { CutView } from '$lib/job/planner';
import { DEPTH_STEPS, depthColour, depthStep } from './depth';
import { len } from '$lib/ui/format';
import type { Colours } from '$lib/ui/theme';
import type { BoardView } from './view';

export function paintBoard(context: CanvasRenderingContext2D, job: Job, c: Colours, px: number): void {
  context.fillStyle = c.wood;
  context.fillRect(0, 0, job.board.width, job.board.height);
  context.lineWidth = px;
  context.strokeStyle = c.line;
  context.strokeRect(0, 0, job.board.width, job.board.height);
  paintSeams(context, job, c, px);
  if (!job.board.gone) return;
  context.beginPath();
  for (const xy of job.board.gone) {
    context.moveTo(xy[0], xy[1]);
    for (let i = 2; i < xy.length; i += 2) context.lineTo(xy[i], xy[i + 1]);
    context.closePath();
  }
  context.fillStyle = c.sheet;
  context.fill('evenodd');
  context.stroke();
}

/** Seams between tiles, and in a quieter tone what is left out. */
function paintSeams(context: CanvasRenderingContext2D, { tiles, board }: Job, c: Colours, px: number): void {
  if (!tiles) return;
  const { width, height } = board;
  context.save();
  for (const { axis, from, to, index, leftOut } of tilesOf({ tiles, board })) {
    if (leftOut) {
      context.globalAlpha = 0.5;
      context.fillStyle = c.sheet;
      if (axis === 'x') context.fillRect(from, 0, to - from, height);
      else context.fillRect(0, from, width, to - from);
      context.globalAlpha = 1;
    }
    if (index === 0) continue;
    context.setLineDash([8 * px, 5 * px]);
    context.lineWidth = 1.5 * px;
    context.strokeStyle = c.amber;
    context.beginPath();
    if (axis === 'x') context.rect(from, 0, 0, height);
    else context.rect(0, from, width, 0);
    context.stroke();
  }
  context.restore();
}

/** Clamps, screws and fences where they stand: hatched, so that they are told from artwork. */
export function paintHolders(context: CanvasRenderingContext2D, job: Job, c: Colours, px: number): void {
  for (const { kind, x, y, width, depth } of job.board.holders) {
    context.save();
    context.beginPath();
    if (kind === 'screw') context.arc(x, y, width / 2, 0, 2 * Math.PI);
    else context.rect(x - width / 2, y - depth / 2, width, depth);
    context.globalAlpha = 0.55;
    context.fillStyle = c.sheet;
    context.fill();
    context.globalAlpha = 1;
    context.lineWidth = 1.4 * px;
    context.strokeStyle = c.ink;
    context.stroke();
    context.clip();
    context.beginPath();
    const reach = (width + depth) / 2;
    for (let d = -reach; d <= reach; d += 5 * px) {
      context.moveTo(x + d - depth / 2, y - depth / 2);
      context.lineTo(x + d + depth / 2, y + depth / 2);
    }
    context.lineWidth = px;
    context.stroke();
    context.restore();
  }
}

/** How one thing is shown. */
export interface Look {
  selected: boolean;
  outline: boolean;
  /** Drawn to look by, and not cut. */
  guide: boolean;
  /** Line work only: it has no inside. */
  open: boolean;
}

export function paintThing(context: CanvasRenderingContext2D, { path }: ArtThing, look: Look, c: Colours, px: number): void {
  context.strokeStyle = look.selected ? c.accent : c.ink;
  context.lineWidth = (look.selected ? 2.2 : 1.2) * px;
  context.setLineDash(look.guide ? [2 * px, 3 * px] : look.outline ? [7 * px, 4 * px] : []);
  if (!look.outline && !look.open && !look.guide) {
    context.globalAlpha = 0.14;
    context.fillStyle = c.ink;
    context.fill(path, 'evenodd');
    context.globalAlpha = 1;
  }
  context.stroke(path);
}

export interface Track {
  steps: Path2D[];
  feed: Path2D;
  rapid: Path2D;
  width: number;
}

/** Tool motion by depth, and travel. */
/** Draws the runs of a way that share a path, without points nearer to the one before than `apart`. @param pathOf null: what is not drawn */
function drawRuns({ kind, x, y }: Pick<CutView, 'kind' | 'x' | 'y'>, apart: number, pathOf: (i: number) => Path2D | null): void {
  let path: Path2D | null = null;
  let at = 0;
  for (let i = 1; i <= kind.length; i++) {
    const next = i < kind.length ? pathOf(i) : null;
    if (next !== path) {
      // A run ends where it ends, however near.
      if (path && at !== i - 1) path.lineTo(x[i - 1], y[i - 1]);
      next?.moveTo(x[i - 1], y[i - 1]);
      path = next;
      at = i - 1;
    }
    if (path && Math.abs(x[i] - x[at]) + Math.abs(y[i] - y[at]) >= apart) {
      path.lineTo(x[i], y[i]);
      at = i;
    }
  }
}

/** @param apart points nearer to each other than this are not told apart, mm: strokes are dear by their points */
export function trackOf(cut: CutView, deepest: number, apart: number): Track {
  const { kind, z } = cut;
  const steps = Array.from({ length: DEPTH_STEPS }, () => new Path2D());
  const feed = new Path2D();
  const rapid = new Path2D();
  drawRuns(cut, apart, (i) => (kind[i] === 0 ? rapid : steps[depthStep(-(z[i] + z[i - 1]) / 2, deepest)]));
  drawRuns(cut, apart, (i) => (kind[i] === 0 ? null : feed));
  return { steps, feed, rapid, width: isStraight(cut.bit) ? cut.bit.diameter : 0 };
}

export function paintTrack(context: CanvasRenderingContext2D, { steps, feed, rapid, width }: Track, c: Colours, px: number): void {
  context.setLineDash([]);
  if (width > 0) {
    context.globalAlpha = 0.18;
    context.strokeStyle = c.ink;
    context.lineWidth = width;
    context.lineCap = context.lineJoin = 'round';
    context.stroke(feed);
    context.lineCap = 'butt';
    context.globalAlpha = 1;
  }
  context.lineJoin = 'round';
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

/** The datum: a ring with its two axes. */
export function paintDatum(context: CanvasRenderingContext2D, job: Job, c: Colours, px: number): void {
  const [x, y] = datumPoint(job);
  context.setLineDash([]);
  context.strokeStyle = c.ink;
  context.lineWidth = 1.8 * px;
  context.beginPath();
  context.arc(x, y, 7 * px, 0, 2 * Math.PI);
  context.moveTo(x, y);
  context.lineTo(x + 34 * px, y);
  context.moveTo(x, y);
  context.lineTo(x, y + 34 * px);
  context.stroke();
}

export function paintGuides(context: CanvasRenderingContext2D, job: Job, view: BoardView, c: Colours): void {
  context.strokeStyle = c.accent;
  context.lineWidth = 1;
  context.setLineDash([8, 5]);
  context.beginPath();
  for (const { axis, at } of job.guides) {
    const [x, y] = view.toScreen(at, at);
    if (axis === 'x') {
      context.moveTo(x, 0);
      context.lineTo(x, view.stage.height());
    } else {
      context.moveTo(0, y);
      context.lineTo(view.stage.width(), y);
    }
  }
  context.stroke();
  context.setLineDash([]);
}

/** Measures kept on the drawing: a line with a tick at each end, and its length along it. */
export function paintDimensions(context: CanvasRenderingContext2D, job: Job, view: BoardView, c: Colours): void {
  const TICK = 5;
  context.strokeStyle = context.fillStyle = c.accent;
  context.lineWidth = 1;
  context.setLineDash([]);
  context.font = '12px "IBM Plex Sans Variable", sans-serif';
  for (const { from, to } of job.dimensions ?? []) {
    const [[ax, ay], [bx, by]] = [view.toScreen(...from), view.toScreen(...to)];
    const length = Math.hypot(bx - ax, by - ay);
    if (length < 1) continue;
    const [nx, ny] = [(-(by - ay) / length) * TICK, ((bx - ax) / length) * TICK];
    context.beginPath();
    context.moveTo(ax, ay);
    context.lineTo(bx, by);
    for (const [x, y] of [
      [ax, ay],
      [bx, by],
    ]) {
      context.moveTo(x - nx, y - ny);
      context.lineTo(x + nx, y + ny);
    }
    context.stroke();
    const text = len(Math.hypot(to[0] - from[0], to[1] - from[1]), job.units);
    // Never upside down.
    const turn = Math.atan2(by - ay, bx - ax);
    context.save();
    context.translate((ax + bx) / 2, (ay + by) / 2);
    context.rotate(Math.abs(turn) > Math.PI / 2 ? turn + Math.PI : turn);
    context.textAlign = 'center';
    context.fillText(text, 0, -4);
    context.restore();
  }
}

/** Width of a ruler, pixels. */
export const RULER = 20;

/** Distances between the lines of a ruler, in its own unit: the finest whose lines stand apart. */
const MM_STEPS = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000];
const INCH_STEPS = [1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 6, 12, 24, 48];

export function paintRulers(context: CanvasRenderingContext2D, view: BoardView, units: 'mm' | 'in', c: Colours): void {
  const unit = units === 'in' ? 25.4 : 1;
  const steps = units === 'in' ? INCH_STEPS : MM_STEPS;
  const fine = steps.find((step) => step * unit * view.scale >= 7) ?? steps[steps.length - 1];
  const named = steps.find((step) => step >= fine && step * unit * view.scale >= 52) ?? steps[steps.length - 1];
  const { minX, maxX, minY, maxY } = view.visible;
  const [w, h] = [view.stage.width(), view.stage.height()];
  context.setLineDash([]);
  context.fillStyle = c.sheet;
  context.fillRect(0, h - RULER, w, RULER);
  context.fillRect(0, 0, RULER, h);
  context.strokeStyle = c.line;
  context.fillStyle = c.quiet;
  context.lineWidth = 1;
  context.font = '10px "IBM Plex Sans Variable", sans-serif';
  context.textBaseline = 'alphabetic';
  context.beginPath();
  const ticks = (from: number, to: number, draw: (at: number, tall: boolean, label: string) => void) => {
    for (let k = Math.ceil(from / (fine * unit)); k * fine * unit <= to; k++) {
      const value = k * fine;
      const tall = Math.abs(value / named - Math.round(value / named)) < 1e-6;
      draw(value * unit, tall, tall ? String(Math.round(value * 1e4) / 1e4) : '');
    }
  };
  ticks(minX, maxX, (at, tall, label) => {
    const x = Math.round(view.toScreen(at, 0)[0]) + 0.5;
    if (x < RULER) return;
    context.moveTo(x, h - RULER);
    context.lineTo(x, h - RULER + (tall ? 9 : 4));
    if (label) context.fillText(label, x + 3, h - 4);
  });
  ticks(minY, maxY, (at, tall, label) => {
    const y = Math.round(view.toScreen(0, at)[1]) + 0.5;
    if (y > h - RULER) return;
    context.moveTo(RULER, y);
    context.lineTo(RULER - (tall ? 9 : 4), y);
    if (!label) return;
    context.save();
    context.translate(9, y - 3);
    context.rotate(-Math.PI / 2);
    context.fillText(label, 0, 0);
    context.restore();
  });
  context.moveTo(0, h - RULER + 0.5);
  context.lineTo(w, h - RULER + 0.5);
  context.moveTo(RULER - 0.5, 0);
  context.lineTo(RULER - 0.5, h);
  context.stroke();
  context.fillStyle = c.sheet;
  context.fillRect(0, h - RULER + 1, RULER - 1, RULER);
  context.fillStyle = c.quiet;
  context.fillText(units, 3, h - 6);
}

/** A few words beside a place, on a plate so that they can be read over anything. */
export function paintHint(context: CanvasRenderingContext2D, text: string, x: number, y: number, c: Colours): void {
  context.font = '12px "IBM Plex Sans Variable", sans-serif';
  const lines = text.split('\n');
  const width = Math.max(...lines.map((line) => context.measureText(line).width)) + 12;
  const height = 16 * lines.length + 6;
  const left = Math.min(Math.max(RULER + 2, x + 14), context.canvas.clientWidth - width - 4);
  const top = Math.min(Math.max(4, y - height - 10), context.canvas.clientHeight - height - RULER - 4);
  context.fillStyle = c.ink;
  context.fillRect(left, top, width, height);
  context.fillStyle = c.sheet;
  context.textBaseline = 'top';
  lines.forEach((line, i) => context.fillText(line, left + 6, top + 5 + 16 * i));
  context.textBaseline = 'alphabetic';
}
