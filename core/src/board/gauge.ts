/**
 * Sheet gauges of uncoated steel by the Manufacturers' Standard: a square foot weighs a stated number of ounces, and at
 * 41.82 lb to the square foot and inch that is a thickness. (A published table; its values here from memory, mm.)
 */
export const STEEL_GAUGES: Readonly<Record<number, number>> = {
  7: 4.554,
  8: 4.176,
  9: 3.797,
  10: 3.416,
  11: 3.038,
  12: 2.657,
  13: 2.278,
  14: 1.897,
  15: 1.709,
  16: 1.519,
  17: 1.367,
  18: 1.214,
  19: 1.062,
  20: 0.912,
  22: 0.759,
  24: 0.607,
};

/** Thickness of a gauge, mm; null of one that is not in the table. @example thicknessOfGauge('10 ga') // 3.416 */
export function thicknessOfGauge(text: string): number | null {
  const number = /^\s*(\d{1,2})\s*(?:ga|gauge)\.?\s*$/i.exec(text)?.[1];
  return (number && STEEL_GAUGES[Number(number)]) || null;
}

/** The gauge a thickness is, to a hundredth of a millimetre; null when it is none. */
export const gaugeOf = (mm: number): number | null => {
  const found = Object.entries(STEEL_GAUGES).find(([, thickness]) => Math.abs(thickness - mm) < 0.01);
  return found ? Number(found[0]) : null;
};

/** Weight of a cubic centimetre, g: handbook values. What is not known is taken for steel. */
const DENSITY: Record<string, number> = { steel: 7.85, 'mild steel': 7.85, 'stainless steel': 7.9, stainless: 7.9, aluminium: 2.7, brass: 8.5, copper: 8.96 };
export const densityOf = (material: string): number => DENSITY[material.toLowerCase()] ?? DENSITY.steel;

/** Weight of an area of plate, kg. @example 1 m² of steel, 1 mm: 7.85 */
export const weightOf = (area: number, thickness: number, material: string): number => (area * thickness * densityOf(material)) / 1e6;
