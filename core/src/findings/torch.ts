/** What can be wrong with a torch cut. */
import { define } from './finding.ts';

export const torchFindings = {
  openLines: define(
    'torch-open-lines',
    'error',
    (cut: string, count: number, at: [number, number]) => ({ data: { count }, cut, at }),
    ({ count }) => [
      `${count === 1 ? 'One line is' : `${count} lines are`} open: a torch has no inside or outside of ${count === 1 ? 'it' : 'them'} to keep.`,
      'This would not be cut, and what should come free would hang on.',
      'Join its ends on Artwork, take it out of this cut, or cut it on the line.',
    ],
  ),
  pierceOnLine: define(
    'torch-pierce-on-line',
    'warning',
    (cut: string, count: number, at: [number, number]) => ({ data: { count }, cut, at }),
    ({ count }) => [
      `${count === 1 ? 'One contour has' : `${count} contours have`} no room for a lead-in, here or anywhere along the line.`,
      'It is pierced on the line itself: the crater stays in the edge of the part.',
      'Choose a shorter lead, put pieces farther apart, or dress the place by hand.',
    ],
  ),
  kerfAtMachine: define(
    'torch-kerf-at-machine',
    'warning',
    (cut: string, kerf: number) => ({ data: { kerf }, cut }),
    ({ kerf }, { len }) => [
      `The program runs on the drawn line: the machine must move off it by half of ${len(kerf)}.`,
      'With no offset at the machine every part comes out too small and every hole too large; with one here as well, twice.',
      'Set the kerf at the machine and say so on the sheet - or let the program do it.',
    ],
  ),
  smallHole: define(
    'torch-small-hole',
    'warning',
    (cut: string, count: number, width: number, thickness: number, at: [number, number]) => ({ data: { count, width, thickness }, cut, at }),
    ({ count, width, thickness }, { len }) => [
      `${count === 1 ? 'A hole is' : `${count} holes are`} narrower than the plate is thick: ${len(width)} in ${len(thickness)}.`,
      'The arc leaves it tapered and not round, and the pierce may take its edge.',
      'Mark its middle and drill it, or make it wider.',
    ],
  ),
  heatCrowded: define(
    'torch-heat',
    'note',
    (cut: string, count: number, thickness: number, at: [number, number]) => ({ data: { count, thickness }, cut, at }),
    ({ count, thickness }, { len }) => [
      `${count} contours are begun close beside one just cut, in plate of only ${len(thickness)}.`,
      'Heat piles up there: thin plate warps, and the torch meets it.',
      'Skip neighbours, so that heat spreads: a choice of the cut. It costs travel.',
    ],
  ),
  thinWeb: define(
    'torch-thin-web',
    'warning',
    (cut: string, count: number, thickness: number, at: [number, number]) => ({ data: { count, thickness }, cut, at }),
    ({ count, thickness }, { len }) => [
      `${count === 1 ? 'A strip' : `${count} strips`} between cuts ${count === 1 ? 'is' : 'are'} narrower than the plate is thick (${len(thickness)}).`,
      'Heat takes it: it warps, or melts away.',
      'Move the cuts apart, or make the strip wider.',
    ],
  ),
  partsTooClose: define(
    'torch-parts-too-close',
    'warning',
    (cut: string, count: number, kerf: number, at: [number, number]) => ({ data: { count, kerf }, cut, at }),
    ({ count, kerf }, { len }) => [
      `${count === 1 ? 'Two parts lie' : `${count + 1} parts lie`} closer to each other than the kerf of ${len(kerf)} is wide.`,
      'The arc that goes round one goes into the other.',
      'Move them apart, join them, or use a finer nozzle.',
    ],
  ),
  kerfTooWide: define(
    'torch-kerf-too-wide',
    'error',
    (cut: string, count: number, kerf: number) => ({ data: { count, kerf }, cut }),
    ({ count, kerf }, { len }) => [
      `The kerf of ${len(kerf)} does not fit into ${count === 1 ? 'one opening' : `${count} openings`}.`,
      'They would be left out of the program.',
      'Use a finer nozzle, or draw them larger.',
    ],
  ),
  aluminiumOverWater: define(
    'torch-aluminium-water',
    'note',
    (cut: string) => ({ data: {}, cut }),
    () => [
      'Aluminium is never cut over standing water.',
      'Its dross makes hydrogen there, which collects under the plate and explodes.',
      'Drain the table, or let air bubble through it, as the torch’s manual and local rules say.',
    ],
  ),
  tips: define(
    'torch-tips',
    'note',
    (cut: string, count: number, at: [number, number]) => ({ data: { count }, cut, at }),
    ({ count }) => [
      `${count === 1 ? 'One piece tips' : `${count} pieces tip`} on the slats when ${count === 1 ? 'it comes' : 'they come'} free.`,
      'The torch does not travel over it after that as planned, but a cable or a hand may meet it.',
      'Leave a micro-tab, or move it over two slats.',
    ],
  ),
  overTipping: define(
    'torch-over-tipping',
    'warning',
    (cut: string, count: number, clearance: number, at: [number, number]) => ({ data: { count, clearance }, cut, at }),
    ({ count, clearance }, { len }) => [
      `The torch travels ${len(clearance)} high over a piece that has come free and tips on the slats${count > 1 ? ` (of ${count} that tip)` : ''}.`,
      'It stands up in the way: the torch breaks away, or is broken.',
      'Leave a micro-tab, travel higher, or move the piece over two slats.',
    ],
  ),
  overGone: define(
    'torch-over-gone',
    'error',
    (cut: string, at: [number, number]) => ({ data: {}, cut, at }),
    () => [
      'The cut comes over an opening that is in the plate already.',
      'The arc has no metal there: it goes out, and the torch may dive.',
      'Move it onto metal, or lay the pieces out anew: Artwork, Lay out.',
    ],
  ),
  offPlate: define(
    'torch-off-plate',
    'error',
    (cut: string, at: [number, number]) => ({ data: {}, cut, at }),
    () => ['The cut leaves the plate.', 'Over its edge the arc goes out, and the torch dives.', 'Move it onto the plate, or use a larger one.'],
  ),
};
