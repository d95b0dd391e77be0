/** Causes are found by what events were, not by their wording; and what was set is told in the reader's unit. */
import { describe, expect, it } from 'vitest';
import { noSetup, type RunFacts, type ZeroZ } from '../link/index.ts';
import { causeOf, DEFECTS, zeroZWords, type DefectKind, type RunTrace } from './defects.ts';

const zeroZ: ZeroZ = { datum: 'top', method: 'plate on the top', with: 'plate', reading: -60, bit: 'v', job: 'one', at: '2026-01-31T09:00:00Z' };
const trace = (facts: RunFacts[] = [], change: Partial<RunTrace['setup']> = {}): RunTrace => ({
  setup: { ...noSetup(), zeroZ, ...change },
  events: [{ event: 'running', facts: null }, ...facts.map((one) => ({ event: one.kind, facts: one }))],
});
const override = (feed: number, spindle = 1): RunFacts => ({ kind: 'override', feed, spindle });

describe('the likeliest cause', () => {
  it.each<[DefectKind, RunTrace, RegExp]>([
    ['burned', trace([override(1), override(0.6)]), /taken down to 60 %/],
    ['burned', trace([override(1, 1.3)]), /spindle was taken up to 130 %/],
    ['burned', trace(), /blunt bit/],
    ['chipped', trace([override(1.4)]), /taken up to 140 %/],
    ['chipped', trace([override(1.1)]), /Too much at once/],
    ['broken-bit', trace([{ kind: 'spindle-slow', asked: 18_000, actual: 9000 }]), /slower than asked/],
    ['broken-bit', trace(), /met a clamp/],
    ['too-deep', trace([], { zeroZ: { ...zeroZ, deeper: 0.3 } }), /nudged \(plate on the top, 0\.3 mm deeper\)/],
    ['too-shallow', trace([], { zeroZ: { ...zeroZ, with: 'paper' } }), /paper/],
    ['too-shallow', trace(), /plate’s thickness/],
  ])('%s', (kind, run, cause) => expect(causeOf(kind, run)).toMatch(cause));
  it('of every defect something is said, for an old record without facts too', () => {
    const old: RunTrace = { setup: {}, events: [{ event: 'override', facts: null }] };
    for (const { kind } of DEFECTS) expect(causeOf(kind, old)).toMatch(/^[A-Z].*[.?]$/);
  });
});

describe('how Z was set', () => {
  it('is told with what it was moved by since, in the reader’s unit', () => {
    expect(zeroZWords(zeroZ, 'mm')).toBe('plate on the top');
    expect(zeroZWords({ ...zeroZ, deeper: 0.25 }, 'mm')).toBe('plate on the top, 0.25 mm deeper');
    expect(zeroZWords({ ...zeroZ, deeper: -0.254 }, 'in')).toMatch(/0\.01 in higher/);
    expect(zeroZWords({ ...zeroZ, deeper: 0 }, 'mm')).toBe('plate on the top');
  });
});
