/** What the schemas of cuts are made of. Depths are mm below the top of the board. */
import { z } from 'zod';
import { id, notNegative } from '../fields/index.ts';

export const feed = z.number().gt(0).max(100_000);
export const degrees = z.number().min(-360).max(360);

/**
 * What a cut works on: every drawn thing but the sign's outline; the outline; only the words, the
 * holes (round shapes and hole patterns), the lines, or the other shapes; or things by id.
 */
export const Target = z.union([z.enum(['art', 'outline', 'words', 'holes', 'lines', 'shapes']), z.array(id)]);

/** Orders of the pieces of a cut - letters, shapes, lines: the quickest; as drawn; from the left; row by row from the top; inner before outer; by hand. */
export const ORDERS = ['shortest', 'drawn', 'across', 'rows', 'inside-out', 'hand'] as const;

export const common = {
  id,
  name: z.string().max(80).default(''),
  on: Target,
  /** The tool of the job that makes it. */
  tool: id,
  /** In what order its pieces are cut: the shortest way unless said otherwise. */
  order: z.enum(ORDERS).default('shortest'),
  /** Things by id, in the order of `by hand`; what is not listed comes last. */
  sequence: z.array(id).max(5_000).default([]),
  /** Switched off: it stays in the job and is in no program. */
  off: z.boolean().default(false),
  /** Cuts that follow each other under one name stand together in the list, and are switched together. */
  group: z.string().trim().max(40).default(''),
  feed: feed.default(2400),
  plunge: feed.default(1000),
};
export const cutting = {
  ...common,
  /** Spindle, rev/min. */
  speed: z.number().gt(0).max(100_000).default(18_000),
};
export const direction = z.enum(['climb', 'conventional']).default('climb');
export const startDepth = notNegative.default(0);
/** A bit that cut here before: only what it could not reach is cut. */
export const after = id.optional();

export type Target = z.infer<typeof Target>;
