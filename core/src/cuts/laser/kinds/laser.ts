/** The four kinds of a laser: cut, score, fill and picture. */
import { boardThickness } from '../../../board/index.ts';
import { finding } from '../../../findings/index.ts';
import { flat, penStrokes, roundPart } from '../../expected.ts';
import { partsOf } from '../../torch/torch.ts';
import { contoursOf, distanceToEdges, offset, perimeter, rectangle, regionArea, type Region } from '../../../geometry/index.ts';
import type { Toolpath } from '../../../toolpath/index.ts';
import type { BaseCut, CutContext, CutKind, CutMaker } from '../../kind.ts';
import type { Field } from '../../card.ts';
import { LaserFill, planFill } from '../fill.ts';
import { LaserCut, LaserScore, planLaserCut, planScore } from '../outline.ts';
import { LaserPicture, planPictures } from '../picture.ts';

interface Beam extends BaseCut {
  power: number;
  focus: number;
  air: boolean;
}

const needsHead = (_cut: BaseCut, bit: { kind: string }) => (bit.kind === 'head' ? null : { need: 'a laser head', forbids: true });
const POWER: Field<Beam> = { key: 'power', label: 'Power', as: 'number', unit: '% of full', min: 0, max: 100 };
const FOCUS: Field<Beam> = { key: 'focus', label: 'Focus below the surface', as: 'length', min: -50, under: 'Focus' };
const AIR: Field<Beam> = { key: 'air', label: 'Air assist', as: 'flag' };
const PASSES = { key: 'passes', label: 'Passes', as: 'number', unit: '', min: 1, max: 20 } as const;
/** What every kind of a beam has in common. */
const beam = {
  process: 'laser',
  tools: ['head'],
  staysAbove: true,
  keepsOrder: true,
  noChipLoad: true,
  wrongBit: needsHead,
  depths: () => ({ start: 0, end: undefined }),
} as const;
const percent = ({ power, air }: Beam) => `, ${power} % of full power${air ? ', air' : ''}`;
const nothing = () => [];

export const laserCut: CutKind<LaserCut, typeof LaserCut> = {
  ...beam,
  kind: 'laser-cut',
  burns: 'through',
  label: 'laser cut',
  title: 'Cut',
  help: 'Cuts through along outlines at constant power: parts outside their line, openings inside theirs, what lies inside first.',
  format:
    '`power` (per cent of full), `side` (`auto`, `outside`, `inside`, `on`), `kerf`, `passes`, `focus` (mm below the surface), `focusStep` (lower with each), `leadIn`, `overcut`, `tabs`, `tabWidth`, `air`',
  schema: LaserCut,
  usualTarget: 'art',
  byNesting: ({ side }) => side === 'auto',
  mayGoThrough: true,
  innerFirst: true,
  stage: ({ side }) => (side === 'inside' || side === 'on' ? 'openings' : 'outline'),
  leavesParts: ({ side }) => side === 'outside' || side === 'auto',
  opens: ({ side }) => side === 'inside' || side === 'on',
  variant: ({ side }) => ` ${side}`,
  described: ({ cut }, show) => `${percent(cut)}, constant, kerf ${show(cut.kerf)}, ${cut.passes} ${cut.passes === 1 ? 'pass' : 'passes'}`,
  figures: ({ cut }) => [{ label: 'Kerf', value: cut.kerf, as: 'length' }],
  fields: [
    POWER as Field<LaserCut>,
    {
      key: 'side',
      label: 'Side',
      as: 'choice',
      options: [
        { value: 'auto', label: 'automatic (by nesting)' },
        { value: 'outside', label: 'outside: keeps the part' },
        { value: 'inside', label: 'inside: an opening' },
        { value: 'on', label: 'on the line' },
      ],
    },
    { key: 'kerf', label: 'Kerf', as: 'length', min: 0 },
    PASSES,
    { key: 'focusStep', label: 'Focus lower with each pass by', as: 'length', min: 0, when: ({ passes }) => passes > 1 },
    { key: 'leadIn', label: 'Lead-in from the scrap', as: 'length', min: 0, when: ({ side }) => side !== 'on', under: 'Start and end' },
    { key: 'overcut', label: 'Overcut past the start', as: 'length', min: 0, under: 'Start and end' },
    { key: 'tabs', label: 'Tabs on each part', as: 'number', unit: '', min: 0, max: 40, under: 'Tabs' },
    { key: 'tabWidth', label: 'Gap width', as: 'length', min: 0.05, when: ({ tabs }) => tabs > 0, under: 'Tabs' },
    FOCUS as Field<LaserCut>,
    AIR as Field<LaserCut>,
  ],
  varyDepth: (cut, depth) => ({ ...cut, power: Math.min(100, depth) }),
};

