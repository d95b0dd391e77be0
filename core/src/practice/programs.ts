/**
 * Programs of the exercises, planned and written as any other: small parts for the simulated machines, and some that are
 * wrong on purpose. They are run on nothing else.
 */
import { readChart, STARTING_CHART } from '../bits/chart.ts';
import { kindNamed } from '../cuts/index.ts';
import type { Grey } from '../cuts/laser/tone.ts';
import { suggestBeam } from '../feeds/beam.ts';
import { Bit, JOB_VERSION, readJob, type Job } from '../job/index.ts';
import { LASER_BENCH, TORCH_TABLE } from '../machine/index.ts';
import { planJob, writePrograms } from '../plan/index.ts';
import { processOf, type ProcessName } from '../process/index.ts';
import { linesOf, readProgram, resumePoints, resumeProgram, statsOf, type ResumePoint } from '../program/index.ts';
import { PRACTICE_HEAD } from './laser.ts';
import { PRACTICE_NOZZLE } from './torch.ts';

/** A program that lies ready for an exercise. */
export interface PracticeProgram {
  name: string;
  text: string;
  /** Its header, without brackets: what a person reads before they start it. */
  header: string[];
  /** Where it can be taken up again. */
  places: ResumePoint[];
  seconds: number;
  job: Job;
}

type Thing = { id: string } & Record<string, unknown>;
const ellipse = (id: string, x: number, y: number, size: number) => ({ kind: 'ellipse', id, x, y, width: size, height: size });
const rectangle = (id: string, x: number, y: number, width: number, height: number) => ({ kind: 'rectangle', id, x, y, width, height });
const byId = <T extends { id: string }>(things: readonly T[]) => Object.fromEntries(things.map((one) => [one.id, one]));

