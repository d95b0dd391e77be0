/** A finding as a line on the error output. */
import { wordsOf, type Finding } from '@kerbe/core/findings';
import type { LengthUnit } from '@kerbe/core/length';

export function saidOf(found: Finding, unit: LengthUnit): string {
  const { what, remedy } = wordsOf(found, unit);
  return `${found.severity}: ${found.code}: ${what} ${remedy}\n`;
}
