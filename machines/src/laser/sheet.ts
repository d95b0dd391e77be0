/**
 * The sheet in a simulated laser: energy laid on it cell by cell, how dark that makes it, and where the beam went
 * through. Coordinates are mm from the sheet's lower-left corner.
 */
import { darknessOf, responseOf, type Response } from '@kerbe/core/feeds/energy';
import { Plate } from '../plate.ts';

/** The honeycomb under it: what is smaller than a cell of it falls. */
const HONEYCOMB = { along: 'y', pitch: 6, first: 3, thick: 0.8 } as const;
/** From so dark on a mark is seen. */
const SEEN = 0.02;
/** The deepest that a mark looks, mm: as deep as a screen shows it. */
const MARK = 0.3;
/** The middle of a cell lies up to so much off the beam’s: a share of the energy at the beam’s own middle. */
const OFF_CENTRE = 0.7;
/** In the middle of a line of round spots lies so much of its energy, over their radius. (Derived: 2/π.) */
const MIDDLE = 2 / Math.PI;
/** The energy of a line is as high in its middle as if it were spread over this share of the spot. (Derived: a Gaussian beam.) */
const CORE = 0.8;
/** Where a piece lies that the air has moved, from where it was cut, mm. */
const MOVED = [0.4, -0.3];

export class Sheet {
  /** J/mm², row by row from the lower left. */
  readonly energy: Float32Array;
  readonly plate: Plate;
  /** A piece that had come free was marked: not where it was drawn. */
  late = false;
  /** Something on it can be seen. */
  marked = false;
  private readonly response: Response;
  private readonly thickness: number;

  constructor(width: number, height: number, thickness: number, material: string, cell: number) {
    this.plate = new Plate(width, height, thickness, HONEYCOMB, cell);
    this.energy = new Float32Array(this.plate.map.height.length);
    this.response = responseOf(material);
    this.thickness = thickness;
  }

  /** So much energy along a stretch, J, with a spot of so many mm. @returns true when it went through somewhere */
  shine(a: readonly [number, number], b: readonly [number, number], joules: number, spot: number): boolean {
    const { cell, columns, rows } = this.plate.map;
    const core = CORE * spot;
    const radius = Math.max(core, cell);
    const steps = Math.max(1, Math.ceil((2 * Math.hypot(b[0] - a[0], b[1] - a[1])) / cell));
    const through = ((this.response.throughPerMm * this.thickness * core) / radius) * MIDDLE * OFF_CENTRE;
    let went = false;
    for (let k = 0; k < steps; k++) {
      const f = (k + 0.5) / steps;
      let [x, y] = [a[0] + f * (b[0] - a[0]), a[1] + f * (b[1] - a[1])];
      if (this.plate.pieceAt(x, y) !== null) {
        [x, y] = [x - MOVED[0], y - MOVED[1]];
        this.late = true;
      }
      this.lay(x, y, joules / steps, radius);
      const [i, j] = [Math.floor(x / cell), Math.floor(y / cell)];
      if (i >= 0 && j >= 0 && i < columns && j < rows && this.energy[j * columns + i] >= through)
        went = this.plate.burn(x, y, Math.max(spot / 2, 0.71 * cell)) || went;
    }
    return went;
  }

  /** Spreads energy evenly over a round spot; every bit of it is laid somewhere, even when the spot is smaller than a cell. */
  private lay(x: number, y: number, joules: number, radius: number): void {
    const { cell, columns, rows, height } = this.plate.map;
    const [left, right] = [Math.floor((x - radius) / cell), Math.floor((x + radius) / cell)];
    const [low, high] = [Math.floor((y - radius) / cell), Math.floor((y + radius) / cell)];
    let count = 0;
    const inside = (i: number, j: number) => ((i + 0.5) * cell - x) ** 2 + ((j + 0.5) * cell - y) ** 2 <= radius * radius;
    for (let j = low; j <= high; j++) for (let i = left; i <= right; i++) if (inside(i, j)) count++;
    if (count === 0) return;
    const share = joules / count / (cell * cell);
    for (let j = Math.max(0, low); j <= Math.min(rows - 1, high); j++)
      for (let i = Math.max(0, left); i <= Math.min(columns - 1, right); i++)
        if (inside(i, j)) {
          const k = j * columns + i;
          this.energy[k] += share;
          if (height[k] <= -this.thickness) continue;
          const darkness = darknessOf(this.energy[k], this.response);
          this.marked ||= darkness > SEEN;
          height[k] = -Math.min(MARK, this.thickness / 2) * darkness;
        }
  }
}
