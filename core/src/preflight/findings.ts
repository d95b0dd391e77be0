/**
 * Everything Kerbe can find wrong, in one catalogue: code, what it means, what to do. An error
 * forbids a release; a warning wants a person's tick; a note is only said.
 */
import { formatLength, type LengthUnit } from '../length/index.ts';

export type Severity = 'error' | 'warning' | 'note';

export interface Finding {
  code: string;
  severity: Severity;
  /** What is the matter, with figures. */
  what: string;
  /** What it would do to the work. */
  why: string;
  /** What to do about it. */
  remedy: string;
  cut?: string;
  item?: string;
  /** Where on the board, mm. */
  at?: [number, number];
  line?: number;
  /** A repair Kerbe can carry out: what the button says, and the things it changes. */
  repair?: { label: string; items: string[] };
}

const make =
  (code: string, severity: Severity) =>
  (what: string, why: string, remedy: string, where: Partial<Finding> = {}): Finding => ({ code, severity, what, why, remedy, ...where });

let shown: LengthUnit = 'mm';
/** Unit in which findings speak of lengths from now on. */
export const speakIn = (unit: LengthUnit): void => {
  shown = unit;
};
const len = (mm: number) => formatLength(mm, { unit: shown });

export const finding = {
  emptyText: (item: string) =>
    make('text-empty', 'warning')('A piece of text is empty.', 'Nothing of it will be carved.', 'Type some words, or delete the piece.', { item }),
  missingCharacters: (item: string, characters: string[], face: string) =>
    make('text-missing', 'error')(
      `${face} has no shape for ${characters
        .slice(0, 12)
        .map((c) => `“${c}”`)
        .join(' ')}.`,
      'These characters would be left out of the sign.',
      'Choose another face, or other characters.',
      { item },
    ),
  unknownFace: (item: string, face: string) =>
    make('text-face', 'error')(`The face “${face}” is not on this computer.`, 'The words cannot be drawn.', 'Choose one of the faces that ship with Kerbe.', {
      item,
    }),
  damagedFace: (item: string, face: string) =>
    make('text-face-damaged', 'error')(
      `The face “${face}” is damaged: its letters cannot be drawn.`,
      'The words would be left out.',
      'Bring the font file again, or choose another face.',
      { item },
    ),
  importFailed: (why: string) =>
    make('import-failed', 'error')(
      `The file cannot be read: ${why}.`,
      'Nothing was brought in; the job is as it was.',
      'Save it again from where it was drawn, or in another format.',
    ),
  importEmpty: () =>
    make('import-empty', 'error')(
      'Nothing in the file can be carved.',
      'It holds no filled shape and no line, or only pictures.',
      'Look at it where it was drawn; a picture can be traced instead.',
    ),
  importLeftOut: (what: string, count: number) =>
    make('import-left-out', 'warning')(
      `Left out or changed: ${what}${count > 1 ? ` (${count} times)` : ''}.`,
      'It is not part of what was brought in.',
      'Compare with the drawing; change it there if it matters.',
    ),
  traceEmpty: () =>
    make('trace-empty', 'error')(
      'Nothing in the picture is dark enough to trace.',
      'There would be nothing to carve.',
      'Move the threshold, or swap dark and light.',
    ),
  importCutShort: () =>
    make('import-cut-short', 'warning')(
      'The file ends before it should.',
      'Part of the drawing may be missing.',
      'Compare with the original; fetch the file again.',
    ),
  importChained: (count: number) =>
    make('import-chained', 'note')(
      `${count} loose ${count === 1 ? 'end was' : 'ends were'} joined.`,
      'Lines whose ends meet make one outline now.',
      'Look whether all outlines are closed as meant.',
    ),
  importTooMuch: (most: number) =>
    make('import-too-much', 'warning')(
      `The file holds more than ${most} things.`,
      'Only the first of them were brought in.',
      'Split the drawing, or unite what belongs together.',
    ),
  noBaseline: (item: string) =>
    make('text-no-path', 'error')(
      'Words stand on a path that is not there.',
      'They cannot be drawn.',
      'Choose a line or a shape for them, or set them straight.',
      { item },
    ),
  lettersFellOff: (item: string, count: number) =>
    make('text-off-path', 'error')(
      `${count === 1 ? 'One letter finds' : `${count} letters find`} no room on the path.`,
      'They would be left out of the sign.',
      'Make the words smaller, or the path longer, or begin further back.',
      { item },
    ),
  badPath: (item: string, why: string) =>
    make('art-unreadable', 'error')(`A drawn path cannot be read: ${why}.`, 'It would not be carved.', 'Draw or import it again.', { item }),
  artOffBoard: (item: string, over: number, at: [number, number]) =>
    make('art-off-board', 'error')(
      `Artwork reaches ${len(over)} beyond the edge of the board.`,
      'The bit would cut air, or a clamp.',
      'Move it, make it smaller, or use a larger board.',
      { item, at, repair: { label: 'Move it onto the board', items: [item] } },
    ),
  openEnds: (items: string[], count: number, gap: number, at: [number, number]) =>
    make('art-open-ends', 'warning')(
      `${count} loose ${count === 1 ? 'end lies' : 'ends lie'} within ${len(gap)} of another.`,
      'An outline that is not closed encloses nothing: it is not carved, and cut wrong by a torch.',
      'Join them.',
      { item: items[0], at, repair: { label: 'Join the ends', items } },
    ),
  doubled: (items: string[], count: number, at: [number, number]) =>
    make('art-doubled', 'warning')(
      `${count === 1 ? 'One thing is' : `${count} things are`} drawn twice in the same place.`,
      'Everything there would be cut twice.',
      'Take the copies away.',
      { item: items[0], at, repair: { label: 'Take the copies away', items } },
    ),
  doubledEdges: (items: string[], count: number, at: [number, number]) =>
    make('art-doubled-edges', 'warning')(
      `${count === 1 ? 'One piece of line lies' : `${count} pieces of line lie`} on another.`,
      'They would be cut twice.',
      'Keep each once.',
      { item: items[0], at, repair: { label: 'Keep each once', items } },
    ),
  selfCrossing: (item: string, at: [number, number]) =>
    make('art-self-crossing', 'warning')(
      'An outline crosses itself.',
      'What is inside and what outside is not plain there.',
      'Unite it: every part that is painted becomes one clean outline.',
      { item, at, repair: { label: 'Unite it', items: [item] } },
    ),
  overlap: (items: [string, string], area: number, at: [number, number]) =>
    make('art-overlap', 'warning')(
      `Two shapes lie over each other (${area < 100 ? area.toFixed(2) : Math.round(area)} mm²).`,
      'Where they do the bit would go twice, and a V-carve would run inside the overlap.',
      'Unite them, or leave them when they are meant to be carved one after the other.',
      { item: items[1], at, repair: { label: 'Unite them', items } },
    ),
  specks: (item: string, count: number, least: number, at: [number, number]) =>
    make('art-specks', 'warning')(
      `${count === 1 ? 'A speck or sliver is' : `${count} specks or slivers are`} finer than ${len(least)}.`,
      'The bit cannot show them; they carve to fuzz.',
      'Drop them.',
      { item, at, repair: { label: 'Drop them', items: [item] } },
    ),
  needlessNodes: (item: string, gone: number, of: number, worst: number, at: [number, number]) =>
    make('art-needless-nodes', 'note')(
      `${gone} of ${of} nodes are not needed: curves come within ${len(worst)} of the same line.`,
      'Wavy outlines of many short lines slow the carve.',
      'Fit curves.',
      { item, at, repair: { label: 'Fit curves', items: [item] } },
    ),
  lettersOverlap: (item: string, count: number, at: [number, number]) =>
    make('art-letters-overlap', 'note')(
      `${count === 1 ? 'One letter runs' : `${count} letters run`} into the next.`,
      'They are united before carving, so the bit follows the outline of both.',
      'Give them more room if each should stand by itself.',
      { item, at, repair: { label: 'Space the letters', items: [item] } },
    ),
  wrongWinding: (item: string, count: number, at: [number, number]) =>
    make('art-winding', 'warning')(
      `${count === 1 ? 'An inner outline runs' : `${count} inner outlines run`} the same way round as the outer.`,
      'By the rule this artwork is filled by, that is no hole: it would be carved solid.',
      'Turn it round, if it is meant as a hole.',
      { item, at, repair: { label: 'Make holes of them', items: [item] } },
    ),
  islands: (item: string, count: number, letters: number, words: boolean, at: [number, number]) =>
    make('art-islands', 'error')(
      `${count === 1 ? 'One part drops out' : `${count} parts drop out`} when this is cut through${letters > 1 ? ` (in ${letters} of its shapes)` : ''}.`,
      'Nothing holds what lies inside a closed cut.',
      words ? 'Bridge them, or choose a stencil face, or capitals that have fewer islands.' : 'Bridge them.',
      { item, at, repair: { label: 'Bridge them', items: [item] } },
    ),
  narrowerThanBit: (item: string, cut: string, count: number, width: number, at: [number, number]) =>
    make('art-narrower-than-bit', 'warning')(
      `${count === 1 ? 'One part is' : `${count} parts are`} narrower than the bit (${len(width)}).`,
      'The bit does not get in there; the part stays uncut.',
      'Choose a thinner bit, or a larger drawing.',
      { item, cut, at },
    ),
  nothingToCut: (cut: string) =>
    make('cut-empty', 'warning')('A cut has nothing to work on.', 'It adds nothing to the program.', 'Give it artwork, or delete it.', { cut }),
  noCuts: () => make('job-no-cuts', 'error')('There is no cut yet.', 'Without one there is no program.', 'Add a V-carve or a profile on the Cuts card.'),
  wrongBit: (cut: string, need: string) =>
    make('cut-wrong-bit', 'error')(`This cut needs ${need}.`, 'The bit chosen cannot cut this shape.', 'Choose another bit.', { cut }),
  bitTooLarge: (cut: string, count: number) =>
    make('bit-does-not-fit', 'error')(
      `The bit does not fit into ${count === 1 ? 'one outline' : `${count} outlines`}.`,
      'They would be left out of the program.',
      'Choose a smaller bit, or a larger drawing.',
      { cut },
    ),
  deeperThanBoard: (cut: string, depth: number, thickness: number) =>
    make('deeper-than-board', 'error')(
      `The carve is ${len(depth)} deep and the board only ${len(thickness)} thick.`,
      'The bit would come through the back and into the bed.',
      'Set a floor depth, use a blunter bit, or a thicker board.',
      { cut },
    ),
  throughTooDeep: (cut: string, below: number) =>
    make('through-into-bed', 'error')(
      `The cut goes ${len(below)} below the board.`,
      'That is through the spoilboard and towards the bed.',
      'Reduce the depth, or the allowance for cutting through.',
      { cut },
    ),
  bitTooShort: (cut: string, depth: number, flute: number) =>
    make('bit-too-short', 'error')(
      `The cut is ${len(depth)} deep and the bit cuts only over ${len(flute)}.`,
      'The shank would rub, burn and break.',
      'Cut less deep, or use a longer bit.',
      { cut },
    ),
  notRound: (cut: string, count: number) =>
    make('drill-not-round', 'warning')(
      `${count === 1 ? 'One shape is' : `${count} shapes are`} no circle and cannot be drilled.`,
      'They are left out of this cut.',
      'Drill circles and hole patterns; pocket or profile the rest.',
      { cut },
    ),
  bitTooNarrow: (cut: string, stroke: number, groove: number) =>
    make('bit-too-narrow', 'warning')(
      `The widest stroke is ${len(stroke)} and the bit's widest groove ${len(groove)}.`,
      'The middle of such strokes gets a flat floor instead of a sharp V, and takes longer.',
      'Use a wider bit, or choose a floor depth on purpose.',
      { cut },
    ),
  strokeNarrowerThanTip: (cut: string, tip: number) =>
    make('stroke-narrower-than-tip', 'warning')(
      `Some strokes are narrower than the bit's tip (${len(tip)}).`,
      'They are left out: the tip would cut outside the drawing.',
      'Use a sharper bit, or larger letters.',
      { cut },
    ),
  freedPart: (cut: string) =>
    make('part-freed', 'error')(
      'The part is cut free and nothing holds it.',
      'A freed part moves, is spoiled, and can be thrown.',
      'Add tabs, or hold the board down with tape and glue.',
      { cut },
    ),
  fewTabs: (cut: string, asked: number, placed: number) =>
    make('tabs-few', placed === 0 ? 'error' : 'warning')(
      `Only ${placed} of ${asked} tabs fit on an outline.`,
      'The part may come loose before the cut is done.',
      'Use narrower tabs, or hold the part another way.',
      { cut },
    ),
  outsideMachine: (cut: string | undefined, what: string) =>
    make('outside-usable', 'error')(what, 'The machine would stop at its limits, or cut something it should not.', 'Use a smaller board, or move the datum.', {
      cut,
    }),
  boardOutsideBed: (width: number, height: number, usableWidth: number, usableHeight: number) =>
    make('board-too-large', 'warning')(
      `The board (${len(width)} × ${len(height)}) is larger than the usable bed (${len(usableWidth)} × ${len(usableHeight)}).`,
      'It can only be cut where the bit reaches.',
      'Check how it lies before zeroing.',
    ),
  feedTooFast: (cut: string, what: string, asked: number, limit: number) =>
    make('feed-over-limit', 'warning')(
      `${what} ${Math.round(asked)} is above the machine's ${Math.round(limit)}.`,
      'The machine runs slower than planned: the chip gets thinner and the bit hotter.',
      'Lower it to what the machine can do.',
      { cut },
    ),
  spindleTooFast: (cut: string, asked: number, limit: number) =>
    make('spindle-over-limit', 'error')(
      `The spindle is asked for ${Math.round(asked)} rev/min and reaches ${Math.round(limit)}.`,
      'The machine would refuse the program.',
      'Lower the speed, and the feed with it.',
      { cut },
    ),
  unevenBoard: (cut: string, spread: number, depth: number) =>
    make('board-uneven', 'warning')(
      `The board varies by ${len(spread)} and the carve is ${len(depth)} deep.`,
      'Shallow strokes fade out where the board is low.',
      'Plane the board, or carve deeper.',
      { cut },
    ),
  passDeep: (cut: string, step: number, diameter: number) =>
    make('pass-deep', 'warning')(
      `Each pass is ${len(step)} deep, more than the bit is thick (${len(diameter)}).`,
      'Thin bits break that way.',
      'Use less depth per pass unless the bit and the wood are known to bear it.',
      { cut },
    ),
  profileBeforeCarve: (cut: string) =>
    make('order-freed-first', 'warning')(
      'The sign is cut out before everything else is done.',
      'A part that is nearly free moves under the bit.',
      'Put the profile last.',
      { cut },
    ),
  axisTrouble: (cut: string, count: number) =>
    make('axis-unsure', 'warning')(
      `The middle line of ${count === 1 ? 'one shape' : `${count} shapes`} could not be traced cleanly.`,
      'Part of such a shape may stay uncarved.',
      'Look at it in the proof; clean its outline.',
      { cut },
    ),
  programLine: (line: number, what: string) =>
    make('program-line', 'error')(
      `Line ${line}: ${what}.`,
      'The machine would stop there, or do something else than meant.',
      'Mend the line, or write the program again from the job.',
      {
        line,
      },
    ),
  programEndMissing: () =>
    make('program-no-end', 'warning')('The program has no end (M2 or M30).', 'It may have been cut short on its way here.', 'Check that the file is whole.'),
};

export const forbids = (findings: readonly Finding[]): boolean => findings.some((f) => f.severity === 'error');
