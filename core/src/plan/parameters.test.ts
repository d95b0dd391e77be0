/**
 * No figure of a cut is there for show: every field the document has for a cut is changed alone, in a
 * job where it matters, and the toolpath must change with it. And the same job gives the same toolpath.
 */
import { describe, expect, it } from 'vitest';
import { Cut, type CutKind, type Job, type JobInput } from '../job/index.ts';
import { fontOf, mixedJob } from '../reference/fixtures.ts';
import { planJob } from './index.ts';

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
} as NonNullable<JobInput['bits']>;

/** A cut of every kind that leaves something for each of its fields to change. */
const BASE: Record<CutKind, object> = {
  vcarve: { on: 'words', bit: 'v60', floorDepth: 1 },
  pocket: { on: ['plate'], bit: 'end3', depth: 4, depthPerPass: 2 },
  profile: { on: 'outline', bit: 'end6' },
  drill: { on: 'holes', bit: 'drill5' },
  engrave: { on: ['line'], bit: 'v60', depth: 1 },
  drag: { on: ['plate'], bit: 'diamond', fill: 'hatch' },
  recess: { on: ['plate'], bit: 'end3', mate: 'end6' },
  plug: { on: ['plate'], bit: 'end3', mate: 'end6' },
  surface: { on: 'art', bit: 'plane' },
  chamfer: { on: 'outline', bit: 'v60' },
};
/** What is changed, of the base; `with` first sets what makes it matter. */
interface Change {
  to: object;
  with?: object;
}
const FEEDS: Record<string, Change> = { feed: { to: { feed: 1111 } }, plunge: { to: { plunge: 333 } } };
const CHANGES: Record<CutKind, Record<string, Change>> = {
  vcarve: {
    ...FEEDS,
    on: { to: { on: ['plate'] } },
    bit: { to: { bit: 'v90' } },
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
    bit: { to: { bit: 'end6' } },
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
    bit: { to: { bit: 'end3' } },
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
    feed: { with: { bit: 'end3' }, to: { feed: 1111 } },
    plunge: FEEDS.plunge,
    on: { to: { on: ['single'] } },
    bit: { to: { bit: 'drill4' } },
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
    bit: { with: { way: 'fill', on: ['plate'] }, to: { bit: 'v90' } },
    way: { with: { on: ['plate'] }, to: { way: 'centre' } },
    startDepth: { with: { depthPerPass: 0.3 }, to: { startDepth: 0.5 } },
    depth: { to: { depth: 1.5 } },
    depthPerPass: { to: { depthPerPass: 0.3 } },
    stepover: { with: { way: 'fill', on: ['plate'] }, to: { stepover: 0.4 } },
  },
  drag: {
    ...FEEDS,
    on: { to: { on: 'words' } },
    bit: { to: { bit: 'wide' } },
    hold: { to: { hold: { by: 'cone', protrusion: 0.2, passes: 3 } } },
    outline: { to: { outline: false } },
    fill: { to: { fill: 'rings' } },
    angle: { to: { angle: 20 } },
    spacing: { to: { spacing: 0.9 } },
  },
  recess: {
    ...FEEDS,
    on: { to: { on: ['tee'] } },
    bit: { to: { bit: 'end6' } },
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
    bit: { to: { bit: 'end6' } },
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
    bit: { to: { bit: 'planer' } },
    // The same way: only the header and what is said of it differ.
    of: { to: {} },
    skim: { to: { skim: 0.15 } },
    repeats: { to: { repeats: 2 } },
    stepover: { to: { stepover: 12 } },
    overlap: { to: { overlap: 5 } },
  },
  chamfer: {
    ...FEEDS,
    on: { to: { on: ['plate'] } },
    bit: { to: { bit: 'v90' } },
    width: { to: { width: 2 } },
    part: { to: { part: 'outside' } },
    clear: { to: { clear: 1 } },
  },
};
/** Told to the spindle and to people, not to the axes. */
const NOT_IN_THE_PATH = ['id', 'kind', 'name', 'speed'];

const TEE = 'M-20 -20 H20 V0 H8 V20 H-8 V0 H-20 Z';
function jobOf(kind: CutKind, cut: object): Job {
  const base = mixedJob({ cuts: {}, cutOrder: [] });
  return mixedJob({
    items: {
      ...(base.items as JobInput['items']),
      tee: { kind: 'path', id: 'tee', x: 100, y: 40, d: TEE },
      square: { kind: 'rectangle', id: 'square', x: 60, y: 25, width: 60, height: 16 },
      single: { kind: 'ellipse', id: 'single', x: 30, y: 40, width: 5, height: 5 },
      board: { kind: 'rectangle', id: 'board', x: 0, y: 40, width: 60, height: 30 },
    },
    itemOrder: [...base.itemOrder, 'tee', 'square', 'single', 'board'],
    bits: BITS,
    cuts: { c: Cut.parse({ kind, id: 'c', ...BASE[kind], ...cut }) },
    cutOrder: ['c'],
  });
}
const pathOf = async (kind: CutKind, cut: object) => {
  const { path } = (await planJob(jobOf(kind, cut), { fonts: fontOf })).cuts[0];
  return [path.kind, path.x, path.y, path.z, path.feed].map((values) => Array.from(values));
};

describe.each(Object.keys(CHANGES) as CutKind[])('%s', (kind) => {
  it('every field is spoken of here', () => {
    const { shape } = Cut.options.find((option) => option.shape.kind.value === kind)!;
    expect(Object.keys(CHANGES[kind]).sort()).toEqual(
      Object.keys(shape)
        .filter((key) => !NOT_IN_THE_PATH.includes(key))
        .sort(),
    );
  });
  it.each(Object.entries(CHANGES[kind]).filter(([, { to }]) => Object.keys(to).length > 0))('%s changes the toolpath', async (_field, change) => {
    const before = await pathOf(kind, change.with ?? {});
    expect(before[0].length).toBeGreaterThan(0);
    expect(await pathOf(kind, { ...change.with, ...change.to })).not.toEqual(before);
  });
  it('the same job gives the same toolpath', async () => expect(await pathOf(kind, {})).toEqual(await pathOf(kind, {})));
});
