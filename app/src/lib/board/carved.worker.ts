/** Draws the carved view off the main thread: where there is no graphics processor a frame takes a while, and the page must not wait for it. */
import { applyTiles } from '@kerbe/core/proof/tiles';
import type { BoardMap } from '$lib/job/planner';
import type { Size, View } from './camera.ts';
import { FlatPicture } from './flat.ts';
import type { Look } from '@kerbe/core/proof/looks';
import { CarvedPicture, type BoardPicture } from './raymarch.ts';

export interface Frame {
  id: number;
  view: View;
  width: number;
  height: number;
  ground: [number, number, number];
  dark: boolean;
}

export type CarvedOrder =
  | { kind: 'canvas'; canvas: OffscreenCanvas }
  | { kind: 'load'; map: BoardMap; board: Size; deepest: number }
  | { kind: 'renew'; tiles: Uint32Array; data: Float32Array }
  | { kind: 'dress'; look: Look; paint: [number, number, number] | null }
  | { kind: 'mark'; marks: Parameters<BoardPicture['mark']>[0] }
  | ({ kind: 'draw' } & Frame)
  /** A picture of the view, as a PNG. */
  | ({ kind: 'snap' } & Frame);

export type CarvedAnswer =
  { kind: 'ready' } | { kind: 'drawn'; id: number } | { kind: 'flat' } | { kind: 'snapped'; png: Blob } | { kind: 'failed'; why: string };

const post = (answer: CarvedAnswer) => (self as unknown as Worker).postMessage(answer);
let picture: BoardPicture | null = null;
let surface: OffscreenCanvas | null = null;
let map: BoardMap | null = null;
let wanted: Frame | null = null;
let failed = false;

function pictureOn(canvas: OffscreenCanvas): BoardPicture {
  try {
    return new CarvedPicture(canvas);
  } catch {
    post({ kind: 'flat' });
    return new FlatPicture(canvas);
  }
}

/** Draws the newest view asked for, skipping those that came in while a frame was made. */
function paint(): void {
  if (!picture || !wanted) return;
  const { id, view, width, height, ground, dark } = wanted;
  wanted = null;
  if (picture.draw(view, width, height, ground, dark)) post({ kind: 'drawn', id });
}

async function obey(order: CarvedOrder): Promise<void> {
  switch (order.kind) {
    case 'canvas':
      surface = order.canvas;
      picture = pictureOn(order.canvas);
      return;
    case 'load':
      map = order.map;
      picture?.load(order.map, order.board, order.deepest);
      return;
    case 'renew':
      if (!map) return;
      applyTiles(map, order.tiles, order.data);
      picture?.renew(map, order.tiles);
      return;
    case 'dress':
      picture?.dress(order.look, order.paint);
      return;
    case 'mark':
      picture?.mark(order.marks);
      return;
    case 'draw':
      if (!wanted) setTimeout(paint, 0);
      wanted = order;
      return;
    case 'snap': {
      const { view, width, height, ground, dark } = order;
      if (picture?.draw(view, width, height, ground, dark)) post({ kind: 'snapped', png: await surface!.convertToBlob({ type: 'image/png' }) });
    }
  }
}

self.onmessage = ({ data }: MessageEvent<CarvedOrder>) => {
  obey(data).catch((error: Error) => {
    // Once is enough to say it.
    if (!failed) post({ kind: 'failed', why: error.message });
    failed = true;
  });
};
post({ kind: 'ready' });
