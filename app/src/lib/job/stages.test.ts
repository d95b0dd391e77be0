/** How the stages of a job stand: what is ready, what is in hand, and what needs somebody. */
import { describe, expect, it } from 'vitest';
import { readJob, type Job, type JobInput } from '@kerbe/core/job';
import { noSetup, type RunState } from '@kerbe/core/link';
import type { Finding } from '@kerbe/core/preflight';
import { STAGES, STATE_WORD, stageStates, type Standing } from './stages';

function someJob(change: Partial<JobInput> = {}): Job {
  const reading = readJob({
    kerbe: 4,
    name: 'T',
    board: { width: 200, height: 100, thickness: 18 },
    items: {
      edge: { kind: 'rectangle', id: 'edge', x: 100, y: 50, width: 180, height: 80 },
      words: { kind: 'text', id: 'words', x: 100, y: 50, text: 'Reed', face: 'playfair', capHeight: 20 },
    },
    itemOrder: ['edge', 'words'],
    outline: 'edge',
    tools: { v: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 } },
    cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'words', tool: 'v' } },
    cutOrder: ['carve'],
    ...change,
  });
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
}
const found = (code: string, severity: Finding['severity'], cut?: string) => ({ code, severity, what: '', why: '', todo: '', cut }) as unknown as Finding;
const run = (state: RunState['state'], ended = false) => ({ state, endedAt: ended ? '2026-01-01T10:00:00Z' : null }) as RunState;
const standing = (change: Partial<Standing> = {}): Standing => ({
  job: someJob(),
  findings: [],
  stale: false,
  released: 'no',
  setup: noSetup(),
  homed: false,
  run: null,
  recorded: false,
  ...change,
});
const states = (change: Partial<Standing> = {}) => stageStates(standing(change));

const setFor = { job: 'one', at: new Date().toISOString() };

describe('the stages', () => {
  it('a job that was just drawn is ready up to its proof; the rest has not begun', () =>
    expect(states()).toEqual({
      board: 'ready',
      artwork: 'ready',
      cuts: 'ready',
      proof: 'ready',
      program: 'not-started',
      setup: 'not-started',
      run: 'not-started',
      record: 'not-started',
    }));
  it('an outline alone is nothing to carve, nor are words without letters', () => {
    const blank = someJob({
      items: { words: { kind: 'text', id: 'words', x: 0, y: 0, text: ' \n ', face: 'playfair', capHeight: 20 } },
      itemOrder: ['words'],
      outline: null,
    });
    expect(states({ job: blank })).toMatchObject({ artwork: 'not-started', cuts: 'in-hand', proof: 'not-started' });
    const { words: _, ...rest } = someJob().items;
    expect(states({ job: { ...someJob(), items: rest, itemOrder: ['edge'] } })).toMatchObject({ artwork: 'not-started' });
  });
  it('a finding shows where it is to be mended; a note does not', () => {
    expect(states({ findings: [found('deeper-than-board', 'error')] })).toMatchObject({ board: 'needs-you', proof: 'needs-you', artwork: 'ready' });
    expect(states({ findings: [found('art-open', 'warning')] })).toMatchObject({ artwork: 'needs-you', proof: 'ready' });
    expect(states({ findings: [found('art-islands', 'note')] })).toMatchObject({ artwork: 'ready' });
    expect(states({ findings: [found('bit-too-short', 'error', 'carve')] })).toMatchObject({ cuts: 'needs-you' });
    expect(states({ job: someJob({ cuts: {}, cutOrder: [] }) })).toMatchObject({ cuts: 'not-started' });
  });
  it('while it is planned again the proof is in hand, whatever the old plan said', () =>
    expect(states({ stale: true, findings: [found('x', 'error')] })).toMatchObject({ proof: 'in-hand' }));
  it('a release of an older job needs somebody; what was set up for it does not count', () => {
    const setup = {
      ...noSetup(),
      zeroXY: { corner: 'lower-left', by: 'paper', angle: 0, ...setFor },
      zeroZ: { datum: 'top' as const, method: 'paper', reading: -40, bit: 'v', ...setFor },
      bitFitted: 'v',
      bitReading: -40,
    };
    expect(states({ released: 'of an older job', setup, homed: true })).toMatchObject({ program: 'needs-you', setup: 'not-started' });
    expect(states({ released: 'yes', setup, homed: true })).toMatchObject({ program: 'ready', setup: 'ready' });
  });
  it('set up is ready only with zero at the datum of this job, and the bit measured', () => {
    const zeroZ = { datum: 'top' as const, method: 'plate', reading: -40, bit: 'v', ...setFor };
    const at = (corner: string) => ({ ...noSetup(), zeroXY: { corner, by: 'paper', angle: 0, ...setFor }, zeroZ, bitReading: -40, bitFitted: 'v' });
    expect(states({ released: 'yes' })).toMatchObject({ setup: 'not-started' });
    expect(states({ released: 'yes', homed: true })).toMatchObject({ setup: 'in-hand' });
    expect(states({ released: 'yes', homed: true, setup: at('centre') })).toMatchObject({ setup: 'in-hand' });
    expect(states({ released: 'yes', homed: true, setup: { ...at('lower-left'), bitFitted: null } })).toMatchObject({ setup: 'in-hand' });
    expect(states({ released: 'yes', homed: true, setup: { ...at('lower-left'), zeroZ: { ...zeroZ, datum: 'spoilboard' } } })).toMatchObject({
      setup: 'in-hand',
    });
    expect(states({ released: 'yes', homed: true, setup: at('lower-left') })).toMatchObject({ setup: 'ready' });
  });
  it.each([
    [run('running'), 'in-hand'],
    [run('held'), 'needs-you'],
    [run('paused'), 'needs-you'],
    [run('link-lost'), 'needs-you'],
    [run('done', true), 'ready'],
    [run('stopped', true), 'needs-you'],
    [run('failed', true), 'needs-you'],
  ])('a run: %o', (one, state) => expect(states({ released: 'yes', run: one })).toMatchObject({ run: state }));
  it('every stage has a state, and every state a word', () => {
    const all = states({ recorded: true });
    expect(Object.keys(all)).toEqual(STAGES.map(({ id }) => id));
    for (const state of Object.values(all)) expect(STATE_WORD[state]).toBeTruthy();
    expect(all.record).toBe('ready');
  });
});
