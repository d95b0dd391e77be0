/** One schedule: added up by hand, and the same figure wherever the same thing is shown. */
import { describe, expect, it } from 'vitest';
import { whereTimeGoes } from '../advise/index.ts';
import type { Job, JobInput } from '../job/index.ts';
import { planJob, sectionsOf, writePrograms } from '../plan/index.ts';
import { timelineOf } from '../proof/index.ts';
import { fontOf, makeJob, mixedJob } from '../reference/fixtures.ts';
import { schedule } from './index.ts';

const machine = { ...makeJob().machine, spindleSeconds: 4, bitChangeSeconds: 120, measureSeconds: 30, zeroSeconds: 90, warmUpSeconds: 600 };
const { process, program } = makeJob();
const section = (tool: number, speed: number, ...seconds: number[]) => ({ tool, speed, cuts: seconds.map((one) => ({ seconds: one })) });

describe('added up by hand', () => {
  it('nothing takes no time', () => {
    const none = schedule({ process, program, machine }, []);
    expect(Object.values(none)).toEqual(Object.keys(none).map(() => 0));
  });
  it('one bit, two cuts', () => {
    expect(schedule({ process, program, machine }, [section(1, 18_000, 60, 30)])).toEqual({
      cutting: 90,
      spinUp: 4,
      running: 94,
      changes: 0,
      changeCount: 0,
      atMachine: 94,
      measuring: 30 + 90,
      warmUp: 600,
    });
  });
  it('three stretches with two bits: a change between each, each bit measured once', () => {
    const time = schedule({ process, program, machine }, [section(1, 18_000, 60), section(2, 12_000, 30), section(1, 18_000, 10)]);
    expect(time).toMatchObject({ running: 100 + 3 * 4, changes: 240, changeCount: 2, atMachine: 352, measuring: 60 + 90 });
  });
  it('a diamond needs no spindle: nothing comes to speed, nothing is warmed', () => {
    expect(schedule({ process, program, machine }, [section(1, 0, 60)])).toMatchObject({ running: 60, spinUp: 0, warmUp: 0 });
  });
  it('a wait of the program’s own takes the place of the machine’s', () => {
    expect(schedule({ process, program: { ...program, spindleDelay: 9 }, machine }, [section(1, 18_000, 60)]).running).toBe(69);
  });
});

const DRAG: Partial<JobInput> = {
  tools: {
    v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 },
    d: { kind: 'drag', id: 'd', diameter: 6 },
    end6: { kind: 'end', id: 'end6', diameter: 6.35 },
  },
  cuts: {
    scratch: { kind: 'drag', id: 'scratch', on: ['plate'], tool: 'd' },
    carve: { kind: 'vcarve', id: 'carve', on: 'words', tool: 'v60' },
    out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end6' },
  } as JobInput['cuts'],
  cutOrder: ['scratch', 'carve', 'out'],
};
const JOBS: [string, Job][] = [
  ['one bit', makeJob({ cutOrder: ['carve'], cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'art', tool: 'v60' } } as JobInput['cuts'] })],
  ['two bits', makeJob()],
  ['three bits, one of them a diamond', mixedJob(DRAG)],
  ['a wait of its own', makeJob({ program: { spindleDelay: 11 } })],
];

describe.each(JOBS)('%s', (_what, job) => {
  it('plan, report, proof, programs and their headers say the same', async () => {
    const plan = await planJob(job, { fonts: fontOf });
    const { time } = plan;
    expect(whereTimeGoes(job, plan.cuts)).toMatchObject(time);
    expect(timelineOf(job, plan.cuts).seconds).toBeCloseTo(time.atMachine, 6);
    const [whole] = writePrograms(job, plan, '2026-01-31', 'pauses');
    expect(whole.seconds).toBeCloseTo(time.running, 9);
    expect(whole.changes).toBe(time.changes);
    const parts = writePrograms(job, plan, '2026-01-31', 'tool');
    expect(parts.reduce((sum, { seconds }) => sum + seconds, 0)).toBeCloseTo(time.running, 6);
    expect(parts.every(({ changes }) => changes === 0)).toBe(true);
    const said = /About (\d+) min(?:, and (\d+) min for (a change|\d+ changes) of bit)?/.exec(whole.text)!;
    expect(Number(said[1])).toBe(Math.ceil(time.running / 60));
    expect(Number(said[2] ?? 0)).toBe(Math.ceil(time.changes / 60));
    // What is written as waiting for the spindle is what is counted.
    const waits = [...whole.text.matchAll(/^G4 P([\d.]+)$/gm)].reduce((sum, [, seconds]) => sum + Number(seconds), 0);
    expect(waits).toBeCloseTo(time.spinUp, 6);
    expect(sectionsOf(plan.cuts).length - 1).toBe(time.changeCount);
  });
});
