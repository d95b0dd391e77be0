/** A closed line by the distance along it. */
import { insideContour, nearestOn } from './contour.ts';

export class ClosedLine {
  readonly length: number;
  readonly xy: Float64Array;
  /** Distance of every vertex from the first; the last entry is the whole length. */
  readonly along: Float64Array;

  constructor(xy: Float64Array) {
    this.xy = xy;
    const n = xy.length / 2;
    this.along = new Float64Array(n + 1);
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      this.along[i + 1] = this.along[i] + Math.hypot(xy[2 * j] - xy[2 * i], xy[2 * j + 1] - xy[2 * i + 1]);
    }
    this.length = this.along[n];
  }

  /** Index of the edge that s lies on; s goes on round and round. */
  edgeAt(s: number): number {
    const rest = s - Math.floor(s / this.length) * this.length;
    let lo = 0;
    let hi = this.along.length - 1;
    while (hi - lo > 1) {
      const mid = (lo + hi) >> 1;
      if (this.along[mid] <= rest) lo = mid;
      else hi = mid;
    }
    return lo;
  }

  at(s: number): [number, number] {
    const rest = s - Math.floor(s / this.length) * this.length;
    const i = this.edgeAt(s);
    const j = (i + 1) % (this.along.length - 1);
    const step = this.along[i + 1] - this.along[i];
    const f = step > 0 ? Math.min(1, (rest - this.along[i]) / step) : 0;
    const { xy } = this;
    return [xy[2 * i] + f * (xy[2 * j] - xy[2 * i]), xy[2 * i + 1] + f * (xy[2 * j + 1] - xy[2 * i + 1])];
  }

  /** Unit vector along the edge that s lies on. */
  direction(s: number): [number, number] {
    const i = this.edgeAt(s);
    const j = (i + 1) % (this.along.length - 1);
    const [dx, dy] = [this.xy[2 * j] - this.xy[2 * i], this.xy[2 * j + 1] - this.xy[2 * i + 1]];
    const d = Math.hypot(dx, dy) || 1;
    return [dx / d, dy / d];
  }

  /** Where along the line the point nearest to x, y lies, and how far that is. */
  nearest(x: number, y: number): { s: number; distance: number } {
    const { at, distance } = nearestOn(this.xy, x, y);
    // The end of the last edge is the first vertex again.
    const i = Math.min(Math.floor(at), this.along.length - 2);
    return { s: this.along[i] + (at - i) * (this.along[i + 1] - this.along[i]), distance };
  }

  /** Distance from s to the nearer end of the straight run it lies on, mm. */
  straightAround(s: number): number {
    const rest = s - Math.floor(s / this.length) * this.length;
    const i = this.edgeAt(s);
    return Math.min(rest - this.along[i], this.along[i + 1] - rest);
  }

  contains(x: number, y: number): boolean {
    return insideContour(this.xy, x, y);
  }
}
