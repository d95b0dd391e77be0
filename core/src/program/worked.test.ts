/** What a program makes of its tools, against sums done by hand. */
import { describe, expect, it } from 'vitest';
import { planJob, writePrograms } from '../plan/index.ts';
import { PROCESSES } from '../process/index.ts';
import { fontOf, makeJob, plateJob, rect } from '../reference/fixtures.ts';
import { workedBetween } from './index.ts';

const ROUTER = PROCESSES.router.power;
const TWO = [
  'G21 G90',
  'T1',
  'S18000 M3',
  'G0 X0 Y0 Z5',
  'G1 Z0 F500',
  'G1 X300 F2000',
  'G0 Z5',
  'M5',
  'M0 (fit the other)',
  'S12000 M3',
  'G1 X0 F1000',
  'M5',
  'M30',
].join('\n');

describe('what each tool has done', () => {
  it('way under power by tool, rapids left out; switched on once each', () => {
    const done = workedBetween(TWO, ['v', 'e'], ROUTER, 1, 13);
    expect(done.v).toEqual({ metres: 0.305, strikes: 1 });
    expect(done.e.metres).toBeCloseTo(0.3, 9);
    expect(done.e.strikes).toBe(1);
  });
  it('only what lies between two lines: a run that was stopped, or taken up again', () => {
    expect(workedBetween(TWO, ['v', 'e'], ROUTER, 1, 5)).toEqual({ v: { metres: 0.005, strikes: 1 } });
    expect(workedBetween(TWO, ['v', 'e'], ROUTER, 10, 13)).toEqual({ e: { metres: 0.3, strikes: 1 } });
    expect(workedBetween(TWO, ['v', 'e'], ROUTER, 1, 0)).toEqual({});
  });
  it('a tool that nothing turns has done all of its way that is no rapid', () => {
    expect(workedBetween('G21 G90\nG0 X0 Y0 Z1\nG1 Z0 F500\nX200\nG0 Z1\nM30', ['drag'], ROUTER, 1, 6)).toEqual({ drag: { metres: 0.201, strikes: 0 } });
  });
  it('a torch: its pierces, and the way its arc has cut', async () => {
    const job = plateJob([rect('a', 80, 100, 80), rect('b', 220, 100, 80)], { leadIn: 3, lead: 'line', overcut: 0 });
    const plan = await planJob(job, { fonts: fontOf });
    const [{ text, bits }] = writePrograms(job, plan, '2026-01-01');
    const { n } = workedBetween(text, bits, PROCESSES.torch.power, 1, 1e9);
    expect(n.strikes).toBe(2);
    // Two squares of 80, with their leads and the way down to cut height.
    expect(n.metres).toBeGreaterThan(0.64);
    expect(n.metres).toBeLessThan(0.7);
  });
  it('together they make up the plan’s own cutting', async () => {
    const job = makeJob();
    const plan = await planJob(job, { fonts: fontOf });
    const [{ text, bits }] = writePrograms(job, plan, '2026-01-01', 'pauses');
    const done = workedBetween(text, bits, ROUTER, 1, 1e9);
    expect(Object.keys(done)).toEqual(bits);
    for (const { bit, facts } of plan.cuts) {
      expect(1000 * done[bit.id].metres).toBeGreaterThan(0.98 * facts.cutting);
      // Down to the wood it goes at its plunge, too.
      expect(1000 * done[bit.id].metres).toBeLessThan(1.35 * facts.cutting + 50);
    }
  });
});
