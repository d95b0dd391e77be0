/** Shared by tests: a cut of every kind, and for each of its fields a change that matters. */
import { kindNamed } from '../cuts/index.ts';
import { Cut, type CutKind, type Job, type JobInput } from '../job/index.ts';
import type { Grey } from '../cuts/laser/tone.ts';
import { mixedJob } from './fixtures.ts';

const BITS = {
  v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 },
  v90: { kind: 'v', id: 'v90', angle: 90, diameter: 12.7 },
  end6: { kind: 'end', id: 'end6', diameter: 6.35 },
  end3: { kind: 'end', id: 'end3', diameter: 3.175 },
  drill5: { kind: 'drill', id: 'drill5', diameter: 5, fluteLength: 40 },
  drill4: { kind: 'drill', id: 'drill4', diameter: 4, fluteLength: 40 },
  diamond: { kind: 'drag', id: 'diamond', diameter: 6, lineWidth: 0.4 },
  wide: { kind: 'drag', id: 'wide', diameter: 6, lineWidth: 0.8 },
  plane: { kind: 'surfacing', id: 'plane', diameter: 25 },
  planer: { kind: 'surfacing', id: 'planer', diameter: 30 },
  right: { kind: 'nozzle', id: 'right' },
  left: { kind: 'nozzle', id: 'left', swirl: 'left' },
  head: { kind: 'head', id: 'head' },
  broad: { kind: 'head', id: 'broad', diameter: 0.3 },
} as NonNullable<JobInput['tools']>;

