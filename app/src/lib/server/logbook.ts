/** The log of the shop: every run, found by what it says, page by page, as a file for other programs, and what it adds up to. */
import Papa from 'papaparse';
import { sql, type SelectQueryBuilder } from 'kysely';
import { z } from 'zod';
import type { DefectRun } from '@kerbe/core/record';
import { db } from './db';

/** What of the log is looked at: empty is all of it. */
export const LogQuery = z.object({
  /** Words, or how they begin, that the job, its wood, the notes, the person, the machine, the program or a defect hold: all of them. */
  find: z.string().max(200).catch(''),
  state: z.string().max(40).catch(''),
  machine: z.string().max(80).catch(''),
  /** Days, the last one with it. */
  from: z.union([z.iso.date(), z.literal('')]).catch(''),
  to: z.union([z.iso.date(), z.literal('')]).catch(''),
});
export type LogQuery = z.infer<typeof LogQuery>;

export const SORTS = ['when', 'job', 'person', 'machine', 'result', 'planned', 'took'] as const;
export const LogSort = z.object({ by: z.enum(SORTS).catch('when'), down: z.stringbool().catch(true) });
export type LogSort = z.infer<typeof LogSort>;

const COLUMN = {
  when: 'run.started_at',
  job: 'job.name',
  person: 'run.author',
  machine: 'run.machine',
  result: 'run.state',
  planned: 'run.estimate_seconds',
  took: 'run.actual_seconds',
} as const satisfies Record<LogSort['by'], string>;

const runs = () => db().selectFrom('run').innerJoin('job', 'job.id', 'run.job_id');

/** Narrows a query of runs and their jobs to what is looked for. */
function found<DB extends object, T extends keyof DB, O>(query: SelectQueryBuilder<DB, T, O>, { find, state, machine, from, to }: LogQuery) {
  const words = find.match(/[\p{L}\p{N}]+/gu) ?? [];
  for (const word of words.slice(0, 8)) {
    const begins = sql`to_tsquery('simple', ${`${word}:*`})`;
    query = query.where(sql<boolean>`(run.words @@ ${begins} or run.job_id = any(array(select id from job where words @@ ${begins})))`);
  }
  if (state) query = query.where(sql<boolean>`run.state = ${state}`);
  if (machine) query = query.where(sql<boolean>`run.place = ${machine}`);
  if (from) query = query.where(sql<boolean>`run.started_at >= ${from}::date`);
  if (to) query = query.where(sql<boolean>`run.started_at < ${to}::date + 1`);
  return query;
}

/** Everything of a run but the words it is found by. */
export const OF_RUN = [
  'run.id',
  'run.job_id',
  'run.program',
  'run.state',
  'run.message',
  'run.line',
  'run.lines',
  'run.estimate_seconds',
  'run.actual_seconds',
  'run.author',
  'run.machine',
  'run.notes',
  'run.started_at',
  'run.ended_at',
  'run.setup',
  'run.bit_seconds',
  'run.worked',
  'run.from_line',
  'run.defects',
] as const;

/** Runs, newest first: so many, after the one with this id. */
export async function logRows(query: LogQuery, most: number, after: string | null = null) {
  const rows = found(runs(), query)
    .select(OF_RUN)
    .select(['job.name as job_name', sql<string>`job.doc->'board'->>'material'`.as('material')])
    .orderBy('run.started_at', 'desc')
    .orderBy('run.id', 'desc')
    .limit(most);
  return (after ? rows.where(sql<boolean>`(run.started_at, run.id) < (select started_at, id from run where id = ${after})`) : rows).execute();
}

