/** What a machine needs: its spoilboard, skimmed and measured, and what is to be done to it from time to time. */
import { sql } from 'kysely';
import { z } from 'zod';
import { formatLength } from '@kerbe/core/length';
import { readJob } from '@kerbe/core/job';
import { CareList } from '@kerbe/core/machine';
import { careStates, skimmedBy, USUAL_CARE, whenToSkim, type CareState } from '@kerbe/core/setup/skim';
import { db } from './db';
import { machines, type MachineRow } from './machines';
import { shopSettings } from './shop';

export const Skim = z.object({
  height: z.number().gt(0).max(200),
  note: z.string().max(400).default(''),
  /** A new spoilboard was fitted: it may be thicker than the last one. */
  fresh: z.boolean().default(false),
  /** It is below the least that is worth skimming, and that is known. */
  thin: z.boolean().default(false),
});

/** Gives the spoilboard another height, in one step with what is written down of it. Only measured, its top is where it was: zeros on it hold. */
async function setHeight(
  { id, profile }: MachineRow,
  height: number,
  how: 'skimmed' | 'fitted' | 'measured',
  line: { note: string; author: string; run_id?: string; zero_at?: string; below_zero?: number },
) {
  const now = new Date();
  const at = now.toISOString();
  const spoilboard = { ...profile.spoilboard, height, ...(how !== 'measured' && { skimmed: at }), ...(how === 'fitted' && { fitted: at }) };
  await db()
    .transaction()
    .execute(async (trx) => {
      await trx
        .insertInto('spoilboard_skim')
        .values({ machine_id: id, height, at: now, ...line })
        .execute();
      await trx
        .updateTable('machine')
        .set({ doc: sql`jsonb_set(doc, '{spoilboard}', ${JSON.stringify(spoilboard)}::jsonb)`, updated_at: now })
        .where('id', '=', id)
        .execute();
    });
}

/** Writes down a skim of the spoilboard, or what was measured after one: its new height is the machine's from now on. Gives why not, or null. */
export async function skim(id: string, { height, note, fresh, thin }: z.infer<typeof Skim>, author: string): Promise<string | null> {
  const row = (await machines()).find((machine) => machine.id === id);
  if (!row) return 'This machine is not in the shop any more.';
  const { height: before, least } = row.profile.spoilboard;
  const { units } = await shopSettings();
  const said = (mm: number) => formatLength(mm, { unit: units });
  const last = await db()
    .selectFrom('spoilboard_skim')
    .select('run_id')
    .where('machine_id', '=', id)
    .where('marks', '=', false)
    .orderBy('id', 'desc')
    .limit(1)
    .executeTakeFirst();
  // What was reckoned may well be measured a little thicker.
  if (!fresh && !last?.run_id && height > before + 1e-6)
    return `It was ${said(before)} thick, and a skim takes off. Was a new spoilboard fitted? Then say so. Else measure again.`;
  if (!thin && height < least)
    return `Below ${said(least)} it is not worth skimming: screws, slots and the bed come near. Fit a new one, or say that it is meant; every set-up then says that it is thin.`;
  await setHeight(row, height, fresh ? 'fitted' : last?.run_id ? 'measured' : 'skimmed', { note, author });
  return null;
}

