/**
 * Can this zero be right? Kerbe knows the drawn board and where it lies, the reach of the program,
 * the usable bed, and - by the tool sensor - how high above the spoilboard Z0 is. What does not
 * agree is said with its likely reason; a person may overrule it, and the record names them.
 */
import { topHeight, datumPoint, type Job } from '../job/index.ts';
import { formatLength } from '../length/index.ts';
import type { Setup } from '../link/index.ts';
import type { MachineProfile } from '../machine/index.ts';
import { turned } from './bed.ts';
import type { Tile } from '../job/tiles.ts';

/** A board is laid by hand and drawn by eye: this much beside where it is drawn is no wrong zero, mm. */
const LAID_BY_EYE = 15;
/** Z0 farther than this from the face it is said to be on is no uneven board, mm. */
const Z_DOUBT = 2.5;
/** Two lengths are about the same when they differ by less, mm. */
const ABOUT = 1.5;

interface Extents {
  min: readonly [number, number, number];
  max: readonly [number, number, number];
}

export interface ZeroInput {
  job: Job;
  profile: MachineProfile;
  /** What the program moves over under power, from the datum, mm. */
  extents: Extents;
  /** What of a sheet larger than the field it burns: the sheet was pushed on to it. */
  tile?: Tile;
  setup: Setup;
  /** The work offset in force: machine position of work zero. */
  offset: readonly [number, number, number];
  /** The board as a machine that shows it says it is; null where it cannot. */
  there: { x: number; y: number; width: number; height: number; thickness: number } | null;
}

/** What speaks against the zero, in words; empty when it may be right. Needs X, Y and Z to be set. */
export function zeroFaults(input: ZeroInput): string[] {
  return [...sizeFaults(input), ...placeFaults(input), ...reachFaults(input), ...heightFaults(input)];
}

/** The board that lies there against the one that is drawn. */
function sizeFaults({ job, there }: ZeroInput): string[] {
  if (!there) return [];
  const { width, height } = job.board;
  const thickness = topHeight(job.board);
  const off = [there.width - width, there.height - height, there.thickness - thickness];
  if (Math.abs(off[0]) <= 2 && Math.abs(off[1]) <= 2 && Math.abs(off[2]) <= 0.5) return [];
  const size = (w: number, h: number, t: number) => [w, h, t].map((mm) => lengthIn(job)(mm)).join(' × ');
  return [
    `The board on the bed is ${size(there.width, there.height, there.thickness)}, and the drawn one ${size(width, height, thickness)}${job.board.carrier ? ' with its carrier' : ''}. Measure it, and put its size in on Board.`,
  ];
}

/** Does the program stay on the board where it is drawn to lie, as well as it does on the drawing? */
function placeFaults({ job, extents, tile, setup, offset }: ZeroInput): string[] {
  const [dx, dy] = datumPoint(job);
  const { bed, zeroXY } = setup;
  const corners = cornersOf(extents, zeroXY?.angle ?? 0);
  const off = [0, 1].map((axis) => {
    const [laid, size, datum] = axis === 0 ? [bed.x, job.board.width, dx] : [bed.y, job.board.height, dy];
    const at = tile?.axis === 'xy'[axis] ? laid - tile.from : laid;
    // An outline cut runs beside the board by design: that much is no fault of the zero.
    const drawn = Math.max(0, -(extents.min[axis] + datum), extents.max[axis] + datum - size);
    const low = Math.min(...corners.map((c) => c[axis])) + offset[axis];
    const high = Math.max(...corners.map((c) => c[axis])) + offset[axis];
    return Math.max(at - low, high - at - size) - drawn;
  });
  const most = Math.max(...off);
  if (most <= LAID_BY_EYE) return [];
  const axis = off.indexOf(most);
  return [
    `From this zero the program runs ${lengthIn(job)(most)} off the board in ${'XY'[axis]}, as the board is drawn on the bed. Was another corner touched? Or does the board lie elsewhere: then pull it there on the bed.`,
  ];
}

/** Does it stay on the part of the bed that may be used? */
function reachFaults({ job, profile, extents, setup, offset }: ZeroInput): string[] {
  const { usable } = profile.limits;
  const corners = cornersOf(extents, setup.zeroXY?.angle ?? 0);
  return [0, 1].flatMap((axis) => {
    const [from, size] = axis === 0 ? [usable.x, usable.width] : [usable.y, usable.height];
    const low = Math.min(...corners.map((c) => c[axis])) + offset[axis];
    const high = Math.max(...corners.map((c) => c[axis])) + offset[axis];
    const beyond = Math.max(from - low, high - from - size);
    return beyond > 0.01 ? [`From this zero the program reaches ${lengthIn(job)(beyond)} beyond the part of the bed that can be used, in ${'XY'[axis]}.`] : [];
  });
}

/** How far Z0 is from the face it should be on, by the tool sensor: tip above the spoilboard = sensor + Z0 - reading. */
function heightFaults({ job, profile, setup, offset }: ZeroInput): string[] {
  const { zeroZ, bitReading } = setup;
  if (!profile.sensor || bitReading === null || !zeroZ) return [];
  const board = topHeight(job.board);
  const face = zeroZ.datum === 'top' ? board : 0;
  const off = profile.sensor.height + offset[2] - bitReading - face;
  if (Math.abs(off) <= Math.min(Z_DOUBT, 0.6 * board)) return [];
  const about = (length: number) => Math.abs(Math.abs(off) - length) < ABOUT;
  const plate = profile.plates.find(({ thickness }) => about(thickness));
  const reason = about(board)
    ? 'about the thickness of the board: was the other face touched?'
    : plate
      ? `about the thickness of ${plate.name}: was it taken off the sum, and did it lie there?`
      : 'is the board as thick as it is drawn, and was the right bit measured?';
  return [
    `By the tool sensor Z0 is ${lengthIn(job)(Math.abs(off))} ${off > 0 ? 'above' : 'below'} the ${zeroZ.datum === 'top' ? 'top of the board' : 'spoilboard'} - ${reason} Touch Z again.`,
  ];
}

const lengthIn = (job: Job) => (mm: number) => formatLength(Math.round(mm * 10) / 10, { unit: job.units });

const cornersOf = ({ min, max }: Extents, angle: number) =>
  [
    [min[0], min[1]],
    [max[0], min[1]],
    [max[0], max[1]],
    [min[0], max[1]],
  ].map(([x, y]) => turned([x, y], angle));
