/** The plan of the day: jobs that are on it, what they take, what the machines run now, in the order somebody put them. */
import { sql } from 'kysely';
import { learnedFactor, type PastRun } from '@kerbe/core/advise/learned';
import { bitsOfDay, callsOf, inOrder, planDay, type Cost, type Day, type DayMachine, type DayTask } from '@kerbe/core/day';
import { DayOrder, Planning } from '@kerbe/core/day/planning';
import { skimBits, skimJob, skimSeconds } from '@kerbe/core/setup/skim';
import type { Bit, Job } from '@kerbe/core/job';
import { formatLength, formatNumber, type LengthUnit } from '@kerbe/core/length';
import { PROCESSES } from '@kerbe/core/process';
import { midnight, minuteOf, momentOf, openSpans } from '$lib/day/clock';
import type { CalledFor, DayView, DayJob } from '$lib/day/view';
import { meantOf } from '$lib/machine';
import { latestSnapshot } from './agents';
import { ownFilesOf, PLANNED_FROM } from './assets';
import { inChild } from './children';
import { spoilboards } from './care';
import { plannedCost, prices } from './costs';
import { cribBits } from './crib';
import { db, type JobFigures } from './db';
import { machines, type MachineRow } from './machines';
import { trouble } from './log';

/** Days that are looked ahead. */
const DAYS = 14;

export async function dayOrder(): Promise<DayOrder> {
  const row = await db().selectFrom('day').select('doc').executeTakeFirst();
  return DayOrder.parse(row?.doc ?? {});
}

export async function keepDayOrder(order: DayOrder): Promise<void> {
  const doc = JSON.stringify(order);
  await db()
    .insertInto('day')
    .values({ doc })
    .onConflict((one) => one.column('one').doUpdateSet({ doc }))
    .execute();
}

/** What is said of a job for the day is changed by these, and by nothing else: two changes at once both stay. Null when the job is not in the shop. */
export async function changePlanning(id: string, change: Record<string, unknown>): Promise<ReturnType<typeof Planning.safeParse> | null> {
  return db()
    .transaction()
    .execute(async (trx) => {
      const row = await trx.selectFrom('job').select('planning').where('id', '=', id).forUpdate().executeTakeFirst();
      if (!row) return null;
      const planning = Planning.safeParse({ ...row.planning, ...change });
      if (planning.success)
        await trx
          .updateTable('job')
          .set({ planning: JSON.stringify(planning.data) })
          .where('id', '=', id)
          .execute();
      return planning;
    });
}

interface OnDay {
  id: string;
  name: string;
  picture: string | null;
  revision: number;
  planning: Planning;
  figures: JobFigures | null;
  head: Pick<Job, 'board' | 'datum' | 'process' | 'machine' | 'units'>;
  done: number;
}

/** What must be known of a document without reading all of it. */
const HEAD = sql<OnDay['head']>`jsonb_build_object('board', doc->'board', 'datum', doc->'datum', 'process', coalesce(doc->>'process', 'router'),
  'machine', jsonb_build_object('id', doc->'machine'->'id'), 'units', doc->>'units')`.as('head');

async function jobsOnDay(): Promise<OnDay[]> {
  const rows = await db()
    .selectFrom('job')
    .select(['id', 'name', 'picture', 'revision', 'planning', 'figures', HEAD])
    .select(
      sql<number>`(select count(*)::int from run where run.job_id = job.id and run.state = 'done' and run.started_at >= job.since::timestamptz)`.as('done'),
    )
    .where(sql<boolean>`since is not null`)
    .where('archived_at', 'is', null)
    .orderBy(sql`since`)
    .execute();
  return rows.map((row) => ({ ...row, planning: Planning.parse(row.planning) }));
}

/** What is being worked out, or could not be, by job and revision: every screen asks, and each is tried once. */
const asked = new Map<string, Promise<JobFigures | null>>();
const MOST_ASKED = 1000;
const TRY_AGAIN = 600_000;

/** What a job takes, worked out once for each revision. Null when it cannot be: then its time is not known. */
async function figuresOf({ id, revision, figures }: OnDay): Promise<JobFigures | null> {
  // Those kept before wear was counted are worked out again.
  if (figures?.revision === revision && figures.worn) return figures;
  const key = `${id}@${revision}`;
  const known = asked.get(key);
  if (known) return known;
  if (asked.size >= MOST_ASKED) asked.clear();
  const working = workedOut(id, revision);
  asked.set(key, working);
  const forget = () => void asked.delete(key);
  // What is kept with the job need not be remembered here; what could not be worked out is tried again in a while, a database that was away at once.
  working.then((done) => (done ? forget() : setTimeout(forget, TRY_AGAIN).unref()), forget);
  return working;
}

