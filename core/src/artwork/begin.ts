/** What a new piece begins with: board, text, outline and a sensible first cut, all following the board until they are touched. */
import type { Bit } from '../bits/schema.ts';
import { TO_HAND, usualBit, usualHead, usualNozzle } from '../bits/usual.ts';
import { JOB_VERSION, readJob, type Cut, type Item, type Job, type JobInput, type Machine } from '../job/index.ts';
import { LASER_BENCH, TORCH_TABLE } from '../machine/index.ts';
import type { ProcessName } from '../process/index.ts';
import type { LengthUnit } from '../length/index.ts';
import { beginCut, neat } from './begin-cut.ts';

interface Given {
  board: Beginning['board'];
  units: LengthUnit;
  bit: Bit;
}
/** A cut a piece begins with: its kind, which of the usual bits makes it, and what is set of it. */
interface Work {
  kind: Cut['kind'];
  name: string;
  on: 'words' | 'outline' | 'art';
  bit: string;
  /** Taken instead where the board is thicker than the bit reaches. */
  longer?: string;
  figures?(given: Given): object;
}

const carve: Work = {
  kind: 'vcarve',
  name: 'Carve the words',
  on: 'words',
  bit: 'v60',
};
const cutOut = (what: Pick<Work, 'name' | 'on' | 'bit' | 'longer'>, tabs: number): Work => ({
  kind: 'profile',
  ...what,
  figures: () => ({ tabs }),
});
const engrave: Work = {
  kind: 'engrave',
  name: 'Engrave the words',
  on: 'words',
  bit: 'engrave20',
  figures: ({ board }) => ({ depth: Math.min(0.3, board.thickness / 4) }),
};
const scratch: Work = { kind: 'drag', name: 'Engrave the words', on: 'words', bit: 'drag' };

/** Everything drawn, by what lies in what: the sign is kept, letters are openings in it. */
const cutPlate: Work = { kind: 'torch', name: 'Cut the plate', on: 'art', bit: 'nozzle1' };

/** What a beam does, by its head's presets or what is reckoned for the sheet. */
const burn = (kind: 'laser-fill' | 'laser-cut' | 'laser-picture', what: Pick<Work, 'name' | 'on'>): Work => ({ kind, ...what, bit: 'head1' });

export interface Piece {
  process: ProcessName;
  title: string;
  says: string;
  /** Its cuts in order, on a board of that material. */
  cuts(material: string): Work[];
  /** Has it an outline that is drawn? */
  edge: boolean;
  holdDown: Job['board']['holdDown'];
  /** It begins without words: a picture is brought in. */
  wordless?: boolean;
  /** Words in another face than usual: without islands that would fall out. */
  face?: string;
}

const METAL = /\b(brass|alumini?um|steel|copper|bronze)\b/i;

/** What can be begun, by kind of machine. */
export const PIECES = {
  sign: {
    process: 'router',
    title: 'Carved sign',
    says: 'Words V-carved, the sign cut out of the board.',
    cuts: () => [carve, cutOut({ name: 'Cut out the sign', on: 'outline', bit: 'end6' }, 4)],
    edge: true,
    holdDown: 'screws',
  },
  panel: { process: 'router', title: 'Carved panel', says: 'Words V-carved; the board stays whole.', cuts: () => [carve], edge: false, holdDown: 'screws' },
  letters: {
    process: 'router',
    title: 'Cut-out letters',
    says: 'Each letter cut out through the board.',
    cuts: () => [cutOut({ name: 'Cut out the letters', on: 'words', bit: 'end3', longer: 'end6' }, 2)],
    edge: false,
    holdDown: 'tape',
  },
  plate: {
    process: 'router',
    title: 'Engraved plate',
    says: 'Fine lines in a plate that is already to size.',
    // Metal is scratched: a cutter that engraves wood breaks in it.
    cuts: (material) => [METAL.test(material) ? scratch : engrave],
    edge: false,
    holdDown: 'tape',
  },
  blank: { process: 'router', title: 'Empty board', says: 'For a drawing of your own.', cuts: () => [], edge: false, holdDown: 'screws' },
  steel: {
    process: 'torch',
    title: 'Cut-out sign',
    says: 'Words cut through the plate in a stencil face, the sign cut out of it.',
    cuts: () => [cutPlate],
    edge: true,
    holdDown: 'slats',
    face: 'saira',
  },
  drawn: {
    process: 'torch',
    title: 'Empty plate',
    says: 'For a silhouette or a drawing of your own.',
    cuts: () => [],
    edge: false,
    holdDown: 'slats',
  },
  tag: {
    process: 'laser',
    title: 'Tag or label',
    says: 'Words burned into the sheet, the tag cut out of it.',
    cuts: () => [burn('laser-fill', { name: 'Burn the words', on: 'words' }), burn('laser-cut', { name: 'Cut out the tag', on: 'outline' })],
    edge: true,
    holdDown: 'tape',
    face: 'barlow',
  },
  picture: {
    process: 'laser',
    title: 'Picture',
    says: 'A picture burned row by row, in its own size.',
    cuts: () => [burn('laser-picture', { name: 'Burn the picture', on: 'art' })],
    edge: false,
    wordless: true,
    holdDown: 'tape',
  },
  sheet: { process: 'laser', title: 'Empty sheet', says: 'For a drawing of your own.', cuts: () => [], edge: false, holdDown: 'tape' },
} satisfies Record<string, Piece>;
export type PieceName = keyof typeof PIECES;
export const PIECE_NAMES = Object.keys(PIECES) as [PieceName, ...PieceName[]];

