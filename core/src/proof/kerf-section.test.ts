/** Walls of a kerf where a line crosses it: the part's is square and stands at the drawn edge, whatever way the swirl turns. */
import { describe, expect, it } from 'vitest';
import { planJob } from '../plan/index.ts';
import { fontOf, plateJob, rect } from '../reference/fixtures.ts';
import { kerfsAlong, LEANS } from './kerf-section.ts';

const SQUARE = rect('a', 150, 100, 80);
const KERF = 1.6;
const cutsOf = async (change: object = {}, swirl = 'right', items = [SQUARE]) => {
  const job = plateJob(items, { kerf: KERF, lead: 'none', leadOut: 0, overcut: 0, ...change });
  const nozzle = { ...job.tools.n, swirl } as (typeof job.tools)[string];
  return (await planJob({ ...job, tools: { n: nozzle } }, { fonts: fontOf })).cuts;
};

describe('kerfs along a line', () => {
  it.each(['right', 'left'])('%s-hand swirl: the wall of the part is square and on its edge, that of the scrap leans in', async (swirl) => {
    const cuts = await cutsOf({}, swirl);
    const found = kerfsAlong(cuts, 3, [0, 117], [300, 117]);
    expect(found).toHaveLength(2);
    for (const [k, edge] of [110, 190].entries()) {
      const { square, leaning } = found[k];
      expect(square[0]).toBeCloseTo(edge, 1);
      expect(square[1]).toBe(square[0]);
      const out = k === 0 ? -1 : 1;
      expect(out * (leaning[0] - edge)).toBeCloseTo(KERF, 1);
      // 3 mm of plate at that angle.
      expect(out * (leaning[0] - leaning[1])).toBeCloseTo(3 * Math.tan((LEANS * Math.PI) / 180), 6);
    }
  });
  it('a hole has its square wall outside, where the part is', async () => {
    const [first, second] = kerfsAlong(await cutsOf({ side: 'inside' }), 3, [0, 117], [300, 117]);
    expect(first.square[0]).toBeCloseTo(110, 1);
    expect(first.leaning[0]).toBeCloseTo(110 + KERF, 1);
    expect(second.square[0]).toBeCloseTo(190, 1);
    expect(second.leaning[0]).toBeCloseTo(190 - KERF, 1);
  });
  it('met aslant a kerf is wider by the slant, and the other way along the line it is the same seen from behind', async () => {
    const cuts = await cutsOf();
    const [there] = kerfsAlong(cuts, 3, [60, 70], [160, 170]);
    expect(Math.abs(there.square[0] - there.leaning[0])).toBeCloseTo(KERF * Math.SQRT2, 1);
    const length = Math.hypot(100, 100);
    const back = kerfsAlong(cuts, 3, [160, 170], [60, 70]).at(-1)!;
    expect(back.square[0]).toBeCloseTo(length - there.square[0], 6);
    expect(back.leaning[1]).toBeCloseTo(length - there.leaning[1], 6);
  });
  it('in thick plate the walls never meet; beside every cut, and along no line, there is none', async () => {
    const cuts = await cutsOf();
    for (const { square, leaning } of kerfsAlong(cuts, 40, [0, 117], [300, 117])) {
      expect(Math.abs(square[1] - leaning[1])).toBeGreaterThan(0.1 * KERF);
      expect(Math.sign(square[1] - leaning[1])).toBe(Math.sign(square[0] - leaning[0]));
    }
    expect(kerfsAlong(cuts, 3, [0, 10], [300, 10])).toEqual([]);
    expect(kerfsAlong(cuts, 3, [150, 100], [150, 100])).toEqual([]);
    expect(kerfsAlong([], 3, [0, 117], [300, 117])).toEqual([]);
  });
});
