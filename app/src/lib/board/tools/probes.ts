/** Tools that look and point: measure, the bit's circle, a line by two points, a bridge, a picked point. */
import type { Edit } from '@kerbe/core/artwork/edit';
import { radiusNear, roomAt, sizeOf, spanOf } from '@kerbe/core/artwork/measure';
import { bitName, depthForStroke, isPointed } from '@kerbe/core/bits';
import type { Snapped } from '@kerbe/core/artwork/snap';
import { len } from '$lib/ui/format';
import { paintHint } from '../paint';
import type { Point } from '../view';
import { REACH, snapperWithout, type Bench, type Press, type Tool } from './tool';
import { DRAWING } from '$lib/labels/drawing';

const NOTHING: ReadonlySet<string> = new Set();

/** Shared by all of them: the point under the pointer, drawn to what is near. */
function pointing(bench: Bench) {
  const { editor, view } = bench;
  return {
    at({ board, alt }: Press, from?: Point): Snapped {
      if (!editor.hand.snapping || alt) return { x: board[0], y: board[1], to: null };
      return snapperWithout(bench, NOTHING).snap(board[0], board[1], REACH / view.scale, from);
    },
    cross(context: CanvasRenderingContext2D, x: number, y: number) {
      const [sx, sy] = view.toScreen(x, y);
      context.strokeStyle = bench.colours().accent;
      context.lineWidth = 1.5;
      context.beginPath();
      context.moveTo(sx - 8, sy);
      context.lineTo(sx + 8, sy);
      context.moveTo(sx, sy - 8);
      context.lineTo(sx, sy + 8);
      context.stroke();
    },
    between(context: CanvasRenderingContext2D, a: Point, b: Point) {
      const [ax, ay] = view.toScreen(...a);
      const [bx, by] = view.toScreen(...b);
      context.strokeStyle = bench.colours().accent;
      context.lineWidth = 1.5;
      context.setLineDash([]);
      context.beginPath();
      context.moveTo(ax, ay);
      context.lineTo(bx, by);
      context.stroke();
    },
  };
}

/** Distance and angle between two points; radius of the edge under the pointer; area of what is pressed. */
export function measureTool(bench: Bench): Tool {
  const { editor, view } = bench;
  const point = pointing(bench);
  let from: Point | null = null;
  let to: Snapped | null = null;
  let done = false;
  /** The second point is there: its figures stand, and can be kept. */
  const settle = (a: Point, b: Snapped) => {
    done = true;
    editor.hand.measured = figures().split('\n');
    const tidy = (value: number) => Math.round(value * 1e4) / 1e4;
    editor.hand.span = { from: [tidy(a[0]), tidy(a[1])], to: [tidy(b.x), tidy(b.y)] };
  };
  const figures = () => {
    const { units } = editor.job;
    if (!from || !to) return '';
    const { distance, dx, dy, angle } = spanOf(from, [to.x, to.y]);
    return `${len(distance, units)} at ${angle.toFixed(1)}°\nacross ${len(dx, units)}, up ${len(dy, units)}${to.to ? `\n${to.to}` : ''}`;
  };
  return {
    cursor: 'crosshair',
    down(press) {
      const at = point.at(press, from ?? undefined);
      if (from && !done) {
        to = at;
        settle(from, at);
      } else {
        from = [at.x, at.y];
        to = at;
        done = false;
        editor.hand.span = null;
        editor.hand.measured = thingFigures(press.board);
      }
      bench.repaintOver();
    },
    move(press) {
      if (from && !done) to = point.at(press, from);
      else if (!from) to = point.at(press);
      bench.repaintOver();
    },
    up(press) {
      // Pressed, drawn and let go is a measure too.
      if (from && to && !done && Math.hypot(to.x - from[0], to.y - from[1]) * view.scale > 6) {
        to = point.at(press, from);
        settle(from, to);
        bench.repaintOver();
      }
    },
    key(event) {
      if (event.key !== 'Escape') return false;
      if (from) {
        from = null;
        to = null;
        editor.hand.span = null;
        editor.hand.measured = [];
        bench.repaintOver();
      } else editor.hand.tool = 'select';
      return true;
    },
    paint(context) {
      if (to) point.cross(context, to.x, to.y);
      if (!from || !to) return;
      point.cross(context, ...from);
      point.between(context, from, [to.x, to.y]);
      if (Math.hypot(to.x - from[0], to.y - from[1]) * view.scale > 6) paintHint(context, figures(), ...view.toScreen(to.x, to.y), bench.colours());
    },
  };

  /** Area, length and radius of the thing under a point. */
  function thingFigures([x, y]: Point): string[] {
    const { units } = editor.job;
    const reach = REACH / view.scale;
    const thing = editor.drawing.within({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach }).at(-1);
    if (!thing) return [];
    const { area, edge, width, height } = sizeOf(thing.contours);
    const tracks = [...thing.contours, ...thing.lines.map(({ xy }) => xy)];
    const radius = radiusNear(tracks, x, y, reach);
    const unit = units === 'in' ? 25.4 : 1;
    return [
      ...(area > 0
        ? [
            `area ${(area / unit / unit).toFixed(units === 'in' ? 3 : 1)} ${units}²`,
            `edges ${len(edge, units)}`,
            `${len(width, units)} × ${len(height, units)}`,
          ]
        : []),
      ...(Number.isFinite(radius) ? [`radius here ${len(radius, units)}`] : []),
    ];
  }
}

