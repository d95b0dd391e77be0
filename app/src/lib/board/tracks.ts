/**
 * Tool motion on the board: the dearest of all that is painted there. What is drawn of a cut stays the same as long as
 * its way does, whatever is said of its feed; and all of it is a picture of its own, painted anew only when a way, the
 * view or the colours change.
 */
import type { CutView } from '$lib/job/planner';
import type { Colours } from '$lib/ui/theme';
import { paintTrack, trackOf, type Track } from './paint';

/** A cut's way, with what was last drawn of it. */
export interface Way {
  readonly cut: CutView;
  readonly deepest: number;
  drawn: { apart: number; track: Track } | null;
}

/** Points nearer than this on the screen are not told apart, pixels. */
const TOLD_APART = 0.5;

const alike = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};
/** The same way with a bit that is drawn as wide. */
export const sameWay = (a: CutView, b: CutView): boolean =>
  a.bit.kind === b.bit.kind && a.bit.diameter === b.bit.diameter && alike(a.kind, b.kind) && alike(a.x, b.x) && alike(a.y, b.y) && alike(a.z, b.z);

/** What is drawn of a way where a pixel is so many mm. By halves, so that a little zoom draws none anew. */
export function trackAt(way: Way, px: number): Track {
  const apart = 2 ** Math.floor(Math.log2(TOLD_APART * px));
  if (way.drawn?.apart !== apart) way.drawn = { apart, track: trackOf(way.cut, way.deepest, apart) };
  return way.drawn.track;
}

export class Tracks {
  private list: readonly Way[] = [];
  private picture: { canvas: HTMLCanvasElement; of: readonly Way[]; at: string } | null = null;

  /** The way of each cut: the very same list as before when none changed. */
  of(cuts: readonly CutView[], deepest: number): readonly Way[] {
    const next = cuts.map((cut): Way => this.list.find((one) => one.deepest === deepest && sameWay(one.cut, cut)) ?? { cut, deepest, drawn: null });
    if (next.length !== this.list.length || next.some((way, k) => way !== this.list[k])) this.list = next;
    return this.list;
  }

  /** @param px a pixel in mm */
  paint(context: CanvasRenderingContext2D, ways: readonly Way[], colours: Colours, px: number): void {
    if (ways.length === 0) return;
    const { width, height } = context.canvas;
    const view = context.getTransform();
    const at = JSON.stringify([width, height, view.a, view.b, view.c, view.d, view.e, view.f, colours]);
    if (this.picture?.of !== ways || this.picture.at !== at) {
      const canvas = this.picture?.canvas ?? document.createElement('canvas');
      // Also clears it.
      canvas.width = width;
      canvas.height = height;
      const own = canvas.getContext('2d')!;
      own.setTransform(view);
      for (const way of ways) paintTrack(own, trackAt(way, px), colours, px);
      this.picture = { canvas, of: ways, at };
    }
    context.save();
    context.resetTransform();
    context.drawImage(this.picture.canvas, 0, 0);
    context.restore();
  }
}
