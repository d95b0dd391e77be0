/**
 * Bits and the marks they leave. Plain geometry (derived): with A the included angle and
 * t = tan(A/2), a V groove of depth h is w = tipFlat + 2·h·t wide at the surface.
 */
import type { Bit } from '../job/index.ts';

export type VBit = Extract<Bit, { kind: 'v' }>;
export type EndMill = Extract<Bit, { kind: 'end' }>;

/** Tangent of half the included angle. */
export const halfAngleTangent = (bit: VBit): number => Math.tan((bit.angle * Math.PI) / 360);

/** Width at the surface of a V groove, mm. @example 90°, depth 3 -> 6 */
export const grooveWidth = (bit: VBit, depth: number): number => bit.tipFlat + 2 * depth * halfAngleTangent(bit);

/** Depth at which a V groove is as wide as the stroke, mm; 0 for a stroke narrower than the tip. @example 12.7 mm stroke, 60° -> 10.998 */
export const depthForStroke = (bit: VBit, width: number): number => Math.max(0, (width - bit.tipFlat) / (2 * halfAngleTangent(bit)));

/** Deepest the V can go before its shank meets the wood, mm. @example 3.175 mm, 30° -> 5.925 */
export const deepestOfV = (bit: VBit): number => (bit.diameter - bit.tipFlat) / (2 * halfAngleTangent(bit));

/** Height of the ridge between neighbouring V passes on a flat floor, mm. @example 60°, step 1.27 -> 1.100 */
export const ridgeOfV = (bit: VBit, stepover: number): number => Math.max(0, (stepover - bit.tipFlat) / (2 * halfAngleTangent(bit)));

/** The point of a bit: half its flat, and how much it widens per mm of height (nought for a straight bit). */
export const tipOf = (bit: Bit): { flat: number; tangent: number } =>
  bit.kind === 'v'
    ? { flat: bit.tipFlat / 2, tangent: halfAngleTangent(bit) }
    : bit.kind === 'drill'
      ? { flat: 0, tangent: Math.tan((bit.pointAngle * Math.PI) / 360) }
      : { flat: bit.diameter / 2, tangent: 0 };

/** Width a bit really cuts: measured on a slot when known, else its diameter. */
export const cuttingWidth = (bit: Bit): number => bit.measuredWidth ?? bit.diameter;

/** Distance between pocket passes, mm: 40 % of the cutting width unless chosen (common practice), and never nearly all of it. */
export const stepOver = (bit: Bit, chosen?: number): number => Math.min(chosen ?? 0.4 * cuttingWidth(bit), 0.95 * cuttingWidth(bit));

/** Chip load per tooth, mm: f = F / (n·z) (feed-per-tooth formula of any machinery handbook). */
export const chipLoad = (feed: number, speed: number, flutes: number): number => feed / (speed * flutes);

/** Surface speed, m/min: v = pi·d·n. @example 6.35 mm at 18000 -> 359 */
export const surfaceSpeed = (diameter: number, speed: number): number => (Math.PI * diameter * speed) / 1000;

/** How a bit is called on a card: `60° V, 12.7 mm`. */
export const bitLabel = (bit: Bit): string => {
  const size = `${Number(bit.diameter.toFixed(3))} mm`;
  return bit.kind === 'v' ? `${bit.angle}° V, ${size}` : bit.kind === 'drill' ? `drill, ${size}` : `end mill, ${size}`;
};

/** How a bit is called in a file name: `v60-12.7`, `end-6.35`, `drill-5`. */
export const bitSlug = (bit: Bit): string => `${bit.kind === 'v' ? `v${bit.angle}` : bit.kind}-${Number(bit.diameter.toFixed(3))}`;
