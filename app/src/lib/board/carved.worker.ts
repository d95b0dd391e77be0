/** Draws the carved view off the main thread: where there is no graphics processor a frame takes a while, and the page must not wait for it. */
import { applyTiles } from '@kerbe/core/proof/tiles';
import type { BoardMap } from '$lib/job/planner';
import { answer } from '../workers/answering.ts';
import type { Answers } from '../workers/workroom.ts';
import type { Frame, Questions } from './carved.ts';
import { FlatPicture } from './flat.ts';
import { CarvedPicture, type BoardPicture } from './raymarch.ts';

let picture: BoardPicture | null = null;
let surface: OffscreenCanvas | null = null;
let map: BoardMap | null = null;
let wanted: Frame | null = null;
/** Whoever waits for the frame that is wanted. */
let waiting: ((drawn: boolean) => void) | null = null;

function pictureOn(canvas: OffscreenCanvas): { on: BoardPicture; flat: boolean } {
  try {
    return { on: new CarvedPicture(canvas), flat: false };
  } catch {
    return { on: new FlatPicture(canvas), flat: true };
  }
}

/** Draws the newest view asked for, skipping those that came in while a frame was made. */
function paint(): void {
  const [frame, told] = [wanted, waiting];
  wanted = waiting = null;
  if (!frame || !told) return;
  const { view, width, height, ground, dark } = frame;
  told(picture?.draw(view, width, height, ground, dark) === true);
}

const answers: Answers<Questions> = {
  canvas({ canvas }) {
    surface = canvas;
    const { on, flat } = pictureOn(canvas);
    picture = on;
    return { flat };
  },
  load(order) {
    map = order.map;
    picture?.load(order.map, order.board, order.deepest);
  },
  renew({ tiles, data }) {
    if (!map) return;
    applyTiles(map, tiles, data);
    picture?.renew(map, tiles);
  },
  dress({ look, paint: colour }) {
    picture?.dress(look, colour);
  },
  mark({ marks }) {
    picture?.mark(marks);
  },
  draw(frame) {
    if (!wanted) setTimeout(paint, 0);
    waiting?.(false);
    wanted = frame;
    return new Promise<boolean>((done) => (waiting = done));
  },
  async snap({ view, width, height, ground, dark }) {
    if (!picture?.draw(view, width, height, ground, dark)) throw new Error('There is no board to take a picture of.');
    return surface!.convertToBlob({ type: 'image/png' });
  },
};

answer(answers);