export const laserScore: CutKind<LaserScore, typeof LaserScore> = {
  ...beam,
  kind: 'laser-score',
  burns: 'lines',
  label: 'laser score',
  title: 'Score',
  help: 'Draws lines and outlines with the beam, without cutting through.',
  format: '`power` (per cent of full), `passes`, `focus` (mm below the surface), `air`',
  schema: LaserScore,
  followsLines: true,
  usualTarget: 'art',
  stage: () => 'carving',
  described: ({ cut }) => `${percent(cut)}, dynamic`,
  figures: ({ holes }) => [{ label: 'Lines', value: holes ?? 0, as: 'count' }],
  fields: [POWER as Field<LaserScore>, PASSES, FOCUS as Field<LaserScore>, AIR as Field<LaserScore>],
  varyDepth: (cut, depth) => ({ ...cut, power: Math.min(100, depth) }),
};

const SCAN = [
  { key: 'bothWays', label: 'Burn rows both ways', as: 'flag' },
  {
    key: 'lag',
    label: 'Beam delay',
    as: 'number',
    unit: 'ms',
    min: -20,
    max: 20,
    step: 0.01,
    when: (cut: { bothWays: boolean }) => cut.bothWays,
    under: 'Rows',
  },
] as const;

export const laserFill: CutKind<LaserFill, typeof LaserFill> = {
  ...beam,
  kind: 'laser-fill',
  burns: 'areas',
  label: 'laser fill',
  title: 'Fill',
  help: 'Fills areas with lines close beside each other - scan lines, or the outline again and again inwards: letters, badges, backgrounds.',
  format:
    '`power` (per cent of full), `interval` (mm between the lines), `by` (`lines`, `offsets`), `angle`, `cross`, `bothWays`, `passes`, `overscan`, `lag` (ms), `focus` (mm below the surface), `air`',
  schema: LaserFill,
  usualTarget: 'art',
  stage: () => 'carving',
  variant: ({ cross, by }) => (by === 'offsets' ? ' inwards' : cross ? ' across' : ''),
  described: ({ cut }, show) =>
    `${percent(cut)}, dynamic, ${cut.by === 'offsets' ? `its outline inwards every ${show(cut.interval)}` : `lines every ${show(cut.interval)} at ${cut.angle} degrees`}`,
  figures: ({ holes }) => [{ label: 'Rows', value: holes ?? 0, as: 'count' }],
  fields: [
    POWER as Field<LaserFill>,
    { key: 'interval', label: 'Line interval', as: 'length', min: 0.01 },
    {
      key: 'by',
      label: 'Fill pattern',
      as: 'choice',
      options: [
        { value: 'lines', label: 'lines across it' },
        { value: 'offsets', label: 'its outline, again and again inwards' },
      ],
    },
    { key: 'angle', label: 'Turned by', as: 'number', unit: 'degrees', min: -360, max: 360, when: ({ by }) => by === 'lines' },
    { key: 'cross', label: 'Fill a second time, across', as: 'flag', when: ({ by }) => by === 'lines' },
    PASSES,
    ...(SCAN as unknown as Field<LaserFill>[]),
    { key: 'overscan', label: 'Dark way beside each row', as: 'length', min: 0, under: 'Rows', empty: () => 'what the machine needs' },
    FOCUS as Field<LaserFill>,
    AIR as Field<LaserFill>,
  ],
  varyDepth: (cut, depth) => ({ ...cut, power: Math.min(100, depth) }),
};