/** One page of the log in the order asked for, and how many runs there are in all. */
export async function logPage(query: LogQuery, { by, down }: LogSort, page: number, size: number) {
  const [rows, { count }] = await Promise.all([
    found(runs(), query)
      .select(['run.id', 'run.job_id', 'run.state', 'run.message', 'run.estimate_seconds', 'run.actual_seconds', 'run.author', 'run.machine'])
      .select(['run.notes', 'run.started_at', 'run.defects', 'job.name as job_name'])
      .orderBy(COLUMN[by], down ? 'desc' : 'asc')
      .orderBy('run.started_at', 'desc')
      .orderBy('run.id', 'desc')
      .limit(size)
      .offset(page * size)
      .execute(),
    // Every run has its job: to count them it is not asked for.
    found(db().selectFrom('run'), query)
      .select(sql<number>`count(*)::int`.as('count'))
      .executeTakeFirstOrThrow(),
  ]);
  return { rows, count };
}
export type LogRow = Awaited<ReturnType<typeof logPage>>['rows'][number];

/** Machines that the log knows: those of the shop that ran, and what is left of the names of others. */
export const logMachines = async () =>
  (
    await sql<{ id: string; name: string }>`
      select id, name from machine where exists (select from run where run.machine_id = machine.id)
      union select distinct machine, machine from run where machine_id is null order by name`.execute(db())
  ).rows;

/**
 * What the runs looked at add up to, by the week they began in (its Monday) and by machine; and the boards that were promised for a day.
 * Times in seconds; `planned` and `took` of whole runs that came to their end.
 */
export async function logSums(query: LogQuery) {
  const week = sql<string>`to_char(date_trunc('week', run.started_at), 'YYYY-MM-DD')`;
  const whole = sql`run.state = 'done' and run.from_line is null and run.estimate_seconds > 0`;
  const [weeks, wrong, late] = await Promise.all([
    found(runs(), query)
      .select([week.as('week'), 'run.machine as machine', sql<number>`sum(run.actual_seconds)`.as('seconds'), sql<number>`count(*)::int`.as('runs')])
      .select([
        sql<number>`coalesce(sum(run.estimate_seconds) filter (where ${whole}), 0)`.as('planned'),
        sql<number>`coalesce(sum(run.actual_seconds) filter (where ${whole}), 0)`.as('took'),
      ])
      .groupBy([week, 'run.machine'])
      .orderBy('week')
      .orderBy('machine')
      .execute(),
    found(runs(), query)
      .select(['run.defects', 'run.bit_seconds', 'run.crib', 'run.started_at', sql<string>`job.doc->'board'->>'material'`.as('material')])
      .where(sql<boolean>`run.defects <> '[]'`)
      .orderBy('run.started_at', 'desc')
      .limit(500)
      .execute(),
    // A board is late when its last run ended after it was promised.
    found(runs(), query)
      .select([
        sql<string>`to_char(date_trunc('week', max(run.ended_at)), 'YYYY-MM-DD')`.as('week'),
        sql<boolean>`max(run.ended_at) > (job.planning->>'due')::timestamptz`.as('late'),
      ])
      .where(sql<boolean>`run.state = 'done' and run.ended_at is not null and job.planning->>'due' is not null`)
      .groupBy('job.id')
      .orderBy('week')
      .execute(),
  ]);
  return { weeks, late, defects: await withBits(wrong) };
}
export type LogSums = Awaited<ReturnType<typeof logSums>>;

