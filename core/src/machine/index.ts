/**
 * A machine as its shop knows it: what it can do, what lies on its bed, and how it is talked to.
 * Plain data, so that a shop can describe its own. Lengths are mm in machine coordinates: X and Y
 * from the home corner's side of the bed, Z down from its top.
 */
import { z } from 'zod';
import { length, notNegative, positive } from '../fields/index.ts';

const triple = z.tuple([positive, positive, positive]);
/** What a job must know of the machine it is cut on. */
export const Machine = z.strictObject({
  name: z.string().max(80).default('Router'),
  /** Travel of X, Y, Z, mm. */
  travel: triple.default([1300, 900, 130]),
  /** The part of the bed that can be reached and used: from corner and size, machine coordinates. */
  usable: z.strictObject({ x: length, y: length, width: positive, height: positive }).default({ x: 20, y: 20, width: 1240, height: 840 }),
  /** Greatest speed of X, Y, Z, mm/min. */
  maxSpeed: triple.default([10_000, 10_000, 4_000]),
  /** Greatest acceleration of X, Y, Z, mm/s². */
  acceleration: triple.default([900, 900, 500]),
  /** How far a corner may be cut short when it is taken without stopping, mm. */
  cornerDeviation: positive.default(0.02),
  maxSpindle: positive.default(24_000),
  spindleSeconds: notNegative.default(4),
  bitChangeSeconds: notNegative.default(120),
  /** Measuring one bit, setting zero, and warming the spindle before the first cut of the day, seconds. (Common practice: about ten minutes.) */
  measureSeconds: notNegative.default(30),
  zeroSeconds: notNegative.default(90),
  warmUpSeconds: notNegative.default(600),
  /** What S means at full power of a beam, on its controller's own scale; 1000 when nothing is said. */
  fullPower: positive.optional(),
  /** Longest program the controller holds, bytes, when it must hold all of it. */
  memory: z.int().min(1).optional(),
  /** Touch plate or corner block: its size on the board, mm, when probing is to be checked against what holds the board. */
  plate: z.strictObject({ width: positive, depth: positive }).default({ width: 50, depth: 50 }),
  /** Where it rests after a program, machine X and Y. */
  park: z.tuple([length, length]).default([10, 880]),
});
export type Machine = z.infer<typeof Machine>;

/** A laser as small shops have one: what a new laser job is planned for until its machine is known. (Common practice.) */
export const LASER_BENCH = Machine.parse({
  name: 'Laser',
  travel: [600, 400, 60],
  usable: { x: 0, y: 0, width: 600, height: 400 },
  maxSpeed: [30_000, 30_000, 1_200],
  acceleration: [2_000, 2_000, 300],
  bitChangeSeconds: 60,
  measureSeconds: 0,
  warmUpSeconds: 0,
  spindleSeconds: 0,
  park: [0, 400],
});

/** A torch table as small shops have one: what a new torch job is planned for until its machine is known. (Common practice.) */
export const TORCH_TABLE = Machine.parse({
  name: 'Torch table',
  travel: [1300, 1300, 100],
  usable: { x: 20, y: 20, width: 1260, height: 1260 },
  maxSpeed: [15_000, 15_000, 5_000],
  acceleration: [2_000, 2_000, 1_000],
  bitChangeSeconds: 60,
  measureSeconds: 0,
  warmUpSeconds: 0,
  spindleSeconds: 0,
  park: [20, 1280],
});

/** A regular expression that a person typed: it must be one. */
const pattern = z
  .string()
  .min(1)
  .max(300)
  .refine((text) => {
    try {
      new RegExp(text);
      return true;
    } catch {
      return false;
    }
  }, 'This is no regular expression.');
/** What is sent as it stands; \n, \r and \xNN stand for bytes. */
const bytes = z.string().max(120);

