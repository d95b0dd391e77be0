/** The pointer on the plan: pushes and zooms the board about, pulls guides out of the rulers, and works the tools. */
import * as Konva from './konva';
import { RULER } from './paint';
import type { Press, Tool } from './tools/tool';
import type { BoardView } from './view';

export interface Hearers {
  /** The tool that hears the pointer now; null where the board is only looked at. */
  tool(): Tool | null;
  /** Whether that tool wants a point of the board and nothing else, in place of everything that a press does otherwise. */
  picking(): boolean;
  /** What takes a press for itself, before any tool: a mark of the cuts. */
  taker(press: Press): Tool | null;
  /** True while a press pushes the board. */
  pushes(): boolean;
  /** A guide pulled out of a ruler to a place on the board, mm; null where there are no rulers. */
  guide: ((axis: 'x' | 'y', at: number) => void) | null;
}

type Point = { x: number; y: number };

export function hearPointer(view: BoardView, host: HTMLElement, hearers: () => Hearers): void {
  const { stage } = view;
  let panning: Point | null = null;
  let pulled: Tool | null = null;
  let ruling: 'x' | 'y' | null = null;
  /** Fingers on the glass, by id, and how they stood last when there are two. */
  const fingers = new Map<number, Point>();
  let pinch: (Point & { distance: number }) | null = null;

  const pressOf = (evt: MouseEvent): Press | null => {
    const at = view.pointer();
    return at && { ...at, shift: evt.shiftKey, alt: evt.altKey };
  };
  const spread = () => {
    const [a, b] = [...fingers.values()];
    return { distance: Math.hypot(a.x - b.x, a.y - b.y), x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  };
  const rulerAt = ([x, y]: Press['screen']) => (x < RULER ? 'x' : y > stage.height() - RULER ? 'y' : null);
  // Konva hears its own content element only.
  const capture = (evt: PointerEvent) => stage.content.setPointerCapture(evt.pointerId);

  stage.on('pointerdown', ({ evt, target }) => {
    host.focus({ preventScroll: true });
    const { tool, picking, taker, pushes, guide } = hearers();
    if (evt.pointerType === 'touch') {
      fingers.set(evt.pointerId, { x: evt.clientX, y: evt.clientY });
      if (fingers.size === 2) {
        tool()?.leave?.();
        pinch = spread();
        return;
      }
    }
    const press = pressOf(evt);
    if (!press) return;
    if (picking() && evt.button === 0) return tool()?.down?.(press);
    pulled = evt.button === 0 ? taker(press) : null;
    if (pulled) {
      capture(evt);
      return pulled.down?.(press);
    }
    if (pushes() || evt.button === 1) {
      panning = { x: evt.clientX, y: evt.clientY };
      return;
    }
    ruling = guide && rulerAt(press.screen);
    if (ruling || evt.button !== 0 || target.getParent() instanceof Konva.Transformer) return;
    capture(evt);
    tool()?.down?.(press);
  });

  stage.on('pointermove', ({ evt }) => {
    if (fingers.has(evt.pointerId)) fingers.set(evt.pointerId, { x: evt.clientX, y: evt.clientY });
    if (pinch && fingers.size === 2) {
      const now = spread();
      const { left, top } = host.getBoundingClientRect();
      view.pan(now.x - pinch.x, now.y - pinch.y);
      view.zoom(now.distance / Math.max(1, pinch.distance), [now.x - left, now.y - top]);
      pinch = now;
    } else if (panning) {
      view.pan(evt.clientX - panning.x, evt.clientY - panning.y);
      panning = { x: evt.clientX, y: evt.clientY };
    } else if (!ruling) {
      const press = pressOf(evt);
      if (press) (pulled ?? hearers().tool())?.move?.(press);
    }
  });

  stage.on('pointerup', ({ evt }) => {
    const was = { panning, pulled, ruling };
    panning = pulled = ruling = pinch = null;
    fingers.delete(evt.pointerId);
    const press = pressOf(evt);
    if (was.panning || !press) return;
    if (was.pulled) return was.pulled.up?.(press);
    const { tool, guide } = hearers();
    if (!was.ruling) return tool()?.up?.(press);
    if (!rulerAt(press.screen)) guide?.(was.ruling, press.board[was.ruling === 'x' ? 0 : 1]);
  });

  stage.on('dblclick dbltap', ({ evt }) => {
    const press = pressOf(evt as MouseEvent);
    if (press) hearers().tool()?.double?.(press);
  });

  stage.on('wheel', ({ evt }) => {
    evt.preventDefault();
    const at = view.pointer();
    if (!at) return;
    if (evt.shiftKey) view.pan(-evt.deltaY, 0);
    else view.zoom(evt.deltaY < 0 ? 1.12 : 1 / 1.12, at.screen);
  });
}
