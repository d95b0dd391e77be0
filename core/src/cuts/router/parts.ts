/** Parts that a cut frees, and what holds them. */
import { finding, type Finding } from '../../findings/index.ts';
import { regionArea, regionsBox, type Region } from '../../geometry/index.ts';

/** A part smaller than this is not trusted to vacuum, mm². (Common practice, from memory: about the size of a hand.) */
const VACUUM_HOLDS = 15_000;

/** Parts cut free that vacuum will not hold, the smallest named. */
export function smallOnVacuum(cut: string, parts: readonly Region[]): Finding[] {
  const small = parts.map((part) => ({ part, area: regionArea(part) })).sort((a, b) => a.area - b.area)[0];
  if (!small || small.area >= VACUUM_HOLDS) return [];
  const { minX, minY, maxX, maxY } = regionsBox([small.part]);
  return [finding.smallOnVacuum(cut, small.area, [(minX + maxX) / 2, (minY + maxY) / 2])];
}
