/**
 * The carved board kept as layers: what each cut would remove by itself, in tiles of 64 x 64 cells,
 * only those it touches. The surface is the lowest of all layers; when a cut changes, its layer
 * alone is carved again, and only the tiles it touched or touches are put together anew.
 */
import type { PlannedCut } from '../plan/index.ts';
import { carve, removalOf, type Removal } from './carve.ts';
import { HeightMap } from './heightmap.ts';
import { eachRow, TILE } from './tiles.ts';

/** A cut's own removal: heights by tile number, row-major from the lower-left; tiles that are missing are untouched. */
export type Layer = Map<number, Float32Array>;

interface Kept {
  planned: PlannedCut;
  removal: Removal;
  layer: Layer;
}

export class LayeredBoard {
  readonly map: HeightMap;
  /** Heights before any cut: of a remnant not all at the top. */
  private readonly before: Float32Array;
  private readonly tilesX: number;
  private kept: Kept[] = [];

  /** @param blank the board before it is cut */
  constructor(blank: HeightMap) {
    this.map = blank;
    this.before = blank.height.slice();
    this.tilesX = Math.ceil(this.map.columns / TILE);
  }

  /**
   * Brings the surface up to date with planned cuts. A cut that is the same object as before, or that removes the
   * same by the same way - at another feed, say - is not carved again.
   *
   * @returns numbers of the tiles whose heights may have changed
   */
  update(cuts: readonly PlannedCut[]): Set<number> {
    const dirty = new Set<number>();
    const next = cuts.map((planned): Kept => {
      const same = this.kept.find((one) => one.planned === planned);
      if (same) return same;
      const removal = removalOf(planned);
      return { planned, removal, layer: this.kept.find((one) => removesAlike(one.removal, removal))?.layer ?? this.carved(planned, removal) };
    });
    const [had, has] = [this.kept, next].map((list) => new Set(list.map(({ layer }) => layer)));
    for (const layer of [...had, ...has]) if (!had.has(layer) || !has.has(layer)) for (const tile of layer.keys()) dirty.add(tile);
    this.kept = next;
    for (const tile of dirty) this.compose(tile);
    return dirty;
  }

  /** Which cut left the surface of each cell: its number in the order of cuts from 1 on, 0 where nothing was removed. */
  owners(): Uint8Array {
    const { map } = this;
    const owner = new Uint8Array(map.columns * map.rows);
    // From the last to the first: of cuts that leave the same height, the earliest did the work.
    for (let k = this.kept.length - 1; k >= 0; k--)
      for (const [tile, heights] of this.kept[k].layer)
        eachRow(map, tile, (at, from, count) => {
          for (let i = 0; i < count; i++)
            if (heights[from + i] < Math.min(-1e-6, this.before[at + i]) && heights[from + i] <= map.height[at + i]) owner[at + i] = k + 1;
        });
    return owner;
  }

  private compose(tile: number): void {
    const { height } = this.map;
    const { before } = this;
    const layers = this.kept.flatMap(({ layer }) => layer.get(tile) ?? []);
    eachRow(this.map, tile, (at, from, count) => {
      for (let i = 0; i < count; i++) {
        let low = before[at + i];
        for (const heights of layers) if (heights[from + i] < low) low = heights[from + i];
        height[at + i] = low;
      }
    });
  }

  /** Carves one cut on a map of its own, no larger than what it reaches, and cuts that into tiles. */
  private carved(planned: PlannedCut, { path, shape }: Removal): Layer {
    const layer: Layer = new Map();
    const { cell, columns, rows } = this.map;
    const { minX, minY, maxX, maxY } = planned.facts.box;
    const span = TILE * cell;
    const first = (low: number) => Math.max(0, Math.floor((low - shape.outer) / span));
    const [tx, ty] = [first(minX), first(minY)];
    const endX = Math.min(columns, Math.ceil((maxX + shape.outer) / cell) + 1);
    const endY = Math.min(rows, Math.ceil((maxY + shape.outer) / cell) + 1);
    const [ox, oy] = [tx * TILE, ty * TILE];
    if (!(endX > ox && endY > oy)) return layer;
    const own = new HeightMap((endX - ox) * cell, (endY - oy) * cell, cell);
    const moved = (values: Float64Array, by: number) => (by === 0 ? values : values.map((v) => v - by));
    carve(own, { kind: path.kind, x: moved(path.x, ox * cell), y: moved(path.y, oy * cell), z: path.z }, shape);
    for (let j = 0; j < own.rows; j += TILE)
      for (let i = 0; i < own.columns; i += TILE) {
        const heights = tileAt(own, i, j);
        if (heights) layer.set((ty + j / TILE) * this.tilesX + tx + i / TILE, heights);
      }
    return layer;
  }
}

/** The same shape along the same way: feeds and powers remove nothing by themselves. */
function removesAlike(a: Removal, b: Removal): boolean {
  const equal = (u: ArrayLike<number>, v: ArrayLike<number>) => {
    if (u.length !== v.length) return false;
    for (let i = 0; i < u.length; i++) if (u[i] !== v[i]) return false;
    return true;
  };
  const [p, q] = [a.path, b.path];
  return JSON.stringify(a.shape) === JSON.stringify(b.shape) && equal(p.kind, q.kind) && equal(p.x, q.x) && equal(p.y, q.y) && equal(p.z, q.z);
}

/** A tile of a map, or nothing when it is untouched. */
function tileAt(map: HeightMap, i0: number, j0: number): Float32Array | undefined {
  const width = Math.min(TILE, map.columns - i0);
  let heights: Float32Array | undefined;
  for (let j = 0; j < TILE && j0 + j < map.rows; j++) {
    const at = (j0 + j) * map.columns + i0;
    if (!heights) {
      let touched = false;
      for (let i = at; i < at + width && !touched; i++) touched = map.height[i] < 0;
      if (touched) heights = new Float32Array(TILE * TILE);
    }
    heights?.set(map.height.subarray(at, at + width), j * TILE);
  }
  return heights;
}
