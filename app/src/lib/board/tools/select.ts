/** Select, move, and - by the handles around what is selected - scale and turn. */
import Konva from 'konva';
import type { Snapped, Snapper } from '@kerbe/core/artwork/snap';
import { paintHint } from '../paint';
import type { Point } from '../view';
import { REACH, snapperWithout, type Bench, type Press, type Tool } from './tool';

type Drag =
  | { kind: 'move'; from: Point; snapper: Snapper; dx: number; dy: number; to: Snapped['to']; moved: boolean }
  | { kind: 'band'; from: Point; to: Point; add: boolean };

export function selectTool(bench: Bench): Tool & { sync(): void; destroy(): void } {
  const { editor, view } = bench;
  let drag: Drag | null = null;
  /** Stands for what is selected while its handles are pulled. */
  const proxy = new Konva.Rect({ visible: false, draggable: false, listening: false });
  const handles = new Konva.Transformer({
    nodes: [],
    rotateEnabled: true,
    keepRatio: true,
    rotationSnaps: [0, 45, 90, 135, 180, 225, 270, 315],
    rotationSnapTolerance: 4,
    anchorSize: 11,
    flipEnabled: false,
    ignoreStroke: true,
    borderDash: [3, 3],
  });
  view.over.add(proxy, handles);
  let before = { x: 0, y: 0, width: 0, height: 0 };

  function sync() {
    const box = editor.tool === 'select' ? editor.selectionBox() : null;
    const free = [...editor.selection].some((id) => !editor.isLocked(id));
    if (!box || !free || drag) {
      handles.nodes([]);
      return;
    }
    const [x0, y0] = view.toScreen(box.minX, box.maxY);
    const [x1, y1] = view.toScreen(box.maxX, box.minY);
    before = { x: x0, y: y0, width: Math.max(1, x1 - x0), height: Math.max(1, y1 - y0) };
    proxy.setAttrs({ ...before, scaleX: 1, scaleY: 1, rotation: 0, visible: true });
    const c = bench.colours();
    handles.setAttrs({ borderStroke: c.accent, anchorStroke: c.accent, anchorFill: c.sheet, rotateAnchorOffset: 26 });
    handles.nodes([proxy]);
  }
  /** From the proxy on the screen to a matrix on the board. */
  function matrix(): readonly [number, number, number, number, number, number] {
    const m = proxy.getTransform().getMatrix();
    const s = view.scale;
    const [ox, oy] = [view.base.x(), view.base.y()];
    // Screen = proxy(screen point of before - before's corner); board and screen differ by scale and a turned Y.
    const onScreen = (bx: number, by: number): Point => {
      const [u, v] = [ox + bx * s - before.x, oy - by * s - before.y];
      return [m[0] * u + m[2] * v + m[4], m[1] * u + m[3] * v + m[5]];
    };
    const back = ([x, y]: Point): Point => [(x - ox) / s, (oy - y) / s];
    const [e, f] = back(onScreen(0, 0));
    const [ax, ay] = back(onScreen(1, 0));
    const [cx, cy] = back(onScreen(0, 1));
    return [ax - e, ay - f, cx - e, cy - f, e, f];
  }
  handles.on('transform', () => bench.lift(editor.selection, matrix()));
  handles.on('transformend', () => {
    const m = matrix();
    bench.lift(null);
    const { ids } = editor;
    const turn = (Math.atan2(m[1], m[0]) * 180) / Math.PI;
    if (Math.abs(turn) > 0.01) {
      // The point that stays: the middle of what was selected.
      const box = editor.selectionBox();
      void editor.edit('Turn', {
        do: 'turn',
        ids,
        by: Math.round(turn * 100) / 100,
        about: box ? [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2] : undefined,
      });
    } else if (Math.abs(m[0] - 1) > 1e-4 || Math.abs(m[3] - 1) > 1e-4) {
      const about: [number, number] = [Math.abs(m[0] - 1) < 1e-6 ? 0 : m[4] / (1 - m[0]), Math.abs(m[3] - 1) < 1e-6 ? 0 : m[5] / (1 - m[3])];
      const even = Math.abs(m[0] - m[3]) < 1e-3 * m[0];
      void editor.edit('Scale', { do: 'scale', ids, x: m[0], y: even ? m[0] : m[3], about });
    }
    sync();
  });

  /** The topmost thing under a point: inside of it, or near its line. */
  function hit([x, y]: Point): string | null {
    const reach = REACH / view.scale / 1.5;
    const context = view.base.getCanvas().getContext()._context as CanvasRenderingContext2D;
    const order = editor.job.itemOrder;
    const found = editor.within({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach }).filter(({ id, path, contours }) => {
      const item = editor.job.items[id];
      if (!item || editor.isLocked(id)) return false;
      if (item.kind === 'picture') return true;
      context.save();
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.lineWidth = 2 * reach;
      const outline = id === editor.job.outline;
      const inside = (contours.length > 0 && !outline && context.isPointInPath(path, x, y, 'evenodd')) || context.isPointInStroke(path, x, y);
      context.restore();
      // Words are taken by their box: nobody wants to aim at a serif.
      return inside || item.kind === 'text';
    });
    found.sort((a, b) => rank(b.id) - rank(a.id) || order.indexOf(b.id) - order.indexOf(a.id));
    return found[0]?.id ?? null;
  }
  /** Pictures lie under everything, words' boxes under what is really hit. */
  const rank = (id: string) => (editor.job.items[id].kind === 'picture' ? 0 : editor.job.items[id].kind === 'text' ? 1 : 2);

  return {
    cursor: 'default',
    sync,
    destroy() {
      handles.destroy();
      proxy.destroy();
    },
    down({ board, shift }: Press) {
      if (handles.isTransforming()) return;
      const id = hit(board);
      if (!id) {
        drag = { kind: 'band', from: board, to: board, add: shift };
        if (!shift) editor.select([]);
        return;
      }
      if (shift) {
        const next = new Set(editor.selection);
        if (next.has(id)) next.delete(id);
        else next.add(id);
        editor.select(next);
        return;
      }
      if (!editor.selection.has(id)) editor.select([id]);
      drag = { kind: 'move', from: board, snapper: snapperWithout(bench, editor.selection), dx: 0, dy: 0, to: null, moved: false };
    },
    move({ board, alt }: Press) {
      if (!drag || handles.isTransforming()) return;
      if (drag.kind === 'band') {
        drag.to = board;
        bench.repaintOver();
        return;
      }
      let [dx, dy] = [board[0] - drag.from[0], board[1] - drag.from[1]];
      if (!drag.moved && Math.hypot(dx, dy) * view.scale < 4) return;
      drag.moved = true;
      drag.to = null;
      const box = editor.selectionBox();
      if (box && editor.snapping && !alt) {
        const snapped = drag.snapper.snapBox({ minX: box.minX + dx, minY: box.minY + dy, maxX: box.maxX + dx, maxY: box.maxY + dy }, REACH / view.scale);
        dx += snapped.dx;
        dy += snapped.dy;
        drag.to = snapped.to;
      }
      drag.dx = dx;
      drag.dy = dy;
      handles.nodes([]);
      bench.lift(editor.selection, [1, 0, 0, 1, dx, dy]);
      bench.repaintOver();
    },
    up() {
      const done = drag;
      drag = null;
      if (done?.kind === 'move' && done.moved) {
        bench.lift(null);
        editor.move(done.dx, done.dy);
      } else if (done?.kind === 'band') {
        const [a, b] = [done.from, done.to];
        const box = { minX: Math.min(a[0], b[0]), minY: Math.min(a[1], b[1]), maxX: Math.max(a[0], b[0]), maxY: Math.max(a[1], b[1]) };
        if ((box.maxX - box.minX) * view.scale > 4 || (box.maxY - box.minY) * view.scale > 4) {
          const whole = editor
            .within(box)
            .filter(({ id, box: b }) => !editor.isLocked(id) && b.minX >= box.minX && b.maxX <= box.maxX && b.minY >= box.minY && b.maxY <= box.maxY);
          editor.select([...(done.add ? editor.selection : []), ...whole.map(({ id }) => id)]);
        }
      }
      bench.repaint();
      sync();
    },
    double() {
      if (editor.only?.kind === 'path') editor.tool = 'nodes';
    },
    key(event: KeyboardEvent) {
      const steps: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
      const step = steps[event.key];
      if (step && editor.selection.size) {
        const by = (event.shiftKey ? 10 : 1) * (editor.job.units === 'in' ? 25.4 / 16 : 1);
        editor.move(step[0] * by, step[1] * by, 'nudge');
        return true;
      }
      if (event.key === 'Escape' && editor.selection.size) {
        editor.select([]);
        return true;
      }
      return false;
    },
    paint(context) {
      const c = bench.colours();
      if (drag?.kind === 'band') {
        const [x0, y0] = view.toScreen(...drag.from);
        const [x1, y1] = view.toScreen(...drag.to);
        context.strokeStyle = c.accent;
        context.setLineDash([4, 3]);
        context.strokeRect(x0, y0, x1 - x0, y1 - y0);
        context.setLineDash([]);
      }
      if (drag?.kind === 'move' && drag.moved) {
        const [x, y] = view.toScreen(drag.from[0] + drag.dx, drag.from[1] + drag.dy);
        const unit = editor.job.units === 'in' ? 25.4 : 1;
        const figure = (mm: number) => (mm / unit).toFixed(editor.job.units === 'in' ? 3 : 2);
        paintHint(context, `${figure(drag.dx)}, ${figure(drag.dy)} ${editor.job.units}${drag.to ? `\n${drag.to}` : ''}`, x, y, c);
      }
    },
    leave() {
      drag = null;
      bench.lift(null);
      handles.nodes([]);
    },
  };
}
