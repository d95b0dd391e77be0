/** What can be wrong with a cut and its bit. */
import { define } from './finding.ts';

/** A cut that can stop at a floor does so, at this depth. */
const floorRepair = (floor?: { field: string; depth: number }) =>
  floor === undefined ? {} : { repair: { items: [], fields: { [floor.field]: floor.depth } } };

export const cutsFindings = {
  nothingToCut: define(
    'cut-empty',
    'warning',
    (cut: string) => ({ data: {}, cut }),
    () => ['A cut has nothing to work on.', 'It adds nothing to the program.', 'Give it artwork, or delete it.'],
  ),
  wrongBit: define(
    'cut-wrong-bit',
    'error',
    (cut: string, need: string) => ({ data: { need }, cut }),
    ({ need }) => [`This cut needs ${need}.`, 'The bit chosen cannot cut this shape.', 'Choose another bit.'],
  ),
  bitTooLarge: define(
    'bit-does-not-fit',
    'error',
    (cut: string, count: number) => ({ data: { count }, cut }),
    ({ count }) => [
      `The bit does not fit into ${count === 1 ? 'one outline' : `${count} outlines`}.`,
      'They would be left out of the program.',
      'Choose a smaller bit, or a larger drawing.',
    ],
  ),
  deeperThanBoard: define(
    'deeper-than-board',
    'error',
    (cut: string, depth: number, thickness: number, floor?: { field: string; depth: number }) => ({
      data: { depth, thickness, floor: floor?.depth },
      cut,
      ...floorRepair(floor),
    }),
    ({ depth, thickness, floor }, { len }) => [
      `The carve is ${len(depth)} deep and the board only ${len(thickness)} thick.`,
      'The bit would come through the back and into the bed.',
      'Set a floor depth, use a blunter bit, or a thicker board.',
      ...(floor === undefined ? [] : [`Set its floor to ${len(floor)}`]),
    ],
  ),
  throughTooDeep: define(
    'through-into-bed',
    'error',
    (cut: string, below: number) => ({ data: { below }, cut }),
    ({ below }, { len }) => [
      `The cut goes ${len(below)} below the board.`,
      'That is through the spoilboard and towards the bed.',
      'Reduce the depth, or the allowance for cutting through.',
    ],
  ),
  pointThrough: define(
    'point-into-spoilboard',
    'warning',
    (cut: string, below: number) => ({ data: { below }, cut }),
    ({ below }, { len }) => [
      `The point of the drill goes ${len(below)} below the board.`,
      'It has to, for the hole to be its full width all the way down; the spoilboard must be thicker than that.',
      'Check the spoilboard, or lay a scrap under the board.',
    ],
  ),
  bitTooShort: define(
    'bit-too-short',
    'error',
    (cut: string, depth: number, flute: number, floor?: { field: string; depth: number }) => ({
      data: { depth, flute, floor: floor?.depth },
      cut,
      ...floorRepair(floor),
    }),
    ({ depth, flute, floor }, { len }) => [
      `The cut is ${len(depth)} deep and the bit cuts only over ${len(flute)}.`,
      'The shank would rub, burn and break.',
      'Cut less deep, or use a longer bit.',
      ...(floor === undefined ? [] : [`Set its floor to ${len(floor)}`]),
    ],
  ),
  notRound: define(
    'drill-not-round',
    'warning',
    (cut: string, count: number) => ({ data: { count }, cut }),
    ({ count }) => [
      `${count === 1 ? 'One shape is' : `${count} shapes are`} no circle and cannot be drilled.`,
      'They are left out of this cut.',
      'Drill circles and hole patterns; pocket or profile the rest.',
    ],
  ),
  drillThin: define(
    'drill-thin',
    'warning',
    (cut: string, count: number, width: number) => ({ data: { count, width }, cut }),
    ({ count, width }, { len }) => [
      `${count === 1 ? 'One hole is' : `${count} holes are`} drawn wider than the drill: ${count === 1 ? 'it comes' : 'they come'} out ${len(width)} wide.`,
      'A twist drill cuts with its point alone and cannot widen a hole sideways.',
      'Use a drill of the right size or a straight bit, unless a pilot hole is what you want.',
    ],
  ),
  nothingCut: define(
    'cut-makes-nothing',
    'error',
    (cut: string, why: string) => ({ data: { why }, cut }),
    ({ why }) => [
      `This cut takes nothing away: ${why}.`,
      'What it should cut would stay as it is, without a word.',
      'Change its figures or its bit, or delete the cut.',
    ],
  ),
  tooMuchWork: define(
    'cut-too-much',
    'error',
    (cut: string, much: string) => ({ data: { much }, cut }),
    ({ much }) => [
      `This cut would be ${much}.`,
      'Nobody would wait for it, and no controller would hold it; it is not planned.',
      'Look at its depth per pass, its step-over or spacing, its pecks and tabs, and its feed: one of them is far too small.',
    ],
  ),
  allowanceNegative: define(
    'allowance-negative',
    'error',
    (cut: string, allowance: number) => ({ data: { allowance }, cut }),
    ({ allowance }, { len }) => [
      `The allowance is ${len(allowance)}, less than nothing.`,
      'The passes before the last would cut into the part.',
      'Type what they shall leave on the wall, or 0.',
    ],
  ),
  bitTooNarrow: define(
    'bit-too-narrow',
    'warning',
    (cut: string, stroke: number, groove: number) => ({ data: { stroke, groove }, cut }),
    ({ stroke, groove }, { len }) => [
      `The widest stroke is ${len(stroke)} and the bit's widest groove ${len(groove)}.`,
      'The middle of such strokes gets a flat floor instead of a sharp V, and takes longer.',
      'Use a wider bit, or choose a floor depth on purpose.',
    ],
  ),
  strokeNarrowerThanTip: define(
    'stroke-narrower-than-tip',
    'warning',
    (cut: string, tip: number) => ({ data: { tip }, cut }),
    ({ tip }, { len }) => [
      `Some strokes are narrower than the bit's tip (${len(tip)}).`,
      'They are left out: the tip would cut outside the drawing.',
      'Use a sharper bit, or larger letters.',
    ],
  ),
  smallOnVacuum: define(
    'vacuum-small',
    'warning',
    (cut: string, area: number, at: [number, number]) => ({ data: { area }, cut, at }),
    ({ area }) => [
      `A part of ${Math.round(area / 100)} cm² is cut free and only vacuum holds it.`,
      'So little board under it gives so little hold: it slides under the bit.',
      'Leave tabs or a skin, or carry it on a larger board.',
    ],
  ),
  freedPart: define(
    'part-freed',
    'error',
    (cut: string) => ({ data: {}, cut }),
    () => [
      'The part is cut free and nothing holds it.',
      'A freed part moves, is spoiled, and can be thrown.',
      'Add tabs, or hold the board down with tape and glue.',
    ],
  ),
  fewTabs: define(
    'tabs-few',
    'warning',
    (cut: string, asked: number, placed: number) => ({ data: { asked, placed }, cut, ...(placed === 0 ? { severity: 'error' as const } : {}) }),
    ({ asked, placed }) => [
      `Only ${placed} of ${asked} tabs fit on an outline.`,
      'The part may come loose before the cut is done.',
      'Use narrower tabs, or hold the part another way.',
    ],
  ),
  chipThin: define(
    'chip-thin',
    'note',
    (cut: string, chip: number, least: number) => ({ data: { chip, least }, cut }),
    ({ chip, least }, { chipOf }) => [
      `Each tooth takes ${chipOf(chip)}; for this bit and board at least ${chipOf(least)} is usual.`,
      'It rubs more than it cuts: the bit gets hot and dull, the wood burns.',
      'Feed faster, or turn slower.',
    ],
  ),
  chipThick: define(
    'chip-thick',
    'warning',
    (cut: string, chip: number, most: number) => ({ data: { chip, most }, cut }),
    ({ chip, most }, { chipOf }) => [
      `Each tooth takes ${chipOf(chip)}; for this bit and board ${chipOf(most)} is the most that is usual.`,
      'The bit bends or breaks, and the edge tears.',
      'Feed slower, or turn faster.',
    ],
  ),
  startsBelowDepth: define(
    'starts-below-depth',
    'error',
    (cut: string, start: number, depth: number) => ({ data: { start, depth }, cut }),
    ({ start, depth }, { len }) => [
      `It starts ${len(start)} below the top and is to end at ${len(depth)}.`,
      'There is nothing between the two to cut.',
      'Both are counted from the top of the board: type a greater depth, or a smaller start.',
    ],
  ),
  feedNotReached: define(
    'feed-not-reached',
    'note',
    (cut: string, asked: number, reached: number) => ({ data: { asked, reached }, cut }),
    ({ asked, reached }, { rate }) => [
      `The feed of ${rate(asked)} is never reached: on moves this short the machine gets to ${rate(reached)}.`,
      'The time is that of the acceleration, and a faster feed would not shorten it.',
      'Nothing needs changing; look at the plunge rate and travel height to save time.',
    ],
  ),
  carvesToMush: define(
    'carves-to-mush',
    'warning',
    (cut: string, width: number, why: 'tip' | 'board', than: number, at: [number, number]) => ({ data: { width, why, than }, cut, at }),
    ({ width, why, than }, { len }) => [
      why === 'tip'
        ? `The finest stroke is ${len(width)} wide and the tip of the bit ${len(than)}.`
        : `The finest stroke is carved only as deep as the board is uneven (${len(than)}).`,
      'Such details come out as fuzz, or not at all.',
      why === 'tip' ? 'Use a sharper bit, larger letters, or drop them.' : 'Surface the board, use larger letters, or drop them.',
    ],
  ),
  feedTooFast: define(
    'feed-over-limit',
    'warning',
    (cut: string, what: string, asked: number, limit: number) => ({ data: { what, asked, limit }, cut }),
    ({ what, asked, limit }, { rate }) => [
      `${what} ${rate(asked)} is above the machine's ${rate(limit)}.`,
      'The machine runs slower than planned: the chip gets thinner and the bit hotter.',
      'Lower it to what the machine can do.',
    ],
  ),
  spindleTooFast: define(
    'spindle-over-limit',
    'error',
    (cut: string, asked: number, limit: number) => ({ data: { asked, limit }, cut }),
    ({ asked, limit }) => [
      `The spindle is asked for ${Math.round(asked)} rev/min and reaches ${Math.round(limit)}.`,
      'The machine would refuse the program.',
      'Lower the speed, and the feed with it.',
    ],
  ),
  unevenBoard: define(
    'board-uneven',
    'warning',
    (cut: string, spread: number, depth: number) => ({ data: { spread, depth }, cut }),
    ({ spread, depth }, { len }) => [
      `The board varies by ${len(spread)} and the carve is ${len(depth)} deep.`,
      'Shallow strokes fade out where the board is low.',
      'Surface the board, or carve deeper.',
    ],
  ),
  passDeep: define(
    'pass-deep',
    'warning',
    (cut: string, step: number, diameter: number) => ({ data: { step, diameter }, cut }),
    ({ step, diameter }, { len }) => [
      `Each pass is ${len(step)} deep, more than the bit is thick (${len(diameter)}).`,
      'Thin bits break that way.',
      'Use less depth per pass unless the bit and the wood are known to bear it.',
    ],
  ),
  clearingMissing: define(
    'clearing-missing',
    'error',
    (cut: string, bit: string) => ({ data: { bit }, cut }),
    ({ bit }) => [
      `This cut counts on ${bit} clearing before it, and no cut does that.`,
      'What that bit should take would be left standing.',
      'Add the clearing cut, or let this one clear it all.',
    ],
  ),
  noLead: define(
    'lead-no-room',
    'note',
    (cut: string, count: number) => ({ data: { count }, cut }),
    ({ count }) => [
      `${count === 1 ? 'One outline has' : `${count} outlines have`} no room for the lead.`,
      'The bit comes down on the wall there and may leave a mark.',
      'Choose a shorter lead, or sand the mark.',
    ],
  ),
  bevelTooWide: define(
    'bevel-too-wide',
    'error',
    (cut: string, width: number) => ({ data: { width }, cut }),
    ({ width }, { len }) => [
      `The bit is too narrow for a bevel of ${len(width)}.`,
      'Its shank would rub along the edge.',
      'Use a wider bit, or a smaller bevel.',
    ],
  ),
  inlayProud: define(
    'inlay-proud',
    'error',
    (cut: string, ridge: number, room: number) => ({ data: { ridge, room }, cut }),
    ({ ridge, room }, { len }) => [
      `Ridges ${len(ridge)} high stand round the plug, and the saw has ${len(room)}.`,
      'They touch the board before the plug is in: it sits proud.',
      'Use a smaller step-over, or leave the saw more room (a deeper floor).',
    ],
  ),
  inlayBinds: define(
    'inlay-binds',
    'warning',
    (cut: string, tip: number, by: number, at: [number, number]) => ({ data: { tip, by }, cut, at }),
    ({ tip, by }, { len }) => [
      `The tip of the bit (${len(tip)} wide) cannot cut the sharp corners of what the plug goes into: it binds there, by about ${len(by)} in a square corner.`,
      'The plug does not go all the way in, or splits.',
      'Use a sharp V for both halves, ease the corners of the plug with a knife, or round the drawing.',
    ],
  ),
  plugTooTight: define(
    'plug-tight',
    'warning',
    (cut: string, gap: number) => ({ data: { gap }, cut }),
    ({ gap }, { len }) => [
      `The smallest gap between plug and recess is ${len(gap)}.`,
      'Wood swells and paint takes room: the plug may not go in.',
      `Leave about ${len(0.1)} on every side unless it shall be driven in.`,
    ],
  ),
  plugUneven: define(
    'plug-uneven',
    'warning',
    (cut: string, gap: number, asked: number) => ({ data: { gap, asked }, cut }),
    ({ gap, asked }, { len }) => [
      `The gap is ${len(gap)} in places, where ${len(asked)} was asked for.`,
      'The bits cannot follow the drawing there, and a gap is seen.',
      'Use thinner bits, or round the drawing.',
    ],
  ),
  skimDeep: define(
    'skim-deep',
    'warning',
    (cut: string, skim: number) => ({ data: { skim }, cut }),
    ({ skim }, { len }) => [
      `${len(skim)} is taken off at a time.`,
      `Wide bits tear and the board may lift; common practice is ${len(0.2)}, never deeper.`,
      'Take less, and repeat until no mark is left.',
    ],
  ),
  spoilboardBare: define(
    'spoilboard-bare',
    'note',
    (cut: string) => ({ data: {}, cut }),
    () => [
      'The spoilboard itself is planed.',
      'Nothing may lie on it, and no screw or pin may stand in it. Its height changes.',
      'Clear it, then enter the new height at the machine.',
    ],
  ),
  compressionShallow: define(
    'compression-shallow',
    'warning',
    (cut: string, pass: number, up: number) => ({ data: { pass, up }, cut }),
    ({ pass, up }, { len }) => [
      `The first pass is ${len(pass)} deep; the bit cuts upwards over its lowest ${len(up)}.`,
      'Only the up-cutting part is in the wood then, and the top edge frays.',
      'Make the pass deeper than that part.',
    ],
  ),
  spotsTouched: define(
    'fill-spots',
    'note',
    (cut: string, count: number) => ({ data: { count }, cut }),
    ({ count }) => [
      `${count === 1 ? 'One spot is' : `${count} spots are`} too narrow for the cutter at this depth.`,
      'The point goes in once there, as deep as the walls allow; what lies beyond stays.',
      'Use a finer cutter if it shows.',
    ],
  ),
  axisTrouble: define(
    'axis-unsure',
    'warning',
    (cut: string, count: number) => ({ data: { count }, cut }),
    ({ count }) => [
      `The middle line of ${count === 1 ? 'one shape' : `${count} shapes`} could not be traced cleanly.`,
      'Part of such a shape may stay uncarved.',
      'Look at it in the proof; clean its outline.',
    ],
  ),
};
