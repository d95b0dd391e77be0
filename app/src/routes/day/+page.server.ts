import { sql } from 'kysely';
import { duesOf } from '$lib/server/care';
import { dayAt } from '$lib/server/day';
import { db } from '$lib/server/db';
import type { PageServerLoad } from './$types';

/** Jobs that can be put on the plan are offered by name, the newest first. */
const OFFERED = 200;

export const load: PageServerLoad = async () => ({
  day: await dayAt(new Date()),
  dues: await duesOf(),
  others: await db()
    .selectFrom('job')
    .select(['id', 'name'])
    .where('archived_at', 'is', null)
    .where(sql<boolean>`not template`)
    .where(sql<boolean>`since is null`)
    .orderBy('updated_at', 'desc')
    .limit(OFFERED)
    .execute(),
});
