/** Every material whose feeds are known, as it is called on a price list; and whatever a board is called. */
import { MATERIALS } from '@kerbe/core/feeds';

const ON_A_PRICE_LIST: Record<string, string> = { ply: 'birch ply', mdf: 'MDF', slate: 'slate board' };

/** What a torch cuts. */
export const METALS = ['mild steel', 'stainless steel', 'aluminium', 'brass', 'copper'];

export const materialNames = (own: string): string[] => [...new Set([...Object.keys(MATERIALS).map((key) => ON_A_PRICE_LIST[key] ?? key), own])];
