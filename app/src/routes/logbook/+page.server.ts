import { logMachines, logPage, LogQuery, logSums, LogSort } from '$lib/server/logbook';
import { queryOf } from '$lib/server/body';
import type { PageServerLoad } from './$types';

const PAGE = 100;

export const load: PageServerLoad = async ({ url }) => {
  const [query, sort] = [queryOf(url, LogQuery), queryOf(url, LogSort)];
  const view: 'runs' | 'sums' = url.searchParams.get('view') === 'sums' ? 'sums' : 'runs';
  const page = Math.min(1e6, Math.max(0, Math.trunc(Number(url.searchParams.get('page')) || 1) - 1));
  const [{ rows, count }, machines, sums] = await Promise.all([logPage(query, sort, page, PAGE), logMachines(), view === 'sums' ? logSums(query) : null]);
  return { query, sort, view, page, size: PAGE, rows, count, machines, sums };
};
