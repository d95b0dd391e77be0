/** How materials take the energy of a beam. */

/** Energies of a material, J/mm²: where a mark begins, where it is fully dark, where it chars; and what takes a mm away. From memory, for wood and a blue diode: a test card decides. */
export interface Response {
  begins: number;
  full: number;
  chars: number;
  throughPerMm: number;
}
const WOOD: Response = { begins: 0.05, full: 0.6, chars: 2.5, throughPerMm: 9 };
const RESPONSES: [RegExp, Response][] = [
  [/\bacrylic\b/i, { begins: 0.2, full: 1.2, chars: 6, throughPerMm: 14 }],
  [/\b(slate|stone|tile|ceramic|glass)\b/i, { begins: 0.4, full: 1.6, chars: 20, throughPerMm: 1e6 }],
  [/\b(leather|cork|felt)\b/i, { begins: 0.04, full: 0.4, chars: 1.5, throughPerMm: 6 }],
  [/\b(steel|alumini?um|brass|copper)\b/i, { begins: 2, full: 8, chars: 1e6, throughPerMm: 1e6 }],
];
export const responseOf = (material: string): Response => RESPONSES.find(([word]) => word.test(material))?.[1] ?? WOOD;

/** Darkness of the mark, 0 to 1. */
export const darknessOf = (energy: number, { begins, full }: Response): number => Math.min(1, Math.max(0, (energy - begins) / (full - begins)));
