/**
 * Bits and the marks they leave. A bit is a body of revolution about its axis: a flat of radius
 * `flat` or a ball of radius `ball` at the point, then a cone that widens by `tangent` per mm of
 * height (tangent to the ball), then straight sides at radius `outer`. Plain geometry (derived):
 * with A the included angle and t = tan(A/2), a V groove of depth h is w = tipFlat + 2·h·t wide.
 */
import type { Bit } from './schema.ts';
import { formatLength, type LengthUnit } from '../length/index.ts';

/** Bits with a cone: they carve deeper where the stroke is wider. */
export type PointedBit = Extract<Bit, { angle: number }>;
export const isPointed = (bit: Bit): bit is PointedBit => 'angle' in bit;
/** Bits that leave a flat floor and straight walls. */
export const isStraight = (bit: Bit): boolean => bit.kind === 'end' || bit.kind === 'surfacing';

/** How deep a drag diamond scratches, mm: what is programmed is how its spring is loaded. (Common practice: hardly felt with a finger-nail.) */
export const SCRATCH = 0.05;

export interface BitShape {
  flat: number;
  ball: number;
  tangent: number;
  outer: number;
}

/** Width a bit really cuts: measured on a slot when known, else its diameter. */
export const cuttingWidth = (bit: Bit): number => bit.measuredWidth ?? bit.diameter;

/** The body of a bit, mm. A drag bit is the line it scratches; a drill is a blunt cone. */
export function shapeOf(bit: Bit): BitShape {
  const outer = cuttingWidth(bit) / 2;
  switch (bit.kind) {
    case 'v':
    case 'tapered':
    case 'engraving':
      return { flat: bit.tipFlat / 2, ball: bit.tipRadius, tangent: Math.tan((bit.angle * Math.PI) / 360), outer: bit.diameter / 2 };
    case 'drill':
      return { flat: 0, ball: 0, tangent: Math.tan((bit.pointAngle * Math.PI) / 360), outer };
    case 'ball':
      return { flat: 0, ball: outer, tangent: 0, outer };
    case 'drag':
      return { flat: bit.lineWidth / 2, ball: 0, tangent: 0, outer: bit.lineWidth / 2 };
    default:
      return { flat: outer, ball: 0, tangent: 0, outer };
  }
}

/** Where the ball of a point passes into its cone: radius, and how far the cone's own apex would lie below the ball's lowest point. */
function joint({ ball, tangent }: BitShape): { radius: number; apex: number } {
  if (tangent === 0) return { radius: ball, apex: 0 };
  const sine = tangent / Math.sqrt(1 + tangent * tangent);
  return { radius: ball * Math.sqrt(1 - sine * sine), apex: ball * (1 / sine - 1) };
}

/** Height of the bit's surface above its lowest point at a distance from the axis, mm; zero over the flat, Infinity outside the bit. */
export function heightAt(shape: BitShape, r: number): number {
  if (r > shape.outer + 1e-12) return Infinity;
  if (r <= shape.flat) return 0;
  if (shape.ball > 0) {
    const { radius, apex } = joint(shape);
    return r <= radius ? shape.ball - Math.sqrt(Math.max(0, shape.ball * shape.ball - r * r)) : r / shape.tangent - apex;
  }
  return shape.tangent > 0 ? (r - shape.flat) / shape.tangent : 0;
}

/** Radius of the bit at a height above its lowest point, mm: half the width of a groove of that depth. */
export function radiusAt(shape: BitShape, height: number): number {
  const { flat, ball, tangent, outer } = shape;
  if (height <= 0) return flat;
  if (ball > 0) {
    const { radius, apex } = joint(shape);
    const top = ball - Math.sqrt(Math.max(0, ball * ball - radius * radius));
    if (height < top) return Math.min(outer, Math.sqrt(height * (2 * ball - height)));
    return tangent > 0 ? Math.min(outer, tangent * (height + apex)) : outer;
  }
  return tangent > 0 ? Math.min(outer, flat + height * tangent) : outer;
}

/** Height of the point of a drill, mm: from its tip up to its full width, d/(2·tan(A/2)); zero for bits without. @example 10 mm, 118° -> 3.004 */
export const pointLength = (bit: Bit): number => (bit.kind === 'drill' ? heightAt(shapeOf(bit), shapeOf(bit).outer) : 0);

/** Radius at which the ball of a point passes into its cone, mm; zero without a ball. */
export const jointRadius = (shape: BitShape): number => joint(shape).radius;

/** Radius beyond which depth and width go together evenly, mm: below it the tip is a ball. */
export const evenFrom = (bit: PointedBit): number => jointRadius(shapeOf(bit));

/** Width of a groove at the surface, mm. @example 90°, depth 3 -> 6 */
export const grooveWidth = (bit: Bit, depth: number): number => 2 * radiusAt(shapeOf(bit), depth);