/** A run that skimmed the spoilboard came to its end: its new height is reckoned and written down, once. */
export async function noteSkim(run: string): Promise<void> {
  const row = await db()
    .selectFrom('run')
    .innerJoin('release', 'release.id', 'run.release_id')
    .innerJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'run.job_id').onRef('job_revision.revision', '=', 'release.revision'))
    .select(['run.machine_id', 'run.author', 'run.setup', 'job_revision.doc'])
    .where('run.id', '=', run)
    .executeTakeFirst();
  const read = row && readJob(row.doc);
  const skimmed = read?.ok ? skimmedBy(read.job) : null;
  if (!row?.machine_id || !skimmed) return;
  const machine = (await machines()).find(({ id }) => id === row.machine_id);
  if (!machine || (await db().selectFrom('spoilboard_skim').select('id').where('run_id', '=', run).executeTakeFirst())) return;
  // From the same zero another run may have taken some of it already.
  const zero = row.setup.zeroZ?.at ?? run;
  const { reached } = await db()
    .selectFrom('spoilboard_skim')
    .select((eb) => eb.fn.max('below_zero').as('reached'))
    .where('machine_id', '=', machine.id)
    .where('zero_at', '=', zero)
    .executeTakeFirstOrThrow();
  const taken = Math.max(0, skimmed.to - Math.max(skimmed.from, reached ?? 0));
  const height = Math.max(0, Math.round((machine.profile.spoilboard.height - taken) * 1000) / 1000);
  if (height > 0) await setHeight(machine, height, 'skimmed', { note: '', author: row.author, run_id: run, zero_at: zero, below_zero: skimmed.to });
}

export interface SpoilboardState {
  /** Heights over time, oldest first; `reckoned` ones come from a run and nobody measured them. */
  heights: { at: Date; height: number; note: string; author: string; reckoned: boolean }[];
  /** The job whose run skimmed it last, as long as nothing was written down since: it may go on from its zero. */
  job: string | null;
  /** Runs since the last skim that cut through into it. */
  through: number;
  /** Is the height it has one that was reckoned? Then it is to be measured. */
  measure: boolean;
  /** Why it is time to skim. */
  due: string[];
}

const NEW_BOARD: SpoilboardState = { heights: [], job: null, through: 0, measure: false, due: [] };

/** Where the spoilboards of the shop stand, by machine. */
export async function spoilboards(): Promise<Record<string, SpoilboardState>> {
  const [rows, through] = await Promise.all([
    db()
      .selectFrom('spoilboard_skim')
      .leftJoin('run', 'run.id', 'spoilboard_skim.run_id')
      .select(['spoilboard_skim.machine_id', 'spoilboard_skim.at', 'height', 'note', 'spoilboard_skim.author', 'run_id', 'marks', 'run.job_id'])
      .orderBy('spoilboard_skim.id')
      .execute(),
    db()
      .selectFrom('run')
      .innerJoin('release', 'release.id', 'run.release_id')
      .innerJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'run.job_id').onRef('job_revision.revision', '=', 'release.revision'))
      .select(['run.machine_id', sql<number>`count(*)::int`.as('runs')])
      .where('run.state', '=', 'done')
      .where('run.machine_id', 'is not', null)
      .where(sql<boolean>`(release.report->>'deepest')::float > (job_revision.doc->'board'->>'thickness')::float`)
      .where(
        sql<boolean>`run.started_at > coalesce((select max(at) from spoilboard_skim skim where skim.machine_id = run.machine_id and not skim.marks), '-infinity')`,
      )
      .groupBy('run.machine_id')
      .execute(),
  ]);
  const states: Record<string, SpoilboardState> = {};
  for (const { machine_id, marks, run_id, job_id, ...line } of rows) {
    const state = (states[machine_id] ??= { ...NEW_BOARD, heights: [] });
    if (!marks) state.heights.push({ ...line, reckoned: run_id !== null });
    if (!marks) [state.measure, state.job] = [run_id !== null, job_id];
    state.due = whenToSkim(0, marks);
  }
  for (const { machine_id, runs } of through) {
    const state = (states[machine_id!] ??= { ...NEW_BOARD, heights: [] });
    state.through = runs;
    state.due = whenToSkim(runs, state.due.length > 0);
  }
  return states;
}

/** Marks were seen in a spoilboard: it is to be skimmed before small parts are cut on it. */
export async function noteMarks(id: string, note: string, author: string): Promise<void> {
  const row = (await machines()).find((machine) => machine.id === id);
  if (row) await db().insertInto('spoilboard_skim').values({ machine_id: id, height: row.profile.spoilboard.height, note, author, marks: true }).execute();
}

