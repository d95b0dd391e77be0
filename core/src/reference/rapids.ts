/**
 * The rule of the safe rapid, for tests: across only at clearance; straight down only to the approach
 * height - or into what was cut there before, and not to its very bottom.
 */
import { RAPID, type Toolpath } from '../toolpath/index.ts';

/** Every rapid of a toolpath that breaks the rule, in words. Without an approach height it is the clearance. */
export function rapidFaults(path: Pick<Toolpath, 'kind' | 'x' | 'y' | 'z'>, clearance: number, approach = clearance): string[] {
  const why: string[] = [];
  const deepest = new Map<string, number>();
  const key = (i: number) => `${path.x[i].toFixed(6)} ${path.y[i].toFixed(6)}`;
  for (let i = 1; i < path.kind.length; i++) {
    const at = key(i);
    if (path.kind[i] !== RAPID) {
      deepest.set(at, Math.min(deepest.get(at) ?? Infinity, path.z[i]));
      continue;
    }
    const across = path.x[i] !== path.x[i - 1] || path.y[i] !== path.y[i - 1];
    if (across && Math.min(path.z[i], path.z[i - 1]) < clearance - 1e-9) why.push(`move ${i}: across by a rapid at ${path.z[i]}`);
    if (path.z[i] >= path.z[i - 1] || path.z[i] >= Math.min(clearance, approach) - 1e-9) continue;
    const cut = deepest.get(at) ?? Infinity;
    if (!(path.z[i] > cut + 0.2)) why.push(`move ${i}: rapidly down to ${path.z[i]}, where it was cut to ${cut}`);
  }
  return why;
}
