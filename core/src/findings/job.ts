/** What can be wrong with a job as a whole: board, machine, what holds it, order of cuts. */
import { define, type Finding } from './finding.ts';

const hoursOf = (hours: number): string => (hours < 1 ? `${Math.round(60 * hours)} min` : `${Number(hours.toFixed(1))} h`);
const USUAL_ORDER = 'Put them in the usual order';

export const jobFindings = {
  noCuts: define(
    'job-no-cuts',
    'error',
    () => ({ data: {} }),
    () => ['There is no cut yet.', 'Without one there is no program.', 'Add a V-carve or a profile on the Cuts card.'],
  ),
  outsideMachine: define(
    'outside-usable',
    'error',
    (cut: string | undefined, what: string) => ({ data: { what }, cut }),
    ({ what }) => [what, 'The machine would stop at its limits, or cut something it should not.', 'Use a smaller board, or move the datum.'],
  ),
  boardOutsideBed: define(
    'board-too-large',
    'warning',
    (width: number, height: number, usableWidth: number, usableHeight: number, tiles: boolean) => ({
      data: { width, height, usableWidth, usableHeight, tiles },
    }),
    ({ width, height, usableWidth, usableHeight, tiles }, { len }) => [
      `The board (${len(width)} × ${len(height)}) is larger than the usable bed (${len(usableWidth)} × ${len(usableHeight)}).`,
      'It can only be cut where the bit reaches.',
      tiles ? 'Burn it in tiles: Board, Larger than the field.' : 'Check how it lies before zeroing.',
    ],
  ),
  throughHolder: define(
    'holder-in-the-way',
    'error',
    (cut: string, kind: string, how: 'cut' | 'travel', at: [number, number]) => ({ data: { kind, how }, cut, at }),
    ({ kind, how }) => [
      how === 'cut' ? `The bit would cut into a ${kind}.` : `Travel runs into a ${kind} that stands as high or higher.`,
      'It breaks the bit, tears the board loose, or throws the piece.',
      how === 'cut' ? 'Move it, or the artwork.' : 'Move it, or travel higher.',
    ],
  ),
  frameOverHolder: define(
    'holder-in-the-frame',
    'warning',
    (kind: string, at: [number, number]) => ({ data: { kind }, at }),
    ({ kind }) => [
      `A ${kind} stands in the way when the outline of the job is driven round at travel height.`,
      'The bit would run into it while you look.',
      'Travel higher, or move it.',
    ],
  ),
  probeBlocked: define(
    'probe-blocked',
    'warning',
    (kind: string, at: [number, number]) => ({ data: { kind }, at }),
    ({ kind }) => [
      `A ${kind} sits where the touch plate must lie.`,
      'Zero cannot be touched there, or is touched wrong.',
      'Move it, or set zero in another place.',
    ],
  ),
  bitWorn: define(
    'bit-worn',
    'warning',
    (bit: string, hours: number, life: number) => ({ data: { bit, hours, life } }),
    ({ bit, hours, life }) => [
      `${bit} has cut ${hoursOf(hours)} since it was sharp, and the shop gives it ${hoursOf(life)}.`,
      'A dull bit tears and burns the wood and pulls at the board.',
      'Sharpen or replace it and say so under Bits, or give it more hours there.',
    ],
  ),
  bitWearsOut: define(
    'bit-wears-out',
    'note',
    (bit: string, hours: number, life: number) => ({ data: { bit, hours, life } }),
    ({ bit, hours, life }) => [
      `${bit} has cut ${hoursOf(hours)} of the ${hoursOf(life)} the shop gives it.`,
      'It will be dull before long.',
      'Have another one ready, or have it sharpened.',
    ],
  ),
  nozzleWorn: define(
    'nozzle-worn',
    'warning',
    (nozzle: string, pierces: number, life: number) => ({ data: { nozzle, pierces, life } }),
    ({ nozzle, pierces, life }) => [
      `${nozzle} has pierced ${pierces} times since it was new, and the shop gives it ${life}.`,
      'A worn nozzle cuts wide and sloping, and blows when it is through.',
      'Fit a new one and say so under Bits, or give it more pierces there.',
    ],
  ),
  nozzleWearsOut: define(
    'nozzle-wears-out',
    'note',
    (nozzle: string, pierces: number, life: number) => ({ data: { nozzle, pierces, life } }),
    ({ nozzle, pierces, life }) => [
      `${nozzle} has pierced ${pierces} of the ${life} times the shop gives it.`,
      'Its kerf gets wider from here on.',
      'Have another one ready.',
    ],
  ),
  colletChange: define(
    'collet-change',
    'note',
    (shanks: readonly number[]) => ({ data: { shanks } }),
    ({ shanks }, { len }) => [
      `The bits have shanks of ${shanks.map(len).join(' and ')}: the collet is changed with them.`,
      'A shank in the wrong collet slips or bends.',
      'Lay the collets out beside the bits; clean them before they are closed.',
    ],
  ),
  notInCrib: define(
    'bit-not-in-crib',
    'note',
    (bit: string) => ({ data: { bit } }),
    ({ bit }) => [
      `“${bit}” is not in the shop's crib.`,
      'Nobody knows whether it is there, how worn it is, or what it really measures.',
      'Take one from the crib under Cuts, or add it there.',
    ],
  ),
  cutsOff: define(
    'cuts-off',
    'warning',
    (names: readonly string[], serving: number) => ({ data: { names, serving } }),
    ({ names, serving }) => [
      `${names.length === 1 ? 'A cut is' : `${names.length} cuts are`} switched off: ${names.join(', ')}${serving > 0 ? ', and with it what only serves it' : ''}.`,
      'It is in no program, and the board comes off the machine without it.',
      'Switch it on again on its card, or tick that it is meant so.',
    ],
  ),
  noPark: define(
    'program-no-park',
    'note',
    () => ({ data: {} }),
    () => [
      'The program ends where it stands, above the board.',
      'Reaching under a bit that hangs over the work is how hands get hurt.',
      'Let it park, under Program.',
    ],
  ),
  datumDiffers: define(
    'datum-differs',
    'warning',
    (what: string) => ({ data: { what } }),
    ({ what }) => [what, 'The program would cut in the wrong place, or at the wrong depth.', 'Set zero anew where this job wants it, or change the job.'],
  ),
  clearanceLow: define(
    'clearance-low',
    'error',
    (clearance: number, height: number) => ({ data: { clearance, height } }),
    ({ clearance, height }, { len }) => [
      `Travel is ${len(clearance)} above the board and what holds it stands ${len(height)} high.`,
      'The bit would run into a clamp or a screw at rapid speed.',
      'Travel higher, or hold the board down another way.',
    ],
  ),
  thinWall: define(
    'wall-thin',
    'warning',
    (width: number, count: number, at: [number, number]) => ({ data: { width, count }, at }),
    ({ width, count }, { len }) => [
      `${count === 1 ? 'A thin wall' : `${count} thin walls`} between cuts ${count === 1 ? 'is' : 'are'} less than ${len(width)} thick.`,
      'Thin walls fray and break off.',
      'Space the drawing out, cut less deep there, or use a harder board.',
    ],
  ),
  shortGrain: define(
    'grain-short',
    'note',
    (width: number, count: number, at: [number, number]) => ({ data: { width, count }, at }),
    ({ width, count }, { len }) => [
      `${count === 1 ? 'A piece of wood' : `${count} pieces of wood`} between cuts ${count === 1 ? 'is' : 'are'} less than ${len(width)} long in the direction of the grain.`,
      'Short grain snaps off: nothing runs along it to hold it.',
      'Turn the drawing or the board, or leave more wood there.',
    ],
  ),
  freedFirst: define(
    'order-freed-first',
    'warning',
    (cut: string, later: string, repair: Finding['repair']) => ({ data: { later }, cut, repair }),
    ({ later }) => [`The part is cut out before ${later}.`, 'A part that is nearly free moves under the bit.', 'Put the outline last.', USUAL_ORDER],
  ),
  openedFirst: define(
    'order-opened-first',
    'warning',
    (cut: string, later: string, repair: Finding['repair']) => ({ data: { later }, cut, repair }),
    ({ later }) => [
      `An opening is cut through before ${later}.`,
      'The board is weaker there, and what is cut next to it trembles.',
      'Carve first, then cut openings.',
      USUAL_ORDER,
    ],
  ),
  drilledLate: define(
    'order-drilled-late',
    'note',
    (cut: string, earlier: string, repair: Finding['repair']) => ({ data: { earlier }, cut, repair }),
    ({ earlier }) => [`Holes are drilled after ${earlier}.`, 'Drilling is surest while the board is whole and lies flat.', 'Drill first.', USUAL_ORDER],
  ),
  planedLate: define(
    'order-planed-late',
    'warning',
    (cut: string, repair: Finding['repair']) => ({ data: {}, cut, repair }),
    () => [
      'The board is planed after something was cut into it.',
      'Planing takes off the top: what was cut before comes out shallower.',
      'Plane first.',
      USUAL_ORDER,
    ],
  ),
  clearedAfter: define(
    'order-cleared-after',
    'error',
    (cut: string, later: string, repair: Finding['repair']) => ({ data: { later }, cut, repair }),
    ({ later }) => [
      `This cut counts on ${later}, which comes after it.`,
      'Its bit would go full width into wood that is not cleared yet, and break.',
      'Clear first.',
      USUAL_ORDER,
    ],
  ),
  bitChanges: define(
    'order-bit-changes',
    'note',
    (saved: number, repair: Finding['repair']) => ({ data: { saved }, repair }),
    ({ saved }) => [
      `${saved === 1 ? 'One change of bit' : `${saved} changes of bit`} could be saved.`,
      'Every change takes minutes and a new measurement of Z.',
      'Put cuts of one bit together.',
      USUAL_ORDER,
    ],
  ),
};
