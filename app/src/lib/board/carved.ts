/** What the worker that draws the carved view is told. */
import type { BoardMap } from '$lib/job/planner';
import type { Look } from '@kerbe/core/proof/looks';
import { Workroom } from '../workers/workroom.ts';
import type { Size, View } from './camera.ts';
import type { BoardPicture } from './raymarch.ts';

export interface Frame {
  view: View;
  width: number;
  height: number;
  ground: [number, number, number];
  dark: boolean;
}

export interface Questions {
  /** `flat`: without a graphics processor the board is shown from above. */
  canvas: [{ canvas: OffscreenCanvas }, { flat: boolean }];
  load: [{ map: BoardMap; board: Size; deepest: number }, void];
  renew: [{ tiles: Uint32Array; data: Float32Array }, void];
  dress: [{ look: Look; paint: [number, number, number] | null }, void];
  mark: [{ marks: Parameters<BoardPicture['mark']>[0] }, void];
  /** True when it was drawn; false when a newer frame was asked for before. */
  draw: [Frame, boolean];
  /** A picture of the view, as a PNG. */
  snap: [Frame, Blob];
}

/** A canvas can be handed over once: a worker that died needs another, and nothing is put to it again. */
export const carvedRoom = (): Workroom<Questions> =>
  new Workroom<Questions>('The carved view', () => new Worker(new URL('./carved.worker.ts', import.meta.url), { type: 'module' }), 1);
