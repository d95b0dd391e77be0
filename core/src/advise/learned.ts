/** Runs that say something of how long this machine really takes. */
export interface PastRun {
  estimate: number;
  actual: number;
}

/**
 * What past runs say an estimate should be multiplied by: their median, and the middle half of them
 * as spread. Nothing with fewer than three.
 */
export function learnedFactor(runs: readonly PastRun[]): { factor: number; from: number; to: number; runs: number } | null {
  const factors = runs
    .filter(({ estimate, actual }) => estimate > 1 && actual > 1)
    .map(({ estimate, actual }) => actual / estimate)
    .sort((a, b) => a - b);
  if (factors.length < 3) return null;
  const at = (share: number) => {
    const place = share * (factors.length - 1);
    const low = Math.floor(place);
    return factors[low] + (place - low) * ((factors[low + 1] ?? factors[low]) - factors[low]);
  };
  return { factor: at(0.5), from: at(0.25), to: at(0.75), runs: factors.length };
}
