/** Asked against burned: the tones of a picture against those its energy makes, and whether what is to be cut goes through. */
import { dotsOf, type LaserPicture, type PlacedPicture } from '../cuts/laser/picture.ts';
import type { Board } from '../board/index.ts';
import { darknessOf, responseOf } from '../feeds/energy.ts';
import { throughShare } from '../feeds/beam.ts';
import { boardThickness } from '../board/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import type { BurnMap } from './burn.ts';

/** A picture by squares of a millimetre or so, each a mean of dots as an eye sees it. */
export interface PictureBurned {
  cut: string;
  item: string;
  /** Mean darkness, 0 bare to 1 full. */
  asked: number;
  burned: number;
  /** Share of its squares that come within {@link CLOSE} of what was asked. */
  close: number;
}

/** A cut that is to go through, and the share of the energy that takes; 1 and more goes through. */
export interface CutBurned {
  cut: string;
  energy: number;
}

/** So near a tone counts as what was asked, of full darkness. (Common practice: an eye tells about a tenth.) */
export const CLOSE = 0.1;
/** Squares hold so many dots across at least. */
const DOTS = 8;

export interface AsBurned {
  pictures: PictureBurned[];
  cuts: CutBurned[];
}

/** @param pictures those each cut burns, by the cut's id */
export function asBurned(board: Board, cuts: readonly PlannedCut[], pictures: (cut: PlannedCut) => readonly PlacedPicture[], map: BurnMap): AsBurned {
  const through = cuts.flatMap(({ cut, bit, beam, facts }): CutBurned[] =>
    beam && beam.depth > 0 && facts.moves > 0 && bit.kind === 'head' && 'power' in cut && 'passes' in cut
      ? [{ cut: cut.id, energy: throughShare(cut, bit, board.material, boardThickness(board)) }]
      : [],
  );
  const toned = cuts.flatMap((planned) =>
    planned.facts.moves > 0
      ? pictures(planned).map((picture) => ({ cut: planned.cut.id, item: picture.id, ...tonesOf(board, planned.cut as LaserPicture, picture, map) }))
      : [],
  );
  return { pictures: toned, cuts: through };
}

function tonesOf(board: Board, cut: LaserPicture, picture: PlacedPicture, { columns, rows, cell, energy, through }: BurnMap) {
  // The rows' own angle makes no other tones.
  const dots = dotsOf(picture, { ...cut, angle: 0 });
  const square = Math.max(1, DOTS * dots.pitchU, DOTS * dots.pitchV);
  const [across, down] = [Math.max(1, Math.floor(picture.width / square)), Math.max(1, Math.floor(picture.height / square))];
  const [asked, burned, count] = [new Float64Array(across * down), new Float64Array(across * down), new Uint32Array(across * down)];
  const response = responseOf(board.material);
  const turn = (picture.angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const reach = Math.hypot(picture.width, picture.height) / 2;
  const range = (middle: number, size: number) => [Math.max(0, Math.floor((middle - reach) / cell)), Math.min(size, Math.ceil((middle + reach) / cell))];
  const [i0, i1] = range(picture.x, columns);
  const [j0, j1] = range(picture.y, rows);
  for (let j = j0; j < j1; j++)
    for (let i = i0; i < i1; i++) {
      const [dx, dy] = [(i + 0.5) * cell - picture.x, (j + 0.5) * cell - picture.y];
      // From its upper left corner.
      const u = cos * dx + sin * dy + picture.width / 2;
      const v = picture.height / 2 - (cos * dy - sin * dx);
      if (u < 0 || v < 0 || u >= picture.width || v >= picture.height) continue;
      const at = Math.min(down - 1, Math.floor((v / picture.height) * down)) * across + Math.min(across - 1, Math.floor((u / picture.width) * across));
      const k = j * columns + i;
      asked[at] += dots.dark[Math.min(dots.rows - 1, Math.floor(v / dots.pitchV)) * dots.columns + Math.min(dots.columns - 1, Math.floor(u / dots.pitchU))];
      burned[at] += through[k] ? 0 : darknessOf(energy[k], response);
      count[at]++;
    }
  let [sumAsked, sumBurned, cells, close, squares] = [0, 0, 0, 0, 0];
  for (let at = 0; at < count.length; at++) {
    if (count[at] === 0) continue;
    sumAsked += asked[at];
    sumBurned += burned[at];
    cells += count[at];
    squares++;
    if (Math.abs(asked[at] - burned[at]) <= CLOSE * count[at]) close++;
  }
  return { asked: sumAsked / Math.max(1, cells), burned: sumBurned / Math.max(1, cells), close: squares > 0 ? close / squares : 0 };
}
