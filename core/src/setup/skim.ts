/** The spoilboard of a machine: the job that skims it, how long it lasts, when it is time; and what else of a machine is due. */
import { cuttingWidth, isStraight, stepOver } from '../bits/index.ts';
import { usualBit } from '../bits/usual.ts';
import type { Bit } from '../bits/schema.ts';
import { kindOf } from '../cuts/index.ts';
import { suggestFeeds } from '../feeds/index.ts';
import { JOB_VERSION, type Cut, type Job, type JobInput } from '../job/index.ts';
import { workingJob } from '../job/working.ts';
import type { LengthUnit } from '../length/index.ts';
import type { MachineProfile } from '../machine/index.ts';

export interface SkimForm {
  /** Size of what is skimmed, mm. */
  width: number;
  depth: number;
  bit: Bit;
  /** Taken off at a time, mm, and how often. (Common practice: 0.2 mm or 0.010 in, never deeper; repeated until no mark is left.) */
  skim: number;
  repeats: number;
  /** Between lanes; left out, 0.7 of the bit. */
  stepover?: number;
  /** How far the middle of the bit runs beyond the edges, mm. */
  overlap: number;
}

/**
 * The job that skims the spoilboard: it is the board of the job, perimeter first, then back and forth.
 * @returns the job, its lanes, and what the machine's limits changed of the usual figures, in mm and mm/min
 */
export function skimJob(
  { width, depth, bit, skim, repeats, stepover, overlap }: SkimForm,
  machine: { id: string; profile: MachineProfile },
  units: LengthUnit,
): { job: JobInput; step: number; feed: number; limited: boolean } {
  const { limits, spoilboard } = machine.profile;
  const asked = stepover ?? 0.7 * cuttingWidth(bit);
  // A spoilboard is MDF: light on the bit, however large it is.
  const feeds = suggestFeeds(bit, 'MDF', limits, asked);
  const free = suggestFeeds(bit, 'MDF', { ...limits, maxSpeed: [1e6, 1e6, 1e6] }, asked);
  const cut = {
    kind: 'surface' as const,
    id: 'skim',
    name: 'Skim the spoilboard',
    on: 'art' as const,
    tool: bit.id,
    of: 'spoilboard' as const,
    skim,
    repeats,
    overlap,
    ...(stepover === undefined ? {} : { stepover }),
    feed: feeds.feed,
    plunge: feeds.plunge,
    speed: feeds.speed,
  };
  const job: JobInput = {
    kerbe: JOB_VERSION,
    name: `Skim of ${limits.name}`,
    units,
    process: 'router',
    board: { width, height: depth, thickness: spoilboard.height, material: 'MDF', holdDown: 'screws' },
    datum: { corner: 'lower-left', z: 'top' },
    machine: { ...limits, id: machine.id },
    items: {},
    itemOrder: [],
    tools: { [bit.id]: bit },
    cuts: { skim: cut },
    cutOrder: ['skim'],
  };
  const across = Math.min(width, depth) + 2 * overlap;
  return { job, step: across / Math.max(1, Math.ceil(across / stepOver(bit, asked) - 1e-9)), feed: feeds.feed, limited: feeds.feed < free.feed - 1e-9 };
}

/** The bits that plane, the widest first: those of the shop, else the usual one. */
export function skimBits(bits: readonly Bit[]): [Bit, ...Bit[]] {
  const [first = usualBit('surf25', bits), ...rest] = bits.filter((bit) => isStraight(bit) && bit.diameter >= 6).sort((a, b) => b.diameter - a.diameter);
  return [first, ...rest];
}

/** About how long a skim takes at its feed, s: once round, and its lanes. */
export function skimSeconds({ job, step, feed }: Pick<ReturnType<typeof skimJob>, 'job' | 'step' | 'feed'>): number {
  const { width, height } = job.board!;
  const lanes = Math.ceil(Math.min(width!, height!) / step) + 1;
  return ((2 * (width! + height!) + lanes * Math.max(width!, height!)) / feed) * 60;
}

