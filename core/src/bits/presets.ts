/** What a shop found good for its bits, nozzles and heads, in one list: for which material and work, the figures, and where each comes from. */
import type { Bit } from './schema.ts';
import { bitName } from './index.ts';
import type { LengthUnit } from '../length/index.ts';

/** One set of figures; lengths in mm, feeds in mm/min, speed in rev/min, power in per cent. What a kind of tool has not is left out. */
export interface PresetRow {
  machine: 'router' | 'torch' | 'laser';
  /** The tool, by its id in the crib and as it is called. */
  bit: string;
  tool: string;
  material: string;
  /** What is made with it, where the figures are for one kind of cut. */
  work?: string;
  thickness?: number;
  feed: number;
  plunge?: number;
  speed?: number;
  depthPerPass?: number;
  power?: number;
  passes?: number;
  interval?: number;
  linesPerMm?: number;
  kerf?: number;
  source: string;
  /** Day it was found, as 2026-11-29, where it is known. */
  date?: string;
}

/** Every preset of the crib, in the order of its bits. */
export function presetsOf(bits: readonly Bit[], unit: LengthUnit): PresetRow[] {
  return bits.flatMap((bit): PresetRow[] => {
    const tool = { bit: bit.id, tool: bitName(bit, unit) };
    if (bit.kind === 'nozzle')
      return bit.chart.map(({ thickness, feed, kerf }) => ({
        machine: 'torch',
        ...tool,
        material: 'mild steel',
        thickness,
        feed,
        kerf,
        source: bit.chartSource,
      }));
    if (bit.kind === 'head')
      return (bit.presets ?? []).map(({ kind, material, thickness, feed, power, passes, interval, linesPerMm, kerf, source, date }) => ({
        machine: 'laser',
        ...tool,
        material,
        work: kind,
        thickness,
        feed,
        power,
        passes,
        interval,
        linesPerMm,
        kerf,
        source,
        date,
      }));
    return Object.entries(bit.feeds ?? {}).map(([material, { feed, plunge, speed, depthPerPass, source }]) => ({
      machine: 'router',
      ...tool,
      material,
      feed,
      plunge,
      speed,
      depthPerPass,
      source,
    }));
  });
}