async function workedOut(id: string, revision: number): Promise<JobFigures | null> {
  const row = await db().selectFrom('job').select(PLANNED_FROM).where('id', '=', id).executeTakeFirst();
  if (!row) return null;
  const own = await ownFilesOf(row);
  const worked = await inChild('figures', { doc: row.doc, own }).catch((error: Error) => {
    trouble('what a job takes could not be worked out', error, { job: id });
    return null;
  });
  if (!worked) return null;
  const figures: JobFigures = { revision, ...worked };
  await db()
    .updateTable('job')
    .set({ figures: JSON.stringify(figures) })
    .where('id', '=', id)
    .execute();
  return figures;
}

/** What one board of a job costs the shop, and how it is planned; null when it is not in the shop, or cannot be worked out. */
export async function costOfJob(id: string): Promise<{ cost: Cost; planning: Planning } | null> {
  const row = await db().selectFrom('job').select(['id', 'name', 'picture', 'revision', 'planning', 'figures', HEAD]).where('id', '=', id).executeTakeFirst();
  if (!row) return null;
  const planning = Planning.parse(row.planning);
  const figures = await figuresOf({ ...row, planning, done: 0 });
  if (!figures) return null;
  const [known, shop, learned] = [await prices(), await machines(), await factors()];
  const machine = meantOf(shop, row.head);
  return { planning, cost: plannedCost(row.head.board, figures, (machine && learned.get(machine.id)) ?? 1, planning.finishing, known) };
}

/** How much longer than reckoned each machine really takes, by its own runs. */
async function factors(): Promise<Map<string, number>> {
  const runs = await db()
    .selectFrom('run')
    .select(['machine_id', 'estimate_seconds as estimate', 'actual_seconds as actual'])
    .where('state', '=', 'done')
    .where('machine_id', 'is not', null)
    .orderBy('started_at', 'desc')
    .limit(400)
    .execute();
  const by = new Map<string, PastRun[]>();
  for (const { machine_id: id, ...run } of runs) by.set(id!, [...(by.get(id!) ?? []), run]);
  return new Map([...by].map(([id, past]) => [id, learnedFactor(past)?.factor ?? 1]));
}

/** About how long a machine's spoilboard takes to skim, whole minutes: all of its bed, with the widest bit that planes. */
function skimMinutes(machine: Pick<MachineRow, 'id' | 'profile'>, bits: readonly Bit[]): number {
  const { width, height } = machine.profile.limits.usable;
  return Math.ceil(skimSeconds(skimJob({ width, depth: height, bit: skimBits(bits)[0], skim: 0.2, repeats: 1, overlap: 0 }, machine, 'mm')) / 60);
}

/** What runs now, by machine: of which job, and how many seconds of it are left as far as one can say. */
async function underWay(shop: readonly MachineRow[]): Promise<Map<string, { job: string; run: string; from: Date; left: number }>> {
  const runs = shop.flatMap(({ id }) => {
    const { run } = latestSnapshot(id);
    return run && !run.endedAt ? [{ machine: id, run }] : [];
  });
  if (runs.length === 0) return new Map();
  const rows = await db()
    .selectFrom('run')
    .select(['id', 'job_id', 'estimate_seconds'])
    .where(
      'id',
      'in',
      runs.map(({ run }) => run.id),
    )
    .execute();
  return new Map(
    runs.flatMap(({ machine, run }) => {
      const row = rows.find(({ id }) => id === run.id);
      return row
        ? [[machine, { job: row.job_id, run: run.id, from: new Date(run.startedAt), left: Math.max(0, row.estimate_seconds - run.seconds) }] as const]
        : [];
    }),
  );
}

/** A board as one fetches it. */
const boardName = ({ material, width, height, thickness }: Job['board'], unit: LengthUnit): string =>
  `${material}, ${[width, height].map((mm) => formatNumber(mm, { unit })).join(' × ')} × ${formatLength(thickness, { unit })}`;

