/** What boards and runs cost the shop, by its own rates, prices and the lives of its bits. */
import { sql } from 'kysely';
import { materialNamed } from '@kerbe/core/board/materials';
import { costOf, wearCost, type Cost, type FinishingStep, type Renewal, type Worn } from '@kerbe/core/day';
import type { Job } from '@kerbe/core/job';
import { db, type JobFigures } from './db';
import { shopSettings } from './shop';

type Board = Pick<Job['board'], 'material' | 'width' | 'height'>;

/** All that costs are worked out from. */
export interface Prices {
  settings: Awaited<ReturnType<typeof shopSettings>>;
  renewals: Record<string, Renewal>;
}

export async function prices(): Promise<Prices> {
  const [settings, rows] = await Promise.all([
    shopSettings(),
    db()
      .selectFrom('crib_bit')
      .select(['id', 'life', 'strikes_life'])
      // What it cost last time it is reckoned to cost the next time.
      .select(sql<number | null>`(select cost from bit_event where bit = crib_bit.id and cost is not null order by at desc limit 1)`.as('price'))
      .execute(),
  ]);
  const priced = rows.filter((row): row is typeof row & { price: number } => row.price !== null);
  return { settings, renewals: Object.fromEntries(priced.map(({ id, life, strikes_life, price }) => [id, { price, life, strikesLife: strikes_life }])) };
}

/** @param changes of bit. @param worn null: not known */
function costing(
  board: Board,
  work: { seconds: number; changes: number; finishing: readonly FinishingStep[]; worn: readonly Worn[] | null },
  { settings: { materials, rates }, renewals }: Prices,
): Cost {
  return costOf(board, materialNamed(board.material, materials), { ...work, bits: work.worn && wearCost(work.worn, renewals) }, rates);
}

/** What one board of a job costs as it is planned. @param factor how much longer than reckoned its machine takes */
export const plannedCost = (board: Board, figures: JobFigures, factor: number, finishing: readonly FinishingStep[], known: Prices): Cost =>
  costing(board, { seconds: figures.seconds * factor, changes: figures.calls.length, finishing, worn: figures.worn ?? null }, known);

/** A run as the record has it. */
export interface RunOfCost {
  board: Board;
  revision: number;
  estimate_seconds: number;
  actual_seconds: number;
  bit_seconds: Record<string, number>;
  worked: Record<string, { strikes: number }>;
  /** The crib's id of each of the job's tools. */
  crib: Record<string, string>;
}

/** What a run was to cost, and what it took: time and wear as they were counted, hands as planned, for nobody stops their time. */
export function runCosts(run: RunOfCost, figures: JobFigures | null, finishing: readonly FinishingStep[], known: Prices): { planned: Cost; taken: Cost } {
  const tools = Object.keys(run.bit_seconds);
  const hands = { changes: Math.max(0, tools.length - 1), finishing };
  const worn = tools.flatMap((tool): Worn[] =>
    run.crib[tool] ? [{ bit: run.crib[tool], seconds: run.bit_seconds[tool], strikes: run.worked[tool]?.strikes }] : [],
  );
  // Of a version that is not the job's any more its wear is reckoned by the time it was to take.
  const share = run.actual_seconds > 0 ? run.estimate_seconds / run.actual_seconds : 0;
  const byTime = worn.map(({ seconds, ...one }) => ({ ...one, seconds: seconds * share }));
  const planned = figures?.revision === run.revision && figures.worn ? figures.worn : byTime;
  return {
    planned: costing(run.board, { seconds: run.estimate_seconds, ...hands, worn: planned }, known),
    taken: costing(run.board, { seconds: run.actual_seconds, ...hands, worn }, known),
  };
}
