/** Every material whose feeds are known, as it is called on a price list; and whatever a board is called. */
import { MATERIALS } from '@kerbe/core/feeds';
import type { ProcessName } from '@kerbe/core/process';

const ON_A_PRICE_LIST: Record<string, string> = { ply: 'birch ply', mdf: 'MDF', slate: 'slate board' };

/** What a torch cuts, and what may meet a laser - as far as its maker says so. (Common practice.) */
const METALS = ['mild steel', 'stainless steel', 'aluminium', 'brass', 'copper'];
const SHEETS = ['birch ply', 'MDF', 'oak', 'walnut', 'maple', 'clear acrylic', 'leather, plant-tanned', 'cork', 'card', 'slate', 'coated tile', 'coated steel'];

export const materialNames = (own: string): string[] => [...new Set([...Object.keys(MATERIALS).map((key) => ON_A_PRICE_LIST[key] ?? key), own])];

/** What boards, plates and sheets of a kind of machine are of; `own` is what this one is called. */
export const materialsFor = (process: ProcessName, own: string): string[] =>
  process === 'router' ? materialNames(own) : [...new Set([...(process === 'torch' ? METALS : SHEETS), own])];
