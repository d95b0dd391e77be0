import { wordOf } from '$lib/server/body';
import { logRows } from '$lib/server/logbook';
import type { PageServerLoad } from './$types';

const PAGE = 100;

export const load: PageServerLoad = async ({ url }) => {
  const [find, state, after] = ['find', 'state', 'after'].map((name) => wordOf(url, name));
  // One more than is shown: then there are older ones.
  const rows = await logRows({ find, state }, PAGE + 1, after || null);
  const runs = rows.slice(0, PAGE);
  return { find, state, after, runs, older: rows.length > PAGE ? runs.at(-1)!.id : null };
};
