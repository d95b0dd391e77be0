/** What a set-up sheet says that differs by machine: the columns of its cuts, how zero is found, what is looked at before the start. */
import { bitName } from '@kerbe/core/bits';
import { kindOf } from '@kerbe/core/cuts';
import { boardThickness, type Job } from '@kerbe/core/job';
import { feedNumber, formatFeed, formatLength } from '@kerbe/core/length';
import { levelSaid, type PlannedCut } from '@kerbe/core/plan';
import type { ProcessName } from '@kerbe/core/process';

/** @example 45 s; 12 min */
export const minutes = (seconds: number) => (seconds < 90 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`);

interface Column {
  title: string;
  /** Millimetres; all of them, and the number before them, are as wide as the sheet. */
  width: number;
  cell(job: Job, planned: PlannedCut): string;
}
interface Words {
  columns: readonly Column[];
  /** What stands below a cut: what its program's header says of it. */
  below(job: Job, planned: PlannedCut): string;
  /** Where Z is counted from. */
  zero(job: Job): string;
  /** What holds it, and how high it is travelled over. */
  held(job: Job): string;
  /** Tools are drawn to scale with what must stand out of the collet; or they are only named. */
  drawn: boolean;
  /** What is done by hand at a machine that has no link, file by file. */
  carried?(job: Job, cuts: readonly PlannedCut[]): string[];
  before(job: Job): string[];
}

const len = (job: Job, mm: number) => formatLength(mm, { unit: job.units });
const name: Column = { title: 'Cut', width: 42, cell: (_, { cut }) => cut.name || kindOf(cut).label };
const time: Column = { title: 'Time', width: 14, cell: (_, { seconds }) => minutes(seconds) };
const tool = (title: string, width: number): Column => ({ title, width, cell: (job, { bit }) => bitName(bit, job.units) });
const feed: Column = { title: 'Feed', width: 26, cell: (job, { cut }) => formatFeed(cut.feed, job.units) };
/** The words of a program's header, as a line of their own. */
const described = (job: Job, planned: PlannedCut) =>
  `${planned.beam ? levelSaid(job, planned.cut) : ''}${kindOf(planned.cut).described(planned, (mm) => len(job, mm))}`.replace(/^, /, '');
const stop = 'The emergency stop is the red button at the machine, within reach.';

export const ON_SHEET: Record<ProcessName, Words> = {
  router: {
    columns: [
      name,
      tool('Bit', 46),
      { title: 'Depth', width: 20, cell: (job, { facts }) => len(job, facts.deepest) },
      { title: 'Feed / plunge', width: 34, cell: (job, { cut }) => `${feedNumber(cut.feed, job.units)} / ${formatFeed(cut.plunge, job.units)}` },
      { title: 'Rev/min', width: 18, cell: (_, { cut }) => (cut.speed > 0 ? `${Math.round(cut.speed)}` : 'OFF') },
      time,
    ],
    below: () => '',
    zero: ({ datum }) => `Z on ${datum.z === 'top' ? 'top of the board, at its highest point' : 'the spoilboard'}`,
    held: (job) =>
      `Held by ${job.board.holdDown}${job.board.holders.length ? `; where is on the drawing` : ''}. Travel ${len(job, job.program.clearance)} above the board.`,
    drawn: true,
    before: (job) => [
      `${stop} Nobody leaves a running machine.`,
      'Eyes, ears, dust: glasses, hearing protection, extraction on. No gloves, loose sleeves or long hair near the bit.',
      'Power safe before a hand goes to the bit. The shank is not bottomed in the collet; clean collet, right size.',
      'Touch plate and its clip off before the spindle starts. Measure Z again after every change of bit.',
      job.board.holdDown === 'vacuum' ? 'Vacuum on and holding; small parts do not hold.' : 'Push at the board before every start: it must not move.',
    ],
  },
  torch: {
    columns: [
      name,
      tool('Nozzle', 48),
      feed,
      { title: 'Kerf', width: 24, cell: (job, { torch }) => (torch ? len(job, torch.kerf) : '') },
      { title: 'Pierces', width: 20, cell: (_, { torch, lifts }) => `${torch?.pierces ?? lifts}` },
      time,
    ],
    below: described,
    zero: () => 'Z is felt on the plate itself: by the program before it pierces, and once by hand before the start',
    held: (job) => `On the slats, flat and free. Travel ${len(job, job.program.clearance)} above the plate: higher than what tips up.`,
    drawn: false,
    carried: (job, cuts) => [
      'At a machine that has no link: carry the files above on a stick, and compare the first letters of each hash with those on the controller’s copy.',
      ...[...new Set(cuts.map((planned) => kerfOwner(job, planned)))].filter(Boolean),
      'Run its outline once, high above the plate, before the arc is switched on.',
    ],
    before: () => [
      `${stop} Somebody stays with it until it ends, and until it is cold.`,
      'Work lead on bright metal of the plate itself; air on, dry and at its pressure; water or extraction on.',
      'Fire watch: nothing that burns lies under or round the table; an extinguisher is at hand.',
      'Shade by amperes, dry gloves, clothes that do not melt. No one with a pacemaker near.',
      'Power off at the torch before a hand goes to nozzle, electrode or shield.',
      'Never aluminium over standing water. Nothing galvanised, painted or sealed without what its fumes need.',
    ],
  },
  laser: {
    columns: [
      name,
      tool('Head', 56),
      feed,
      { title: 'Power', width: 18, cell: (_, { cut }) => ('power' in cut ? `${Number(cut.power)} %` : '') },
      { title: 'Passes', width: 18, cell: (_, { cut }) => ('passes' in cut ? `${Number(cut.passes)}` : '1') },
      time,
    ],
    below: described,
    zero: () => 'focus on the surface of the sheet',
    held: (job) => `On its supports, flat, clear of what will fall. ${len(job, boardThickness(job.board))} thick: the focus goes by it.`,
    drawn: false,
    before: () => [
      `${stop} Somebody stays with it until it ends: a beam that stands sets the sheet alight.`,
      'It is what its label says, and that may meet a laser. Never PVC, vinyl, polycarbonate or what nobody knows.',
      'Air and extraction on; the lens is clean; an extinguisher is at hand, nothing else lies in the machine.',
      'The lid is shut and stays shut until the smoke is gone. Eyewear for its wavelength where it can be open.',
      'Only whoever stays with it has the key.',
    ],
  },
};

/** Who moves off by half the kerf, as it is to be set at the controller. */
function kerfOwner(job: Job, { cut, torch }: PlannedCut): string {
  if (!('kerfBy' in cut) || !torch) return '';
  return cut.kerfBy === 'program'
    ? `The kerf of ${len(job, torch.kerf)} is in the program: the controller’s own kerf must be OFF, at 0.`
    : `The kerf is NOT in the program: set ${len(job, torch.kerf)} at the controller, or every part is half of it too small.`;
}