/** Depth at which a groove is as wide as the stroke, mm; 0 for a stroke narrower than the tip. @example 12.7 mm stroke, 60° -> 10.998 */
export const depthForStroke = (bit: PointedBit, width: number): number => heightAt({ ...shapeOf(bit), outer: Infinity }, width / 2);

/** Deepest a V can go before its shank meets the wood, mm. @example 3.175 mm, 30° -> 5.925 */
export const deepestOfV = (bit: PointedBit): number => depthForStroke(bit, bit.diameter);

/** Height of the ridge between neighbouring passes on a flat floor, mm. @example 60°, step 1.27 -> 1.100; ball of radius 3.175, step 0.635 -> 0.0159 */
export const ridgeOf = (bit: Bit, stepover: number): number => heightAt({ ...shapeOf(bit), outer: Infinity }, stepover / 2);

/** Distance between pocket passes, mm: 40 % of the cutting width unless chosen (common practice), and never nearly all of it. */
export const stepOver = (bit: Bit, chosen?: number): number => Math.min(chosen ?? 0.4 * cuttingWidth(bit), 0.95 * cuttingWidth(bit));

/** Distance between passes of a fill with a cutter at a depth, mm: 60 % of its groove unless chosen (common practice: 39-40 % overlap). */
export const fillStep = (bit: Bit, depth: number, chosen?: number): number => Math.min(chosen ?? 0.6 * grooveWidth(bit, depth), 0.95 * grooveWidth(bit, depth));

/** Passes that fill a stroke of some width with grooves a step apart. */
export const passesAcross = (stroke: number, groove: number, step: number): number => 1 + Math.max(0, Math.ceil((stroke - groove) / step - 1e-9));

/** Chip load per tooth, mm: f = F / (n·z) (feed-per-tooth formula of any machinery handbook). */
export const chipLoad = (feed: number, speed: number, flutes: number): number => (speed > 0 ? feed / (speed * flutes) : 0);

/** Feed for a chip load, mm/min: F = n·z·f. @example 18000 · 2 · 0.10 -> 3600 */
export const feedFor = (speed: number, flutes: number, load: number): number => speed * flutes * load;

/** What a chip really measures when the step-over is less than half the width: f·2·sqrt(s/d - (s/d)²). (Derived.) @example s/d = 0.1 -> 0.6 f */
export function thinnedChip(load: number, stepover: number, diameter: number): number {
  const part = Math.min(0.5, stepover / diameter);
  return load * 2 * Math.sqrt(part - part * part);
}

/** Surface speed, m/min: v = pi·d·n. @example 6.35 mm at 18000 -> 359 */
export const surfaceSpeed = (diameter: number, speed: number): number => (Math.PI * diameter * speed) / 1000;

const CALLED: Record<Bit['kind'], string> = {
  v: 'V',
  tapered: 'tapered',
  engraving: 'engraving',
  end: 'end mill',
  ball: 'ball nose',
  surfacing: 'surfacing bit',
  drag: 'drag diamond',
  drill: 'drill',
  nozzle: 'nozzle',
  head: 'laser head',
};

/** Short name for file names. */
export const bitSlug = (bit: Bit): string =>
  bit.kind === 'nozzle' || bit.kind === 'head'
    ? bitLabel(bit).replace(/[^A-Za-z0-9.]+/g, '-')
    : isPointed(bit)
      ? `${bit.kind === 'v' ? 'v' : bit.kind}${num(bit.angle)}-${num(bit.diameter)}`
      : `${bit.kind}-${num(bit.diameter)}`;

/** A bit in a few words, for programs and set-up. */
export const bitLabel = (bit: Bit, unit: LengthUnit = 'mm'): string => {
  const size = (mm: number) => formatLength(mm, { unit, decimals: 3 });
  if (isPointed(bit)) return `${num(bit.angle)}° ${CALLED[bit.kind]}, ${size(bit.diameter)}`;
  if (bit.kind === 'end' && bit.spiral === 'compression') return `compression bit, ${size(bit.diameter)}`;
  if (bit.kind === 'head') return `laser head, ${num(bit.watts)} W, spot ${size(bit.diameter)}`;
  if (bit.kind === 'nozzle')
    return `nozzle, ${[...new Set(bit.chart.map(({ amperes }) => amperes))].map((a) => `${num(a)} A`).join(' and ') || size(bit.diameter)}`;
  return bit.kind === 'drag' ? `drag diamond, ${size(bit.lineWidth)} line` : `${CALLED[bit.kind]}, ${size(bit.diameter)}`;
};

/** What a bit is called: by the name somebody gave it; one that only repeats its size in millimetres is said in the reader's unit. */
export const bitName = (bit: Bit, unit: LengthUnit): string => (bit.name !== '' && bit.name !== bitLabel(bit) ? bit.name : bitLabel(bit, unit));

function num(mm: number): string {
  return String(Number(mm.toFixed(3)));
}