/** A circle as wide as a bit follows the pointer: does it fit here, and how deep would a V go? */
export function bitTool(bench: Bench): Tool {
  const { editor, view } = bench;
  let at: Point | null = null;
  return {
    cursor: 'none',
    move({ board }) {
      at = board;
      bench.repaintOver();
    },
    key(event) {
      if (event.key !== 'Escape') return false;
      editor.hand.tool = 'select';
      return true;
    },
    paint(context) {
      const { tools: bits, units } = editor.job;
      const bit = bits[editor.hand.bit ?? ''] ?? Object.values(bits)[0];
      if (!at || !bit) return;
      const c = bench.colours();
      const r = (bit.measuredWidth ?? bit.diameter) / 2;
      const room = Math.max(
        0,
        ...editor.drawing
          .within({ minX: at[0], minY: at[1], maxX: at[0], maxY: at[1] })
          .map(({ contours, id }) => (id === editor.job.outline ? 0 : roomAt(contours, at![0], at![1]))),
      );
      const fits = room >= r;
      const cone = isPointed(bit);
      const shown = cone ? Math.min(r, Math.max(room, bit.tipFlat / 2)) : r;
      const [x, y] = view.toScreen(...at);
      context.setLineDash(fits || cone ? [] : [4, 3]);
      context.lineWidth = 1.6;
      context.strokeStyle = fits || (cone && room > 0) ? c.accent : c.amber;
      for (const radius of cone ? [shown, r] : [r]) {
        context.globalAlpha = radius === shown ? 1 : 0.4;
        context.beginPath();
        context.arc(x, y, Math.max(1, radius * view.scale), 0, 2 * Math.PI);
        context.stroke();
      }
      context.globalAlpha = 1;
      context.setLineDash([]);
      const depth = cone ? depthForStroke(bit, 2 * shown) : 0;
      const words =
        room === 0
          ? `${bitName(bit, units)}: outside the artwork`
          : cone
            ? `reaches ${len(depth, units)} deep${room > r ? ', then its edge' : ''}`
            : fits
              ? `fits, ${len(room - r, units)} to spare`
              : `too wide by ${len(2 * (r - room), units)}`;
      paintHint(context, words, x, y, c);
    },
    leave() {
      at = null;
    },
  };
}

/** A straight line from one point to another; its figures can be typed afterwards. */
export function lineTool(bench: Bench): Tool {
  const { editor, view } = bench;
  const point = pointing(bench);
  let from: Point | null = null;
  let to: Snapped | null = null;
  const draw = () => {
    if (!from || !to) return;
    const { distance, angle } = spanOf(from, [to.x, to.y]);
    if (distance * view.scale < 4) return;
    const tidy = (value: number) => Math.round(value * 1e4) / 1e4;
    editor.add('Draw a line', { kind: 'line', x: tidy(from[0]), y: tidy(from[1]), length: tidy(distance), angle: tidy(angle) }, 'line');
    from = null;
  };
  return {
    cursor: 'crosshair',
    down(press) {
      to = point.at(press, from ?? undefined);
      if (from) draw();
      else from = [to.x, to.y];
      bench.repaintOver();
    },
    move(press) {
      to = point.at(press, from ?? undefined);
      bench.repaintOver();
    },
    up() {
      if (from && to && Math.hypot(to.x - from[0], to.y - from[1]) * view.scale > 6) draw();
    },
    key(event) {
      if (event.key !== 'Escape') return false;
      if (from) from = null;
      else editor.hand.tool = 'select';
      bench.repaintOver();
      return true;
    },
    paint(context) {
      if (to) point.cross(context, to.x, to.y);
      if (!from || !to) return;
      point.between(context, from, [to.x, to.y]);
      const { distance, angle } = spanOf(from, [to.x, to.y]);
      paintHint(
        context,
        `${len(distance, editor.job.units)} at ${angle.toFixed(1)}°${to.to ? `\n${to.to}` : ''}`,
        ...view.toScreen(to.x, to.y),
        bench.colours(),
      );
    },
  };
}