/** The same again, deeper by what was taken: it needs no new zero. */
export function skimAgain(job: Job): Job {
  const cuts = Object.fromEntries(
    Object.entries(job.cuts).map(([id, cut]) => {
      const planes = kindOf(cut).planes?.(cut);
      return [id, planes?.of === 'spoilboard' ? ({ ...cut, startDepth: planes.to } as Cut) : cut];
    }),
  );
  return { ...job, cuts };
}

/** From where to where below its zero a job skims the spoilboard, mm; null when it does not. */
export function skimmedBy(job: Job): { from: number; to: number } | null {
  for (const cut of Object.values(workingJob(job).cuts)) {
    const planes = kindOf(cut).planes?.(cut);
    if (planes?.of === 'spoilboard') return { from: planes.from, to: planes.to };
  }
  return null;
}

/** How many skims of a thickness a spoilboard still has. @param skim mm at a time */
export const skimsLeft = ({ height, least }: MachineProfile['spoilboard'], skim: number): number => Math.max(0, Math.floor((height - least) / skim + 1e-9));

/** So many through cuts in a spoilboard, and it is time. (Common practice: every few weeks of cutting through.) */
export const THROUGH_CUTS = 25;

/** Why it is time to skim, in no unit; empty when it is not. @param through runs that cut through since the last skim */
export function whenToSkim(through: number, marks: boolean): string[] {
  return [
    ...(marks ? ['Marks were noted in it.'] : []),
    ...(through >= THROUGH_CUTS ? [`${through} runs cut through into it since it was skimmed: small parts find no hold between the grooves.`] : []),
  ];
}

/** Something a machine wants done again and again: after so many hours of cutting, or so many days; whichever comes first. */
export interface Care {
  name: string;
  hours?: number;
  days?: number;
}

/** Where a care stands: what is left of it in hours and days, what of that is said, and whether it is due. */
export interface CareState extends Care {
  /** When it was done last; null: never, as far as anybody wrote down. */
  done: number | null;
  /** Hours cut since. */
  since: number;
  left: { hours: number | null; days: number | null };
  due: boolean;
}

/** What the makers of such machines mostly ask for; the machine's own manual decides. (Common practice.) */
export const USUAL_CARE: Record<MachineProfile['kind'], readonly Care[]> = {
  router: [
    { name: 'Clean collets and nuts', hours: 20 },
    { name: 'Wipe and grease the rails', hours: 60, days: 30 },
    { name: 'Empty the dust filter', hours: 30 },
    { name: 'Square the gantry', days: 180 },
  ],
  torch: [
    { name: 'Drain the water trap of the air line', days: 1 },
    { name: 'Clear slag from the slats', hours: 8 },
    { name: 'Wipe the rails', hours: 30, days: 14 },
    { name: 'Check the torch lead and the work clamp', hours: 40, days: 30 },
  ],
  laser: [
    { name: 'Clean the lens', hours: 5, days: 7 },
    { name: 'Empty the tray below the honeycomb', hours: 10 },
    { name: 'Clean or change the extraction filter', hours: 60 },
    { name: 'Wipe and oil the rails', hours: 60, days: 60 },
  ],
};

const DAY = 86_400_000;

/**
 * Where every care of a machine stands; moments are milliseconds.
 * @param done when each was done last, by its name; what was never written down counts from `since`
 * @param hoursSince hours the machine cut since a moment
 */
export function careStates(
  cares: readonly Care[],
  done: Readonly<Record<string, number>>,
  since: number,
  hoursSince: (moment: number) => number,
  now: number,
): CareState[] {
  return cares.map((care) => {
    const last = done[care.name] ?? null;
    const hours = hoursSince(last ?? since);
    const left = {
      hours: care.hours === undefined ? null : care.hours - hours,
      days: care.days === undefined ? null : care.days - (now - (last ?? since)) / DAY,
    };
    return { ...care, done: last, since: hours, left, due: (left.hours ?? 1) <= 0 || (left.days ?? 1) <= 0 };
  });
}
