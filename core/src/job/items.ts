/**
 * Drawn things. Every one stands at x, y on the board, turned by `angle` about that point, and
 * mirrored left to right before that when asked. Parametric things keep their figures; a path
 * keeps its curves; lengths are millimetres, angles degrees counter-clockwise.
 */
import { z } from 'zod';
import { id, length, notNegative, positive } from '../fields/index.ts';

const degrees = z.number().min(-360_000).max(360_000);

const placed = {
  id,
  name: z.string().max(120).default(''),
  x: length,
  y: length,
  angle: degrees.default(0),
  mirror: z.boolean().default(false),
  /** Things with the same group are selected and moved together. */
  group: id.optional(),
  /** A layer of the job; the first one when left out. */
  layer: id.optional(),
  locked: z.boolean().default(false),
  hidden: z.boolean().default(false),
  /** Drawn to measure and look by: no cut works on it. */
  guide: z.boolean().default(false),
  /** A bar that stays: whatever else it lies over is not cut there, so that an island hangs on. No cut works on it. */
  bridge: z.boolean().optional(),
  /** Left out of this run and kept for the next: no cut works on it until then. */
  later: z.boolean().optional(),
};

/** What words stand on. */
export const Baseline = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('straight') }),
  /** Over the outside of a circle, or hanging in its inside; the middle of the words at its top or bottom. */
  z.strictObject({ kind: z.literal('arc'), radius: positive, side: z.enum(['over', 'under']).default('over') }),
  /** Along another drawn thing, from a distance on, raised off its line. x, y then move the words off the path. */
  z.strictObject({ kind: z.literal('path'), item: id, from: length.default(0), raise: length.default(0) }),
]);

export const TextItem = z.strictObject({
  ...placed,
  kind: z.literal('text'),
  text: z.string().max(20_000),
  face: z.string().max(60),
  capHeight: positive.max(5_000),
  lineSpacing: z.number().gt(0).max(20).default(1.6),
  letterSpacing: length.default(0),
  align: z.enum(['left', 'centre', 'right']).default('centre'),
  baseline: Baseline.default({ kind: 'straight' }),
  /** Pairs of letters moved together (less than 0) or apart by hand, such as `AV`: thousandths of the capital height. */
  pairs: z.record(z.string().min(2).max(8), z.number().min(-1000).max(1000)).optional(),
  /** Words wider than this are made smaller until they are not. */
  fitWidth: positive.optional(),
});

/** x, y is the centre. */
export const RectangleItem = z.strictObject({
  ...placed,
  kind: z.literal('rectangle'),
  width: positive,
  height: positive,
  radius: notNegative.default(0),
  /** How the radius is taken: rounded, cut off straight, hollowed, or stepped. */
  corner: z.enum(['round', 'cut', 'hollow', 'step']).default('round'),
});

/** x, y is the centre; a circle when both are equal. */
export const EllipseItem = z.strictObject({ ...placed, kind: z.literal('ellipse'), width: positive, height: positive });

/** x, y is the centre; diameter across the corners; one corner points up. */
export const PolygonItem = z.strictObject({ ...placed, kind: z.literal('polygon'), sides: z.int().min(3).max(200), diameter: positive });

export const StarItem = z.strictObject({ ...placed, kind: z.literal('star'), points: z.int().min(3).max(200), diameter: positive, inner: positive });

/** x, y is the centre; length over the round ends, along X. */
export const SlotItem = z.strictObject({ ...placed, kind: z.literal('slot'), length: positive, width: positive });

/** x, y is the middle of its length; it points along X. */
export const ArrowItem = z.strictObject({
  ...placed,
  kind: z.literal('arrow'),
  length: positive,
  shaft: positive,
  head: positive,
  headLength: positive,
});

/** From x, y, at `angle`. */
export const LineItem = z.strictObject({ ...placed, kind: z.literal('line'), length: positive });

/** x, y is the centre; from `angle` on, by `sweep` degrees, counter-clockwise when positive. */
export const ArcItem = z.strictObject({
  ...placed,
  kind: z.literal('arc'),
  radius: positive,
  sweep: z.number().min(-360).max(360),
});

export const HoleLayout = z.discriminatedUnion('kind', [
  /** Rows and columns at a spacing, x, y in their middle. */
  z.strictObject({ kind: z.literal('rows'), columns: z.int().min(1).max(200), rows: z.int().min(1).max(200), dx: positive, dy: positive }),
  /** Evenly round a circle, the first one up. */
  z.strictObject({ kind: z.literal('circle'), count: z.int().min(1).max(500), across: positive }),
  /** In the four corners of a plate, each `inset` from both edges. */
  z.strictObject({ kind: z.literal('corners'), width: positive, height: positive, inset: positive }),
]);
export const HolesItem = z.strictObject({ ...placed, kind: z.literal('holes'), diameter: positive, layout: HoleLayout });

/**
 * SVG path data in millimetres with Y up, moved by x, y. Fill `none` is line work: its closed
 * subpaths enclose nothing.
 */
export const PathItem = z.strictObject({
  ...placed,
  kind: z.literal('path'),
  d: z.string().max(20_000_000),
  fill: z.enum(['nonzero', 'evenodd', 'none']).default('nonzero'),
  /** Width the line was drawn with where it came from. */
  strokeWidth: positive.optional(),
});

/** A picture kept with the job, x, y in its middle. Nothing is cut from it; it is there to trace, and for a laser. */
const share = z.number().min(0).max(0.999);

export const PictureItem = z.strictObject({
  ...placed,
  kind: z.literal('picture'),
  asset: id,
  width: positive,
  height: positive,
  /** Width that was proposed for a picture whose file states no size, mm: as long as it has that, nobody has said how large it is. */
  proposedWidth: positive.optional(),
  /** Shares of the whole picture that are cut off at its own sides: width and height are those of what is left. */
  trim: z
    .strictObject({ left: share, right: share, top: share, bottom: share })
    .refine(({ left, right, top, bottom }) => left + right < 1 && top + bottom < 1, 'Something of the picture must be left.')
    .optional(),
});

export const Item = z.discriminatedUnion('kind', [
  TextItem,
  RectangleItem,
  EllipseItem,
  PolygonItem,
  StarItem,
  SlotItem,
  ArrowItem,
  LineItem,
  ArcItem,
  HolesItem,
  PathItem,
  PictureItem,
]);

export const Layer = z.strictObject({
  id,
  name: z.string().max(80),
  hidden: z.boolean().default(false),
  locked: z.boolean().default(false),
});

export type Item = z.infer<typeof Item>;
export type ItemInput = z.input<typeof Item>;
export type TextItem = z.infer<typeof TextItem>;
export type PathItem = z.infer<typeof PathItem>;
export type Layer = z.infer<typeof Layer>;
export type Kind = Item['kind'];

/** A whole drawn thing from what is said of it; what is left out takes its usual value. */
export const makeItem = <K extends Kind>(input: Extract<ItemInput, { kind: K }>): Extract<Item, { kind: K }> => Item.parse(input) as Extract<Item, { kind: K }>;
