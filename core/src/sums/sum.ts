/** A sum of the shop: what is asked, and what comes out. The functions are those the planner works with. */

/** What a figure is, and so how it is typed and shown. Lengths are mm, feeds mm/min, areas mm², weights kg, times seconds. */
export type Kind = 'length' | 'feed' | 'area' | 'weight' | 'time' | 'number';

export interface Asked {
  key: string;
  label: string;
  as: Exclude<Kind, 'area' | 'weight' | 'time'>;
  /** Of a plain number. */
  unit?: string;
  /** What a length is by: `/s²` for an acceleration. */
  per?: string;
  /** What stands there first. */
  value: number;
  min?: number;
  max?: number;
}

export interface Choice {
  key: string;
  label: string;
  options: readonly string[];
}

export interface Result {
  label: string;
  as: Kind | 'text';
  value: number;
  unit?: string;
  /** It is for each unit of length, or of area: `J` for each mm, each mm². */
  each?: 'length' | 'area';
  /** Decimals of a plain number. */
  decimals?: number;
  /** Of a text, or what it means beside a figure. */
  says?: string;
  /** The field of a cut it may be put into. */
  into?: 'depth' | 'floorDepth' | 'feed' | 'stepover' | 'kerf' | 'interval' | 'linesPerMm' | 'overscan' | 'startDepth';
}

export interface Sum {
  id: string;
  group: 'Carving' | 'Milling' | 'Board' | 'Torch' | 'Laser' | 'Measures';
  title: string;
  /** The question it answers, as one would ask it. */
  asks: string;
  /** Other words somebody may look for it by. */
  words: readonly string[];
  fields: readonly Asked[];
  choice?: Choice;
  /** Where the formula is from. */
  source: string;
  /** @param given figures by key; @param chosen option of its choice */
  results(given: Record<string, number>, chosen: string): Result[];
}
