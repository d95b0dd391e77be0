/** The first job: each step is left when it is done and not before; a reload and a stop lose nothing. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Store } from '../testing';
import type { Now } from './guide.svelte';
import { STAGES, type StageState } from './stages';

const fresh = async () => {
  vi.resetModules();
  return import('./guide.svelte');
};
beforeEach(() => vi.stubGlobal('localStorage', new Store()));

const now = (stage: Now['stage'], ready: readonly string[] = [], carved = false): Now => ({
  stage,
  carved,
  states: Object.fromEntries(STAGES.map(({ id }) => [id, ready.includes(id) ? 'ready' : 'not-started'])) as Record<Now['stage'], StageState>,
});

describe('the first job', () => {
  it('goes step by step, as things are done, through every stage from the words to the record', async () => {
    const { firstJob, STEPS } = await fresh();
    expect(firstJob.state).toBe('new');
    firstJob.begin();
    expect(firstJob.stepOf('j1')).toBeNull();
    firstJob.opened('j1');
    firstJob.opened('j2');
    expect([firstJob.job, firstJob.stepOf('j2')]).toEqual(['j1', null]);
    const seen: string[] = [];
    const look = (what: Now) => firstJob.look('j1', what);
    const title = () => firstJob.stepOf('j1')?.step.stage ?? 'over';
    for (const what of [
      now('artwork'),
      now('artwork', ['artwork']),
      now('artwork', ['artwork']),
      now('cuts', ['artwork']),
      now('proof', ['artwork']),
      now('proof', ['artwork', 'proof'], true),
      now('program', ['artwork', 'proof']),
      now('program', ['artwork', 'proof', 'program']),
      now('setup', ['program', 'setup']),
      now('run', ['setup']),
      now('run', ['run']),
      now('record', ['run']),
    ]) {
      look(what);
      seen.push(title());
    }
    expect(seen).toEqual(['artwork', 'cuts', 'cuts', 'proof', 'proof', 'program', 'program', 'setup', 'run', 'run', 'record', 'over']);
    expect([firstJob.state, STEPS.length]).toEqual(['over', 7]);
  });
  it('is taken up where it was after a reload, and stays left once it was left', async () => {
    const one = (await fresh()).firstJob;
    one.begin();
    one.opened('j1');
    one.look('j1', now('artwork', ['artwork']));
    const two = (await fresh()).firstJob;
    expect(two.stepOf('j1')?.number).toBe(2);
    two.leave();
    expect(two.stepOf('j1')).toBeNull();
    expect((await fresh()).firstJob.state).toBe('over');
  });
  it('what a browser keeps that is none of it is no first job', async () => {
    for (const kept of ['nonsense', '{}', '7', 'null']) {
      localStorage.setItem('kerbe-first-job', kept);
      expect((await fresh()).firstJob.state).toBe('new');
    }
  });
  it('another job moves nothing', async () => {
    const { firstJob } = await fresh();
    firstJob.begin();
    firstJob.opened('j1');
    firstJob.look('j2', now('artwork', ['artwork']));
    expect(firstJob.stepOf('j1')?.number).toBe(1);
  });
});
