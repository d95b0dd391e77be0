/**
 * Tool motion on the board: the dearest of all that is painted there. What is drawn of a cut stays the same as long as
 * its way does, whatever is said of its feed; and all of it is a picture of its own, painted anew only when a way, the
 * view or the colours change.
 */
import type { CutView } from '$lib/job/planner';
import type { Colours } from '$lib/ui/theme';
import { paintTrack, trackOf, type Track } from './paint';

interface Drawn {
  cut: CutView;
  deepest: number;
  track: Track;
}

const alike = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};
/** The same way with a bit that is drawn as wide. */
export const sameWay = (a: CutView, b: CutView): boolean =>
  a.bit.kind === b.bit.kind && a.bit.diameter === b.bit.diameter && alike(a.kind, b.kind) && alike(a.x, b.x) && alike(a.y, b.y) && alike(a.z, b.z);

export class Tracks {
  private drawn: Drawn[] = [];
  private list: readonly Track[] = [];
  private picture: { canvas: HTMLCanvasElement; of: readonly Track[]; at: string } | null = null;

  /** What is drawn of each cut: the very same list as before when no way changed. */
  of(cuts: readonly CutView[], deepest: number): readonly Track[] {
    const next = cuts.map((cut): Drawn => {
      const same = this.drawn.find((one) => one.deepest === deepest && sameWay(one.cut, cut));
      return same ?? { cut, deepest, track: trackOf(cut, deepest) };
    });
    if (next.length !== this.list.length || next.some(({ track }, k) => track !== this.list[k])) this.list = next.map(({ track }) => track);
    this.drawn = next;
    return this.list;
  }

  /** @param px a pixel in mm */
  paint(context: CanvasRenderingContext2D, tracks: readonly Track[], colours: Colours, px: number): void {
    if (tracks.length === 0) return;
    const { width, height } = context.canvas;
    const view = context.getTransform();
    const at = JSON.stringify([width, height, view.a, view.b, view.c, view.d, view.e, view.f, colours]);
    if (this.picture?.of !== tracks || this.picture.at !== at) {
      const canvas = this.picture?.canvas ?? document.createElement('canvas');
      // Also clears it.
      canvas.width = width;
      canvas.height = height;
      const own = canvas.getContext('2d')!;
      own.setTransform(view);
      for (const track of tracks) paintTrack(own, track, colours, px);
      this.picture = { canvas, of: tracks, at };
    }
    context.save();
    context.resetTransform();
    context.drawImage(this.picture.canvas, 0, 0);
    context.restore();
  }
}
