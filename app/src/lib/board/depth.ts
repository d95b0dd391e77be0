/** The depth ramp: one hue from just cut to deepest, in steps that can be told apart. */
export const DEPTH_STEPS = 6;

const SHALLOW = [0xd9, 0xe6, 0xd3];
const DEEP = [0x0b, 0x2e, 0x2a];

/** Colour of a step, 0 (just cut) to DEPTH_STEPS - 1 (deepest). */
export function depthColour(step: number): string {
  const f = step / (DEPTH_STEPS - 1);
  return `rgb(${SHALLOW.map((v, i) => Math.round(v + f * (DEEP[i] - v))).join(' ')})`;
}

/** Step that a depth belongs to, when `deepest` is the deepest of all. */
export const depthStep = (depth: number, deepest: number): number =>
  Math.min(DEPTH_STEPS - 1, Math.max(0, Math.floor((depth / Math.max(deepest, 1e-9)) * DEPTH_STEPS)));
