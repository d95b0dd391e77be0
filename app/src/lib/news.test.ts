import { expect, test } from 'vitest';
import type { RunState } from '@kerbe/core/link';
import { isNews } from './news.svelte.ts';

const run = (state: RunState['state'], id = 'a') => ({ id, state }) as RunState;

test.each([
  ['what was so when one first looked', null, run('done'), false],
  ['a run that goes on', run('running'), run('running'), false],
  ['one that begins', null, run('running'), false],
  ['one that starts running again', run('held'), run('running'), false],
  ['a pause for a bit', run('running'), run('paused'), true],
  ['a hold', run('running'), run('held'), true],
  ['its end', run('running'), run('done'), true],
  ['a failure', run('running'), run('failed'), true],
  ['the same end again', run('done'), run('done'), false],
  ['the next run, ended unseen', run('done'), run('stopped', 'b'), true],
  ['no run any more', run('done'), null, false],
] as const)('%s', (_, before, now, news) => expect(isNews(before, now)).toBe(news));
