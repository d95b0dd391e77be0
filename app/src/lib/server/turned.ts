/** Feeds that were turned at the machine in the last runs of a job, as its record has them. */
import { sql } from 'kysely';
import { feedOffered, type TurnedRun } from '@kerbe/core/record';
import { db } from './db';

/** So many of the newest runs are looked at. */
const NEWEST = 5;

/**
 * The feed to offer for a job's next program, by what its last finished runs were cut at. Runs of a release whose cuts had
 * other feeds than the job has now say nothing: what they ask for may have been taken already.
 */
export async function turnedFeed(job: string): Promise<{ feed: number; runs: number } | null> {
  const runs = await db()
    .selectFrom('run')
    .innerJoin('release', 'release.id', 'run.release_id')
    .innerJoin('job', 'job.id', 'run.job_id')
    .innerJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'run.job_id').onRef('job_revision.revision', '=', 'release.revision'))
    .select(['run.id', 'run.started_at', 'run.ended_at'])
    .select(sql<Cuts>`job_revision.doc->'cuts'`.as('then'))
    .select(sql<Cuts>`job.doc->'cuts'`.as('now'))
    .where('run.job_id', '=', job)
    .where('run.state', '=', 'done')
    .where('run.from_line', 'is', null)
    .orderBy('run.started_at', 'desc')
    .limit(NEWEST)
    .execute();
  const same = runs.findIndex(({ then, now }) => feedsOf(then) !== feedsOf(now));
  const meant = runs.slice(0, same < 0 ? undefined : same).filter(({ ended_at }) => ended_at !== null);
  if (meant.length === 0) return null;
  const events = await db()
    .selectFrom('run_event')
    .select(['run_id', 'at', 'facts'])
    .where(
      'run_id',
      'in',
      meant.map(({ id }) => id),
    )
    .where('event', '=', 'override')
    .orderBy('id')
    .execute();
  return feedOffered(
    meant.map(({ id, started_at, ended_at }): TurnedRun => {
      const since = (moment: Date) => (moment.getTime() - started_at.getTime()) / 1000;
      const turned = events.flatMap(({ run_id, at, facts }) => (run_id === id && facts?.kind === 'override' ? [{ at: since(at), feed: facts.feed }] : []));
      return { seconds: since(ended_at!), turned };
    }),
  );
}

type Cuts = Record<string, { feed?: number }>;
const feedsOf = (cuts: Cuts): string =>
  Object.entries(cuts)
    .map(([id, { feed }]) => `${id} ${feed}`)
    .sort()
    .join();
