/**
 * Cuts as data: what is worked on, with which bit, how deep and in what manner. Depths are mm below
 * the top of the board.
 */
import { z } from 'zod';
import { id, length, notNegative, positive } from './fields.ts';

const feed = z.number().gt(0).max(100_000);
const degrees = z.number().min(-360).max(360);

/**
 * What a cut works on: every drawn thing but the sign's outline; the outline; only the words, the
 * holes (round shapes and hole patterns), the lines, or the other shapes; or things by id.
 */
export const Target = z.union([z.enum(['art', 'outline', 'words', 'holes', 'lines', 'shapes']), z.array(id)]);

const common = {
  id,
  name: z.string().max(80).default(''),
  on: Target,
  bit: id,
  feed: feed.default(2400),
  plunge: feed.default(1000),
};
const cutting = {
  ...common,
  /** Spindle, rev/min. */
  speed: z.number().gt(0).max(100_000).default(18_000),
};
const direction = z.enum(['climb', 'conventional']).default('climb');
const startDepth = notNegative.default(0);
/** A bit that cut here before: only what it could not reach is cut. */
const after = id.optional();

export const VCarveCut = z.strictObject({
  ...cutting,
  kind: z.literal('vcarve'),
  startDepth,
  /** Depth below the start that the bit never passes: wider strokes get a flat floor. */
  floorDepth: positive.optional(),
  /** Distance of the passes that clear such a floor. */
  stepover: positive.default(0.5),
  /** Greatest depth of one pass; left out, every groove is cut at once. */
  depthPerPass: positive.optional(),
  /** The bit of a pocket that clears the floor first. */
  after,
  /**
   * Carves round the artwork instead of into it: the plug of an inlay. The walls touch the drawn line
   * at the start depth, which is how deep the plug goes in; `margin` is cleared beyond its outline.
   */
  plug: z.strictObject({ margin: positive.default(12) }).optional(),
});

/** Where a tab was put by hand: a place within the box of a drawn thing, 0 to 1 each way, so that it stays when the thing changes. */
export const TabPlace = z.strictObject({ item: id, u: z.number().min(-1).max(2), v: z.number().min(-1).max(2) });

export const ProfileCut = z.strictObject({
  ...cutting,
  kind: z.literal('profile'),
  /** `auto`: outside of a part and inside of its openings, and so on inwards. */
  side: z.enum(['auto', 'outside', 'inside', 'on']).default('outside'),
  startDepth,
  /** Depth below the top; left out to cut through. */
  depth: positive.optional(),
  /** How much deeper than the board a through cut goes. */
  throughAllowance: notNegative.default(0.3),
  /** Left uncut at the bottom on purpose and freed by hand, mm; then nothing is cut through. */
  skin: notNegative.default(0),
  depthPerPass: positive.default(4),
  direction,
  /** Left on the wall by the passes and taken off by a last one at full depth, mm. */
  allowance: length.default(0),
  entry: z.enum(['straight', 'ramp']).default('straight'),
  /** How the bit comes to the wall and leaves it, on the side of the waste. */
  lead: z.enum(['none', 'line', 'arc']).default('none'),
  leadLength: positive.default(4),
  /** Outside corners: the bit rolls round them, or runs on to a point so that they stay sharp. */
  outsideCorners: z.enum(['round', 'sharp']).default('round'),
  /** Inside corners, where a square part must fit: left round, or relieved along the middle (dog-bone) or one wall (T-bone). */
  insideCorners: z.enum(['round', 'dogbone', 'tbone']).default('round'),
  tabs: z.int().min(0).max(200).default(4),
  /** Distance between tabs; when given, their number follows from the length of the line. */
  tabEvery: positive.optional(),
  tabWidth: positive.default(6),
  tabHeight: positive.default(2),
  tabShape: z.enum(['square', 'ramped']).default('square'),
  /** Tabs put by hand take the place of those found. */
  tabsAt: z.array(TabPlace).max(400).default([]),
});

export const PocketCut = z.strictObject({
  ...cutting,
  kind: z.literal('pocket'),
  startDepth,
  /** Depth below the top. */
  depth: positive.default(3),
  depthPerPass: positive.default(3),
  /** Distance between passes; left out, 40 % of the cutting width (common practice). */
  stepover: positive.optional(),
  /** Rings inwards from the wall, or parallel lines at an angle with a pass along the wall. */
  pattern: z.enum(['rings', 'lines']).default('rings'),
  angle: degrees.default(0),
  direction,
  /** Left on the wall by the clearing passes and taken off by a last one, mm. */
  allowance: notNegative.default(0),
  /** How the bit comes down: what fits best, straight, along the pass, or in a helix. */
  entry: z.enum(['auto', 'straight', 'ramp', 'helix']).default('auto'),
  after,
  /** A V-carve whose floor this pocket clears first: depth and walls are its. */
  floorOf: id.optional(),
  /** Where the drawing reaches an edge of the board the bit runs out over it, and comes in from there. */
  open: z.boolean().default(false),
});

