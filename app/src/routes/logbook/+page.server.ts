import { logRows } from '$lib/server/logbook';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ url }) => {
  const find = url.searchParams.get('find') ?? '';
  const state = url.searchParams.get('state') ?? '';
  return { find, state, runs: await logRows({ find, state }) };
};
