/**
 * How the bit comes down into the board at the beginning of a pass: straight, along the pass back and
 * forth or round and round at a few degrees, or in a helix. What is asked for is done where it finds
 * room; else the next gentlest.
 */
import type { PathWriter } from '../../toolpath/index.ts';
import type { Chain } from './rings.ts';

/** Ways down: what fits best, straight, along the pass, or in a helix. */
export const ENTRIES = ['auto', 'straight', 'ramp', 'helix'] as const;
export type Entry = (typeof ENTRIES)[number];

/** Steepest way down along a pass, mm per mm (common practice: a few degrees). */
export const RAMP = Math.tan((4 * Math.PI) / 180);

/** An open pass is gone along this many widths of the bit at most before the bit turns back. */
const STRETCH = 10;

/**
 * Brings the bit from `above` down to depth z at the first point of a chain.
 *
 * @param r half the cutting width: a way down shorter than that is none
 * @param cut depth that was cut along this chain before, when any was
 */
export function comeDown(writer: PathWriter, chain: Chain, above: number, z: number, r: number, entry: Entry, cut?: number): void {
  const { xy } = chain;
  const drop = above - z;
  const helix = Math.min(0.5 * r, chain.room / 2);
  const along = rampOf(chain, r);
  const ramps = along !== null && lengthOf(along) >= (entry === 'auto' ? 2 * r : r);
  if (drop <= 0 || entry === 'straight') return void writer.approach(xy[0], xy[1], z, cut);
  if (entry === 'auto' ? helix >= 0.2 * r : entry === 'helix' && helix >= 0.05 * r) return goHelix(writer, chain, helix, above, z, cut);
  if (ramps) return goAlong(writer, along, above, z, cut);
  if (helix >= 0.05 * r) return goHelix(writer, chain, helix, above, z, cut);
  writer.approach(xy[0], xy[1], z, cut);
}

/** Down the circle through the first point, which finds room there. */
function goHelix(writer: PathWriter, { xy, towards }: Chain, radius: number, above: number, z: number, cut?: number): void {
  const turns = Math.max(1, Math.ceil((above - z) / (2 * Math.PI * radius * RAMP)));
  const [cx, cy] = [xy[0] + radius * towards[0], xy[1] + radius * towards[1]];
  const from = Math.atan2(-towards[1], -towards[0]);
  writer.approach(xy[0], xy[1], above, cut);
  for (let k = 1; k <= turns * 24; k++) {
    const a = from + (2 * Math.PI * k) / 24;
    writer.cutTo(cx + radius * Math.cos(a), cy + radius * Math.sin(a), above - ((above - z) * k) / (turns * 24));
  }
}

/** A way from the first point of a chain back to it: its first lap; or along an open pass and back. Null when it has none. */
function rampOf({ xy, laps }: Chain, r: number): number[] | null {
  if (laps.length > 0) return xy.slice(...laps[0]);
  const there = [xy[0], xy[1]];
  for (let i = 2, gone = 0; i < xy.length && gone < STRETCH * 2 * r; i += 2) {
    gone += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
    there.push(xy[i], xy[i + 1]);
  }
  if (there.length < 4) return null;
  const back: number[] = [];
  for (let i = there.length - 4; i >= 0; i -= 2) back.push(there[i], there[i + 1]);
  return [...there, ...back];
}

const lengthOf = (xy: readonly number[]): number => {
  let sum = 0;
  for (let i = 2; i < xy.length; i += 2) sum += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
  return sum;
};

/** Down along a way that ends where it begins, as often as it takes. */
function goAlong(writer: PathWriter, xy: readonly number[], above: number, z: number, cut?: number): void {
  const length = lengthOf(xy);
  const rounds = Math.max(1, Math.ceil((above - z) / (length * RAMP)));
  writer.approach(xy[0], xy[1], above, cut);
  let gone = 0;
  for (let k = 0; k < rounds; k++)
    for (let i = 2; i < xy.length; i += 2) {
      gone += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
      writer.cutTo(xy[i], xy[i + 1], above - ((above - z) * gone) / (rounds * length));
    }
}
