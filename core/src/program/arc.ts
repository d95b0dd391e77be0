/** G2 and G3 as chords: in any of the three planes, with the third axis going along evenly (a helix). */

/** Greatest distance of a chord from its arc, mm. */
const CHORD = 0.002;
/** How far an arc may end off its circle: for its size in thousandths, or this much, mm. */
const OFF = 0.01;
const OFF_PART = 1e-3;
/** One arc comes in no more chords than this: a circle kilometres wide has coarser ones. */
const MOST = 4_000;

/** Axes 0 1 2 of a plane and of what stands upright on it, so that a counter-clockwise turn is one seen from there. */
export const PLANES: Record<number, readonly [number, number, number]> = { 17: [0, 1, 2], 18: [2, 0, 1], 19: [1, 2, 0] };

export interface ArcWords {
  clockwise: boolean;
  /** From the start to the centre, by axis: NaN for words left out. */
  centre: readonly [number, number, number];
  /** R word; NaN when left out. */
  radius: number;
}

/**
 * Chords of an arc from one point to another, each as a point handed on; or what is wrong with it, in words.
 *
 * @param from start, @param to end, x y z
 * @param axes of its plane, and upright on it
 */
export function arcChords(
  from: readonly number[],
  to: readonly number[],
  { clockwise, centre, radius: r }: ArcWords,
  axes: readonly [number, number, number],
  point: (x: number, y: number, z: number) => void,
): string | null {
  const [a, b, up] = axes;
  if (Number.isNaN(from[a]) || Number.isNaN(from[b])) return 'an arc needs a known start point';
  let ca: number;
  let cb: number;
  const [da, db] = [to[a] - from[a], to[b] - from[b]];
  if (!Number.isNaN(r)) {
    const chord = Math.hypot(da, db);
    if (chord < 1e-9) return 'an arc by radius needs an end point of its own';
    if (chord / 2 > Math.abs(r) * (1 + OFF_PART) + CHORD) return 'the radius is too short for this arc';
    const h = Math.sqrt(Math.max(0, r * r - (chord * chord) / 4)) * (clockwise === r > 0 ? -1 : 1);
    ca = from[a] + da / 2 - (h * db) / chord;
    cb = from[b] + db / 2 + (h * da) / chord;
  } else {
    if (Number.isNaN(centre[a]) && Number.isNaN(centre[b])) return `an arc needs ${'IJK'[Math.min(a, b)]} and ${'IJK'[Math.max(a, b)]}, or R`;
    ca = from[a] + (Number.isNaN(centre[a]) ? 0 : centre[a]);
    cb = from[b] + (Number.isNaN(centre[b]) ? 0 : centre[b]);
  }
  const radius = Math.hypot(from[a] - ca, from[b] - cb);
  if (Math.abs(radius - Math.hypot(to[a] - ca, to[b] - cb)) > Math.max(OFF, radius * OFF_PART)) return 'the arc does not end on its circle';
  const start = Math.atan2(from[b] - cb, from[a] - ca);
  let turn = Math.atan2(to[b] - cb, to[a] - ca) - start;
  if (clockwise && turn >= -1e-12) turn -= 2 * Math.PI;
  if (!clockwise && turn <= 1e-12) turn += 2 * Math.PI;
  const step = 2 * Math.acos(Math.max(0, 1 - CHORD / Math.max(radius, CHORD)));
  const n = Math.min(MOST, Math.max(1, Math.ceil(Math.abs(turn) / step)));
  const at = [0, 0, 0];
  for (let k = 1; k <= n; k++) {
    const angle = start + (turn * k) / n;
    at[a] = k === n ? to[a] : ca + radius * Math.cos(angle);
    at[b] = k === n ? to[b] : cb + radius * Math.sin(angle);
    at[up] = from[up] + (k / n) * (to[up] - from[up]);
    point(at[0], at[1], at[2]);
  }
  return null;
}
