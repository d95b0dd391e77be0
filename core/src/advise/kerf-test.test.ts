/** The kerf of an arc comes back out of the test square, whatever the chart said of it. */
import { describe, expect, it } from 'vitest';
import { kerfFromTest, KERF_TEST, readChart, STARTING_CHART } from '../bits/chart.ts';
import { nozzleFor } from '../bits/nozzle.ts';
import { planJob } from '../plan/index.ts';
import { kerfTest } from './kerf-test.ts';

const nozzle = nozzleFor(3);

describe('the test square', () => {
  it.each([
    [3, 1.9],
    [3, 1.1],
    [6, 2.4],
  ])('on plate of %d mm, under an arc that takes %d mm: the calliper tells that', async (thickness, arc) => {
    const job = kerfTest(nozzle, { thickness, material: 'mild steel' });
    const { cuts, findings } = await planJob(job, { fonts: () => undefined });
    expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    const used = readChart(STARTING_CHART, thickness)!.row.kerf;
    const { contours } = cuts[0].torch!;
    expect(contours).toHaveLength(2);
    // Ways of straight sides and plain corners: a square of side s is 4 s long, and what is measured is half an arc off it on either side.
    const sides = contours.map(({ length }) => length / 4).sort((a, b) => a - b);
    const measured = { hole: sides[0] + arc, square: sides[1] - arc };
    // Round its outer corners the way is shorter than a square's: by (8 - 2 pi) r in all.
    const rounded = ((8 - 2 * Math.PI) * (used / 2)) / 4;
    expect(kerfFromTest(used, KERF_TEST, { ...measured, square: measured.square + rounded })).toBeCloseTo(arc, 1);
    // Asked for as drawn: a right kerf needs no change.
    expect(kerfFromTest(used, KERF_TEST, KERF_TEST)).toBeCloseTo(used, 9);
  });
  it('is cut inside out, with room for every lead on its piece of plate', async () => {
    const job = kerfTest(nozzle, { thickness: 3, material: 'mild steel', units: 'in' });
    const [{ facts, torch }] = (await planJob(job, { fonts: () => undefined })).cuts;
    expect(torch!.contours.map(({ side }) => side)).toEqual(['inside', 'outside']);
    expect(Math.min(facts.box.minX, facts.box.minY)).toBeGreaterThan(0);
    expect(Math.max(facts.box.maxX - job.board.width, facts.box.maxY - job.board.height)).toBeLessThan(0);
  });
});