/** A cut of every kind that leaves something for each of its fields to change. */
const BASE: Record<CutKind, object> = {
  vcarve: { on: 'words', tool: 'v60', floorDepth: 1 },
  pocket: { on: ['plate'], tool: 'end3', depth: 4, depthPerPass: 2 },
  profile: { on: 'outline', tool: 'end6' },
  drill: { on: 'holes', tool: 'drill5' },
  engrave: { on: ['line'], tool: 'v60', depth: 1 },
  drag: { on: ['plate'], tool: 'diamond', fill: 'hatch' },
  recess: { on: ['plate'], tool: 'end3', mate: 'end6' },
  plug: { on: ['plate'], tool: 'end3', mate: 'end6' },
  surface: { on: 'art', tool: 'plane' },
  chamfer: { on: 'outline', tool: 'v60' },
  texture: { on: ['plate'], tool: 'v60' },
  mark: { on: 'holes', tool: 'right' },
  torch: { on: ['plate', 'single'], tool: 'right', leadIn: 3 },
  'laser-cut': { on: ['plate', 'single'], tool: 'head', leadIn: 1 },
  'laser-score': { on: ['plate'], tool: 'head' },
  'laser-fill': { on: ['single'], tool: 'head', interval: 0.5 },
  'laser-picture': { on: ['photo'], tool: 'head', linesPerMm: 4 },
};
/** What is changed, of the base; `with` first sets what makes it matter. */
export interface Change {
  to: object;
  with?: object;
}
const FEEDS: Record<string, Change> = { feed: { to: { feed: 1111 } }, plunge: { to: { plunge: 333 } } };
const BEAM: Record<string, Change> = {
  feed: { to: { feed: 1111 } },
  on: { to: { on: ['square'] } },
  power: { to: { power: 45 } },
  air: { to: { air: false } },
  focus: { to: { focus: 1 } },
  // Nothing goes down, and a spot is as wide as it is: what is too fine for it is a finding.
  plunge: { to: {} },
  tool: { to: {} },
};
const ROWS: Record<string, Change> = {
  angle: { to: { angle: 30 } },
  bothWays: { to: { bothWays: false } },
  overscan: { to: { overscan: 4 } },
  lag: { to: { lag: 3 } },
};
export const CHANGES: Record<CutKind, Record<string, Change>> = {
  vcarve: {
    ...FEEDS,
    on: { to: { on: ['plate'] } },
    tool: { to: { tool: 'v90' } },
    startDepth: { to: { startDepth: 0.5 } },
    floorDepth: { to: { floorDepth: 1.2 } },
    stepover: { to: { stepover: 0.2 } },
    depthPerPass: { to: { depthPerPass: 0.4 } },
    after: { with: { on: ['plate'] }, to: { after: 'end3' } },
    plug: { to: { plug: { margin: 8 } } },
  },
  pocket: {
    ...FEEDS,
    on: { to: { on: 'words' } },
    tool: { to: { tool: 'end6' } },
    startDepth: { to: { startDepth: 1 } },
    depth: { to: { depth: 5 } },
    depthPerPass: { to: { depthPerPass: 1 } },
    stepover: { to: { stepover: 1 } },
    pattern: { to: { pattern: 'lines' } },
    angle: { with: { pattern: 'lines' }, to: { angle: 30 } },
    direction: { to: { direction: 'conventional' } },
    allowance: { to: { allowance: 0.3 } },
    entry: { to: { entry: 'straight' } },
    after: { to: { after: 'end6' } },
    // Tested with the V-carve whose floor it clears (cuts.test.ts): here a V-carve is missing.
    floorOf: { to: {} },
    open: { with: { on: ['board'] }, to: { open: true } },
  },
  profile: {
    ...FEEDS,
    on: { to: { on: ['plate'] } },
    tool: { to: { tool: 'end3' } },
    side: { to: { side: 'on' } },
    startDepth: { to: { startDepth: 2 } },
    depth: { to: { depth: 6 } },
    throughAllowance: { to: { throughAllowance: 0.5 } },
    skin: { to: { skin: 0.4 } },
    depthPerPass: { to: { depthPerPass: 2 } },
    direction: { to: { direction: 'conventional' } },
    allowance: { to: { allowance: 0.3 } },
    entry: { to: { entry: 'ramp' } },
    lead: { to: { lead: 'arc' } },
    leadLength: { with: { lead: 'line' }, to: { leadLength: 2 } },
    outsideCorners: { with: { on: ['tee'] }, to: { outsideCorners: 'sharp' } },
    insideCorners: { with: { on: ['tee'] }, to: { insideCorners: 'dogbone' } },
    tabs: { to: { tabs: 6 } },
    tabEvery: { to: { tabEvery: 50 } },
    tabWidth: { to: { tabWidth: 8 } },
    tabHeight: { to: { tabHeight: 3 } },
    tabShape: { to: { tabShape: 'ramped' } },
    tabsAt: { to: { tabsAt: [{ item: 'edge', u: 0.5, v: 0 }] } },
  },
  drill: {
    feed: { with: { tool: 'end3' }, to: { feed: 1111 } },
    plunge: FEEDS.plunge,
    on: { to: { on: ['single'] } },
    tool: { to: { tool: 'drill4' } },
    points: { to: { points: [[100, 60]] } },
    depth: { to: { depth: 6 } },
    depthOf: { with: { depth: 6 }, to: { depthOf: 'width' } },
    throughAllowance: { to: { throughAllowance: 1 } },
    peck: { to: { peck: 2 } },
    dwell: { to: { dwell: 0.5 } },
  },
  engrave: {
    ...FEEDS,
    on: { to: { on: ['plate'] } },
    tool: { with: { way: 'fill', on: ['plate'] }, to: { tool: 'v90' } },
    way: { with: { on: ['plate'] }, to: { way: 'centre' } },
    startDepth: { with: { depthPerPass: 0.3 }, to: { startDepth: 0.5 } },
    depth: { to: { depth: 1.5 } },
    depthPerPass: { to: { depthPerPass: 0.3 } },
    stepover: { with: { way: 'fill', on: ['plate'] }, to: { stepover: 0.4 } },
    joinWithin: { with: { on: 'words' }, to: { joinWithin: 20 } },
  },
  drag: {
    ...FEEDS,
    on: { to: { on: 'words' } },
    tool: { to: { tool: 'wide' } },
    hold: { to: { hold: { by: 'cone', protrusion: 0.2, passes: 3 } } },
    outline: { to: { outline: false } },
    fill: { to: { fill: 'rings' } },
    angle: { to: { angle: 20 } },
    spacing: { to: { spacing: 0.9 } },
  },
  recess: {
    ...FEEDS,
    on: { to: { on: ['tee'] } },
    tool: { to: { tool: 'end6' } },
    mate: { with: { corners: 'all' }, to: { mate: 'end3' } },
    corners: { with: { on: ['tee'] }, to: { corners: 'all' } },
    gap: { with: { plugShare: 0 }, to: { gap: 0.3 } },
    plugShare: { to: { plugShare: 0 } },
    depthPerPass: { to: { depthPerPass: 1 } },
    direction: { to: { direction: 'conventional' } },
    depth: { to: { depth: 5 } },
    stepover: { to: { stepover: 1 } },
  },
  plug: {
    ...FEEDS,
    on: { to: { on: ['tee'] } },
    tool: { to: { tool: 'end6' } },
    mate: { with: { on: ['square'], corners: 'all' }, to: { mate: 'end3' } },
    corners: { with: { on: ['tee'] }, to: { corners: 'all' } },
    gap: { to: { gap: 0.3 } },
    plugShare: { to: { plugShare: 0 } },
    depthPerPass: { to: { depthPerPass: 1 } },
    direction: { to: { direction: 'conventional' } },
    skin: { to: { skin: 0 } },
  },
  surface: {
    ...FEEDS,
    // It planes the whole board, whatever is drawn.
    on: { to: {} },
    tool: { to: { tool: 'planer' } },
    // The same way: only the header and what is said of it differ.
    of: { to: {} },
    skim: { to: { skim: 0.15 } },
    repeats: { to: { repeats: 2 } },
    stepover: { to: { stepover: 12 } },
    startDepth: { to: { startDepth: 0.2 } },
    overlap: { to: { overlap: 5 } },
  },
  texture: {
    ...FEEDS,
    on: { to: { on: ['square'] } },
    tool: { to: { tool: 'v90' } },
    depth: { to: { depth: 0.5 } },
    spacing: { to: { spacing: 2 } },
    angle: { to: { angle: 30 } },
    wave: { to: { wave: 1 } },
    wavelength: { with: { wave: 1 }, to: { wavelength: 12 } },
    grooveLength: { to: { grooveLength: 8 } },
    seed: { with: { grooveLength: 8 }, to: { seed: 2 } },
    // With the cut it keeps clear of: texture.test.ts.
    keepOff: { to: {} },
    clear: { to: {} },
  },
  mark: {
    feed: { with: { how: 'line' }, to: { feed: 1111 } },
    // Nothing goes down into the plate.
    plunge: { to: {} },
    on: { to: { on: ['square'] } },
    // Which nozzle is told in the header.
    tool: { to: {} },
    how: { to: { how: 'line' } },
    seconds: { to: { seconds: 0.3 } },
    height: { to: { height: 4 } },
    // Told in the header: it is set by hand.
    amperes: { to: {} },
    touch: { to: { touch: 'never' } },
    floatTravel: { to: { floatTravel: 1.2 } },
  },
  'laser-cut': {
    ...BEAM,
    side: { to: { side: 'on' } },
    kerf: { to: { kerf: 0.3 } },
    passes: { to: { passes: 2 } },
    focusStep: { with: { passes: 2 }, to: { focusStep: 1 } },
    leadIn: { to: { leadIn: 2 } },
    overcut: { to: { overcut: 1 } },
    tabs: { to: { tabs: 2 } },
    tabWidth: { with: { tabs: 2 }, to: { tabWidth: 1 } },
  },
  'laser-score': { ...BEAM, passes: { to: { passes: 2 } } },
  'laser-fill': {
    ...BEAM,
    ...ROWS,
    interval: { to: { interval: 0.4 } },
    by: { to: { by: 'offsets' } },
    cross: { to: { cross: true } },
    passes: { to: { passes: 2 } },
  },
  'laser-picture': {
    ...BEAM,
    ...ROWS,
    on: { to: { on: ['photo', 'other'] } },
    linesPerMm: { to: { linesPerMm: 5 } },
    dither: { to: { dither: 'grey' } },
    invert: { to: { invert: true } },
    brightness: { to: { brightness: 0.2 } },
    contrast: { to: { contrast: 2 } },
    gamma: { to: { gamma: 2 } },
    drop: { to: { drop: 0.4 } },
    clear: { with: { on: ['glass'], invert: true }, to: { clear: 'white' } },
  },
  torch: {
    ...FEEDS,
    on: { to: { on: ['square'] } },
    tool: { to: { tool: 'left' } },
    side: { to: { side: 'inside' } },
    kerf: { to: { kerf: 1.2 } },
    kerfBy: { to: { kerfBy: 'machine' } },
    lead: { to: { lead: 'straight' } },
    leadIn: { to: { leadIn: 5 } },
    leadOut: { to: { leadOut: 2 } },
    startsAt: { to: { startsAt: [{ item: 'plate', u: 0, v: 0.5 }] } },
    crater: { with: { side: 'inside' }, to: { crater: 10 } },
    overcut: { with: { side: 'inside' }, to: { overcut: 3 } },
    offEarly: { with: { side: 'inside' }, to: { offEarly: 0.5 } },
    corners: { with: { on: ['square'] }, to: { corners: 'triangle' } },
    cornerAngle: { with: { on: ['square'], corners: 'round' }, to: { cornerAngle: 80 } },
    cornerLoop: { with: { on: ['square'], corners: 'round' }, to: { cornerLoop: 3 } },
    cornerFeed: { with: { on: ['square'], corners: 'triangle' }, to: { cornerFeed: 0.5 } },
    smallHole: { with: { side: 'inside' }, to: { smallHole: 30 } },
    smallHoleFeed: { with: { side: 'inside' }, to: { smallHoleFeed: 0.4 } },
    pierceHeight: { to: { pierceHeight: 4.5 } },
    pierceDelay: { to: { pierceDelay: 0.8 } },
    cutHeight: { to: { cutHeight: 1.8 } },
    // Told in the header: the machine keeps the arc at it.
    volts: { to: {} },
    // It is switched on the way: torch.test.ts.
    heightControl: { to: {} },
    touch: { to: { touch: 'never' } },
    touchAfter: { with: { touch: 'far' }, to: { touchAfter: 1 } },
    floatTravel: { to: { floatTravel: 1.2 } },
    microTab: { to: { microTab: 1 } },
    // Which contour comes next: torch.test.ts; how it gets there: travel.test.ts.
    spreadHeat: { to: {} },
    rapids: { to: {} },
    edgeStart: { to: { edgeStart: 200 } },
    chain: { to: {} },
  },
  chamfer: {
    ...FEEDS,
    on: { to: { on: ['plate'] } },
    tool: { to: { tool: 'v90' } },
    width: { to: { width: 2 } },
    part: { to: { part: 'outside' } },
    clear: { to: { clear: 1 } },
  },
};

