/** Draws the carved view off the main thread: where there is no graphics processor a frame takes a while, and the page must not wait for it. */
import { CarvedPicture, type View } from './raymarch.ts';
import type { PlanView } from '$lib/job/planner';

export type CarvedOrder =
  | { kind: 'canvas'; canvas: OffscreenCanvas }
  | { kind: 'load'; map: PlanView['map']; board: { width: number; height: number; thickness: number }; deepest: number }
  | { kind: 'draw'; view: View; width: number; height: number; ground: [number, number, number]; dark: boolean };

export type CarvedAnswer = { kind: 'ready' } | { kind: 'drawn' } | { kind: 'failed'; why: string };

const post = (answer: CarvedAnswer) => (self as unknown as Worker).postMessage(answer);
let picture: CarvedPicture | null = null;
let wanted: Extract<CarvedOrder, { kind: 'draw' }> | null = null;

/** Draws the newest view asked for, skipping those that came in while a frame was made. */
function paint(): void {
  if (!picture || !wanted) return;
  const { view, width, height, ground, dark } = wanted;
  wanted = null;
  if (picture.draw(view, width, height, ground, dark)) post({ kind: 'drawn' });
}

self.onmessage = ({ data }: MessageEvent<CarvedOrder>) => {
  try {
    if (data.kind === 'canvas') picture = new CarvedPicture(data.canvas);
    else if (data.kind === 'load') picture?.load(data.map, data.board, data.deepest);
    else {
      if (!wanted) setTimeout(paint, 0);
      wanted = data;
    }
  } catch (error) {
    post({ kind: 'failed', why: (error as Error).message });
  }
};
post({ kind: 'ready' });
