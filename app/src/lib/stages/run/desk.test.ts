/** Which program is up, for every way of getting there. */
import { describe, expect, it } from 'vitest';
import type { RunState } from '@kerbe/core/link';
import type { ReleaseView } from '$lib/stages/types';
import { choiceOf, runnable } from './desk.svelte';

const program = (sha256: string, bits: string[]) => ({ name: `${sha256}.nc`, sha256, bits, seconds: 1, lines: 9, extents: null, spindle: true });
const release = (...programs: ReleaseView['programs']) => ({ programs }) as unknown as ReleaseView;
const run = (sha256: string, endedAt: string | null, state: RunState['state'] = endedAt ? 'done' : 'running') => ({ sha256, endedAt, state }) as RunState;

describe('programs that are run', () => {
  const two = release(program('both', ['v', 'e']), program('v', ['v']), program('e', ['e']));
  it('one that pauses, or one for each bit, as the job says', () => {
    expect(runnable(two, 'pauses').map(({ sha256 }) => sha256)).toEqual(['both']);
    expect(runnable(two, 'tool').map(({ sha256 }) => sha256)).toEqual(['v', 'e']);
  });
  it('with one bit there is one, either way; with none there is none', () => {
    const one = release(program('v', ['v']));
    expect(runnable(one, 'pauses')).toHaveLength(1);
    expect(runnable(one, 'tool')).toHaveLength(1);
    expect(runnable(release(), 'tool')).toEqual([]);
    expect(runnable(null, 'pauses')).toEqual([]);
  });
});

describe('which one is up', () => {
  const programs = [{ sha256: 'v' }, { sha256: 'e' }];
  it('the first before anything; the one that runs; the one that ran last', () => {
    expect(choiceOf(programs, null, null)).toEqual({ index: 0, from: 1, chosen: false });
    expect(choiceOf(programs, run('e', null), null)).toEqual({ index: 1, from: 1, chosen: false });
    expect(choiceOf(programs, run('e', 'now'), null)).toEqual({ index: 1, from: 1, chosen: false });
  });
  it('what was chosen, unless something runs; what was chosen of another release does not count', () => {
    expect(choiceOf(programs, run('v', 'now'), { sha256: 'e', from: 1 })).toEqual({ index: 1, from: 1, chosen: true });
    expect(choiceOf(programs, run('v', 'now', 'stopped'), { sha256: 'v', from: 40 })).toEqual({ index: 0, from: 40, chosen: true });
    expect(choiceOf(programs, run('v', null), { sha256: 'e', from: 1 })).toMatchObject({ index: 0, chosen: false });
    expect(choiceOf(programs, run('old', 'now'), { sha256: 'old', from: 7 })).toEqual({ index: 0, from: 1, chosen: false });
  });
});