const TEE = 'M-20 -20 H20 V0 H8 V20 H-8 V0 H-20 Z';
/** A picture for tests: dark to light from left to right, lighter downwards. */
const PIXELS: Grey = { width: 24, height: 16, data: Uint8Array.from({ length: 24 * 16 }, (_, k) => (k % 24) * 8 + Math.floor(k / 24) * 4) };
/** The same, see-through on its left half. */
const GLASS: Grey = { ...PIXELS, opacity: Uint8Array.from(PIXELS.data, (_, k) => (k % 24 < 12 ? 0 : 255)) };
export const pixelsOf = (asset: string): Promise<Grey> => Promise.resolve(asset === 'glass' ? GLASS : PIXELS);

/** A job with that one cut. */
export function jobOf(kind: CutKind, cut: object): Job {
  const base = mixedJob({ cuts: {}, cutOrder: [] });
  const photos: JobInput['items'] = kindNamed(kind).takesPictures
    ? {
        photo: { kind: 'picture', id: 'photo', x: 60, y: 40, asset: 'p', width: 12, height: 8 },
        other: { kind: 'picture', id: 'other', x: 90, y: 40, asset: 'p', width: 6, height: 4 },
        glass: { kind: 'picture', id: 'glass', x: 90, y: 60, asset: 'glass', width: 6, height: 4 },
      }
    : {};
  return mixedJob({
    process: kindNamed(kind).process,
    items: {
      ...(base.items as JobInput['items']),
      tee: { kind: 'path', id: 'tee', x: 100, y: 40, d: TEE },
      square: { kind: 'rectangle', id: 'square', x: 60, y: 25, width: 60, height: 16 },
      single: { kind: 'ellipse', id: 'single', x: 30, y: 40, width: 5, height: 5 },
      board: { kind: 'rectangle', id: 'board', x: 0, y: 40, width: 60, height: 30 },
      ...photos,
    },
    itemOrder: [...base.itemOrder, 'tee', 'square', 'single', 'board', ...Object.keys(photos)],
    tools: BITS,
    cuts: { c: Cut.parse({ kind, id: 'c', ...BASE[kind], ...cut }) },
    cutOrder: ['c'],
  });
}
