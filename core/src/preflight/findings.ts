/**
 * Everything Kerbe can find wrong, in one catalogue: code, what it means, what to do. An error
 * forbids a release; a warning wants a person's tick; a note is only said.
 */
import { formatChip, formatFeed, formatLength, type LengthUnit } from '../length/index.ts';

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
  repair?: { label: string; items: string[]; order?: string[]; floor?: number; guide?: boolean };
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
/** An area as a person reads it. */
const areaOf = (mm2: number) => (shown === 'in' ? `${(mm2 / 645.16).toFixed(3)} in²` : `${mm2 < 100 ? mm2.toFixed(2) : Math.round(mm2)} mm²`);
const rate = (mmPerMin: number) => formatFeed(mmPerMin, shown);

/** A V-carve stays above a floor. */
const floorRepair = (floor?: number): Partial<Finding> =>
  floor === undefined ? {} : { repair: { label: `Set its floor to ${len(floor)}`, items: [], floor } };

export const finding = {
  notCut: (what: 'all' | 'lines', called: string[], items: string[], at: [number, number]) => {
    const some = `${called.slice(0, 3).join(', ')}${called.length > 3 ? ` and ${called.length - 3} more` : ''}`;
    return make('not-cut', 'warning')(
      what === 'all' ? `Drawn, and no cut works on it: ${some}.` : `Lines that no cut follows: in ${some}.`,
      'It would be missing from the sign.',
      what === 'all' ? 'Give it a cut, or mark it as a guide.' : 'Engrave along them, or make shapes of them.',
      {
        item: items[0],
        at,
        ...(what === 'all' ? { repair: { label: items.length > 1 ? 'Mark them as guides' : 'Mark it as a guide', items, guide: true } } : {}),
      },
    );
  },
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
      `Two shapes lie over each other (${areaOf(area)}).`,
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
  deeperThanBoard: (cut: string, depth: number, thickness: number, floor?: number) =>
    make('deeper-than-board', 'error')(
      `The carve is ${len(depth)} deep and the board only ${len(thickness)} thick.`,
      'The bit would come through the back and into the bed.',
      'Set a floor depth, use a blunter bit, or a thicker board.',
      { cut, ...floorRepair(floor) },
    ),
  throughTooDeep: (cut: string, below: number) =>
    make('through-into-bed', 'error')(
      `The cut goes ${len(below)} below the board.`,
      'That is through the spoilboard and towards the bed.',
      'Reduce the depth, or the allowance for cutting through.',
      { cut },
    ),
  pointThrough: (cut: string, below: number) =>
    make('point-into-spoilboard', 'warning')(
      `The point of the drill goes ${len(below)} below the board.`,
      'It has to, for the hole to be its full width all the way down; the spoilboard must be thicker than that.',
      'Check the spoilboard, or lay a scrap under the board.',
      { cut },
    ),
  bitTooShort: (cut: string, depth: number, flute: number, floor?: number) =>
    make('bit-too-short', 'error')(
      `The cut is ${len(depth)} deep and the bit cuts only over ${len(flute)}.`,
      'The shank would rub, burn and break.',
      'Cut less deep, or use a longer bit.',
      { cut, ...floorRepair(floor) },
    ),
  notRound: (cut: string, count: number) =>
    make('drill-not-round', 'warning')(
      `${count === 1 ? 'One shape is' : `${count} shapes are`} no circle and cannot be drilled.`,
      'They are left out of this cut.',
      'Drill circles and hole patterns; pocket or profile the rest.',
      { cut },
    ),
  drillThin: (cut: string, count: number, width: number) =>
    make('drill-thin', 'warning')(
      `${count === 1 ? 'One hole is' : `${count} holes are`} drawn wider than the drill: ${count === 1 ? 'it comes' : 'they come'} out ${len(width)} wide.`,
      'A twist drill cuts with its point alone and cannot widen a hole sideways.',
      'Use a drill of the right size or a straight bit, unless a pilot hole is what you want.',
      { cut },
    ),
  nothingCut: (cut: string, why: string) =>
    make('cut-makes-nothing', 'error')(
      `This cut takes nothing away: ${why}.`,
      'What it should cut would stay as it is, without a word.',
      'Change its figures or its bit, or delete the cut.',
      {
        cut,
      },
    ),
  tooMuchDrawn: (item: string, most: number) =>
    make('art-too-much', 'error')(
      `With this thing the artwork has more than ${most.toLocaleString('en-GB')} points.`,
      'It is not drawn and nothing is planned: no sign needs so many, and they would fill the memory.',
      'Take out what is not cut, make patterns of holes smaller, or simplify outlines.',
      { item },
    ),
  tooMuchWork: (cut: string, much: string) =>
    make('cut-too-much', 'error')(
      `This cut would be ${much}.`,
      'Nobody would wait for it, and no controller would hold it; it is not planned.',
      'Look at its depth per pass, its step-over or spacing, its pecks and tabs, and its feed: one of them is far too small.',
      { cut },
    ),
  allowanceNegative: (cut: string, allowance: number) =>
    make('allowance-negative', 'error')(
      `The allowance is ${len(allowance)}, less than nothing.`,
      'The passes before the last would cut into the part.',
      'Type what they shall leave on the wall, or 0.',
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
  smallOnVacuum: (cut: string, area: number, at: [number, number]) =>
    make('vacuum-small', 'warning')(
      `A part of ${Math.round(area / 100)} cm² is cut free and only vacuum holds it.`,
      'So little board under it gives so little hold: it slides under the bit.',
      'Leave tabs or a skin, or carry it on a larger board.',
      { cut, at },
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
  throughHolder: (cut: string, kind: string, how: 'cut' | 'travel', at: [number, number]) =>
    make('holder-in-the-way', 'error')(
      how === 'cut' ? `The bit would cut into a ${kind}.` : `Travel runs into a ${kind} that stands as high or higher.`,
      'It breaks the bit, tears the board loose, or throws the piece.',
      how === 'cut' ? 'Move it, or the artwork.' : 'Move it, or travel higher.',
      { cut, at },
    ),
  frameOverHolder: (kind: string, at: [number, number]) =>
    make('holder-in-the-frame', 'warning')(
      `A ${kind} stands in the way when the outline of the job is driven round at travel height.`,
      'The bit would run into it while you look.',
      'Travel higher, or move it.',
      { at },
    ),
  probeBlocked: (kind: string, at: [number, number]) =>
    make('probe-blocked', 'warning')(
      `A ${kind} sits where the touch plate must lie.`,
      'Zero cannot be touched there, or is touched wrong.',
      'Move it, or set zero in another place.',
      { at },
    ),
  colletChange: (shanks: readonly number[]) =>
    make('collet-change', 'note')(
      `The bits have shanks of ${shanks.map(len).join(' and ')}: the collet is changed with them.`,
      'A shank in the wrong collet slips or bends.',
      'Lay the collets out beside the bits; clean them before they are closed.',
    ),
  notInCrib: (bit: string) =>
    make('bit-not-in-crib', 'note')(
      `“${bit}” is not in the shop's crib.`,
      'Nobody knows whether it is there, how worn it is, or what it really measures.',
      'Take one from the crib under Cuts, or add it there.',
    ),
  programTooLong: (name: string, bytes: number, memory: number) =>
    make('program-too-long', 'error')(
      `${name} has ${Math.ceil(bytes / 1024)} kB and the controller holds ${Math.floor(memory / 1024)} kB.`,
      'It would be cut off, or not load at all.',
      'Write one program for each bit, arcs instead of lines, or fewer decimals.',
    ),
  chipThin: (cut: string, chip: number, least: number) =>
    make('chip-thin', 'note')(
      `Each tooth takes ${formatChip(chip, shown)}; for this bit and board at least ${formatChip(least, shown)} is usual.`,
      'It rubs more than it cuts: the bit gets hot and dull, the wood burns.',
      'Feed faster, or turn slower.',
      { cut },
    ),
  chipThick: (cut: string, chip: number, most: number) =>
    make('chip-thick', 'warning')(
      `Each tooth takes ${formatChip(chip, shown)}; for this bit and board ${formatChip(most, shown)} is the most that is usual.`,
      'The bit bends or breaks, and the edge tears.',
      'Feed slower, or turn faster.',
      { cut },
    ),
  startsBelowDepth: (cut: string, start: number, depth: number) =>
    make('starts-below-depth', 'error')(
      `It starts ${len(start)} below the top and is to end at ${len(depth)}.`,
      'There is nothing between the two to cut.',
      'Both are counted from the top of the board: type a greater depth, or a smaller start.',
      { cut },
    ),
  feedNotReached: (cut: string, asked: number, reached: number) =>
    make('feed-not-reached', 'note')(
      `The feed of ${rate(asked)} is never reached: on moves this short the machine gets to ${rate(reached)}.`,
      'The time is that of the acceleration, and a faster feed would not shorten it.',
      'Nothing needs changing; look at the plunge rate and travel height to save time.',
      { cut },
    ),
  carvesToMush: (cut: string, width: number, why: 'tip' | 'board', than: number, at: [number, number]) =>
    make('carves-to-mush', 'warning')(
      why === 'tip'
        ? `The finest stroke is ${len(width)} wide and the tip of the bit ${len(than)}.`
        : `The finest stroke is carved only as deep as the board is uneven (${len(than)}).`,
      'Such details come out as fuzz, or not at all.',
      why === 'tip' ? 'Use a sharper bit, larger letters, or drop them.' : 'Plane the board, use larger letters, or drop them.',
      { cut, at },
    ),
  thinWall: (width: number, count: number, at: [number, number]) =>
    make('wall-thin', 'warning')(
      `${count === 1 ? 'A wall of wood' : `${count} walls of wood`} between cuts ${count === 1 ? 'is' : 'are'} less than ${len(width)} thick.`,
      'Thin walls fray and break off.',
      'Space the drawing out, cut less deep there, or use a harder board.',
      { at },
    ),
  shortGrain: (width: number, count: number, at: [number, number]) =>
    make('grain-short', 'note')(
      `${count === 1 ? 'A piece of wood' : `${count} pieces of wood`} between cuts ${count === 1 ? 'is' : 'are'} less than ${len(width)} long in the direction of the grain.`,
      'Short grain snaps off: nothing runs along it to hold it.',
      'Turn the drawing or the board, or leave more wood there.',
      { at },
    ),
  noPark: () =>
    make('program-no-park', 'note')(
      'The program ends where it stands, above the board.',
      'Reaching under a bit that hangs over the work is how hands get hurt.',
      'Let it park, under Program.',
    ),
  datumDiffers: (what: string) =>
    make('datum-differs', 'warning')(
      what,
      'The program would cut in the wrong place, or at the wrong depth.',
      'Set zero anew where this job wants it, or change the job.',
    ),
  feedTooFast: (cut: string, what: string, asked: number, limit: number) =>
    make('feed-over-limit', 'warning')(
      `${what} ${rate(asked)} is above the machine's ${rate(limit)}.`,
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
  freedFirst: (cut: string, later: string, repair: Finding['repair']) =>
    make('order-freed-first', 'warning')(`The part is cut out before ${later}.`, 'A part that is nearly free moves under the bit.', 'Put the outline last.', {
      cut,
      repair,
    }),
  openedFirst: (cut: string, later: string, repair: Finding['repair']) =>
    make('order-opened-first', 'warning')(
      `An opening is cut through before ${later}.`,
      'The board is weaker there, and what is cut next to it trembles.',
      'Carve first, then cut openings.',
      { cut, repair },
    ),
  drilledLate: (cut: string, earlier: string, repair: Finding['repair']) =>
    make('order-drilled-late', 'note')(`Holes are drilled after ${earlier}.`, 'Drilling is surest while the board is whole and lies flat.', 'Drill first.', {
      cut,
      repair,
    }),
  planedLate: (cut: string, repair: Finding['repair']) =>
    make('order-planed-late', 'warning')(
      'The board is planed after something was cut into it.',
      'Planing takes off the top: what was cut before comes out shallower.',
      'Plane first.',
      { cut, repair },
    ),
  clearedAfter: (cut: string, later: string, repair: Finding['repair']) =>
    make('order-cleared-after', 'error')(
      `This cut counts on ${later}, which comes after it.`,
      'Its bit would go full width into wood that is not cleared yet, and break.',
      'Clear first.',
      { cut, repair },
    ),
  clearingMissing: (cut: string, bit: string) =>
    make('clearing-missing', 'error')(
      `This cut counts on ${bit} clearing before it, and no cut does that.`,
      'What that bit should take would be left standing.',
      'Add the clearing cut, or let this one clear it all.',
      { cut },
    ),
  bitChanges: (saved: number, repair: Finding['repair']) =>
    make('order-bit-changes', 'note')(
      `${saved === 1 ? 'One change of bit' : `${saved} changes of bit`} could be saved.`,
      'Every change takes minutes and a new measurement of Z.',
      'Put cuts of one bit together.',
      { repair },
    ),
  noLead: (cut: string, count: number) =>
    make('lead-no-room', 'note')(
      `${count === 1 ? 'One outline has' : `${count} outlines have`} no room for the lead.`,
      'The bit comes down on the wall there and may leave a mark.',
      'Choose a shorter lead, or sand the mark.',
      { cut },
    ),
  bevelTooWide: (cut: string, width: number) =>
    make('bevel-too-wide', 'error')(
      `The bit is too narrow for a bevel of ${len(width)}.`,
      'Its shank would rub along the edge.',
      'Use a wider bit, or a smaller bevel.',
      { cut },
    ),
  inlayProud: (cut: string, ridge: number, room: number) =>
    make('inlay-proud', 'error')(
      `Ridges ${len(ridge)} high stand round the plug, and the saw has ${len(room)}.`,
      'They touch the board before the plug is in: it sits proud.',
      'Use a smaller step-over, or leave the saw more room (a deeper floor).',
      { cut },
    ),
  inlayBinds: (cut: string, tip: number, by: number, at: [number, number]) =>
    make('inlay-binds', 'warning')(
      `The tip of the bit (${len(tip)} wide) cannot cut the sharp corners of what the plug goes into: it binds there, by about ${len(by)} in a square corner.`,
      'The plug does not go all the way in, or splits.',
      'Use a sharp V for both halves, ease the corners of the plug with a knife, or round the drawing.',
      { cut, at },
    ),
  plugTooTight: (cut: string, gap: number) =>
    make('plug-tight', 'warning')(
      `The smallest gap between plug and recess is ${len(gap)}.`,
      'Wood swells and paint takes room: the plug may not go in.',
      `Leave about ${len(0.1)} on every side unless it shall be driven in.`,
      { cut },
    ),
  plugUneven: (cut: string, gap: number, asked: number) =>
    make('plug-uneven', 'warning')(
      `The gap is ${len(gap)} in places, where ${len(asked)} was asked for.`,
      'The bits cannot follow the drawing there, and a gap is seen.',
      'Use thinner bits, or round the drawing.',
      { cut },
    ),
  skimDeep: (cut: string, skim: number) =>
    make('skim-deep', 'warning')(
      `${len(skim)} is taken off at a time.`,
      `Wide bits tear and the board may lift; common practice is ${len(0.2)}, never deeper.`,
      'Take less, and repeat until no mark is left.',
      { cut },
    ),
  spoilboardBare: (cut: string) =>
    make('spoilboard-bare', 'note')(
      'The spoilboard itself is planed.',
      'Nothing may lie on it, and no screw or pin may stand in it. Its height changes.',
      'Clear it, then enter the new height at the machine.',
      { cut },
    ),
  compressionShallow: (cut: string, pass: number, up: number) =>
    make('compression-shallow', 'warning')(
      `The first pass is ${len(pass)} deep; the bit cuts upwards over its lowest ${len(up)}.`,
      'Only the up-cutting part is in the wood then, and the top edge frays.',
      'Make the pass deeper than that part.',
      { cut },
    ),
  clearanceLow: (clearance: number, height: number) =>
    make('clearance-low', 'error')(
      `Travel is ${len(clearance)} above the board and what holds it stands ${len(height)} high.`,
      'The bit would run into a clamp or a screw at rapid speed.',
      'Travel higher, or hold the board down another way.',
    ),
  spotsTouched: (cut: string, count: number) =>
    make('fill-spots', 'note')(
      `${count === 1 ? 'One spot is' : `${count} spots are`} too narrow for the cutter at this depth.`,
      'The point goes in once there, as deep as the walls allow; what lies beyond stays.',
      'Use a finer cutter if it shows.',
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
  programTurns: (line: number, axis: string) =>
    make('program-turns', 'warning')(
      `Line ${line} turns something about ${axis}: Kerbe leaves that out.`,
      'What it reads of this program is only what happens along X, Y and Z.',
      'Run it only on a machine that has this axis, and do not trust its extents here.',
      { line },
    ),
  programShifts: (line: number) =>
    make('program-shifts', 'warning')(
      `Line ${line} sets a new origin where the bit stands (G92).`,
      'Everything after it counts from there, and so do its extents.',
      'Look where the bit stands at that line before you run it.',
      { line },
    ),
  programRapidInWood: (line: number, count: number, z: number) =>
    make('program-rapid-in-work', 'error')(
      `${count === 1 ? 'A rapid move goes' : `${count} rapid moves go`} below Z0 where nothing was cut yet (line ${line}, Z ${len(z)}).`,
      'At rapid speed the bit breaks or throws the board.',
      'Make it a cutting move, or lift first.',
      { line },
    ),
  programSpindleOff: (line: number, count: number) =>
    make('program-spindle-off', 'warning')(
      `${count === 1 ? 'One move goes' : `${count} moves go`} below Z0 with the spindle standing still (from line ${line}).`,
      'That is right for a drag diamond only; any other bit is pushed into the work and breaks.',
      'Start the spindle (M3) before the first cut.',
      { line },
    ),
  programMixedOffsets: (line: number, offsets: string) =>
    make('program-mixed-offsets', 'warning')(
      `The program moves in more than one work offset (${offsets}; line ${line}).`,
      'Each has its own zero: set only one, and the rest is cut somewhere else.',
      'Set zero in each of them, or use one.',
      { line },
    ),
  ownLine: (line: string, what: string) =>
    make('program-own-line', 'warning')(
      `A line of the shop’s own, “${line}”, is not understood: ${what}.`,
      'The machine may take it, or stop there.',
      'Try it at the machine with nothing on the bed, or take it out.',
    ),
  programNotPlanned: (name: string, line: number, why: string) =>
    make('program-not-planned', 'error')(
      `${name}, line ${line}: ${why}.`,
      'The text of the program is not the toolpath that was planned and proved; it is not released.',
      'Look at the lines of the shop’s own; take out what moves, sets modes or turns the spindle.',
      { line },
    ),
  ownLineForbidden: (line: string, what: string) =>
    make('program-own-line-forbidden', 'error')(
      `A line of the shop’s own, “${line}”, ${what}.`,
      'Moves, modes, zeros and the spindle are the plan’s alone: from a line of the shop’s own they would spoil the board or hurt somebody.',
      'Take it out. Allowed are comments, a wait (G4 P), air and mist (M7, M8, M9), outputs (M62 to M65 with P), clamps (M10, M11) and the shop’s own M100 to M199.',
    ),
  programUnitsMissing: () =>
    make('program-no-units', 'warning')(
      'The program does not say whether it is in inches or millimetres (G20 or G21).',
      'Read in the wrong unit everything is 25.4 times too large or too small.',
      'Look at its extents; ask who wrote it; add the word at its start.',
    ),
  programEndMissing: () =>
    make('program-no-end', 'warning')('The program has no end (M2 or M30).', 'It may have been cut short on its way here.', 'Check that the file is whole.'),
};

export const forbids = (findings: readonly Finding[]): boolean => findings.some((f) => f.severity === 'error');
