/** The board: its size, what it is of, what holds it down, and where zero is on it. Lengths are mm from its lower-left corner. */
import { z } from 'zod';
import { length, notNegative, positive } from '../fields/index.ts';
import { regionArea, unite, type Region } from '../geometry/index.ts';

export const Board = z.strictObject({
  width: positive.max(20_000),
  height: positive.max(20_000),
  thickness: positive.max(1_000),
  /** Readings at lower-left, lower-right, upper-right, upper-left, when taken. */
  measured: z.tuple([positive, positive, positive, positive]).optional(),
  material: z.string().max(60).default('pine'),
  /** A sacrificial board it is screwed or taped to, which lies on the spoilboard in its place. */
  carrier: z.strictObject({ thickness: positive.max(200) }).optional(),
  holdDown: z.enum(['clamps', 'screws', 'tape', 'vacuum', 'slats']).default('screws'),
  /** Slats of a torch table that the plate lies on: they stand `pitch` apart, running along X or Y, the first so far from the plate's edge, each so thick, mm. */
  slats: z
    .strictObject({
      along: z.enum(['x', 'y']).default('y'),
      pitch: positive.max(1_000).default(100),
      first: length.default(50),
      thick: positive.max(50).default(4),
    })
    .optional(),
  /** A remnant: outlines of what is cut out of it already, x y after x y, mm. */
  gone: z.array(z.array(length).min(6).max(8_000)).max(500).optional(),
  /** How high clamps or screw heads stand above the board, mm: travel goes over them. */
  holdDownHeight: notNegative.max(200).default(0),
  /** Where clamps, screws, fences and location pins are: x, y their middle on the board (they may stand beside it). */
  holders: z
    .array(
      z.strictObject({
        kind: z.enum(['clamp', 'screw', 'fence', 'pin']),
        x: length,
        y: length,
        width: positive,
        depth: positive,
        /** How high it stands above the board; below zero it lies under its top. */
        height: length,
      }),
    )
    .max(100)
    .default([]),
});

export const Datum = z.strictObject({
  corner: z.enum(['lower-left', 'lower-right', 'upper-left', 'upper-right', 'centre']).default('lower-left'),
  /** Z = 0 on top of the board, or on the spoilboard it lies on. */
  z: z.enum(['top', 'spoilboard']).default('top'),
});

export type Board = z.infer<typeof Board>;
export type Holder = Board['holders'][number];
export type Datum = z.infer<typeof Datum>;

/** Machine X, Y of the datum relative to the board's lower-left corner, mm. */
export function datumPoint(job: { board: Board; datum: Datum }): [number, number] {
  const { width, height } = job.board;
  switch (job.datum.corner) {
    case 'lower-left':
      return [0, 0];
    case 'lower-right':
      return [width, 0];
    case 'upper-left':
      return [0, height];
    case 'upper-right':
      return [width, height];
    case 'centre':
      return [width / 2, height / 2];
  }
}

/** What is cut out of the board already, as areas; none of a whole one. */
export const goneOf = ({ gone = [] }: Pick<Board, 'gone'>): Region[] =>
  gone.length === 0
    ? []
    : unite(
        gone.map((xy) => ({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) })),
        'evenodd',
      );

/** What there is of a board from above, without its openings, mm². */
export const boardArea = (board: Pick<Board, 'width' | 'height' | 'gone'>): number =>
  board.width * board.height - goneOf(board).reduce((sum, region) => sum + regionArea(region), 0);

/** Thickest reading of the board: Z is zeroed on the highest point, through cuts reckon with it. */
export const boardThickness = (board: Board): number => (board.measured ? Math.max(...board.measured) : board.thickness);

/** Height of the board's top above the spoilboard: its own thickness, and that of the carrier it is fixed to. */
export const topHeight = (board: Board): number => boardThickness(board) + (board.carrier?.thickness ?? 0);
