/** The carved board seen from above with depth as shade: where there is no WebGL2. */
import type { BoardMap } from '$lib/job/planner';
import type { Size, View } from './camera';
import type { Look } from '@kerbe/core/proof/looks';
import type { BoardPicture } from './raymarch';

export class FlatPicture implements BoardPicture {
  private readonly canvas: OffscreenCanvas;
  private readonly context: OffscreenCanvasRenderingContext2D;
  private map: BoardMap | null = null;
  private board: Size = { width: 1, height: 1, thickness: 1 };
  private deepest = 1;
  private look: Look | null = null;
  private paint: readonly [number, number, number] | null = null;
  private marks: Parameters<BoardPicture['mark']>[0] = null;

  constructor(canvas: OffscreenCanvas) {
    this.canvas = canvas;
    this.context = canvas.getContext('2d')!;
  }

  load(map: BoardMap, board: Size, deepest: number): void {
    this.map = map;
    this.board = board;
    this.deepest = Math.max(0.5, Math.min(deepest, board.thickness));
  }

  renew(map: BoardMap): void {
    this.map = map;
  }

  dress(look: Look, paint: readonly [number, number, number] | null): void {
    this.look = look;
    this.paint = paint;
  }

  mark(marks: Parameters<BoardPicture['mark']>[0]): void {
    this.marks = marks;
  }

  draw(view: View, width: number, height: number, ground: [number, number, number]): boolean {
    const { map, board, look, canvas, context } = this;
    if (!map || !look || width < 2 || height < 2) return false;
    canvas.width = width;
    canvas.height = height;
    const image = context.createImageData(width, height);
    const scale = Math.min((0.94 * width) / board.width, (0.94 * height) / board.height) / view.distance;
    const [left, top] = [width / 2 - view.x * board.width * scale, height / 2 + view.y * board.height * scale];
    const at = (i: number, j: number) => map.height[Math.min(map.rows - 1, Math.max(0, j)) * map.columns + Math.min(map.columns - 1, Math.max(0, i))];
    for (let v = 0; v < height; v++)
      for (let u = 0; u < width; u++) {
        const [x, y] = [(u + 0.5 - left) / scale, (top - v - 0.5) / scale];
        let colour: readonly number[] = ground;
        if (x >= 0 && y >= 0 && x < board.width && y < board.height) {
          const [i, j] = [Math.floor(x / map.cell), Math.floor(y / map.cell)];
          const z = at(i, j);
          const lean = (at(i - 1, j + 1) - at(i + 1, j - 1)) / map.cell;
          const down = Math.min(1, -z / this.deepest);
          const light = Math.max(0.3, Math.min(1.15, 1 - 0.5 * down - 0.1 * lean));
          const base = this.paint && z < -0.02 ? this.paint : look.pale;
          colour = z <= -board.thickness + 1e-3 ? [0.3, 0.27, 0.23] : base.map((part) => part * light);
          const kind = this.marks
            ? this.marks.kinds[Math.floor((y / board.height) * this.marks.rows) * this.marks.columns + Math.floor((x / board.width) * this.marks.columns)]
            : 0;
          if (kind > 0)
            colour = this.marks!.as === 'difference' && kind === 2 ? [0.72, 0.1, 0.08] : Math.floor((u + v) / 4) % 2 ? [0.66, 0.4, 0.02] : [0.98, 0.8, 0.45];
        }
        image.data.set([colour[0] * 255, colour[1] * 255, colour[2] * 255, 255], 4 * (v * width + u));
      }
    context.putImageData(image, 0, 0);
    return true;
  }
}
