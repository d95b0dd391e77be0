/** Corners that a beam of constant power heats: the carriage slows down there, and the beam does not. */
import { planMotion, type Limits, type Timing } from '../motion/index.ts';
import type { Toolpath } from '../toolpath/index.ts';

/** So much of the line before and after a corner is looked at, mm: about what heat spreads to. (Common practice: a kerf or three.) */
const NEAR = 0.5;

export interface HotCorner {
  at: [number, number];
  /** Energy it takes, against as much of the line at its feed. */
  times: number;
}

/** Corners that take at least so many times the energy of their line: the time spent within half a millimetre of them, against that at the feed. */
export function hotCorners(path: Toolpath, limits: Limits, times: number): HotCorner[] {
  const { power, x, y, feed } = path;
  if (!power || !path.events?.some((event) => 'on' in event && event.constant)) return [];
  const timing = planMotion(path, limits);
  const { v0, length } = timing;
  const burns = (i: number) => i > 0 && i < x.length && power[i] > 0;
  const out: HotCorner[] = [];
  /** How far it is since the last corner that was told; the worst place of one counts, and a bend of many short edges is one. */
  let since = Infinity;
  for (let i = 1; i + 1 < x.length; i++) {
    since += length[i];
    if (!burns(i) || !burns(i + 1) || v0[i + 1] * times > feed[i] / 60) continue;
    // Slowest here: where it only comes up to speed there is no corner.
    if (v0[i + 1] > v0[i] || v0[i + 1] > v0[i + 2]) continue;
    const [before, back] = spent(timing, i, -1, burns);
    const [after, on] = spent(timing, i + 1, 1, burns);
    const ratio = (before + after) / ((60 * (back + on)) / feed[i]);
    if (!(ratio >= times)) continue;
    const last = out.at(-1);
    if (since > 2 * NEAR || !last) {
      out.push({ at: [x[i], y[i]], times: ratio });
      since = 0;
    } else if (ratio > last.times) [last.at, last.times] = [[x[i], y[i]], ratio];
  }
  return out;
}

/** Time spent within reach of a joint, over the moves before it or after it, and how far that is. */
function spent({ v0, peak, accel, length }: Timing, first: number, way: 1 | -1, burns: (i: number) => boolean): [seconds: number, mm: number] {
  let [seconds, left] = [0, NEAR];
  for (let i = first; left > 0 && burns(i); i += way) {
    const w = Math.min(left, length[i]);
    // The same forwards and backwards in time: from v the speed grows to u at most.
    const [v, end] = way > 0 ? [v0[i], v0[i + 1]] : [v0[i + 1], v0[i]];
    seconds += sinceSpeed(w, v, peak[i], end, accel[i], length[i]);
    left -= w;
  }
  return [seconds, NEAR - left];
}

/** Time for the first w of a move that starts at v, reaches a peak and ends at another speed. (Derived: d = vt + at²/2.) */
function sinceSpeed(w: number, v: number, peak: number, end: number, a: number, length: number): number {
  const up = (peak * peak - v * v) / (2 * a);
  const down = (peak * peak - end * end) / (2 * a);
  const [first, second, third] = [
    Math.min(w, up),
    Math.min(Math.max(0, w - up), Math.max(0, length - up - down)),
    Math.max(0, w - Math.max(up, length - down)),
  ];
  return (Math.sqrt(v * v + 2 * a * first) - v) / a + second / peak + (peak - Math.sqrt(Math.max(0, peak * peak - 2 * a * third))) / a;
}
