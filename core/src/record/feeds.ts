/** Feeds that were turned at the machine, run after run: what the next program had better begin with. */

/** A run as its record tells it: how long it took, and from when on the feed stood at which share of what was programmed. */
export interface TurnedRun {
  seconds: number;
  turned: readonly { at: number; feed: number }[];
}

/** So many runs in a row are a habit; more are looked at, and no older ones. */
const HABIT = 3;
const MOST = 5;
/** What is turned by less is not worth a new program. */
const WORTH = 0.05;
/** A feed that stood for less than this share of a run was tried, not chosen. */
const CHOSEN = 0.5;

/** The share of the programmed feed that a run was cut at for most of its time; null when it was turned about. */
export function heldFeed({ seconds, turned }: TurnedRun): number | null {
  if (!(seconds > 0)) return null;
  const stood = new Map<number, number>();
  const marks = [{ at: 0, feed: 1 }, ...turned].map(({ at, feed }) => ({ at: Math.min(seconds, Math.max(0, at)), percent: Math.round(100 * feed) }));
  for (const [k, { at, percent }] of marks.entries()) stood.set(percent, (stood.get(percent) ?? 0) + (marks[k + 1]?.at ?? seconds) - at);
  const [longest] = [...stood].sort(([, a], [, b]) => b - a);
  return longest[1] >= CHOSEN * seconds ? longest[0] / 100 : null;
}

/**
 * A feed to offer: in the last three runs or more, one after the other, it was turned the same way by at least a
 * twentieth, and stood. The middle one of what they were cut at.
 * @param runs of the same program, newest first
 */
export function feedOffered(runs: readonly TurnedRun[]): { feed: number; runs: number } | null {
  const held = runs.slice(0, MOST).map(heldFeed);
  const way = Math.sign((held[0] ?? 1) - 1);
  const other = held.findIndex((feed) => feed === null || way * (feed - 1) < WORTH - 1e-9);
  const habit = (other < 0 ? held : held.slice(0, other)) as number[];
  if (way === 0 || habit.length < HABIT) return null;
  const sorted = [...habit].sort((a, b) => a - b);
  const middle = (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
  return { feed: Math.round(100 * middle) / 100, runs: habit.length };
}