/** One press on a stroke puts a bridge across it; a pull from here to there lays one along it. */
export function bridgeTool(bench: Bench): Tool {
  const { editor, view } = bench;
  let at: Point | null = null;
  let from: Point | null = null;
  const width = () => editor.job.check.bridgeWidth;
  const pulled = (): boolean => from !== null && at !== null && spanOf(from, at).distance * view.scale > 6;
  function across([x, y]: Point) {
    const thing = editor.drawing
      .within({ minX: x, minY: y, maxX: x, maxY: y })
      .findLast(({ contours, id }) => id !== editor.job.outline && !editor.job.items[id]?.bridge && roomAt(contours, x, y) > 0);
    if (!thing) {
      editor.note = { text: 'Press on a stroke between an island and what is around it.', bad: true };
      return;
    }
    editor.select([thing.id]);
    void editor.edit(DRAWING.bridge, { do: 'bridge', ids: [thing.id], at: [x, y], width: width() });
  }
  function along(a: Point, b: Point) {
    const { distance, angle } = spanOf(a, b);
    const tidy = (value: number) => Math.round(value * 1e3) / 1e3;
    const middle = { x: tidy((a[0] + b[0]) / 2), y: tidy((a[1] + b[1]) / 2) };
    editor.add('Bridge', { kind: 'rectangle', name: 'Bridge', ...middle, width: tidy(distance), height: width(), angle: tidy(angle), bridge: true }, 'bridge');
  }
  return {
    cursor: 'crosshair',
    down({ board }) {
      from = at = board;
    },
    move({ board }) {
      at = board;
      bench.repaintOver();
    },
    up({ board }) {
      at = board;
      if (!from) return;
      if (pulled()) along(from, board);
      else across(from);
      from = null;
      bench.repaintOver();
    },
    key(event) {
      if (event.key !== 'Escape') return false;
      if (from) from = null;
      else editor.hand.tool = 'select';
      bench.repaintOver();
      return true;
    },
    paint(context) {
      if (!at) return;
      if (from && pulled()) {
        context.lineWidth = Math.max(1, width() * view.scale);
        context.strokeStyle = bench.colours().accent;
        context.globalAlpha = 0.5;
        context.beginPath();
        context.moveTo(...view.toScreen(...from));
        context.lineTo(...view.toScreen(...at));
        context.stroke();
        context.globalAlpha = 1;
      }
      paintHint(context, `bridge, ${len(width(), editor.job.units)} wide`, ...view.toScreen(...at), bench.colours());
    },
    leave() {
      at = from = null;
    },
  };
}

const MEETS = { trim: 'Trim a line', extend: 'Extend a line', split: 'Split a line' } as const;

/** A press on a line trims it between its crossings, draws its end out until it meets something, or splits it where it is crossed. What comes of it is shown before. */
export function meetTool(bench: Bench, what: keyof typeof MEETS): Tool {
  const { editor, view } = bench;
  const edit = ([x, y]: Point): Edit => ({ do: what, at: [x, y], reach: REACH / view.scale });
  let shown = 0;
  return {
    cursor: 'crosshair',
    down: ({ board }) => void editor.edit(MEETS[what], edit(board)),
    move({ board }) {
      // No more often than one can look.
      if (performance.now() - shown < 80) return;
      shown = performance.now();
      void editor.foresee(edit(board));
    },
    key(event) {
      if (event.key !== 'Escape') return false;
      editor.hand.tool = 'select';
      return true;
    },
    leave: () => void editor.foresee(null),
  };
}

/** One point, for whoever asked for it. */
export function pointTool(bench: Bench): Tool {
  const { editor, view } = bench;
  const point = pointing(bench);
  let at: Snapped | null = null;
  return {
    cursor: 'crosshair',
    down(press) {
      at = point.at(press);
      const asked = editor.hand.pointFor;
      editor.hand.pointFor = null;
      editor.hand.tool = 'select';
      asked?.then(at.x, at.y);
    },
    move(press) {
      at = point.at(press);
      bench.repaintOver();
    },
    key(event) {
      if (event.key !== 'Escape') return false;
      editor.hand.pointFor = null;
      editor.hand.tool = 'select';
      return true;
    },
    paint(context) {
      if (!at) return;
      point.cross(context, at.x, at.y);
      paintHint(
        context,
        `${editor.hand.pointFor?.what ?? 'point'}: ${len(at.x, editor.job.units)}, ${len(at.y, editor.job.units)}${at.to ? `\n${at.to}` : ''}`,
        ...view.toScreen(at.x, at.y),
        bench.colours(),
      );
    },
    leave() {
      at = null;
    },
  };
}