function jobOf(document: object): Job {
  const reading = readJob({ kerbe: JOB_VERSION, outline: null, ...document });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

/** A plate of the exercises with cuts through what is drawn on it. */
function plate(items: Thing[], cuts: object[] = [{}], clearance = 15): Job {
  const { feed, kerf, pierceHeight, pierceDelay, cutHeight, volts } = readChart(STARTING_CHART, 3)!.row;
  const all = cuts.map((cut, k) => ({
    kind: 'torch',
    id: `cut${k}`,
    on: 'art',
    tool: PRACTICE_NOZZLE.id,
    leadIn: 3,
    feed,
    kerf,
    pierceHeight,
    pierceDelay,
    cutHeight,
    volts,
    ...cut,
  }));
  return jobOf({
    name: 'Practice plate',
    process: 'torch',
    machine: TORCH_TABLE,
    board: { width: 300, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats' },
    items: byId(items),
    itemOrder: items.map(({ id }) => id),
    tools: { [PRACTICE_NOZZLE.id]: PRACTICE_NOZZLE },
    cuts: byId(all),
    cutOrder: all.map(({ id }) => id),
    program: { clearance, end: 'stay' },
  });
}

/** A sheet of the exercises: cuts are named by their kind, and take what is suggested for birch ply. */
function sheet(
  items: Thing[],
  cuts: (Record<string, unknown> & { kind: 'laser-fill' | 'laser-score' | 'laser-cut' | 'laser-picture' })[],
  fullPower = 1000,
): Job {
  const head = Bit.parse(PRACTICE_HEAD);
  const all = cuts.map((cut, k) => {
    const { feed, power, passes } = suggestBeam(head, 'birch ply', 3, kindNamed(cut.kind))!;
    return { id: `cut${k}`, tool: head.id, feed, power, ...(kindNamed(cut.kind).takesPictures ? {} : { passes }), ...cut };
  });
  return jobOf({
    name: 'Practice tag',
    process: 'laser',
    machine: { ...LASER_BENCH, fullPower },
    board: { width: 120, height: 80, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    items: byId(items),
    itemOrder: items.map(({ id }) => id),
    tools: { [head.id]: head },
    cuts: byId(all),
    cutOrder: all.map(({ id }) => id),
    program: { end: 'stay' },
  });
}

const PART = [rectangle('outline', 100, 90, 80, 60), ellipse('hole', 100, 90, 20)];
const TAG = [rectangle('tag', 60, 40, 30, 18), ellipse('mark', 60, 40, 8)];
const MARK = { kind: 'laser-fill', on: ['mark'] } as const;
/** Slower than is suggested: it must come free for certain. */
const OUT = { kind: 'laser-cut', on: ['tag'], feed: 120 } as const;
/** A picture of a slope from dark to light, 142 pixels wide. */
const SLOPE: Grey = { width: 142, height: 71, data: Uint8Array.from({ length: 142 * 71 }, (_, k) => Math.round((255 * (k % 142)) / 141)) };
/** As large as so many dots per inch make it. */
const slope = (dpi: number) =>
  sheet(
    [{ kind: 'picture', id: 'picture', asset: 'slope', x: 60, y: 40, width: (SLOPE.width * 25.4) / dpi, height: (SLOPE.height * 25.4) / dpi }],
    [{ kind: 'laser-picture', on: ['picture'], linesPerMm: 2 }],
  );
const frame = (power: number) => sheet(TAG, [{ kind: 'laser-score', on: ['tag'], power, passes: 1, feed: 3000 }]);

const JOBS: Partial<Record<ProcessName, Record<string, () => Job>>> = {
  torch: {
    'part.nc': () => plate(PART),
    'part-on-line.nc': () => plate(PART, [{ kerfBy: 'machine' }]),
    'part-no-touch.nc': () => plate(PART, [{ touch: 'never' }]),
    // It rests on one slat near its left end.
    'tag.nc': () => plate([rectangle('tag', 172, 80, 90, 40)]),
    'two-holes.nc': () => plate([ellipse('left', 90, 80, 20), ellipse('right', 260, 80, 20)], [{ side: 'inside', rapids: 'straight', touch: 'never' }], 5),
    'file-a.nc': () => plate(PART, [{}, { on: ['outline'], side: 'outside' }]),
    'file-b.nc': () => plate(PART),
  },
  laser: {
    'tag.nc': () => sheet(TAG, [MARK, OUT]),
    'tag-s10000.nc': () => sheet(TAG, [MARK, OUT], 10_000),
    'file-a.nc': () => sheet(TAG, [MARK, OUT]),
    'file-b.nc': () => sheet(TAG, [OUT, MARK]),
    'frame-20.nc': () => frame(20),
    'frame-1.nc': () => frame(1),
    'picture-a.nc': () => slope(30),
    'picture-b.nc': () => slope(90),
  },
};

const written = new Map<string, Promise<PracticeProgram>>();

/** A program of the exercises by its name, planned when it is first asked for; null when there is none of it. */
export function practiceProgram(process: ProcessName, name: string): Promise<PracticeProgram> | null {
  const make = JOBS[process]?.[name];
  if (!make) return null;
  const key = `${process} ${name}`;
  if (!written.has(key)) written.set(key, write(name, make()));
  return written.get(key)!;
}

/** Names of what lies ready for a kind of machine. */
export const practiceNames = (process: ProcessName): string[] => Object.keys(JOBS[process] ?? {});

async function write(name: string, job: Job): Promise<PracticeProgram> {
  const plan = await planJob(job, { fonts: () => undefined, pictures: async () => SLOPE });
  const [{ text, seconds }] = writePrograms(job, plan, 'practice');
  const lines = linesOf(text);
  const header = lines
    .slice(
      0,
      lines.findIndex((line) => !line.startsWith('(')),
    )
    .map((line) => line.replace(/^\(|\)$/g, ''));
  return { name, text, header, places: resumePoints(text), seconds, job };
}

/**
 * What the machine side is handed to run a practice program, or why it cannot be.
 *
 * @param from line to take it up at; its beginning when left out
 */
export async function practiceOrder(process: ProcessName, name: string, from?: number) {
  const program = await practiceProgram(process, name);
  if (!program) return 'There is no such practice program.';
  const { job, text } = program;
  const extents = statsOf(readProgram(text), job.machine).extents!;
  const order = { name, process, bits: Object.keys(job.tools), datum: job.datum, extents, lines: linesOf(text).length };
  if (from === undefined) return { ...order, program: text };
  const resumed = resumeProgram(text, from, 0, processOf(job).resume);
  return 'why' in resumed ? resumed.why : { ...order, program: resumed.text, source: resumed.source };
}
