/** The torch and the plate: contours planned, torch moves proved, pieces judged, a plate laid out. */
import { Bit, Board } from '../src/job/index.ts';
import { circle, contourOf, rectangle, type Region } from '../src/geometry/index.ts';
import { nest } from '../src/nest/index.ts';
import { TorchCut } from '../src/cuts/torch/cut.ts';
import { roundFreed } from '../src/cuts/torch/round.ts';
import { planTorch } from '../src/cuts/torch/torch.ts';
import { piecesOf } from '../src/planned/pieces.ts';
import { carve, HeightMap, removalOf } from '../src/proof/index.ts';
import type { PlannedCut } from '../src/plan/index.ts';

const nozzle = Bit.parse({ kind: 'nozzle', id: 'n' });
const cut = TorchCut.parse({ kind: 'torch', id: 'c', on: 'art', tool: 'n' });
const TRAVEL = { clearance: 15, feed: 4000, plunge: 2500 };
const PLATE = { width: 2500, height: 1250, thickness: 3 };

/** Squares, each with a round hole: two contours a piece. All alike, or each smaller by so much than the one before it, mm. */
const squares = (contours: number, less = 0): Region[] =>
  Array.from({ length: contours / 2 }, (_, k): Region => {
    const [x, y] = [12 + 36 * (k % 68), 12 + 36 * Math.floor(k / 68)];
    const hole = Array.from(circle(x + 13, y + 13, 7 - k * less).xy);
    const back = Array.from({ length: hole.length / 2 }, (_, i) => hole.slice(hole.length - 2 * i - 2, hole.length - 2 * i)).flat();
    return { outer: rectangle(x, y, 26 - k * less, 26), holes: [contourOf(back)] };
  });
const planned = (contours: number, less = 0) => planTorch(squares(contours, less), [], cut, nozzle, TRAVEL, { plate: PLATE });
const ell = (size: number): Region => ({
  outer: contourOf([0, 0, size, 0, size, size / 4, size / 4, size / 4, size / 4, size, 0, size]),
  holes: [],
});

/** @param time best of a few runs, seconds; @param row one line of the table */
export function benchTorch(time: (work: () => unknown, runs?: number) => number, row: (what: string, figure: string, aim: string) => void): void {
  const s = (seconds: number) => `${seconds.toFixed(3)} s`;
  const [small, large] = [time(() => planned(500)), time(() => planned(2000))];
  row('torch: 2,000 contours - offset, leads, order', s(large), '< 2 s');
  row('torch: 2,000 / 500 contours', (large / small).toFixed(1), 'about 4 (linear)');
  const { path, ...torch } = planned(2000);
  row('torch: 2,000 contours - travel round what is free', s(time(() => roundFreed(path, torch.freeing, PLATE, TRAVEL.clearance))), '< 0.5 s');
  const one = { cut, path, torch, bit: nozzle } as unknown as PlannedCut;
  const board = Board.parse({ ...PLATE, material: 'mild steel', holdDown: 'slats', slats: {} });
  row('torch: 1,000 parts and 1,000 slugs - free, tips, falls', s(time(() => piecesOf(board, [one]))), '< 1 s');
  const { path: apart, ...different } = planned(2000, 0.002);
  const other = { cut, path: apart, torch: different, bit: nozzle } as unknown as PlannedCut;
  row('torch: the same, no two of them alike', s(time(() => piecesOf(board, [other]))), '');
  // The same ways again and again, until they are 100,000 moves.
  const { path: way, shape } = removalOf(one);
  const times = Math.ceil(100_000 / way.kind.length);
  const map = new HeightMap(PLATE.width, PLATE.height, 0.25);
  row(
    `torch: proof of ${times * way.kind.length} moves on 1250 x 2500 mm at 0.25 mm`,
    s(time(() => Array.from({ length: times }, () => carve(map, way, shape)), 1)),
    '< 1.5 s',
  );
  const pieces = Array.from({ length: 60 }, (_, k) => ({ id: `p${k}`, regions: [ell(120 + 5 * (k % 12))], copies: 1, turns: [0, 90, 180, 270] }));
  row('nest: 60 pieces, first answer', s(time(() => nest(pieces, PLATE, { gap: 5, margin: 10, rounds: 0 }))), '< 2 s');
}
