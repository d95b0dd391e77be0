/**
 * Lengths and feeds as a carver types and reads them. Inside Kerbe every length is a number of
 * millimetres and every feed one of mm/min; inches and fractions exist only here, at the edge.
 *
 * 1 in = 25.4 mm exactly (international yard and pound agreement, 1959).
 */

export const MM_PER_INCH = 25.4;

export type LengthUnit = 'mm' | 'in';

export interface LengthSettings {
  /** Unit of a bare number, and the unit shown. */
  unit: LengthUnit;
  /** Read and write a comma as the decimal mark. */
  decimalComma?: boolean;
  /** Show inches as fractions of this denominator (a power of two), or 0 for decimals. */
  fraction?: number;
  /** Decimals shown; default 2 for mm, 3 for in. */
  decimals?: number;
}

export type LengthReading = { ok: true; mm: number } | { ok: false; why: string };

const VULGAR: Record<string, number> = {
  '½': 1 / 2,
  '⅓': 1 / 3,
  '⅔': 2 / 3,
  '¼': 1 / 4,
  '¾': 3 / 4,
  '⅛': 1 / 8,
  '⅜': 3 / 8,
  '⅝': 5 / 8,
  '⅞': 7 / 8,
};
const VULGAR_CLASS = `[${Object.keys(VULGAR).join('')}]`;

const PER_UNIT: Record<string, number> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: MM_PER_INCH,
  inch: MM_PER_INCH,
  inches: MM_PER_INCH,
  '"': MM_PER_INCH,
  '″': MM_PER_INCH,
  '”': MM_PER_INCH,
  "''": MM_PER_INCH,
  ft: 12 * MM_PER_INCH,
  "'": 12 * MM_PER_INCH,
  '′': 12 * MM_PER_INCH,
  '’': 12 * MM_PER_INCH,
  thou: MM_PER_INCH / 1000,
  mil: MM_PER_INCH / 1000,
};

const UNIT = `(?:mm|cm|inches|inch|in|ft|thou|mil|m|''|["″”'′’])`;
const DECIMAL = `(?:\\d+(?:\\.\\d*)?|\\.\\d+)`;
const FRACTION = `(?:\\d+\\s*[/⁄]\\s*\\d+)`;
// Longest forms first: "1-1/4" and "1 1/4" before "1/4", before plain decimals.
const QUANTITY = `(?:\\d+(?:\\s*-\\s*|\\s+)${FRACTION}|${FRACTION}|\\d*\\s*${VULGAR_CLASS}|${DECIMAL})`;
const TERM = new RegExp(`^\\s*(${QUANTITY})\\s*(${UNIT})?`, 'i');

function readQuantity(text: string): number {
  const vulgar = text.match(new RegExp(`^(\\d*)\\s*(${VULGAR_CLASS})$`));
  if (vulgar) return Number(vulgar[1] || 0) + VULGAR[vulgar[2]];
  const mixed = text.match(/^(?:(\d+)(?:\s*-\s*|\s+))?(\d+)\s*[/⁄]\s*(\d+)$/);
  if (mixed) return Number(mixed[1] ?? 0) + Number(mixed[2]) / Number(mixed[3]);
  return Number(text);
}

/**
 * Reads a typed length: `3/8 in`, `1 1/4"`, `1-1/4 in`, `½ in`, `18mm`, `0.767in + 1mm`,
 * `2' 6"`, `-0.5`. A number without a unit is in `settings.unit`. Terms are added or
 * subtracted; inside `1-1/4` the dash joins a whole number and its fraction.
 *
 * @returns millimetres, or a sentence saying what could not be read.
 * @example readLength('1 1/4"', { unit: 'mm' }) // { ok: true, mm: 31.75 }
 */
export function readLength(text: string, settings: LengthSettings): LengthReading {
  let rest = text.trim().replaceAll('−', '-');
  if (settings.decimalComma) rest = rest.replaceAll(',', '.');
  if (rest === '') return { ok: false, why: 'Nothing typed yet. Type a length such as 18mm or 3/4 in.' };
  if (!settings.decimalComma && rest.includes(',')) return { ok: false, why: `“${text}” has a comma. Use a point, or turn on the decimal comma in settings.` };

  let total = 0;
  let lastUnit: string | undefined;
  for (let first = true; rest !== ''; first = false) {
    let sign = 1;
    const operator = rest.match(/^\s*([+-])/);
    if (operator) {
      sign = operator[1] === '-' ? -1 : 1;
      rest = rest.slice(operator[0].length);
    } else if (!first && !isFootAndInch(lastUnit, rest)) {
      return { ok: false, why: `“${rest.trim()}” does not follow on. Join lengths with + or −.` };
    }
    const term = rest.match(TERM);
    if (!term) return { ok: false, why: `“${rest.trim() || text}” is not a length. Try 18mm, 3/8 in or 1 1/4".` };
    const value = readQuantity(term[1]);
    if (!Number.isFinite(value)) return { ok: false, why: `“${term[1]}” divides by zero.` };
    lastUnit = term[2]?.toLowerCase();
    total += sign * value * PER_UNIT[lastUnit ?? settings.unit];
    rest = rest.slice(term[0].length);
    // A unit must end where the word ends: "18mmm" is a slip, not 18 mm and something else.
    if (/^[a-z]/i.test(rest)) return { ok: false, why: `“${rest.trim()}” is not a unit Kerbe knows. Use mm, cm, in or ft.` };
  }
  return { ok: true, mm: total };
}

