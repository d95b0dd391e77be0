/** Marks of the cuts on the board: their order as numbers, and the tabs of the open one, each pulled with the pointer. */
import type { Point } from '../view';
import { REACH, type Bench, type Press, type Tool } from './tool';

export interface CutMarks {
  /** Where every cut begins, in order. */
  numbers: { id: string; number: number; at: Point }[];
  open: string | null;
  /** Where the open cut comes to its pieces, in their order. */
  pieces: Point[];
  /** Tabs of the open cut. */
  tabs: Point[];
  /** Places of the open cut that its groove does not reach. */
  spots: Point[];
  /** The cut in place `from` is pulled onto that in place `to`. */
  reorder(from: number, to: number): void;
  moveTab(index: number, to: Point): void;
  removeTab(index: number): void;
}

/** Radius of a number, pixels. */
const DISC = 11;

export interface CutsTool extends Tool {
  /** Is there a mark under the pointer? Otherwise the board itself is pulled. */
  takes(press: Press): boolean;
}

export function cutsTool(bench: Bench, marks: () => CutMarks | null): CutsTool {
  const { view } = bench;
  let pulled: { what: 'number' | 'tab'; index: number } | null = null;
  let at: Point = [0, 0];
  /** The tab pressed last, for the Delete key. */
  let picked: number | null = null;

  /** Numbers beside each other where cuts begin at one place. */
  const places = (): [number, number][] => {
    const taken: [number, number][] = [];
    for (const { at: place } of marks()?.numbers ?? []) {
      let [x, y] = view.toScreen(...place);
      while (taken.some(([tx, ty]) => Math.hypot(tx - x, ty - y) < 2 * DISC)) x += 2 * DISC;
      taken.push([x, y]);
    }
    return taken;
  };
  const under = ([x, y]: Point): typeof pulled => {
    const now = marks();
    if (!now) return null;
    const tab = now.tabs.findIndex((point) => {
      const [tx, ty] = view.toScreen(...point);
      return Math.hypot(tx - x, ty - y) <= REACH + 2;
    });
    if (tab >= 0) return { what: 'tab', index: tab };
    const number = places().findIndex(([nx, ny]) => Math.hypot(nx - x, ny - y) <= DISC);
    return number >= 0 ? { what: 'number', index: number } : null;
  };

  return {
    cursor: 'grab',
    takes: ({ screen }) => under(screen) !== null,
    down(press) {
      pulled = under(press.screen);
      picked = pulled?.what === 'tab' ? pulled.index : null;
      at = press.board;
      bench.repaintOver();
    },
    move(press) {
      if (!pulled) return;
      at = press.board;
      bench.repaintOver();
    },
    up(press) {
      const now = marks();
      const was = pulled;
      pulled = null;
      if (was && now) {
        if (was.what === 'tab') {
          const [x, y] = view.toScreen(...now.tabs[was.index]);
          if (Math.hypot(press.screen[0] - x, press.screen[1] - y) > 3) now.moveTab(was.index, press.board);
        } else {
          const onto = places().findIndex(([x, y]) => Math.hypot(x - press.screen[0], y - press.screen[1]) <= 1.5 * DISC);
          if (onto >= 0 && onto !== was.index) now.reorder(was.index, onto);
        }
      }
      bench.repaintOver();
    },
    key(event) {
      if ((event.key !== 'Delete' && event.key !== 'Backspace') || picked === null) return false;
      marks()?.removeTab(picked);
      picked = null;
      return true;
    },
    paint(context) {
      const now = marks();
      if (!now) return;
      const c = bench.colours();
      context.strokeStyle = c.amber;
      context.lineWidth = 2;
      for (const spot of now.spots) {
        const [x, y] = view.toScreen(...spot);
        context.beginPath();
        context.arc(x, y, 7, 0, 2 * Math.PI);
        context.stroke();
      }
      now.tabs.forEach((point, k) => {
        const moving = pulled?.what === 'tab' && pulled.index === k;
        const [x, y] = view.toScreen(...(moving ? at : point));
        context.fillStyle = picked === k ? c.accent : c.sheet;
        context.strokeStyle = c.accent;
        context.lineWidth = 2;
        context.beginPath();
        context.rect(x - 6, y - 6, 12, 12);
        context.fill();
        context.stroke();
      });
      context.textAlign = 'center';
      context.textBaseline = 'middle';
      context.font = '500 11px "IBM Plex Sans Variable", sans-serif';
      now.pieces.forEach((piece, k) => {
        const [x, y] = view.toScreen(...piece);
        context.fillStyle = c.sheet;
        context.strokeStyle = c.accent;
        context.lineWidth = 1;
        context.beginPath();
        context.roundRect(x - 9, y + DISC, 18, 15, 3);
        context.fill();
        context.stroke();
        context.fillStyle = c.ink;
        context.fillText(String(k + 1), x, y + DISC + 8);
      });
      context.font = '600 12px "IBM Plex Sans Variable", sans-serif';
      places().forEach(([px, py], k) => {
        const moving = pulled?.what === 'number' && pulled.index === k;
        const [x, y] = moving ? view.toScreen(...at) : [px, py];
        context.fillStyle = now.numbers[k].id === now.open ? c.accent : c.ink;
        context.beginPath();
        context.arc(x, y, DISC, 0, 2 * Math.PI);
        context.fill();
        context.fillStyle = c.sheet;
        context.fillText(String(now.numbers[k].number), x, y + 0.5);
      });
      context.textAlign = 'start';
      context.textBaseline = 'alphabetic';
    },
    leave() {
      pulled = null;
      picked = null;
    },
  };
}
