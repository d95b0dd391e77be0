/** Letters of words by name and place, so that a stroke of a program can be told by the letter it carves. */
import type { Box } from '../geometry/index.ts';

/** A letter as it stands on the board. */
export interface PlacedLetter {
  /** As typed; several characters where a face joins them. */
  said: string;
  /** Of its outline, board mm. */
  box: Box;
}

/** The letter a point lies in - the smallest box, where boxes of neighbours overlap - or null when it lies in none. Board mm. */
export function letterAt(letters: readonly PlacedLetter[], x: number, y: number): PlacedLetter | null {
  let found: PlacedLetter | null = null;
  let least = Infinity;
  for (const letter of letters) {
    const { minX, minY, maxX, maxY } = letter.box;
    const area = (maxX - minX) * (maxY - minY);
    if (x < minX || x > maxX || y < minY || y > maxY || area >= least) continue;
    [found, least] = [letter, area];
  }
  return found;
}
