/** The log of the shop: every run, found by what it says, and as a table for other programs. */
import Papa from 'papaparse';
import { sql } from 'kysely';
import { db } from './db';

export interface LogQuery {
  /** Words that the job, the notes, the person, the machine or a defect must hold. */
  find: string;
  state: string;
}

/** Runs, newest first: so many, after the one with this id. */
export async function logRows({ find, state }: LogQuery, most: number, after: string | null = null) {
  let query = db()
    .selectFrom('run')
    .innerJoin('job', 'job.id', 'run.job_id')
    .selectAll('run')
    .select(['job.name as job_name', sql<string>`job.doc->'board'->>'material'`.as('material')])
    .orderBy('run.started_at', 'desc')
    .orderBy('run.id', 'desc')
    .limit(most);
  for (const word of find.trim().split(/\s+/).filter(Boolean).slice(0, 8)) {
    const like = `%${word.replace(/[\\%_]/g, (c) => `\\${c}`)}%`;
    query = query.where(
      sql<boolean>`concat_ws(' ', job.name, run.notes, run.author, run.machine, run.program, run.message, job.doc->'board'->>'material', run.defects::text) ilike ${like}`,
    );
  }
  if (state) query = query.where('run.state', '=', state);
  if (after) query = query.where(sql<boolean>`(run.started_at, run.id) < (select started_at, id from run where id = ${after})`);
  return query.execute();
}

/** Runs read from the database at a time, for a file of all of them. */
const AT_A_TIME = 500;

/** The whole log as CSV, piece by piece: one line a run, times in seconds, dates as ISO 8601. */
export async function* logCsv(query: LogQuery): AsyncGenerator<string> {
  let after: string | null = null;
  for (let header = true; ; header = false) {
    const rows = await logRows(query, AT_A_TIME, after);
    if (rows.length > 0 || header) yield csvOf(rows, header);
    if (rows.length < AT_A_TIME) return;
    after = rows.at(-1)!.id;
  }
}

function csvOf(rows: Awaited<ReturnType<typeof logRows>>, header: boolean): string {
  const text = Papa.unparse(
    rows.map((run) => ({
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
      bits: Object.entries(run.bit_seconds)
        .map(([bit, seconds]) => `${bit} ${Math.round(seconds)} s`)
        .join('; '),
      zero_xy: run.setup.zeroXY?.by ?? '',
      zero_z: run.setup.zeroZ?.method ?? '',
      skipped: (run.setup.confirmed ?? [])
        .filter(({ skipped }) => skipped)
        .map(({ id }) => id)
        .join(' '),
      defects: run.defects.map(({ kind, note }) => (note ? `${kind}: ${note}` : kind)).join('; '),
      notes: run.notes,
    })),
    // A cell that begins like a formula must not be one in a spreadsheet.
    { escapeFormulae: true, newline: '\n', header },
  );
  return text === '' ? '' : `${text}\n`;
}
