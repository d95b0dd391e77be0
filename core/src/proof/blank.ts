/** A board before anything is cut: whole, or with what is cut out of it already. */
import { boardThickness, goneOf, type Board } from '../board/index.ts';
import { HeightMap } from './heightmap.ts';
import { eachRun } from './raster.ts';

/** So far below its underside an opening is drawn, mm: it is through. */
const THROUGH = 1;

/** @param cell edge of a cell, mm */
export function blankMap(board: Board, cell: number): HeightMap {
  const map = new HeightMap(board.width, board.height, cell);
  const depth = -(boardThickness(board) + THROUGH);
  eachRun(map, goneOf(board), (from, to) => map.height.fill(depth, from, to));
  return map;
}
