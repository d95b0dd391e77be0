/** What a run leaves of its plate, and the next one on it: against a grid of its own, and cut after cut. */
import { describe, expect, it } from 'vitest';
import { goneOf, Board } from '../board/index.ts';
import { Leftover, leftoversFor } from '../board/materials.ts';
import { regionArea, type Region } from '../geometry/index.ts';
import { readJob, type Job } from '../job/index.ts';
import { nestJob, piecesIn, usualSpacing } from '../nest/job.ts';
import { planJob } from '../plan/index.ts';
import { blankMap, carvePlan, differenceOf, LayeredBoard, Scrubber } from '../proof/index.ts';
import { arcMoves, away, within } from '../reference/arc-oracle.ts';
import { fontOf, plateJob, rect } from '../reference/fixtures.ts';
import { piecesOf, remnantOf } from './pieces.ts';

const BOARD = { width: 300, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats' as const };
const jobWith = (items: Parameters<typeof plateJob>[0], board: object = {}, cut: object = {}): Job => plateJob(items, cut, { ...BOARD, ...board });
const planned = (job: Job) => planJob(job, { fonts: fontOf });
const FIRST = [rect('a', 60, 60, 60), { kind: 'ellipse' as const, id: 'b', x: 180, y: 120, width: 90, height: 90 }, rect('hole', 60, 60, 20)];

describe('what is left', () => {
  it('is everything but what was cut: as much as a grid of its own counts, and its openings lie where the proof is open', async () => {
    const job = jobWith(FIRST);
    const { cuts } = await planned(job);
    const remnant = remnantOf(job.board, cuts)!;
    const board = Board.parse({ ...BOARD, gone: remnant.gone });
    const gone = goneOf(board);
    const map = carvePlan(blankMap(job.board, 0.5), cuts);
    const pieces = piecesOf(job.board, cuts).filter(({ lies }) => lies !== 'held');
    let wrong = 0;
    for (let j = 0; j < map.rows; j++)
      for (let i = 0; i < map.columns; i++) {
        const [x, y] = [(i + 0.5) * 0.5, (j + 0.5) * 0.5];
        const open = map.height[j * map.columns + i] < 0 || pieces.some(({ region }) => within([region], x, y));
        if (open !== within(gone, x, y) && away(gone, x, y) > 0.6) wrong++;
      }
    expect(wrong).toBe(0);
    const area = gone.reduce((sum, region) => sum + regionArea(region), 0);
    expect(remnant.left).toBeCloseTo(1 - area / (300 * 200), 3);
  });
  it('nothing cut, a whole plate; cut in two, the larger part; no frame, nothing', async () => {
    const bare = jobWith([]);
    expect(remnantOf(bare.board, (await planned(bare)).cuts)).toEqual({ gone: [], left: 1 });
    const through = jobWith([{ kind: 'line' as const, id: 'l', x: 100, y: 100, length: 199, angle: 90 }], {}, { side: 'on' });
    const { gone, left } = remnantOf(through.board, (await planned(through)).cuts)!;
    expect(left).toBeLessThanOrEqual(1);
    expect(gone.length).toBeGreaterThan(0);
  });
  it('is kept with the shop’s pieces, and read again', async () => {
    const job = jobWith(FIRST);
    const { gone } = remnantOf(job.board, (await planned(job)).cuts)!;
    const piece = Leftover.parse({ id: 'p', material: 'mild steel', width: 300, height: 200, thickness: 3, gone });
    expect(leftoversFor({ ...BOARD, width: 100, height: 100 }, [piece])).toEqual([piece]);
    const reading = readJob(JSON.parse(JSON.stringify({ ...job, board: { ...job.board, gone } })));
    expect(reading.ok && reading.job.board.gone).toEqual(gone);
    expect(readJob({ ...job, board: { ...job.board, gone: [[1, 2, 3, 4]] } }).ok).toBe(false);
  });
});

describe('the next cut on it', () => {
  const used = async (): Promise<number[][]> => {
    const job = jobWith(FIRST);
    return remnantOf(job.board, (await planned(job)).cuts)!.gone;
  };
  it('pieces are laid out beside its openings, and the arc never comes over one', async () => {
    const gone = await used();
    const next = jobWith([rect('n', 60, 60, 50, 30), { kind: 'ellipse', id: 'e', x: 180, y: 120, width: 30, height: 30 }], { gone });
    const before = await planned(next);
    // As they were drawn they lie over openings.
    expect(before.findings.some(({ code }) => code === 'torch-over-gone')).toBe(true);
    const laid = nestJob(next, before.items, { ...usualSpacing(next), turns: [0, 90], copies: { n: 3, e: 2 }, rounds: 10 });
    expect(laid.nest.placed).toHaveLength(5);
    const openings: Region[] = goneOf(next.board);
    for (const piece of laid.outlines.flat()) {
      const { xy } = piece.outer;
      for (let i = 0; i < xy.length; i += 2) expect(within(openings, xy[i], xy[i + 1])).toBe(false);
      for (const { outer } of openings) for (let i = 0; i < outer.xy.length; i += 2) expect(within([piece], outer.xy[i], outer.xy[i + 1])).toBe(false);
    }
    const after = await planned(laid.job);
    expect(after.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    for (const { path } of after.cuts)
      for (const [ax, ay, bx, by] of arcMoves(path)) for (const f of [0, 0.5, 1]) expect(within(openings, ax + f * (bx - ax), ay + f * (by - ay))).toBe(false);
    // What is free now is counted; what was free then is not.
    const parts = piecesOf(laid.job.board, after.cuts).filter(({ part }) => part);
    expect(parts).toHaveLength(5);
    // And once more: the openings of both.
    const again = remnantOf(laid.job.board, after.cuts)!;
    expect(again.left).toBeLessThan(remnantOf(next.board, [])!.left);
    expect(piecesIn(after.items)).toHaveLength(5);
  });
  it('is proved on the plate as it lies there: open before, open at every moment, and no fault of this cut', async () => {
    const gone = await used();
    const job = jobWith([rect('n', 270, 40, 30)], { gone });
    const { cuts, items } = await planned(job);
    const map = carvePlan(blankMap(job.board, 0.5), cuts);
    const at = (height: Float32Array, x: number, y: number) => height[Math.floor(y / 0.5) * map.columns + Math.floor(x / 0.5)];
    expect([at(map.height, 180, 120), at(map.height, 100, 180)]).toEqual([-4, 0]);
    const layers = new LayeredBoard(blankMap(job.board, 0.5));
    layers.update(cuts);
    expect(layers.map.height).toEqual(map.height);
    layers.update([]);
    expect(at(layers.map.height, 180, 120)).toBe(-4);
    const scrub = new Scrubber(job, cuts, 0.5);
    for (const t of [0, 1, 1e6, 0.5]) expect(at(scrub.at(t).map.height, 180, 120)).toBe(-4);
    const { over, left } = differenceOf(job, items, cuts, map);
    expect([over.area, left.area]).toEqual([
      differenceOf(jobWith([rect('n', 270, 40, 30)]), items, cuts, carvePlan(blankMap(jobWith([]).board, 0.5), cuts)).over.area,
      left.area,
    ]);
  });
});