/** How a controller is talked to. */
export const LinkProfile = z.strictObject({
  transport: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('tcp'), host: z.string().min(1).max(200), port: z.int().min(1).max(65_535) }),
    z.strictObject({ kind: z.literal('serial'), path: z.string().min(1).max(200), baud: z.int().min(300).max(4_000_000) }),
  ]),
  /**
   * `kerbe`: the protocol of docs/machine-link.md - numbered lines, answered commands, status as
   * JSON. `plain`: a line at a time, each answered; everything else by the words below.
   */
  talk: z.enum(['kerbe', 'plain']).default('kerbe'),
  lineEnd: z.enum(['lf', 'cr', 'crlf']).default('lf'),
  /** How many lines, and at most how many bytes of them, may wait for their answers. */
  lines: z.int().min(1).max(500).default(24),
  bytes: z.int().min(20).max(1_000_000).optional(),
  accepted: pattern.default('^ok\\b'),
  /** Its last group says why. */
  refused: pattern.default('^error:? ?(.*)'),
  /** Asks for the status, and how often, milliseconds. */
  ask: bytes.default(''),
  every: z.int().min(20).max(5_000).default(100),
  /** Reads an answer: named groups state, x, y, z (machine), and when given wx, wy, wz, line, spindle. */
  status: pattern.optional(),
  /** Reads what it says of a touch: named groups x, y, z (machine), and when given touched, empty or 0 when nothing was. */
  probe: pattern.optional(),
  /** What it says when it has been switched on or reset: it has forgotten its place and its lines. */
  greeting: pattern.optional(),
  /** What it calls its states: a regular expression for each of Kerbe's. */
  states: z.partialRecord(z.enum(['idle', 'run', 'hold', 'pause', 'home', 'alarm', 'estop']), pattern).default({}),
  hold: bytes.default(''),
  resume: bytes.default(''),
  stop: bytes.default(''),
  clear: bytes.default(''),
  home: bytes.default('G28\\n'),
});
export type LinkProfile = z.infer<typeof LinkProfile>;

/** What the agent must know of a machine to talk to it and to move it. */
export const Linked = z.object({
  link: LinkProfile,
  /** Where it does not say so itself. */
  sensor: z.object({ x: length, y: length, radius: positive, height: positive }).nullable(),
  travel: z.tuple([notNegative, notNegative, notNegative]),
  /** What a simulated machine wants to hear first: it obeys its own agent and nobody else. */
  token: z.string().max(200).optional(),
});
export type Linked = z.infer<typeof Linked>;

/** The link of Kerbe's own simulated machines. */
export const kerbeLink = (host: string, port: number): LinkProfile => LinkProfile.parse({ transport: { kind: 'tcp', host, port } });

/** Bytes of a profile's word: \n, \r, \t, \\ and \xNN as in a program's text. */
export const bytesOfWord = (text: string): string =>
  text.replace(/\\(x[0-9a-fA-F]{2}|[nrt\\])/g, (_, code: string) =>
    code[0] === 'x' ? String.fromCharCode(parseInt(code.slice(1), 16)) : { n: '\n', r: '\r', t: '\t', '\\': '\\' }[code as 'n']!,
  );

const name = z.string().min(1).max(60);

/** What is to be done to a machine every so many hours of cutting, or days, whichever comes first. */
export const CareList = z.array(z.strictObject({ name, hours: positive.max(100_000).optional(), days: positive.max(10_000).optional() })).max(40);
export type CareList = z.infer<typeof CareList>;