export const DrillCut = z.strictObject({
  ...cutting,
  kind: z.literal('drill'),
  /** Points drilled besides the circles it works on, mm on the board. */
  points: z
    .array(z.tuple([length, length]))
    .max(5_000)
    .default([]),
  /** Depth below the top; left out to go through. */
  depth: positive.optional(),
  /** What reaches that depth: the point of a drill, or its full width, the point going deeper. Through means full width in any case. */
  depthOf: z.enum(['point', 'width']).default('point'),
  throughAllowance: notNegative.default(0.5),
  /** Depth of each peck, after which the bit comes out to clear the chips. (Common practice: 3.2 mm.) */
  peck: positive.default(3.2),
  /** Seconds it stays at the bottom. */
  dwell: notNegative.max(60).default(0),
});

/** Grooves as the bit makes them: along lines and outlines, along the middle of strokes, or filling whole shapes. */
export const EngraveCut = z.strictObject({
  ...cutting,
  kind: z.literal('engrave'),
  way: z.enum(['lines', 'centre', 'fill']).default('lines'),
  startDepth,
  depth: positive.default(0.5),
  depthPerPass: positive.default(1),
  /** Between passes of a fill; left out, 60 % of the groove's width (common practice: 39-40 % overlap). */
  stepover: positive.optional(),
});

/** A diamond drawn over the surface, spindle off: it scratches lines of a known width. */
export const DragCut = z.strictObject({
  ...common,
  kind: z.literal('drag'),
  /** Off, always. */
  speed: z.literal(0).default(0),
  /** How the point is pressed: by a spring loaded this far below touch, or by a nose cone it sticks out of by so much. */
  hold: z
    .discriminatedUnion('by', [
      z.strictObject({ by: z.literal('spring'), preload: positive.max(20).default(2.5) }),
      z.strictObject({ by: z.literal('cone'), protrusion: positive.max(2).default(0.25), passes: z.int().min(1).max(20).default(2) }),
    ])
    .default({ by: 'spring', preload: 2.5 }),
  outline: z.boolean().default(true),
  fill: z.enum(['none', 'hatch', 'cross', 'rings']).default('none'),
  /** Of the hatch. (Common practice: 45°.) */
  angle: degrees.default(45),
  /** Between lines of a fill; left out, the width of the line (common practice: 1 to 1.25 of it). */
  spacing: positive.optional(),
});

const fit = {
  ...cutting,
  /** The bit that cuts the other half: the shape is rounded by the wider of both. */
  mate: id,
  /** Corners rounded: all of them, or only those the bits cannot cut. */
  corners: z.enum(['all', 'needed']).default('needed'),
  /** Room between plug and recess on every side, mm, and how much of it the plug gives. */
  gap: notNegative.max(5).default(0.1),
  plugShare: z.number().min(0).max(1).default(1),
  depthPerPass: positive.default(3),
  direction,
};

export const RecessCut = z.strictObject({
  ...fit,
  kind: z.literal('recess'),
  depth: positive.default(4),
  stepover: positive.optional(),
});

export const PlugCut = z.strictObject({
  ...fit,
  kind: z.literal('plug'),
  /** Left uncut below the plug and freed by hand, mm. */
  skin: notNegative.default(0.3),
});

/** Planes the whole board, or the spoilboard that is the board of the job. */
export const SurfaceCut = z.strictObject({
  ...cutting,
  kind: z.literal('surface'),
  of: z.enum(['board', 'spoilboard']).default('board'),
  /** Taken off at a time. (Common practice: 0.2 mm, never deeper.) */
  skim: positive.max(5).default(0.2),
  repeats: z.int().min(1).max(50).default(1),
  stepover: positive.optional(),
  /** How far the middle of the bit runs beyond the edges, mm. */
  overlap: notNegative.max(100).default(0),
});

/** Breaks the edge along outlines with a V bit. */
export const ChamferCut = z.strictObject({
  ...cutting,
  kind: z.literal('chamfer'),
  /** Width of the bevel seen from above, mm. */
  width: positive.default(1),
  /** On which side of the line the part lies. */
  part: z.enum(['inside', 'outside']).default('inside'),
  /** How far the tip stays clear of the bevel's foot, mm. */
  clear: notNegative.default(0.5),
});

export const Cut = z.discriminatedUnion('kind', [VCarveCut, ProfileCut, PocketCut, DrillCut, EngraveCut, DragCut, RecessCut, PlugCut, SurfaceCut, ChamferCut]);

export type Cut = z.infer<typeof Cut>;
export type CutKind = Cut['kind'];
export type CutOf<K extends CutKind> = Extract<Cut, { kind: K }>;
export type VCarveCut = CutOf<'vcarve'>;
export type ProfileCut = CutOf<'profile'>;
export type PocketCut = CutOf<'pocket'>;
export type DrillCut = CutOf<'drill'>;
export type EngraveCut = CutOf<'engrave'>;
export type DragCut = CutOf<'drag'>;
export type RecessCut = CutOf<'recess'>;
export type PlugCut = CutOf<'plug'>;
export type SurfaceCut = CutOf<'surface'>;
export type ChamferCut = CutOf<'chamfer'>;
