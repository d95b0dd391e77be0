/** Runs: a released program, fitted to the board as it lies, given to the agent once every step is done; and the record of it. */
import { zeroZWords } from '@kerbe/core/setup/defects';
import { createHash, randomUUID } from 'node:crypto';
import { isToday } from 'date-fns';
import { cuttingWidth } from '@kerbe/core/bits';
import { topHeight, readJob, shallowestOf, type Job } from '@kerbe/core/job';
import { FRAME_FEED, marksFrom } from '@kerbe/core/feeds/beam';
import { powerWordsOf, processOf } from '@kerbe/core/process';
import { adaptProgram, bitsFrom, firstBitFitted, linesOf, OP, readProgram, resumeProgram, toPath } from '@kerbe/core/program';
import { boxWay, holdersAtWork, nextStep, outlineWay, setupSteps, surfaceOf, type Step } from '@kerbe/core/setup';
import { planMotion } from '@kerbe/core/motion';
import { agentCommand, NO_AGENT, presentSnapshot, type Person } from './agents';
import type { MachineSnapshot } from '$lib/machine';
import { db, type ProgramRecord } from './db';
import { machineFor, type MachineRow } from './machines';
import { programOf } from './releases';
import { shopSettings } from './shop';

interface Released {
  release: { id: string; job_id: string };
  program: ProgramRecord & { extents: NonNullable<ProgramRecord['extents']> };
  job: Job;
  /** The machine it is meant for. */
  shop: MachineRow;
}

/** A released program with the job it was planned from, or why there is none to run. */
async function released(machine: string, releaseId: string, name: string): Promise<Released | string> {
  const release = await db().selectFrom('release').select(['id', 'job_id', 'revision']).where('id', '=', releaseId).executeTakeFirst();
  const program = release && (await programOf(releaseId, name));
  if (typeof program === 'string') return program;
  if (!program?.extents) return 'Only a released program can be run, and this is not one.';
  const { doc } = await db()
    .selectFrom('job_revision')
    .select('doc')
    .where('job_id', '=', release!.job_id)
    .where('revision', '=', release!.revision)
    .executeTakeFirstOrThrow();
  const job = await db().selectFrom('job').select('revision').where('id', '=', release!.job_id).executeTakeFirstOrThrow();
  if (job.revision !== release!.revision) return 'The job was changed after this release. Release it again first.';
  const reading = readJob(doc);
  if (!reading.ok) return `The job of this release cannot be read: ${reading.why[0]}`;
  const shop = await machineFor(reading.job);
  if (shop?.id !== machine)
    return `This job is for ${shop?.name ?? 'a machine the shop has no more'}, not for this machine. Change it on Board, and release it again.`;
  return { release: release!, program: { ...program, extents: program.extents }, job: reading.job, shop };
}

/** What is still to be done before a program may run. */
function openStep({ job, program, release, shop: { profile } }: Released, bits: string[], machine: MachineSnapshot): Step | null {
  return nextStep(
    setupSteps({
      job,
      jobId: release.job_id,
      profile,
      program: {
        sha256: program.sha256,
        bits,
        spindle: /\bM0?[34]\b/.test(program.text),
        shallowest: shallowestOf(job),
        extents: program.extents,
        tile: program.tile,
      },
      machine,
      now: Date.now(),
      isToday,
    }),
  );
}

/** The planned seconds of a program from a line on: the share of its motion that is left. */
function secondsFrom(program: ProgramRecord, rest: string, job: Job): number {
  const motion = (text: string) => planMotion(toPath(readProgram(text)), job.machine).total;
  return (program.seconds * motion(rest)) / Math.max(1e-9, motion(program.text));
}