export const MachineProfile = z.strictObject({
  kind: z.enum(['router', 'torch', 'laser']).default('router'),
  limits: Machine.prefault({}),
  /** The corner its switches are at. */
  homeCorner: z.enum(['front left', 'front right', 'back left', 'back right']).default('front left'),
  spindle: z
    .strictObject({
      /** Started by the program, or by hand at its own box. */
      control: z.enum(['program', 'hand']).default('program'),
      min: notNegative.default(6_000),
      /** What S means at full speed: rev/min, or the controller's own scale. */
      fullScale: positive.default(24_000),
    })
    .prefault({}),
  change: z.enum(['hand', 'automatic']).default('hand'),
  sensor: z.strictObject({ x: length, y: length, radius: positive, height: positive }).nullable().default({ x: 40, y: 860, radius: 10, height: 50 }),
  plates: z
    .array(z.strictObject({ name, thickness: positive }))
    .max(20)
    .default([{ name: 'Touch plate', thickness: 15 }]),
  blocks: z
    .array(z.strictObject({ name, thickness: positive, lip: positive }))
    .max(20)
    .default([{ name: 'Corner block', thickness: 20, lip: 12 }]),
  /** Where a laser's pointer shines, seen from its beam, mm; left out where it shines along it. */
  pointer: z.strictObject({ x: length, y: length }).optional(),
  /** Work offsets it keeps: 1 is G54 alone. */
  offsets: z.int().min(1).max(9).default(6),
  /** What holds boards here, with sizes. */
  devices: z
    .array(z.strictObject({ name, kind: z.enum(['clamp', 'screw', 'fence', 'pin']), width: positive, depth: positive, height: notNegative }))
    .max(40)
    .default([
      { name: 'Step clamp', kind: 'clamp', width: 30, depth: 60, height: 22 },
      { name: 'Screw with washer', kind: 'screw', width: 14, depth: 14, height: 2 },
      { name: 'Long fence', kind: 'fence', width: 20, depth: 300, height: 12 },
    ]),
  /** Slots in the bed that clamps and boards are set against. */
  slots: z
    .strictObject({ axis: z.enum(['x', 'y']), first: length, pitch: positive, count: z.int().min(1).max(100) })
    .nullable()
    .default({ axis: 'y', first: 60, pitch: 120, count: 7 }),
  /** Vacuum zones, machine coordinates. */
  vacuum: z
    .array(z.strictObject({ x: length, y: length, width: positive, height: positive }))
    .max(40)
    .default([]),
  /** Switches there are: those it can show by itself are seen, the others are asked for. */
  has: z
    .strictObject({ vacuum: z.boolean().default(true), dust: z.boolean().default(true), pins: z.boolean().default(true), lid: z.boolean().default(false) })
    .prefault({}),
  /** True when the machine itself shows its board, bit and switches, as a simulated one does. */
  shows: z.boolean().default(false),
  /**
   * Thickness of the spoilboard as it was last skimmed, and the least that is worth skimming, mm; and when its top was
   * made another, by a skim or by a new one: zeros from before do not hold.
   */
  spoilboard: z
    .strictObject({
      height: positive.default(18),
      least: notNegative.default(8),
      skimmed: z.iso.datetime().optional(),
      fitted: z.iso.datetime().optional(),
    })
    .prefault({}),
  /** What is to be done to it every so many hours of cutting, or days; left out, what is usual for its kind. */
  care: CareList.optional(),
  link: LinkProfile,
  notes: z.string().max(4_000).default(''),
});
export type MachineProfile = z.infer<typeof MachineProfile>;

/** A machine of which nothing is known but its link: what it has, it must show itself. */
export const linkAlone = (link: LinkProfile): Linked => ({ link, sensor: null, travel: [0, 0, 0] });

export const linkedOf = ({ link, sensor, limits }: MachineProfile): Linked => ({ link, sensor, travel: limits.travel });

/** Would a program for one machine be planned the same for the other? What it is called makes no difference. */
export function plansAlike(a: Machine, b: Machine): boolean {
  const figures = ({ travel, usable, maxSpeed, acceleration, maxSpindle, fullPower, park }: Machine) => [
    ...travel,
    ...[usable.x, usable.y, usable.width, usable.height],
    ...maxSpeed,
    ...acceleration,
    maxSpindle,
    fullPower ?? 0,
    ...park,
  ];
  const other = figures(b);
  return figures(a).every((figure, k) => figure === other[k]);
}

/** What can be said against a profile as a whole, in words; empty when it is sound. */
export function profileFaults(profile: MachineProfile): string[] {
  const why: string[] = [];
  const { limits, sensor, link } = profile;
  const [tx, ty, tz] = limits.travel;
  const { usable, park } = limits;
  if (usable.x < 0 || usable.y < 0 || usable.x + usable.width > tx || usable.y + usable.height > ty)
    why.push('The usable part of the bed reaches beyond its travel.');
  if (park[0] < 0 || park[1] < 0 || park[0] > tx || park[1] > ty) why.push('The place it parks at lies beyond its travel.');
  if (sensor && (sensor.x < 0 || sensor.y < 0 || sensor.x > tx || sensor.y > ty)) why.push('The tool sensor stands beyond the travel.');
  if (sensor && sensor.height > tz) why.push('The tool sensor is higher than Z can travel.');
  if (profile.spindle.min > limits.maxSpindle) why.push('The spindle’s least speed is above its greatest.');
  if (link.talk === 'plain' && (!link.ask || !link.status)) why.push('A plain link needs a question for the status and a pattern that reads the answer.');
  if (link.talk === 'plain' && sensor && !link.probe)
    why.push('A tool sensor needs a pattern that reads what the controller says of a touch; without one, take the sensor out and touch Z with paper.');
  if (link.talk === 'plain' && (!link.hold || !link.resume || !link.stop)) why.push('A plain link needs the bytes for hold, resume and stop.');
  return why;
}
