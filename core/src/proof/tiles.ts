/** A height map in tiles: what is sent when only some of them changed. */
import type { HeightMap } from './heightmap.ts';

/** Cells along the edge of a tile. */
export const TILE = 64;

type Grid = Pick<HeightMap, 'columns' | 'rows'>;

/** Calls for every row of a tile that lies on a map: where it begins in the map, where in the tile, and how many cells. */
export function eachRow({ columns, rows }: Grid, tile: number, act: (at: number, from: number, count: number) => void): void {
  const tilesX = Math.ceil(columns / TILE);
  const i0 = (tile % tilesX) * TILE;
  const j0 = Math.floor(tile / tilesX) * TILE;
  const count = Math.min(TILE, columns - i0);
  for (let j = 0; j < TILE && j0 + j < rows; j++) act((j0 + j) * columns + i0, j * TILE, count);
}

/** Heights of some tiles one after the other, to be sent to where a copy of the map is kept. */
export function tilesOf(map: Grid & { height: Float32Array }, tiles: ArrayLike<number>): Float32Array {
  const out = new Float32Array(tiles.length * TILE * TILE);
  for (let k = 0; k < tiles.length; k++) eachRow(map, tiles[k], (at, from, count) => out.set(map.height.subarray(at, at + count), k * TILE * TILE + from));
  return out;
}

/** Puts such tiles into a copy of the map. */
export function applyTiles(map: Grid & { height: Float32Array }, tiles: ArrayLike<number>, data: Float32Array): void {
  for (let k = 0; k < tiles.length; k++)
    eachRow(map, tiles[k], (at, from, count) => map.height.set(data.subarray(k * TILE * TILE + from, k * TILE * TILE + from + count), at));
}