export const laserPicture: CutKind<LaserPicture, typeof LaserPicture> = {
  ...beam,
  kind: 'laser-picture',
  burns: 'areas',
  label: 'laser picture',
  title: 'Picture',
  help: 'Burns a picture row by row, as dots or as shades of power. It keeps its size, whatever the lines per mm.',
  format:
    '`power` (per cent of full, for the darkest), `linesPerMm`, `dither` (`floyd-steinberg`, `ordered`, `threshold`, `lines`, `grey`), `angle`, `bothWays`, `overscan`, `lag` (ms), `invert`, `brightness`, `contrast`, `gamma`, `drop` (lighter than this is left bare), `clear` (see-through places: `bare`, or `white` like any other white), `focus` (mm below the surface), `air`',
  schema: LaserPicture,
  usualTarget: 'art',
  takesPictures: true,
  stage: () => 'carving',
  variant: ({ dither }) => ` ${dither}`,
  described: ({ cut }) =>
    `${percent(cut)}, dynamic, ${cut.linesPerMm} lines per mm (${Math.round(cut.linesPerMm * 25.4)} dpi)${cut.dither === 'grey' ? ', 32 levels of power' : ''}`,
  figures: ({ holes }) => [{ label: 'Rows', value: holes ?? 0, as: 'count' }],
  fields: [
    POWER as Field<LaserPicture>,
    { key: 'linesPerMm', label: 'Lines to the mm', as: 'number', unit: '/mm', min: 0.5, max: 60, step: 0.1 },
    {
      key: 'dither',
      label: 'Tones',
      as: 'choice',
      options: [
        { value: 'floyd-steinberg', label: 'dots, error diffusion' },
        { value: 'ordered', label: 'dots, ordered' },
        { value: 'lines', label: 'line screen' },
        { value: 'threshold', label: 'black or bare' },
        { value: 'grey', label: 'shades of power' },
      ],
    },
    { key: 'angle', label: 'Rows turned by', as: 'number', unit: 'degrees', min: -360, max: 360, under: 'Rows' },
    ...(SCAN as unknown as Field<LaserPicture>[]),
    { key: 'overscan', label: 'Dark way beside each row', as: 'length', min: 0, under: 'Rows', empty: () => 'what the machine needs' },
    { key: 'invert', label: 'Light for dark', as: 'flag', under: 'Picture' },
    { key: 'brightness', label: 'Brightness', as: 'number', unit: '', min: -1, max: 1, step: 0.05, under: 'Picture' },
    { key: 'contrast', label: 'Contrast', as: 'number', unit: '', min: 0, max: 10, step: 0.1, under: 'Picture' },
    { key: 'gamma', label: 'Gamma', as: 'number', unit: '', min: 0.1, max: 10, step: 0.1, under: 'Picture' },
    { key: 'drop', label: 'Leave bare below a darkness of', as: 'number', unit: '', min: 0, max: 1, step: 0.05, under: 'Picture' },
    {
      key: 'clear',
      label: 'See-through places',
      as: 'choice',
      options: [
        { value: 'bare', label: 'stay bare' },
        { value: 'white', label: 'count as white' },
      ],
      under: 'Picture',
    },
    FOCUS as Field<LaserPicture>,
    AIR as Field<LaserPicture>,
  ],
  varyDepth: (cut, depth) => ({ ...cut, power: Math.min(100, depth) }),
};

/** Lines finer than the spot only add heat. */
function fineness(cut: Beam & { interval?: number; linesPerMm?: number }, { bit }: CutContext) {
  const apart = cut.interval ?? (cut.linesPerMm === undefined ? undefined : 1 / cut.linesPerMm);
  return apart !== undefined && apart < 0.6 * bit.diameter ? [finding.finerThanSpot(cut.id, apart, bit.diameter)] : [];
}

/** More of an area than this in strokes narrower than the spot is no longer what was drawn. */
const TOO_SMALL = 0.1;

/** How much of what is filled lies in strokes that the spot does not fit into. (What an opening by a disc of the spot takes away.) */
function tooSmall(cut: Beam, { bit, regions }: CutContext) {
  const area = (all: readonly Region[]) => all.reduce((sum, region) => sum + regionArea(region), 0);
  const all = area(regions);
  if (all === 0) return [];
  const share = 1 - area(offset(offset(regions, -bit.diameter / 2), bit.diameter / 2)) / all;
  return share > TOO_SMALL ? [finding.tooSmallToBurn(cut.id, share, bit.diameter)] : [];
}

const hoursOf = (length: number, feed: number) => length / feed / 60;
const travelOf = ({ job, travel }: CutContext) => ({ feed: travel.feed, acceleration: job.machine.acceleration[0] });

/** The sheet and a little round it, as an area. */
const sheetOf = ({ width, height }: { width: number; height: number }) => ({ outer: rectangle(-1, -1, width + 2, height + 2), holes: [] });

/** A part smaller than this, mm², is blown away or falls through. */
const SMALL = 100;

/** Where less than the thickness is left between an opening and the edge of its part, or another opening: a place for each. */
function thinStrips({ outer, holes }: Region, thickness: number): [number, number][] {
  const others = (k: number) => [outer, ...holes.slice(0, k)].map((ring): Region => ({ outer: ring, holes: [] }));
  return holes.flatMap(({ xy }, k) => {
    const near = others(k);
    for (let i = 0; i < xy.length; i += 2) if (distanceToEdges(near, xy[i], xy[i + 1]) < thickness - STRIP) return [[xy[i], xy[i + 1]] as [number, number]];
    return [];
  });
}
/** As wide as the sheet is thick is wide enough, as it is drawn, mm. */
const STRIP = 0.02;

/** Where a beam burns beside the sheet. */
function besideSheet({ cut, path }: { cut: BaseCut; path: Toolpath }, { job }: CutContext) {
  const { width, height } = job.board;
  for (let i = 0; i < path.x.length; i++)
    if (path.power![i] > 0 && (path.x[i] < -BESIDE || path.y[i] < -BESIDE || path.x[i] > width + BESIDE || path.y[i] > height + BESIDE))
      return [finding.offSheet(cut.id, [path.x[i], path.y[i]])];
  return [];
}
/** What is no more than that beyond the edge is on it, mm. */
const BESIDE = 0.01;

