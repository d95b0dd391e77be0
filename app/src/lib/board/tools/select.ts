/** Select and move; by the handles around what is selected also scale and turn. */
import type { Snapped, Snapper } from '@kerbe/core/artwork/snap';
import { paintHint } from '../paint';
import type { Point } from '../view';
import { selectionHandles } from './handles';
import { REACH, snapperWithout, type Bench, type Press, type Tool } from './tool';

type Drag =
  | { kind: 'move'; from: Point; snapper: Snapper; dx: number; dy: number; to: Snapped['to']; moved: boolean }
  | { kind: 'band'; from: Point; to: Point; add: boolean };

export function selectTool(bench: Bench): Tool & { sync(): void; destroy(): void } {
  const { editor, view } = bench;
  let drag: Drag | null = null;
  const handles = selectionHandles(bench);
  const sync = () => (drag ? handles.hide() : handles.sync());

  /** The topmost thing under a point: inside of it, or near its line. */
  function hit([x, y]: Point): string | null {
    const reach = REACH / view.scale / 1.5;
    const context = view.base.getCanvas().getContext()._context as CanvasRenderingContext2D;
    const order = editor.job.itemOrder;
    const found = editor.drawing.within({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach }).filter(({ id, path, contours }) => {
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
    const isPicture = (id: string) => editor.job.items[id].kind === 'picture';
    // In a shape that goes all round it, as a tag does, a picture is what was aimed at.
    const framed = found.find(
      ({ id, box }) =>
        isPicture(id) &&
        found.every(
          (other) =>
            isPicture(other.id) || (other.box.minX <= box.minX && other.box.minY <= box.minY && other.box.maxX >= box.maxX && other.box.maxY >= box.maxY),
        ),
    );
    if (framed) return framed.id;
    found.sort((a, b) => rank(b.id) - rank(a.id) || order.indexOf(b.id) - order.indexOf(a.id));
    return found[0]?.id ?? null;
  }
  /** Pictures lie under everything, words' boxes under what is really hit. */
  const rank = (id: string) => (editor.job.items[id].kind === 'picture' ? 0 : editor.job.items[id].kind === 'text' ? 1 : 2);

  return {
    cursor: 'default',
    sync,
    destroy: handles.destroy,
    down({ board, shift }: Press) {
      if (handles.pulled()) return;
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
      if (!drag || handles.pulled()) return;
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
      if (box && editor.hand.snapping && !alt) {
        const snapped = drag.snapper.snapBox({ minX: box.minX + dx, minY: box.minY + dy, maxX: box.maxX + dx, maxY: box.maxY + dy }, REACH / view.scale);
        dx += snapped.dx;
        dy += snapped.dy;
        drag.to = snapped.to;
      }
      drag.dx = dx;
      drag.dy = dy;
      handles.hide();
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
          const whole = editor.drawing
            .within(box)
            .filter(({ id, box: b }) => !editor.isLocked(id) && b.minX >= box.minX && b.maxX <= box.maxX && b.minY >= box.minY && b.maxY <= box.maxY);
          editor.select([...(done.add ? editor.selection : []), ...whole.map(({ id }) => id)]);
        }
      }
      bench.repaint();
      sync();
    },
    /** A free path shows its nodes, words are typed where they stand. */
    double({ screen }: Press) {
      const { only } = editor;
      if (only?.kind === 'path') editor.hand.tool = 'nodes';
      if (only?.kind === 'text') editor.hand.typing = { id: only.id, at: screen };
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
      handles.hide();
    },
  };
}
