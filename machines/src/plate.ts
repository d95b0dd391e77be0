/**
 * A plate or sheet on a simulated machine that is burned away cell by cell, and pieces that come free of it.
 * A free piece lies, tips or falls by the slats - or the honeycomb - under it: found on the grid itself, by
 * other means than the proof finds it. Coordinates are mm from the lower-left corner.
 */
import { goneOf } from '@kerbe/core/board';
import { eachRun, HeightMap } from '@kerbe/core/proof';

export interface Slats {
  along: 'x' | 'y';
  pitch: number;
  first: number;
  thick: number;
}

export interface FreePiece {
  /** `taken`: a person has taken it off the table. */
  lies: 'free' | 'tips' | 'falls' | 'taken';
  /** mm². */
  area: number;
  /** How wide and how deep it is, mm, as a calliper says. */
  size: [number, number];
}

/** A piece that tips turns about the slat it lay on: what is heavy goes down, and the other side stands up so steeply, and never higher than this, mm. */
const TIPPED = { slope: 0.6, most: 40 };

/** How a tipped piece stands: it turns about a place, and rises from there this way. */
interface Tilt {
  pivot: readonly [number, number];
  up: readonly [number, number];
}

/** Pieces that are not there any more. */
const GONE = new Set<FreePiece['lies']>(['falls', 'taken']);

/** What a cell is: metal of the plate, burned away, or metal of a free piece, whose number is added. */
const METAL = 0;
const BURNED = 1;
const PIECE = 2;

export class Plate {
  readonly map: HeightMap;
  readonly thickness: number;
  readonly pieces: FreePiece[] = [];
  private readonly tilts = new Map<number, Tilt>();
  private readonly slats: Slats;
  private readonly is: Int32Array;
  /** Cells burned since pieces were last looked for. */
  private fresh: number[] = [];

  /** @param gone what is cut out of it already: a remnant */
  constructor(width: number, height: number, thickness: number, slats: Slats, cell: number, gone: readonly (readonly number[])[] = []) {
    this.map = new HeightMap(width, height, cell);
    this.thickness = thickness;
    this.slats = slats;
    this.is = new Int32Array(this.map.height.length);
    eachRun(this.map, goneOf({ gone: gone.map((xy) => [...xy]) }), (from, to) => {
      this.is.fill(BURNED, from, to);
      this.map.height.fill(-thickness, from, to);
    });
  }

  /** Is there metal within so much of a place? What fell is none. */
  metalWithin(x: number, y: number, radius: number): boolean {
    let found = false;
    this.around(x, y, radius, (k) => (found ||= this.is[k] === METAL || (this.is[k] >= PIECE && !GONE.has(this.pieces[this.is[k] - PIECE].lies))));
    return found;
  }

  /** Does the plate's own edge come within so much of a place? */
  edgeWithin(x: number, y: number, radius: number): boolean {
    const { columns, rows, cell } = this.map;
    return x < radius || y < radius || x > columns * cell - radius || y > rows * cell - radius;
  }

  /** The free piece that lies here, by its number; null where none does. */
  pieceAt(x: number, y: number): number | null {
    const { columns, rows, cell } = this.map;
    const [i, j] = [Math.floor(x / cell), Math.floor(y / cell)];
    const is = i >= 0 && j >= 0 && i < columns && j < rows ? this.is[j * columns + i] : METAL;
    return is >= PIECE ? is - PIECE : null;
  }

  /** What came free is taken off the table. */
  takePieces(): void {
    for (const piece of this.pieces) if (piece.lies !== 'falls') piece.lies = 'taken';
    this.tilts.clear();
  }

  /** How high a tipped piece stands here above the plate, mm; 0 where none does. */
  raisedAt(x: number, y: number, radius: number): number {
    let high = 0;
    if (this.tilts.size > 0)
      this.around(x, y, radius, (k) => {
        const tilt = this.tilts.get(this.is[k]);
        if (tilt) high = Math.max(high, Math.min(TIPPED.most, TIPPED.slope * ((x - tilt.pivot[0]) * tilt.up[0] + (y - tilt.pivot[1]) * tilt.up[1])));
      });
    return high;
  }

  /** The arc stands here: metal within its radius is gone. @returns true when there was any */
  burn(x: number, y: number, radius: number): boolean {
    let any = false;
    this.around(x, y, radius, (k) => {
      if (this.is[k] === BURNED) return;
      any = true;
      this.is[k] = BURNED;
      this.map.height[k] = -this.thickness;
      this.fresh.push(k);
    });
    return any;
  }

