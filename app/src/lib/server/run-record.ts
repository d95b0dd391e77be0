/** The record of the runs in the database, kept from what the agents say: nothing is lost while either was away. */
import type { RunFacts, RunState } from '@kerbe/core/link';
import { isPractice } from '@kerbe/core/practice/exercises';
import { powerWordsOf, type ProcessName } from '@kerbe/core/process';
import { spanAt, workedBetween } from '@kerbe/core/program';
import { sql } from 'kysely';
import { env } from '$env/dynamic/private';
import { db } from './db';
import { trouble } from './log';
import { programOf } from './releases';

/** The newest state of every run that the database may not have yet, and where its journal is. */
const unrecorded = new Map<string, { agent: string; run: RunState }>();
/** What was written of a run last, and when. */
const recorded = new Map<string, { mark: string; at: number }>();
/** Runs remembered as written; older ones are over. */
const REMEMBERED = 200;
/** What the database did not take is offered again this often, also when nothing moves any more, milliseconds. */
const AGAIN = 1000;
let writing = false;
let offering = false;

let whenDone: (run: string) => Promise<void> = async () => {};
/** What is done once a run has come to its end and is in the record as that; it is tried again until it went well. */
export const onDone = (work: (run: string) => Promise<void>): void => void (whenDone = work);

/** Takes in the newest state of a run. @param agent the address of the agent that carries it out. */
export function keepRecord(agent: string, run: RunState): void {
  unrecorded.set(run.id, { agent, run });
  if (!offering) setInterval(() => void recordRuns(), AGAIN).unref();
  offering = true;
  void recordRuns();
}

/** One at a time, so that an older state never overwrites a newer one; what fails is tried again. */
async function recordRuns(): Promise<void> {
  if (writing) return;
  writing = true;
  for (const [id, one] of [...unrecorded]) {
    try {
      await record(one.agent, one.run);
      if (unrecorded.get(id) === one) unrecorded.delete(id);
    } catch (error) {
      trouble('run record', error, { run: id });
    }
  }
  writing = false;
}

/** Keeps the row of a run up to date: at every change of state, and once a second in between. */
async function record(agent: string, run: RunState): Promise<void> {
  if (isPractice(run.id)) return;
  const mark = `${run.state} ${run.endedAt}`;
  const before = recorded.get(run.id);
  const changed = mark !== before?.mark;
  if (!changed && (run.endedAt !== null || Date.now() - before!.at < 1000)) return;
  // Events first: a run that is told as ended has all of them.
  if (changed) await takeJournal(agent, run.id);
  await db()
    .updateTable('run')
    .set({
      state: run.state,
      message: run.message,
      line: run.line,
      lines: run.lines,
      actual_seconds: run.seconds,
      bit_seconds: JSON.stringify(run.bitSeconds),
      ended_at: run.endedAt ? new Date(run.endedAt) : null,
    })
    .where('id', '=', run.id)
    .execute();
  if (changed && run.endedAt) {
    const row = await db().selectFrom('run').select(['job_id', 'release_id', 'program', 'from_line']).where('id', '=', run.id).executeTakeFirst();
    if (row) await writeWork(run, row);
    if (run.state === 'done') await whenDone(run.id);
    if (row)
      await db()
        .updateTable('job')
        .set({ state: run.state === 'done' ? 'done' : 'ready' })
        .where('id', '=', row.job_id)
        .execute();
  }
  recorded.delete(run.id);
  recorded.set(run.id, { mark, at: Date.now() });
  if (recorded.size > REMEMBERED) recorded.delete(recorded.keys().next().value!);
}

/** What an ended run made of its tools, and what it was cutting when it ended before its end: read out of its program. */
async function writeWork(run: RunState, { release_id, program, from_line }: { release_id: string; program: string; from_line: number | null }): Promise<void> {
  const found = await programOf(release_id, program);
  if (found === null || typeof found === 'string') return;
  const job = await db()
    .selectFrom('release')
    .innerJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'release.job_id').onRef('job_revision.revision', '=', 'release.revision'))
    .select([sql<ProcessName | null>`doc->>'process'`.as('process'), sql<number | null>`(doc->'machine'->>'fullPower')::float`.as('full')])
    .where('release.id', '=', release_id)
    .executeTakeFirst();
  const words = powerWordsOf({ process: job?.process ?? 'router', machine: { fullPower: job?.full ?? undefined } });
  await db()
    .updateTable('run')
    .set({
      worked: JSON.stringify(workedBetween(found.text, found.bits, words, from_line ?? 1, run.line)),
      ...(run.state === 'done' ? {} : { cut_last: JSON.stringify(spanAt(found.spans ?? [], run.line + 1)) }),
    })
    .where('id', '=', run.id)
    .execute();
}

/** Copies what the agent's journal has and the database has not. */
async function takeJournal(agent: string, run: string): Promise<void> {
  const response = await fetch(`${agent}/journal/${run}`, { headers: { authorization: `Bearer ${env.KERBE_AGENT_TOKEN}` } });
  const entries = (await response.json()) as { at: string; event: string; line?: number; text?: string; facts?: RunFacts }[];
  const kept = entries.filter(({ event }) => event !== 'progress');
  // One at a time: two that counted together would both write the same, and later ones then skip as many.
  await db()
    .transaction()
    .execute(async (trx) => {
      await trx.selectFrom('run').select('id').where('id', '=', run).forUpdate().executeTakeFirst();
      const { count } = await trx
        .selectFrom('run_event')
        .select((eb) => eb.fn.countAll<string>().as('count'))
        .where('run_id', '=', run)
        .executeTakeFirstOrThrow();
      const fresh = kept.slice(Number(count));
      if (fresh.length === 0) return;
      await trx
        .insertInto('run_event')
        .values(
          fresh.map(({ at, event, line, text, facts }) => ({
            run_id: run,
            at: new Date(at),
            event,
            line: line ?? null,
            text: text ?? null,
            facts: facts ? JSON.stringify(facts) : null,
          })),
        )
        .execute();
    });
}
