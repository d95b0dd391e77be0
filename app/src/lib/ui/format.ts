import { formatLength, formatNumber, MM_PER_INCH, type LengthUnit } from '@kerbe/core/length';

/** `24 min`, `1 h 05 min`, `45 s`. */
export function duration(seconds: number): string {
  if (!Number.isFinite(seconds)) return '–';
  const whole = Math.round(seconds);
  if (whole < 60) return `${whole} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return seconds < 600 ? `${Math.floor(whole / 60)} min ${String(whole % 60).padStart(2, '0')} s` : `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')} min`;
}

/** A way that was cut. @example `4.2 m`, `38 m`, `125 ft` */
export const way = (metres: number, unit: LengthUnit): string =>
  unit === 'in' ? `${Math.round(metres / 0.3048)} ft` : `${metres < 10 ? metres.toFixed(1) : Math.round(metres)} m`;

/** Inches as fractions of this, as the shop has it; 0 for decimals. */
let fraction = 0;
export const writeInchesBy = (denominator: number): void => void (fraction = denominator);
/** Fractions are for lengths that are ones: what is measured or worked out keeps its decimals. */
const isFraction = (mm: number) => fraction > 0 && Math.abs(mm * fraction - Math.round((mm * fraction) / MM_PER_INCH) * MM_PER_INCH) < 0.002 * fraction;

/** So much for each unit of length or of area, in the shop's unit: `0.06 J/mm`, `387 J/in²`. @param value for each mm or mm² */
export function each(value: number, of: string, by: 'length' | 'area', unit: LengthUnit, figures = 3): string {
  const scale = unit === 'mm' ? 1 : by === 'length' ? MM_PER_INCH : MM_PER_INCH ** 2;
  return `${Number((value * scale).toPrecision(figures))} ${of}/${unit}${by === 'area' ? '²' : ''}`.replace(' /', '/');
}

export const len = (mm: number, unit: LengthUnit) => formatLength(mm, { unit, fraction: isFraction(mm) ? fraction : 0 });
/** Where a machine stands: always as many places, so that the figures stand still. */
/** A weight, as one would say it. @param kg */
export const weight = (kg: number, unit: LengthUnit): string =>
  unit === 'in' ? `${(kg * 2.20462).toFixed(kg < 0.5 ? 2 : 1)} lb` : kg < 0.1 ? `${(1000 * kg).toFixed(0)} g` : `${kg.toFixed(2)} kg`;
export const place = (mm: number, unit: LengthUnit) => (unit === 'in' ? (mm / MM_PER_INCH).toFixed(3) : mm.toFixed(2)).replace(/^-(0\.0+)$/, '$1');
/** So many openings in a plate, in words. */
export const openings = (count: number): string => (count === 1 ? 'an opening' : `${count} openings`);
export const num = (mm: number, unit: LengthUnit) => formatNumber(mm, { unit });