/** Where what is to be done to the machines stands, by machine. */
export async function cares(now = Date.now()): Promise<Record<string, CareState[]>> {
  const [shop, done, made] = await Promise.all([
    machines(),
    db()
      .selectFrom('machine_care')
      .select(['machine_id', 'name', sql<Date>`max(at)`.as('at')])
      .groupBy(['machine_id', 'name'])
      .execute(),
    db().selectFrom('machine').select(['id', 'created_at']).execute(),
  ]);
  const since = new Map(made.map(({ id, created_at }) => [id, created_at.getTime()]));
  // Hours since each moment something is counted from: added up in the database, whatever the number of runs.
  const moments = [...done.map(({ machine_id, at }) => ({ machine: machine_id, at })), ...made.map(({ id, created_at }) => ({ machine: id, at: created_at }))];
  const { rows: sums } = await sql<{ machine: string; at: Date; hours: number }>`
    select asked.machine, asked.at, coalesce((select sum(actual_seconds) from run where machine_id = asked.machine and started_at >= asked.at), 0) / 3600 as hours
    from jsonb_to_recordset(${JSON.stringify(moments)}::jsonb) as asked(machine text, at timestamptz)`.execute(db());
  return Object.fromEntries(
    shop.map(({ id, profile }) => {
      const hoursSince = (moment: number) => sums.find(({ machine, at }) => machine === id && at.getTime() === moment)?.hours ?? 0;
      const last = Object.fromEntries(done.filter(({ machine_id }) => machine_id === id).map(({ name, at }) => [name, at.getTime()]));
      return [id, careStates(profile.care ?? USUAL_CARE[profile.kind], last, since.get(id)!, hoursSince, now)];
    }),
  );
}

/** What the linked machines of the shop want done now, in words: for the morning. */
export async function duesOf(): Promise<string[]> {
  const [shop, boards, all] = await Promise.all([machines(), spoilboards(), cares()]);
  return shop
    .filter(({ connected }) => connected)
    .flatMap(({ id, name, profile }) => [
      ...(profile.kind === 'router' && boards[id]?.due.length ? [`${name}: skim the spoilboard`] : []),
      ...(all[id] ?? []).filter(({ due }) => due).map((care) => `${name}: ${care.name.charAt(0).toLowerCase()}${care.name.slice(1)}`),
    ]);
}

/** What is to be done to a machine, as its shop wants it; null for what is usual. Two of one name could not be told apart. */
export const Cares = z.object({
  cares: CareList.refine((list) => new Set(list.map(({ name }) => name.toLowerCase())).size === list.length, 'Two things to do have one name.')
    .refine((list) => list.every(({ hours, days }) => hours !== undefined || days !== undefined), 'Every one is due after hours, after days, or both.')
    .nullable(),
});

/** Writes down what is to be done to a machine. Gives why not, or null. */
export async function keepCares(id: string, { cares: list }: z.infer<typeof Cares>): Promise<string | null> {
  const doc = list === null ? sql<string>`doc - 'care'` : sql<string>`jsonb_set(doc, '{care}', ${JSON.stringify(list)}::jsonb)`;
  const { numUpdatedRows } = await db().updateTable('machine').set({ doc }).where('id', '=', id).executeTakeFirst();
  return Number(numUpdatedRows) === 0 ? 'This machine is not in the shop any more.' : null;
}

export const CareDone = z.object({ name: z.string().min(1).max(60), note: z.string().max(400).default('') });

/** Writes down that something was done to a machine. Gives why not, or null. */
export async function careDone(id: string, { name, note }: z.infer<typeof CareDone>, by: string): Promise<string | null> {
  const row = (await machines()).find((machine) => machine.id === id);
  if (!row) return 'This machine is not in the shop any more.';
  if (!(row.profile.care ?? USUAL_CARE[row.profile.kind]).some((care) => care.name === name)) return `“${name}” is not on the list of ${row.name}.`;
  await db().insertInto('machine_care').values({ machine_id: id, name, by, note }).execute();
  return null;
}
