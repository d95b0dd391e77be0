/**
 * The bit finder: a cut of a job tried with one bit after another, each with feeds that suit it, so
 * that the carver chooses from figures instead of guesses.
 */
import { kindOf } from '../cuts/index.ts';
import type { Bit, Cut, Job } from '../job/index.ts';
import { preflight, type Finding } from '../preflight/index.ts';
import { planCut, type PlannedCut, type PlannedItem } from '../plan/index.ts';
import { suggestFeeds } from '../feeds/index.ts';

export interface BitTrial {
  bit: Bit;
  /** The cut as it was tried: with this bit, its feeds and its depth per pass. */
  cut: Cut;
  seconds: number;
  /** Runs of cutting with a lift between them, and lengths under power, mm. */
  lifts: number;
  length: number;
  deepest: number;
  /** Area the bit cannot reach, mm². */
  unreached: number;
  /** Height of ridges on the floor, mm; zero where there is no floor or it comes out flat. */
  ridge: number;
  /** The V is not wide or not long enough to reach the middle of the widest strokes, or the board is too thin for it: a floor is needed. */
  needsFloor: boolean;
  /** What stands against this bit: findings of this cut with it. */
  findings: Finding[];
}

/** A cut with another bit, and what goes with it: feeds, spindle, depth per pass. */
export function cutWith(job: Job, cut: Cut, bit: Bit): Cut {
  const feeds = suggestFeeds(bit, job.board.material, job.machine);
  const next = { ...cut, tool: bit.id, feed: feeds.feed, plunge: feeds.plunge } as Cut;
  if (next.speed > 0) next.speed = feeds.speed;
  if ('depthPerPass' in next && next.depthPerPass !== undefined) next.depthPerPass = feeds.depthPerPass;
  // What was typed for another bit's width says nothing of this one.
  return { ...next, ...Object.fromEntries((kindOf(cut).ofBitWidth ?? []).map((field) => [field, undefined])) };
}

/** Tries a cut with a bit. Everything else of the job stays as it is. */
export function tryBit(job: Job, cutId: string, items: readonly PlannedItem[], bit: Bit): BitTrial {
  const cut = cutWith(job, job.cuts[cutId], bit);
  const tried: Job = { ...job, tools: { ...job.tools, [bit.id]: bit }, cuts: { ...job.cuts, [cutId]: cut } };
  const planned = planCut(tried, cut, items);
  const findings = preflight(tried, items, [planned]).filter((found) => found.cut === cutId);
  return {
    bit,
    cut,
    seconds: planned.seconds,
    lifts: planned.lifts,
    length: planned.facts.cutting,
    deepest: planned.facts.deepest,
    unreached: unreachedBy(planned),
    ...(kindOf(cut).tried?.(planned, tried) ?? { ridge: 0, needsFloor: false }),
    findings,
  };
}

const unreachedBy = ({ unreached, spots }: PlannedCut): number => unreached ?? spots?.reduce((sum, [, , area]) => sum + area, 0) ?? 0;
