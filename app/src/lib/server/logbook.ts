/** The log of the shop: every run, found by what it says, and as a table for other programs. */
import Papa from 'papaparse';
import { sql } from 'kysely';
import { db } from './db';

export interface LogQuery {
  /** Words that the job, the notes, the person, the machine or a defect must hold. */
  find: string;
  state: string;
}

export async function logRows({ find, state }: LogQuery) {
  let query = db()
    .selectFrom('run')
    .innerJoin('job', 'job.id', 'run.job_id')
    .selectAll('run')
    .select(['job.name as job_name', sql<string>`job.doc->'board'->>'material'`.as('material')])
    .orderBy('started_at', 'desc')
    .limit(500);
  for (const word of find.trim().split(/\s+/).filter(Boolean).slice(0, 8)) {
    const like = `%${word.replace(/[\\%_]/g, (c) => `\\${c}`)}%`;
    query = query.where(
      sql<boolean>`concat_ws(' ', job.name, run.notes, run.author, run.machine, run.program, run.message, job.doc->'board'->>'material', run.defects::text) ilike ${like}`,
    );
  }
  if (state) query = query.where('run.state', '=', state);
  return query.execute();
}

/** The log as CSV: one line a run, times in seconds, dates as ISO 8601. */
export async function logCsv(query: LogQuery): Promise<string> {
  const rows = await logRows(query);
  return Papa.unparse(
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
    { escapeFormulae: true, newline: '\n' },
  );
}