/** The day as it stands at a moment. @param order another than the one that is kept: null plans it anew */
export async function dayAt(now: Date, order?: DayOrder | null): Promise<DayView> {
  const first = midnight(now);
  const minute = Math.floor((now.getTime() - first.getTime()) / 60_000);
  const [known, shop, jobs, learned] = [await prices(), await machines(), await jobsOnDay(), await factors()];
  const { hours, units } = known.settings;
  const running = await underWay(shop);
  const kept = order ?? (await dayOrder());
  const own = new Map<string, MachineRow>();
  const tasks: DayTask[] = [];
  const told: DayJob[] = [];
  const taken = await Promise.all(jobs.map(figuresOf));
  for (const [i, job] of jobs.entries()) {
    const machine = meantOf(shop, job.head);
    const figures = taken[i];
    const { planning, head } = job;
    const isRunning = machine !== null && running.get(machine.id)?.job === job.id;
    const left = Math.max(0, planning.quantity - job.done - (isRunning ? 1 : 0));
    const why = !machine
      ? 'The shop has no machine for it.'
      : !figures
        ? 'What it takes could not be worked out: open it and look.'
        : figures.seconds === 0
          ? 'There is nothing to cut in it yet.'
          : figures.forbidden
            ? 'A finding forbids cutting it: open it and look at Proof.'
            : null;
    const cost = figures && plannedCost(head.board, figures, (machine && learned.get(machine.id)) ?? 1, planning.finishing, known);
    told.push({ id: job.id, name: job.name, picture: job.picture, planning, done: job.done, left, seconds: figures?.seconds ?? null, cost, why });
    if (why || !machine || !figures) continue;
    own.set(machine.id, machine);
    const factor = learned.get(machine.id) ?? 1;
    for (let k = 0; k < left; k++) {
      const id = `${job.id}#${job.done + (isRunning ? 1 : 0) + k + 1}`;
      tasks.push({
        id,
        job: job.id,
        name: planning.quantity > 1 ? `${job.name} (${job.done + (isRunning ? 1 : 0) + k + 1} of ${planning.quantity})` : job.name,
        machine: machine.id,
        minutes: Math.max(1, Math.round((figures.seconds * factor) / 60)),
        // A head that is never changed is none to fetch or to fit.
        bits: PROCESSES[head.process].burns ? [] : figures.bits.map(({ key }) => key),
        calls: figures.calls.map((at) => Math.round((at * factor) / 60)),
        board: boardName(head.board, units),
        zero: `${head.datum.z} ${head.board.thickness}`,
        due: planning.due ? minuteOf(planning.due, first) : null,
        urgent: planning.urgent,
        finishing: planning.finishing,
        notBefore: kept.pins[id] ? minuteOf(kept.pins[id], first) : 0,
        boardHere: planning.boardHere,
      });
    }
  }
  for (const id of running.keys())
    own.set(
      id,
      shop.find((one) => one.id === id)!,
    );
  const [boards, bits] = await Promise.all([spoilboards(), cribBits()]);
  const lanes: DayMachine[] = [...own.values()].map(({ id, name, profile }) => {
    const run = running.get(id);
    const { kind } = profile;
    const warmUp = Math.round(profile.limits.warmUpSeconds / 60);
    return {
      id,
      name,
      watched: PROCESSES[kind].attended,
      free: run ? minute + Math.ceil(run.left / 60) : 0,
      fitted: null,
      board: null,
      zero: null,
      morning: [
        ...(kind === 'router' && warmUp > 0 ? [{ name: 'warm-up', minutes: warmUp }] : []),
        ...(boards[id]?.due.length ? [{ name: 'a skim of the spoilboard', minutes: skimMinutes({ id, profile }, bits) }] : []),
      ],
    };
  });
  const day: Day = { now: minute, open: openSpans(hours, first, DAYS), people: hours.people, machines: lanes, tasks };
  const place = new Map(kept.order.map((id, i) => [id, i]));
  // What is new on the plan comes last, in the order it came.
  const placed = [...tasks].sort((a, b) => (place.get(a.id) ?? 1e6) - (place.get(b.id) ?? 1e6));
  const plan = order === null ? planDay(day) : inOrder(day, placed);
  const asked = inOrder(day, tasks);
  const names = new Map(taken.flatMap((figures) => figures?.bits.map((bit) => [bit.key, bit[units]] as const) ?? []));
  return {
    first: momentOf(0, first).slice(0, 10),
    now: minute,
    hours,
    open: [...day.open],
    machines: lanes.map(({ id, name, watched }) => ({ id, name, watched, now: nowOf(running.get(id), jobs, first, minute) })),
    slots: plan.slots,
    late: plan.late,
    changes: plan.changes,
    asCame: { late: asked.late, changes: asked.changes },
    jobs: told,
    bits: bitsOfDay(plan),
    names: Object.fromEntries(names),
    pins: kept.pins,
    order: plan.slots.map(({ task }) => task.id),
    calls: callsOf(plan, minute)
      .slice(0, 60)
      .map((call): CalledFor => ({
        ...call,
        moment: momentOf(call.at, first),
        machine: lanes.find(({ id }) => id === call.machine)?.name ?? call.machine,
        task: call.task.name,
      })),
  };
}

function nowOf(
  run: { job: string; from: Date; left: number } | undefined,
  jobs: readonly OnDay[],
  first: Date,
  minute: number,
): DayView['machines'][number]['now'] {
  if (!run) return null;
  return {
    name: jobs.find(({ id }) => id === run.job)?.name ?? 'a job that is not on the plan',
    job: run.job,
    from: Math.floor((run.from.getTime() - first.getTime()) / 60_000),
    to: minute + Math.ceil(run.left / 60),
  };
}
