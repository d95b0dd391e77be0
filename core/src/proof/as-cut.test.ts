/** What a machine shows against the proof: the same cut on another grid is the same; a slip is found where it is, and as large as it is. */
import { describe, expect, it } from 'vitest';
import { planJob } from '../plan/index.ts';
import { fontOf, makeJob, plateJob, rect } from '../reference/fixtures.ts';
import { asCut } from './as-cut.ts';
import { blankMap, carvePlan, HeightMap } from './index.ts';

const BOARD = { width: 200, height: 80, thickness: 18 };
describe('as it was cut', () => {
  it('on another grid it is the same cut, carved or through', async () => {
    const carved = makeJob();
    const { cuts } = await planJob(carved, { fonts: fontOf });
    const proof = carvePlan(blankMap(carved.board, 0.2), cuts);
    const shown = carvePlan(blankMap(carved.board, 0.37), cuts);
    const same = asCut(proof, shown, 18, 0.05);
    expect(same.asked).toBeGreaterThan(100);
    // The bottom of a fine stroke may fall between the cells of one grid and into those of the other.
    expect((same.deeper.area + same.shallower.area) / same.asked).toBeLessThan(0.005);
    const plate = plateJob([rect('a', 100, 100, 80)]);
    const torch = (await planJob(plate, { fonts: fontOf })).cuts;
    const through = asCut(carvePlan(blankMap(plate.board, 0.5), torch), carvePlan(blankMap(plate.board, 0.3), torch), 3, 0.1);
    expect([through.deeper.area, through.shallower.area]).toEqual([0, 0]);
  });
  it('nothing cut, cut too deep, and cut in the wrong place are told with area, depth and place', () => {
    const pocket = (x: number, depth: number) => {
      const map = new HeightMap(BOARD.width, BOARD.height, 0.5);
      for (let j = 0; j < map.rows; j++)
        for (let i = 0; i < map.columns; i++)
          if (Math.abs((i + 0.5) * 0.5 - x) < 20 && Math.abs((j + 0.5) * 0.5 - 40) < 10) map.height[j * map.columns + i] = -depth;
      return map;
    };
    const proof = pocket(60, 4);
    const none = asCut(proof, new HeightMap(BOARD.width, BOARD.height, 0.5), 18, 0.05);
    expect(none.shallower.worst).toBeCloseTo(4, 6);
    // 40 x 20 mm, without a millimetre's edge either way.
    expect(none.shallower.area).toBeGreaterThan(37 * 17);
    expect(none.shallower.area).toBeLessThanOrEqual(40 * 20);
    const deep = asCut(proof, pocket(60, 4.6), 18, 0.05);
    expect([deep.deeper.worst, deep.shallower.area]).toEqual([expect.closeTo(0.6, 5), 0]);
    const aside = asCut(proof, pocket(70, 4), 18, 0.05);
    expect(aside.deeper.at[0]).toBeGreaterThan(80);
    expect(aside.shallower.at[0]).toBeLessThan(50);
    // What is through is through, however deep a machine calls it.
    expect(asCut(pocket(60, 19), pocket(60, 30), 18, 0.05).deeper.area).toBe(0);
  });
});
