/** Where the board lies on the screen: three Konva layers that share one zoom and place, save the last, which is in pixels. */
import * as Konva from './konva';

export type Point = readonly [number, number];

const MARGIN = 46;
/** The buttons that choose the view lie over the top of the drawing: a board is never under them, pixels. */
const TOP = 40;
/** Pixels to the millimetre, at the least. */
const LEAST_SCALE = 0.02;

export class BoardView {
  readonly stage: Konva.Stage;
  /** Everything that stands still, in board millimetres. */
  readonly base: Konva.Layer;
  /** What is being dragged, and what moves while a program runs: board millimetres. */
  readonly lift: Konva.Layer;
  /** Rulers, handles and hints, in screen pixels. */
  readonly over: Konva.Layer;
  private readonly changed: () => void;

  /** @param changed called when the zoom or place changed */
  constructor(container: HTMLDivElement, changed: () => void) {
    this.changed = changed;
    this.stage = new Konva.Stage({ container, width: 10, height: 10 });
    this.base = new Konva.Layer({ listening: false });
    this.lift = new Konva.Layer({ listening: false });
    this.over = new Konva.Layer();
    this.stage.add(this.base, this.lift, this.over);
  }

  /** Pixels of a millimetre. */
  get scale(): number {
    return this.base.scaleX();
  }

  toBoard(x: number, y: number): Point {
    return [(x - this.base.x()) / this.scale, (this.base.y() - y) / this.scale];
  }

  toScreen(x: number, y: number): Point {
    return [this.base.x() + x * this.scale, this.base.y() - y * this.scale];
  }

  /** Where the pointer is: on the screen and on the board. */
  pointer(): { screen: Point; board: Point } | null {
    const p = this.stage.getPointerPosition();
    return p ? { screen: [p.x, p.y], board: this.toBoard(p.x, p.y) } : null;
  }

  /** Board millimetres that are in view. */
  get visible(): { minX: number; minY: number; maxX: number; maxY: number } {
    const [minX, maxY] = this.toBoard(0, 0);
    const [maxX, minY] = this.toBoard(this.stage.width(), this.stage.height());
    return { minX, minY, maxX, maxY };
  }

  fit(width: number, height: number): void {
    const [w, h] = [this.stage.width(), this.stage.height()];
    // A board that has no room at all, as on a phone held upright, is still drawn the right way round.
    const scale = Math.max(LEAST_SCALE, Math.min((w - 2 * MARGIN) / width, (h - TOP - 2 * MARGIN) / height));
    this.place(scale, (w - scale * width) / 2, (h + TOP + scale * height) / 2);
  }

  zoom(factor: number, [x, y]: Point = [this.stage.width() / 2, this.stage.height() / 2]): void {
    const scale = Math.min(400, Math.max(LEAST_SCALE, this.scale * factor));
    const k = scale / this.scale;
    this.place(scale, x - k * (x - this.base.x()), y - k * (y - this.base.y()));
  }

  pan(dx: number, dy: number): void {
    this.place(this.scale, this.base.x() + dx, this.base.y() + dy);
  }

  private place(scale: number, x: number, y: number): void {
    for (const layer of [this.base, this.lift]) {
      layer.scale({ x: scale, y: -scale });
      layer.position({ x, y });
    }
    this.changed();
    this.stage.batchDraw();
  }
}
