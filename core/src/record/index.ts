/** What a shop's record of its runs says when it is read together. */

export { feedOffered, heldFeed, type TurnedRun } from './feeds.ts';

/** A run that something came out wrong in. */
export interface DefectRun {
  /** Kinds of what came out wrong. */
  kinds: readonly string[];
  material: string;
  /** Bits that cut in it, with the hours each had cut since it was sharp. */
  bits: readonly { id: string; name: string; hours: number }[];
}

/** What the last runs with the same defect have in common. */
export interface Pattern {
  kind: string;
  /** So many of the last `of` runs with this defect. */
  count: number;
  of: number;
  /** The bit that was in them, and the fewest hours it had cut then; or the material they were of. */
  common: { bit: string; name: string; hours: number } | { material: string };
}

/** Runs of one defect that are looked at together, and what of them is worth saying. */
const LAST = 5;
const FEWEST = 3;
const SHARE = 0.75;

/** How often each defect was noted, the most frequent first. */
export function defectCounts(runs: readonly DefectRun[]): { kind: string; count: number }[] {
  const counts = new Map<string, number>();
  for (const { kinds } of runs) for (const kind of kinds) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return [...counts].map(([kind, count]) => ({ kind, count })).sort((a, b) => b.count - a.count || (a.kind < b.kind ? -1 : 1));
}

/**
 * What most of the last five runs with a defect share: a bit, or else a material. Nothing is said of fewer than three runs,
 * nor of what less than three quarters of them share; a thing that every run has in common anyway is still said: it is where to look.
 * @param runs newest first
 */
export function patternsOf(runs: readonly DefectRun[]): Pattern[] {
  const found: Pattern[] = [];
  for (const { kind } of defectCounts(runs)) {
    const last = runs.filter(({ kinds }) => kinds.includes(kind)).slice(0, LAST);
    if (last.length < FEWEST) continue;
    const enough = (count: number) => count >= FEWEST && count >= SHARE * last.length;
    const bits = shared(last, ({ bits }) => bits.map(({ id }) => id));
    const materials = shared(last, ({ material }) => (material === '' ? [] : [material]));
    if (bits && enough(bits.count)) {
      const held = last.flatMap((run) => run.bits.filter(({ id }) => id === bits.what));
      found.push({
        kind,
        count: bits.count,
        of: last.length,
        common: { bit: bits.what, name: held[0].name, hours: Math.min(...held.map(({ hours }) => hours)) },
      });
    } else if (materials && enough(materials.count)) found.push({ kind, count: materials.count, of: last.length, common: { material: materials.what } });
  }
  return found;
}

/** What most of the runs hold, and how many do; of several the one that comes first. */
function shared(runs: readonly DefectRun[], of: (run: DefectRun) => string[]): { what: string; count: number } | null {
  const counts = new Map<string, number>();
  for (const run of runs) for (const what of new Set(of(run))) counts.set(what, (counts.get(what) ?? 0) + 1);
  let best: { what: string; count: number } | null = null;
  for (const [what, count] of counts) if (!best || count > best.count) best = { what, count };
  return best;
}