/** Travel over letters that have tipped up in their openings, within what a torch table can lift, mm. */
const overTipped = (capHeight: number): number => Math.min(60, Math.max(15, Math.ceil(1.5 * capHeight)));

/** What a cut through the board goes deeper than it, mm, and a little. */
const THROUGH = 0.5;

/**
 * Where words and outline stand on a board of that size, mm. The outline keeps a tenth of the shorter
 * side free, from 8 to 15 mm: what cuts it out needs room; the words have a third of what is inside it.
 */
export function startLayout(board: { width: number; height: number }, units: LengthUnit = 'mm') {
  const { width, height } = board;
  const side = Math.min(width, height);
  const inset = neat(Math.min(Math.max(0.1 * side, 8), 15, side / 5), units);
  const [w, h] = [width - 2 * inset, height - 2 * inset];
  const middle = { x: width / 2, y: height / 2 };
  return {
    words: { ...middle, capHeight: neat(0.32 * Math.min(h, w), units), fitWidth: neat(0.86 * w, units) },
    edge: { ...middle, width: w, height: h, radius: neat(Math.min(12, 0.08 * side), units) },
  };
}

/** A thing as it was made for a board, made for another; null when somebody has touched it since. */
export function followed(job: Pick<Job, 'board' | 'outline' | 'units'>, item: Item, board: { width: number; height: number }): Item | null {
  const role = item.kind === 'text' ? 'words' : (item.id === job.outline || item.id === 'edge') && item.kind === 'rectangle' ? 'edge' : null;
  if (role === null || item.angle !== 0) return null;
  const figures = item as unknown as Record<string, number>;
  return Object.entries(startLayout(job.board, job.units)[role]).every(([key, value]) => figures[key] === value)
    ? ({ ...item, ...startLayout(board, job.units)[role] } as Item)
    : null;
}

export interface Beginning {
  piece: PieceName;
  board: { width: number; height: number; thickness: number; material: string };
  units: LengthUnit;
  machine?: Machine & { id?: string };
}

/** A program in inches, to a ten-thousandth. */
const IN_INCHES = { units: 'in', decimals: 4 } as const;

/**
 * The document a new piece begins as. Bits are the shop's (`crib`) where it has one that suits, the usual ones
 * elsewhere; feeds are what is suggested for bit, material and machine.
 */
export function beginPiece({ piece, board, units, machine }: Beginning, crib: readonly Bit[]): Job {
  const { process, title, edge, holdDown, cuts, wordless = false, face = 'cinzel' }: Piece = PIECES[piece];
  const layout = startLayout(board, units);
  const works = cuts(board.material);
  const words = works.length > 0 && !wordless;
  const bitFor = ({ bit, longer }: Work): Bit => {
    if (process === 'torch') return usualNozzle(board.thickness, crib);
    if (process === 'laser') return usualHead(crib);
    const first = usualBit(bit, crib);
    return longer && first.fluteLength < board.thickness + THROUGH ? usualBit(longer, crib) : first;
  };
  const job = read({
    kerbe: JOB_VERSION,
    process,
    name: `New ${title.toLowerCase()}`,
    units,
    board: { ...board, holdDown, ...(process === 'torch' && { slats: {} }) },
    items: {
      ...(words && { words: { kind: 'text', id: 'words', name: 'Words', text: '', face, ...layout.words } }),
      ...(edge && { edge: { kind: 'rectangle', id: 'edge', name: 'Sign outline', ...layout.edge } }),
    },
    itemOrder: [...(words ? ['words'] : []), ...(edge ? ['edge'] : [])],
    // A torch cuts by what lies in what: there the outline is artwork as everything else.
    outline: edge && process !== 'torch' ? 'edge' : null,
    tools: Object.fromEntries(
      [...works.map(bitFor), ...(process === 'router' ? TO_HAND.map((id) => usualBit(id, crib)) : [bitFor(cutPlate)])].map((bit) => [bit.id, bit]),
    ),
    cuts: {},
    cutOrder: [],
    ...(process === 'torch' && { machine: TORCH_TABLE }),
    ...(process === 'laser' && { machine: LASER_BENCH }),
    ...(machine && { machine }),
    // G20 for who thinks in inches: a figure read off the controller is the one on the screen. G21 is a choice under Program.
    program: { ...(units === 'in' && IN_INCHES), ...(process === 'torch' && { clearance: overTipped(layout.words.capHeight) }) },
  } satisfies JobInput);
  for (const work of works) {
    const { kind, name, on } = work;
    const bit = bitFor(work);
    const id = { outline: 'edge', words: 'carve', art: 'cut' }[on];
    job.cuts[id] = beginCut(job, bit, { kind, id, name, on, ...work.figures?.({ board, units, bit }) });
    job.cutOrder.push(id);
  }
  return read(job);
}

function read(document: unknown): Job {
  const reading = readJob(document);
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}
