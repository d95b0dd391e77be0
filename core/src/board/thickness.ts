/**
 * The thickness map: the height of the board's top at a few places, what it says about the board,
 * and the surface between them that a program can follow.
 */

export interface Reading {
  /** Work coordinates, mm. */
  x: number;
  y: number;
  /** Height of the top there: measured thickness, or a probed height; only differences matter. */
  height: number;
}

export interface ThicknessFacts {
  lowest: number;
  highest: number;
  /** Highest less lowest, mm. */
  spread: number;
  /** Where it is highest: Z is set there. */
  at: Reading;
  /**
   * Shallowest engraving that shows everywhere when Z is set on the highest point: four times the
   * spread. (Common practice: 0.05 under a 0.2 engraving is fine, 0.2 under 0.2 is not.)
   */
  shallowest: number;
}

/** What readings say. Null without any. */
export function thicknessFacts(readings: readonly Reading[]): ThicknessFacts | null {
  if (readings.length === 0) return null;
  const at = readings.reduce((best, reading) => (reading.height > best.height ? reading : best));
  const lowest = Math.min(...readings.map(({ height }) => height));
  const spread = at.height - lowest;
  return { lowest, highest: at.height, spread, at, shallowest: 4 * spread };
}

/** Places to probe: columns by rows, evenly, `inset` mm in from the edges of a rectangle. Back and forth, so that travel is short. */
export function probeGrid(min: readonly [number, number], max: readonly [number, number], columns: number, rows: number, inset = 0): [number, number][] {
  const points: [number, number][] = [];
  const along = (from: number, to: number, k: number, n: number) => (n === 1 ? (from + to) / 2 : from + inset + ((to - from - 2 * inset) * k) / (n - 1));
  for (let row = 0; row < rows; row++)
    for (let k = 0; k < columns; k++) points.push([along(min[0], max[0], row % 2 ? columns - 1 - k : k, columns), along(min[1], max[1], row, rows)]);
  return points;
}

/**
 * Height of the surface at a point, above the level Z was set at (`level`, a height like those of
 * the readings). Through every reading exactly, smooth between: the plane that fits them best plus
 * what is left, spread by inverse distance squared (Shepard 1968). Beyond the readings it is level
 * with the nearest, never tilted on.
 */
export function surfaceOf(readings: readonly Reading[], level: number): (x: number, y: number) => number {
  if (readings.length === 0) return () => 0;
  const xs = readings.map(({ x }) => x);
  const ys = readings.map(({ y }) => y);
  const [minX, maxX, minY, maxY] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const [a, b, c] = planeThrough(readings);
  const rest = readings.map(({ x, y, height }) => height - (a * x + b * y + c));
  return (px, py) => {
    const x = Math.min(maxX, Math.max(minX, px));
    const y = Math.min(maxY, Math.max(minY, py));
    let [sum, weight] = [0, 0];
    for (let i = 0; i < readings.length; i++) {
      const d = (x - readings[i].x) ** 2 + (y - readings[i].y) ** 2;
      if (d < 1e-12) return readings[i].height - level;
      sum += rest[i] / d;
      weight += 1 / d;
    }
    return a * x + b * y + c + sum / weight - level;
  };
}

/** Plane z = a·x + b·y + c of least squares; level when the readings do not span one. */
function planeThrough(readings: readonly Reading[]): [number, number, number] {
  const n = readings.length;
  const mean = (pick: (r: Reading) => number) => readings.reduce((sum, r) => sum + pick(r), 0) / n;
  const [mx, my, mh] = [mean((r) => r.x), mean((r) => r.y), mean((r) => r.height)];
  let [xx, xy, yy, xh, yh] = [0, 0, 0, 0, 0];
  for (const { x, y, height } of readings) {
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
    xh += (x - mx) * (height - mh);
    yh += (y - my) * (height - mh);
  }
  const det = xx * yy - xy * xy;
  if (det < 1e-6 * (xx + yy) ** 2 || n < 3) return [0, 0, mh];
  const a = (xh * yy - yh * xy) / det;
  const b = (yh * xx - xh * xy) / det;
  return [a, b, mh - a * mx - b * my];
}