/** Runs that something came out wrong in, with the bits of the crib that were in them and the hours each had cut since it was sharp. */
async function withBits(
  wrong: { defects: { kind: string }[]; bit_seconds: Record<string, number>; crib: Record<string, string>; started_at: Date; material: string }[],
): Promise<DefectRun[]> {
  const ids = [...new Set(wrong.flatMap(({ crib }) => Object.values(crib)))];
  const [names, hours] =
    ids.length === 0
      ? [[], []]
      : await Promise.all([
          db()
            .selectFrom('crib_bit')
            .select(['id', sql<string>`doc->>'name'`.as('name')])
            .where('id', 'in', ids)
            .execute(),
          db()
            .selectFrom('run')
            .innerJoin(sql<{ key: string; value: string }>`lateral jsonb_each_text(run.crib)`.as('held'), (join) => join.onTrue())
            .select(['held.value as bit', 'run.started_at as at', sql<number>`coalesce((run.bit_seconds->>held.key)::float, 0)`.as('seconds')])
            .where('held.value', 'in', ids)
            .orderBy('run.started_at')
            .execute(),
        ]);
  const sharp = ids.length === 0 ? [] : await db().selectFrom('bit_event').select(['bit', 'at']).where('bit', 'in', ids).execute();
  const nameOf = new Map(names.map(({ id, name }) => [id, name]));
  return wrong.map(({ defects, crib, started_at, material }) => ({
    kinds: defects.map(({ kind }) => kind),
    material: material ?? '',
    bits: Object.values(crib).map((id) => {
      const since = Math.max(0, ...sharp.filter(({ bit, at }) => bit === id && at <= started_at).map(({ at }) => at.getTime()));
      const cut = hours.filter(({ bit, at }) => bit === id && at <= started_at && at.getTime() >= since);
      return { id, name: nameOf.get(id) ?? id, hours: cut.reduce((sum, { seconds }) => sum + seconds, 0) / 3600 };
    }),
  }));
}

/** Runs read from the database at a time, for a file of all of them. */
const AT_A_TIME = 500;

/** All that is looked at, piece by piece and newest first: as many runs as are read at a time. */
async function* pieces(query: LogQuery) {
  for (let after: string | null = null; ;) {
    const rows: Awaited<ReturnType<typeof logRows>> = await logRows(query, AT_A_TIME, after);
    yield rows.map(written);
    if (rows.length < AT_A_TIME) return;
    after = rows.at(-1)!.id;
  }
}

/** The log as CSV: one line a run, times in seconds, dates as ISO 8601. */
export async function* logCsv(query: LogQuery): AsyncGenerator<string> {
  let header = true;
  for await (const rows of pieces(query)) {
    const flat = rows.map(({ bits, skipped, defects, ...run }) => ({
      ...run,
      bits: Object.entries(bits)
        .map(([bit, seconds]) => `${bit} ${seconds} s`)
        .join('; '),
      skipped: skipped.join(' '),
      defects: defects.map(({ kind, note }) => (note ? `${kind}: ${note}` : kind)).join('; '),
    }));
    // A cell that begins like a formula must not be one in a spreadsheet.
    const text = Papa.unparse(flat, { escapeFormulae: true, newline: '\n', header });
    if (text !== '') yield `${text}\n`;
    header = false;
  }
}

/** The log as a list in JSON, with the same fields. */
export async function* logJson(query: LogQuery): AsyncGenerator<string> {
  let before = '[\n';
  for await (const rows of pieces(query))
    for (const row of rows) {
      yield before + JSON.stringify(row);
      before = ',\n';
    }
  yield before === '[\n' ? '[]\n' : '\n]\n';
}

/** A run as other programs get it. */
const written = (run: Awaited<ReturnType<typeof logRows>>[number]) => ({
  started: run.started_at.toISOString(),
  ended: run.ended_at?.toISOString() ?? '',
  job: run.job_name,
  material: run.material,
  program: run.program,
  machine: run.machine,
  person: run.author,
  state: run.state,
  message: run.message,
  planned_seconds: Math.round(run.estimate_seconds),
  took_seconds: Math.round(run.actual_seconds),
  lines_done: run.line,
  lines: run.lines,
  from_line: run.from_line ?? '',
  bits: Object.fromEntries(Object.entries(run.bit_seconds).map(([bit, seconds]) => [bit, Math.round(seconds)])),
  zero_xy: run.setup.zeroXY?.by ?? '',
  zero_z: run.setup.zeroZ?.method ?? '',
  skipped: (run.setup.confirmed ?? []).filter(({ skipped }) => skipped).map(({ id }) => id),
  defects: run.defects.map(({ kind, note }) => ({ kind, note })),
  notes: run.notes,
});
