/**
 * Bits as data. A bit is a body of revolution: its point (flat, rounded, or a cone), its cutting
 * diameter and how long it cuts; the shank decides the collet, the flutes the feed.
 */
import { z } from 'zod';
import { id, notNegative, positive } from '../fields/index.ts';
import { ChartRow } from './chart.ts';

const feed = z.number().gt(0).max(100_000);

/** Feeds a person found good for a bit in a material, and where they come from. */
export const FeedPreset = z.strictObject({
  feed,
  plunge: feed,
  /** Spindle, rev/min; zero for a drag bit. */
  speed: z.number().min(0).max(100_000),
  depthPerPass: positive.optional(),
  source: z.string().max(200).default(''),
});

/** Figures of a laser head that were found good for a material, of a thickness or of any, and what is done with the sheet before and after. */
export const BeamPreset = z.strictObject({
  kind: z.string().max(40),
  material: z.string().min(1).max(60),
  thickness: positive.optional(),
  feed,
  /** Per cent of full power. */
  power: z.number().min(0).max(100),
  passes: z.int().min(1).max(20).optional(),
  interval: positive.optional(),
  linesPerMm: positive.optional(),
  /** Below the surface, mm; and the kerf, mm. */
  focus: z.number().min(-50).max(50).optional(),
  kerf: notNegative.optional(),
  source: z.string().max(200).default(''),
  /** Day it was found, as 2026-11-29. */
  date: z.string().max(10).optional(),
  /** “Coat, dry, burn, wash”: what goes with it. */
  care: z.string().max(300).optional(),
});
export type BeamPreset = z.infer<typeof BeamPreset>;

const fields = {
  id,
  name: z.string().max(80).default(''),
  diameter: positive.max(200),
  shank: positive.max(60).default(6.35),
  fluteLength: positive.max(300).default(25),
  flutes: z.int().min(1).max(12).default(2),
  /** Width of a slot it cut, mm, when it was measured. */
  measuredWidth: positive.max(200).optional(),
  /** The bit of the shop's crib this one was taken from: its hours are counted there. */
  crib: z.string().max(40).optional(),
  /** Presets by material. */
  feeds: z.record(z.string().max(60), FeedPreset).optional(),
};

/** A cone, ending in a flat or a ball. */
const cone = {
  ...fields,
  /** Included angle, degrees. */
  angle: z.number().min(1).max(170),
  tipFlat: notNegative.default(0),
  /** Radius of a rounded tip, tangent to the cone. A tip is flat or rounded, not both. */
  tipRadius: notNegative.default(0),
};

export const Bit = z
  .discriminatedUnion('kind', [
    z.strictObject({ ...cone, kind: z.literal('v') }),
    z.strictObject({ ...cone, kind: z.literal('tapered') }),
    z.strictObject({ ...cone, kind: z.literal('engraving') }),
    z.strictObject({
      ...fields,
      kind: z.literal('end'),
      /** Which way the flutes carry the chips. A compression bit cuts upwards at its tip and downwards above it. */
      spiral: z.enum(['straight', 'up', 'down', 'compression']).default('up'),
      /** Length of the up-cutting part of a compression bit, mm. */
      upLength: positive.max(100).default(5),
    }),
    z.strictObject({ ...fields, kind: z.literal('ball') }),
    z.strictObject({ ...fields, kind: z.literal('surfacing') }),
    z.strictObject({
      ...fields,
      kind: z.literal('drag'),
      /** Width of the line it scratches, mm. (Common practice: about 0.5 for a 90° diamond.) */
      lineWidth: positive.max(5).default(0.5),
    }),
    z.strictObject({
      ...fields,
      kind: z.literal('drill'),
      /** Included angle of the point. (Common practice: 118° for twist drills.) */
      pointAngle: z.number().min(60).max(180).default(118),
    }),
    z.strictObject({
      ...fields,
      kind: z.literal('nozzle'),
      /** The width it usually cuts, mm: how wide in this plate, its cut says. */
      diameter: positive.max(20).default(1.5),
      /** Which way its swirl ring turns the gas: the square edge is on the right of a right-hand one's travel. (Common practice.) */
      swirl: z.enum(['right', 'left']).default('right'),
      /** How it cuts plate of each thickness. */
      chart: z.array(ChartRow).max(100).default([]),
      chartSource: z.string().max(200).default(''),
    }),
    z.strictObject({
      ...fields,
      kind: z.literal('head'),
      /** Of its spot in focus, mm. */
      diameter: positive.max(5).default(0.12),
      /** Full power, W. */
      watts: positive.max(1_000).default(10),
      presets: z.array(BeamPreset).max(300).optional(),
    }),
  ])
  .refine((bit) => !('angle' in bit) || bit.tipFlat === 0 || bit.tipRadius === 0, 'A tip is flat or rounded, not both.')
  .refine((bit) => !('angle' in bit) || Math.max(bit.tipFlat, 2 * bit.tipRadius) <= bit.diameter, 'The tip is wider than the bit.');

export type Bit = z.infer<typeof Bit>;
export type FeedPreset = z.infer<typeof FeedPreset>;