/** Starts a released program, and nothing else: what runs is read from the release, not from the browser. */
export async function startRun(
  machine: string,
  asked: { release: string; program: string; from?: number; here: boolean },
  person: Person,
  key: string,
): Promise<string | null> {
  // The same again after a lost answer: one run, not two.
  const before = await db()
    .selectFrom('run')
    .select(['id', 'release_id', 'program', 'state', 'from_line', 'machine_id'])
    .where('key', '=', key)
    .executeTakeFirst();
  if (
    before &&
    (before.machine_id !== machine || before.release_id !== asked.release || before.program !== asked.program || before.from_line !== (asked.from ?? null))
  )
    return 'This key was used for another command. Nothing was done.';
  if (before) {
    // The record comes a moment after the machine: what the agent says is so.
    const began = before.state !== 'starting' || (await presentSnapshot(machine)).run?.id === before.id;
    return began ? null : 'This start is under way, and its end is not known yet. Look at the machine.';
  }
  const found = await released(machine, asked.release, asked.program);
  if (typeof found === 'string') return found;
  const { release, program, job, shop } = found;
  const now = await presentSnapshot(machine);
  const { setup } = now;
  const { spindle, limits } = shop.profile;
  const bits = asked.from ? bitsFrom(program.text, asked.from, program.bits) : program.bits;
  const open = openStep(found, bits, now);
  if (open) return `Before the start: ${open.title.charAt(0).toLowerCase()}${open.title.slice(1)}. ${open.holds}`;

  if (!asked.here) return 'Nothing starts unless somebody is at the machine and says that it is clear.';

  let text = firstBitFitted(program.text);
  if (readProgram(text).kind.includes(OP.LENGTH))
    return 'This program calls bit lengths from a tool table (G43), and Kerbe measures every bit at this machine: the length would count twice. Release it with lengths measured by the machine.';
  let source: number[] | undefined;
  if (asked.from) {
    const resumed = resumeProgram(text, asked.from, job.program.spindleDelay ?? job.machine.spindleSeconds, processOf(job).resume);
    if ('why' in resumed) return resumed.why;
    ({ text, source } = resumed);
  }
  const estimate = asked.from ? secondsFrom(program, text, job) : program.seconds;
  const angle = setup.zeroXY?.angle ?? 0;
  const surface = setup.follow ? surfaceOf(setup.readings, 0) : undefined;
  const scale = spindle.fullScale === limits.maxSpindle ? undefined : spindle.fullScale / limits.maxSpindle;
  if (angle !== 0 || surface || scale !== undefined) {
    const fitted = adaptProgram(text, { angle, surface, spindle: scale });
    if ('why' in fitted) return fitted.why;
    text = fitted.text;
    const before = source;
    source = before ? fitted.source.map((line) => before[line - 1]) : fitted.source;
  }
  const skipped = setup.confirmed.filter((word) => word.skipped).map(({ id, by }) => `${id} (${by})`);
  const note = [
    asked.from ? `from line ${asked.from}` : '',
    angle ? `turned ${((angle * 180) / Math.PI).toFixed(2)}°` : '',
    surface ? `follows a surface, readings: ${setup.readings.length}` : '',
    setup.zeroXY ? `XY: ${setup.zeroXY.by}` : '',
    setup.zeroZ ? `Z: ${zeroZWords(setup.zeroZ, job.units)}` : '',
    skipped.length > 0 ? `skipped: ${skipped.join(', ')}` : '',
  ]
    .filter(Boolean)
    .join(' · ');
  const id = randomUUID();
  const { numInsertedOrUpdatedRows } = await db()
    .insertInto('run')
    .values({
      id,
      release_id: release.id,
      job_id: release.job_id,
      program: program.name,
      state: 'starting',
      estimate_seconds: estimate,
      lines: program.lines,
      author: person.by,
      author_id: person.id,
      key,
      crib: JSON.stringify(Object.fromEntries(bits.flatMap((bit) => (job.tools[bit]?.crib ? [[bit, job.tools[bit].crib]] : [])))),
      ended_at: null,
      message: '',
      notes: '',
      line: 0,
      actual_seconds: 0,
      machine: shop.name,
      machine_id: machine,
      setup: JSON.stringify(setup),
      bit_seconds: '{}',
      from_line: asked.from ?? null,
      cut_last: null,
      defects: '[]',
    })
    .onConflict((conflict) => conflict.column('key').doNothing())
    .executeTakeFirst();
  if (Number(numInsertedOrUpdatedRows ?? 0) === 0) return 'This start is under way already.';
  const order = {
    id,
    name: program.name,
    sha256: program.sha256,
    program: text,
    textSha256: createHash('sha256').update(text).digest('hex'),
    ...(source ? { source, lines: linesOf(program.text).length } : {}),
    process: job.process,
    bits,
    datum: job.datum,
    extents: program.extents,
    workOffset: job.program.workOffset,
    vacuum: shop.profile.shows && job.board.holdDown === 'vacuum',
    ...(processOf(job).attended ? { presence: 60 * (await shopSettings()).presence } : {}),
    note,
  };
  const why = await agentCommand(machine, { do: 'start', order }, person, key);
  // Without an answer nobody knows: the row stays, and the agent's own record says what became of it.
  if (why === NO_AGENT) return why;
  if (why) await db().deleteFrom('run').where('id', '=', id).execute();
  else await db().updateTable('job').set({ state: 'at-machine' }).where('id', '=', release.job_id).execute();
  return why;
}

/** Drives round a released program: its box or its outline, over what holds the board. */
export async function frameRun(
  machine: string,
  asked: { release: string; program: string; shape: 'box' | 'outline'; height: number; power?: number },
  person: Person,
  key: string,
): Promise<string | null> {
  const found = await released(machine, asked.release, asked.program);
  if (typeof found === 'string') return found;
  const { program, job, shop } = found;
  const way = asked.shape === 'box' ? boxWay(program.extents.min, program.extents.max) : outlineWay(toPath(readProgram(program.text)));
  const first = job.tools[program.bits[0]];
  const up = job.datum.z === 'spoilboard' ? topHeight(job.board) : 0;
  const reach = first ? Math.max(cuttingWidth(first), first.shank) / 2 : 0;
  const frame = { do: 'frame' as const, way, height: asked.height + up, sha256: program.sha256, holders: holdersAtWork(job), reach };
  if (asked.power === undefined) {
    const { pointer } = shop.profile;
    return agentCommand(machine, { ...frame, ...(pointer ? { pointer: [pointer.x, pointer.y] as [number, number] } : {}) }, person, key);
  }
  if (!processOf(job).burns || first?.kind !== 'head') return 'Only a laser frames with its beam.';
  const marks = marksFrom(first, job.board.material);
  if (asked.power > marks)
    return `On ${job.board.material} that may leave a mark: from ${marks < 1 ? marks.toFixed(1) : Math.floor(marks)} % on at this head. Take less, or the pointer.`;
  const level = (powerWordsOf(job).scale * asked.power) / 100;
  return agentCommand(machine, { ...frame, beam: { level, feed: FRAME_FEED } }, person, key);
}
