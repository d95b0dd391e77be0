import { db } from '$lib/server/db';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({
  runs: await db()
    .selectFrom('run')
    .innerJoin('job', 'job.id', 'run.job_id')
    .selectAll('run')
    .select('job.name as job_name')
    .orderBy('started_at', 'desc')
    .limit(500)
    .execute(),
});