const isFootAndInch = (unit: string | undefined, rest: string) => (unit === 'ft' || unit === "'" || unit === '′' || unit === '’') && TERM.test(rest);

const trimZeros = (text: string) => (text.includes('.') ? text.replace(/\.?0+$/, '') : text);

/** Fraction of an inch to the nearest 1/denominator, reduced: 31.75 mm, 64 -> `1 1/4`. */
function fractionOfInch(inches: number, denominator: number): string {
  let over = Math.round(Math.abs(inches) * denominator);
  const whole = Math.floor(over / denominator);
  over -= whole * denominator;
  let under = denominator;
  while (over > 0 && over % 2 === 0) {
    over /= 2;
    under /= 2;
  }
  const sign = inches < 0 && (whole > 0 || over > 0) ? '-' : '';
  if (over === 0) return `${sign}${whole}`;
  return whole > 0 ? `${sign}${whole} ${over}/${under}` : `${sign}${over}/${under}`;
}

/**
 * Writes a length for people, without trailing zeros.
 *
 * @example formatLength(9.525, { unit: 'in', fraction: 64 }) // '3/8 in'
 * @example formatLength(18, { unit: 'mm' }) // '18 mm'
 */
export function formatLength(mm: number, settings: LengthSettings): string {
  return `${formatNumber(mm, settings)} ${settings.unit}`;
}

/** As {@link formatLength}, without the unit. */
export function formatNumber(mm: number, settings: LengthSettings): string {
  if (!Number.isFinite(mm)) return '–';
  const value = settings.unit === 'in' ? mm / MM_PER_INCH : mm;
  if (settings.unit === 'in' && settings.fraction) return fractionOfInch(value, settings.fraction);
  // A size that is one to the thousandth - a 3.175 mm shank - is said in full; what is reckoned is rounded.
  const whole = Math.abs(value * 1000 - Math.round(value * 1000)) < 1e-6;
  const text = trimZeros(value.toFixed(settings.decimals ?? (settings.unit === 'in' || whole ? 3 : 2)));
  const clean = text === '-0' ? '0' : text;
  return settings.decimalComma ? clean.replace('.', ',') : clean;
}

/** The other unit, shown quietly beside an entry. */
export function otherUnit(settings: LengthSettings): LengthSettings {
  return settings.unit === 'mm' ? { ...settings, unit: 'in', decimals: 3, fraction: 0 } : { ...settings, unit: 'mm', decimals: 2, fraction: 0 };
}

/** What feeds are shown in. */
export const FEED_UNIT: Record<LengthUnit, string> = { mm: 'mm/min', in: 'in/min' };
const feedDecimals = (unit: LengthUnit): LengthSettings => ({ unit, decimals: unit === 'in' ? 1 : 0 });

/** A feed for people, whole mm/min or tenths of in/min. @example formatFeed(2400, 'in') // '94.5 in/min' */
export const formatFeed = (mmPerMin: number, unit: LengthUnit): string => `${feedNumber(mmPerMin, unit)} ${FEED_UNIT[unit]}`;

/** As {@link formatFeed}, without the unit. */
export const feedNumber = (mmPerMin: number, unit: LengthUnit): string => formatNumber(mmPerMin, feedDecimals(unit));

/** What a tooth takes, to thousandths of a mm or ten-thousandths of an inch. */
export const formatChip = (mm: number, unit: LengthUnit): string => formatLength(mm, { unit, decimals: unit === 'in' ? 4 : 3 });

/** Surface speed: m/min, or ft/min where lengths are inches. 1 ft = 0.3048 m exactly. */
export const formatSurface = (metresPerMin: number, unit: LengthUnit): string =>
  unit === 'in' ? `${Math.round(metresPerMin / 0.3048)} ft/min` : `${Math.round(metresPerMin)} m/min`;

/**
 * Reads a typed feed: `2400`, `60 in/min`, `60 ipm`, `25 mm/s`, `1.5 m/min`. A bare number is in the shop's unit.
 *
 * @returns mm/min, or a sentence saying what could not be read.
 */
export function readFeed(text: string, settings: LengthSettings): LengthReading {
  const rate = text.match(/^(.*?)(?:\/\s*(min|s)|\s*(ipm))\s*$/i);
  if (!rate) return readLength(text, settings);
  const reading = readLength(rate[1], rate[3] ? { ...settings, unit: 'in' } : settings);
  return reading.ok && rate[2]?.toLowerCase() === 's' ? { ok: true, mm: 60 * reading.mm } : reading;
}