  /** What has come free by what was burned since this was last asked. */
  freed(): FreePiece[] {
    const { columns, rows } = this.map;
    /** Cells that were looked at, by the number of the search that came upon them; and of each search, whether its metal is held. */
    const seen = new Int32Array(this.is.length);
    const holds = [false];
    const before = this.pieces.length;
    for (const burned of this.fresh)
      for (const step of [1, -1, columns, -columns]) {
        const from = burned + step;
        if (this.is[from] !== METAL || seen[from] !== 0) continue;
        const search = holds.length;
        const cells = [from];
        let held = false;
        seen[from] = search;
        // Metal that reaches the plate's edge is held, and so is what hangs together with it: there is no need to see all of it.
        const open = [from];
        while (open.length > 0 && !held) {
          const k = open.pop()!;
          const i = k % columns;
          const j = (k - i) / columns;
          if (i === 0 || j === 0 || i === columns - 1 || j === rows - 1) held = true;
          for (const next of [i > 0 ? k - 1 : -1, i < columns - 1 ? k + 1 : -1, k - columns, k + columns]) {
            if (next < 0 || next >= this.is.length || this.is[next] !== METAL) continue;
            if (seen[next] === 0) {
              seen[next] = search;
              cells.push(next);
              open.push(next);
            } else if (holds[seen[next]]) held = true;
          }
        }
        holds.push(held);
        if (!held) this.free(cells);
      }
    this.fresh = [];
    return this.pieces.slice(before);
  }

  private free(cells: readonly number[]): void {
    const { columns, cell } = this.map;
    const number = this.pieces.length + PIECE;
    const { along, pitch, first, thick } = this.slats;
    const bearing: [number, number][] = [];
    let [sx, sy] = [0, 0];
    let [left, right, front, back] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const k of cells) {
      this.is[k] = number;
      const [i, j] = [k % columns, Math.floor(k / columns)];
      [left, right, front, back] = [Math.min(left, i), Math.max(right, i), Math.min(front, j), Math.max(back, j)];
      const [x, y] = [(i + 0.5) * cell, (j + 0.5) * cell];
      sx += x;
      sy += y;
      const across = (along === 'y' ? x : y) - first;
      if (Math.abs(across - Math.round(across / pitch) * pitch) <= thick / 2) bearing.push([x, y]);
    }
    const centre: [number, number] = [sx / cells.length, sy / cells.length];
    const lies = bearing.length === 0 ? 'falls' : standsOn(bearing, centre) ? 'free' : 'tips';
    if (lies === 'tips') {
      const pivot = [0, 1].map((axis) => bearing.reduce((sum, at) => sum + at[axis], 0) / bearing.length) as [number, number];
      const way = [pivot[0] - centre[0], pivot[1] - centre[1]];
      const length = Math.max(1e-9, Math.hypot(way[0], way[1]));
      this.tilts.set(number, { pivot, up: [way[0] / length, way[1] / length] });
    }
    this.pieces.push({ lies, area: cells.length * cell * cell, size: [(right - left + 1) * cell, (back - front + 1) * cell] });
  }

  private around(x: number, y: number, radius: number, each: (k: number) => void): void {
    const { columns, rows, cell } = this.map;
    const from = (at: number) => Math.max(0, Math.floor((at - radius) / cell));
    const to = (at: number, count: number) => Math.min(count - 1, Math.floor((at + radius) / cell));
    for (let j = from(y); j <= to(y, rows); j++)
      for (let i = from(x); i <= to(x, columns); i++) {
        const [dx, dy] = [(i + 0.5) * cell - x, (j + 0.5) * cell - y];
        if (dx * dx + dy * dy <= radius * radius) each(j * columns + i);
      }
  }
}

/** Does a body stand on places when its weight acts there? Not when a line through it has all of them on one side. */
function standsOn(places: readonly [number, number][], [x, y]: readonly [number, number]): boolean {
  const ways = places.map(([px, py]) => Math.atan2(py - y, px - x)).sort((a, b) => a - b);
  return ways.every((way, k) => (k + 1 < ways.length ? ways[k + 1] : ways[0] + 2 * Math.PI) - way < Math.PI);
}
