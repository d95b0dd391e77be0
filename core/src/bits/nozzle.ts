/** A nozzle from a cut chart, and what its chart sets of a cut. */
import { readChart, STARTING_CHART, type ChartRow } from './chart.ts';
import { Bit } from './schema.ts';

/** A nozzle that cuts by these rows; plate of `thickness` mm is what it is fitted for. */
export const nozzleFor = (thickness: number, chart: readonly ChartRow[] = STARTING_CHART): Bit =>
  Bit.parse({
    kind: 'nozzle',
    id: 'nozzle1',
    diameter: readChart(chart, thickness)?.row.kerf ?? 1.5,
    chart,
    chartSource: 'starting values from memory; the maker’s chart decides',
  });

/** Figures of a torch cut by a nozzle's chart: feed in mm/min, lengths mm, seconds, volts. Nothing when it is no nozzle, or has no chart. */
export function chartedFigures(bit: Bit, thickness: number) {
  const row = bit.kind === 'nozzle' ? readChart(bit.chart, thickness)?.row : undefined;
  if (!row) return {};
  const { feed, kerf, pierceDelay, pierceHeight, cutHeight, volts } = row;
  return { feed: Math.round(feed), kerf, pierceDelay, pierceHeight, cutHeight, volts: Math.round(volts) };
}