export const laserCutMaker: CutMaker<LaserCut> = {
  work: ({ passes }, _context, { outlines, passes: times }) => times(passes, outlines),
  plan(cut, { regions, travel, job }) {
    const { path, contours, unreachable } = planLaserCut(regions, cut, travel.feed);
    return {
      path,
      lifts: contours.length,
      through: contours.length > 0,
      holes: contours.length,
      beam: { width: cut.kerf, depth: boardThickness(job.board) },
      ...(unreachable > 0 ? { findings: [finding.beamKerfTooWide(cut.id, unreachable, cut.kerf)] } : {}),
    };
  },
  check(planned, context) {
    const { cut } = planned;
    const { regions, job } = context;
    const found = besideSheet(planned, context);
    const thickness = boardThickness(job.board);
    const lowest = cut.focus + (cut.passes - 1) * cut.focusStep;
    if (lowest > thickness + 1e-6) found.push(finding.focusBelowSheet(cut.id, lowest - thickness, cut.passes));
    if (cut.side === 'on') return found;
    const { width, height } = job.board;
    const parts = partsOf(regions, cut.side, sheetOf(job.board)).filter(({ outer }) => regionArea({ outer, holes: [] }) < width * height);
    const thin = parts.flatMap((part) => thinStrips(part, thickness));
    if (thin.length > 0) found.push(finding.beamThinWeb(cut.id, thin.length, thickness, thin[0]));
    const loose = cut.tabs > 0 ? [] : parts.filter((part) => regionArea(part) < SMALL);
    if (loose.length > 0) found.push(finding.looseParts(cut.id, loose.length, [loose[0].outer.xy[0], loose[0].outer.xy[1]]));
    return found;
  },
  expected({ cut }, context) {
    const { job, regions } = context;
    const depth = boardThickness(job.board) + 1;
    const { width, height } = job.board;
    if (cut.side === 'on') return flat(context, penStrokes([], cut.kerf, regions.flatMap(contoursOf)), depth);
    const parts = partsOf(regions, cut.side, sheetOf({ width, height }));
    return roundPart(context, parts, cut.kerf / 2, depth, cut.tabs > 0 ? 0 : boardThickness(job.board));
  },
};
export const laserScoreMaker: CutMaker<LaserScore> = {
  work: ({ passes }, _context, { outlines, passes: times }) => times(passes, outlines),
  plan(cut, { regions, lines, travel }) {
    const { path, ways } = planScore(regions, lines, cut, travel.feed);
    return { path, lifts: ways, through: false, holes: ways, beam: { width: 0, depth: 0 } };
  },
  expected: nothing,
  check: besideSheet,
};
export const laserFillMaker: CutMaker<LaserFill> = {
  work: (cut, { regions }, shape) => {
    const { length } = shape.cleared(cut.interval);
    const rounds = cut.passes * (cut.by === 'lines' && cut.cross ? 2 : 1);
    const around = regions.reduce((sum, region) => sum + contoursOf(region).reduce((all, { xy }) => all + perimeter(xy), 0), 0);
    return { passes: rounds, moves: (rounds * 3 * around) / cut.interval, hours: rounds * hoursOf(length, cut.feed) };
  },
  plan(cut, context) {
    const { feed, acceleration } = travelOf(context);
    const { path, rows } = planFill(context.regions, cut, feed, acceleration);
    return { path, lifts: rows, through: false, holes: rows, beam: { width: 0, depth: 0 } };
  },
  expected: nothing,
  check: (planned, context) => [...fineness(planned.cut, context), ...tooSmall(planned.cut, context), ...besideSheet(planned, context)],
};
export const laserPictureMaker: CutMaker<LaserPicture> = {
  work: (cut, { pictures }) => {
    const area = pictures.reduce((sum, { width, height }) => sum + width * height, 0);
    const length = area * cut.linesPerMm;
    // Of dots that diffuse an error about every second one changes.
    return { passes: 1, moves: (length * cut.linesPerMm) / 2, hours: hoursOf(length, cut.feed) };
  },
  plan(cut, context) {
    const { feed, acceleration } = travelOf(context);
    const { pictures, missing } = context;
    const { path, rows } = planPictures(pictures, cut, feed, acceleration);
    const findings = missing.length > 0 ? missing.map((item) => finding.noPixels(cut.id, item)) : pictures.length === 0 ? [finding.noPicture(cut.id)] : [];
    return { path, lifts: rows, through: false, holes: rows, beam: { width: 0, depth: 0 }, findings };
  },
  expected: nothing,
  check: (planned, context) => [...fineness(planned.cut, context), ...besideSheet(planned, context)],
};
