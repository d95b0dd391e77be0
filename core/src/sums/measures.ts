/** Sums of boards and measures: weight, board feet, gauges, letters to be read, spacing, slopes, fractions, time. */
import { gaugeOf, STEEL_GAUGES } from '../board/gauge.ts';
import { MM_PER_INCH } from '../length/index.ts';
import type { Sum } from './sum.ts';

/** Cubic millimetres of a board foot: 144 in³. (Published: the measure itself.) */
const BOARD_FOOT = 144 * MM_PER_INCH ** 3;
/** Weight of a cubic centimetre, g. (Handbook values, of wood air-dry.) */
export const DENSITIES = {
  cedar: 0.38, pine: 0.5, birch: 0.65, oak: 0.72, walnut: 0.64, maple: 0.7, plywood: 0.68, MDF: 0.75, acrylic: 1.19, HDPE: 0.95, aluminium: 2.7, 'mild steel': 7.85, brass: 8.5, copper: 8.96, slate: 2.8,
} as const; // prettier-ignore
const FOOT = 12 * MM_PER_INCH;
/** Inches of letter height for feet of distance: one for ten reads best, one for twenty-five to thirty can be made out. (Common practice.) */
const READS = { best: 10, least: 30 };
const SIXTY_FOURTH = MM_PER_INCH / 64;

/** A length as the nearest sixty-fourth of an inch, in words. @example 12 mm -> 15/32 in */
export function nearestFraction(mm: number): { text: string; error: number } {
  const parts = Math.round(mm / SIXTY_FOURTH);
  const error = parts * SIXTY_FOURTH - mm;
  const whole = Math.floor(parts / 64);
  let [top, bottom] = [parts % 64, 64];
  while (top > 0 && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2];
  const fraction = top > 0 ? `${top}/${bottom}` : '';
  return { text: `${[whole > 0 || fraction === '' ? String(whole) : '', fraction].filter(Boolean).join(' ')} in`, error };
}

export const MEASURES: readonly Sum[] = [
  {
    id: 'weight',
    group: 'Board',
    title: 'Weight and board feet',
    asks: 'What does a board weigh, and how much wood is it?',
    words: ['density', 'kilograms', 'pounds', 'lumber', 'price'],
    fields: [
      { key: 'width', label: 'Width', as: 'length', value: 610, min: 0 },
      { key: 'height', label: 'Height', as: 'length', value: 190, min: 0 },
      { key: 'thickness', label: 'Thickness', as: 'length', value: 19, min: 0 },
      { key: 'count', label: 'Quantity', as: 'number', value: 1, min: 1, max: 10_000 },
    ],
    choice: { key: 'material', label: 'Material', options: Object.keys(DENSITIES) },
    source: 'handbook densities; a board foot is 144 in³',
    results: ({ width, height, thickness, count }, material) => {
      const volume = width * height * thickness * count;
      return [
        { label: 'Weight', as: 'weight', value: (volume / 1e6) * (DENSITIES[material as keyof typeof DENSITIES] ?? DENSITIES.oak) },
        { label: 'Board feet', as: 'number', value: volume / BOARD_FOOT, decimals: 2 },
        { label: 'Face', as: 'area', value: width * height * count },
      ];
    },
  },
  {
    id: 'gauge',
    group: 'Torch',
    title: 'Sheet gauge',
    asks: 'How thick is a gauge of steel, and which gauge is that thickness?',
    words: ['ga', 'thickness', 'plate'],
    fields: [
      { key: 'gauge', label: 'Gauge', as: 'number', value: 11, min: 7, max: 24 },
      { key: 'thickness', label: 'Thickness measured', as: 'length', value: 3, min: 0 },
    ],
    source: 'Manufacturers’ Standard gauge for uncoated steel, from memory',
    results: ({ gauge, thickness }) => {
      const listed = STEEL_GAUGES[Math.round(gauge)];
      const [number, mm] = Object.entries(STEEL_GAUGES).reduce((a, b) => (Math.abs(b[1] - thickness) < Math.abs(a[1] - thickness) ? b : a));
      const exact = gaugeOf(thickness);
      return [
        listed === undefined
          ? { label: 'That gauge', as: 'text', value: 0, says: 'is not in the table' }
          : { label: `${Math.round(gauge)} gauge`, as: 'length', value: listed },
        { label: exact ? 'That thickness is' : 'Nearest to that thickness', as: 'text', value: Number(number), says: `${number} gauge` },
        { label: 'which is off by', as: 'length', value: mm - thickness },
      ];
    },
  },
  {
    id: 'letters',
    group: 'Measures',
    title: 'Letters to be read from afar',
    asks: 'How tall must letters be?',
    words: ['height', 'distance', 'legible', 'capital'],
    fields: [{ key: 'distance', label: 'Reading distance', as: 'length', value: 15_000, min: 0 }],
    source: 'common practice: an inch for ten feet reads best, for thirty it is just made out',
    results: ({ distance }) => [
      { label: 'Reads best at', as: 'length', value: (distance / FOOT / READS.best) * MM_PER_INCH },
      { label: 'Just legible at', as: 'length', value: (distance / FOOT / READS.least) * MM_PER_INCH },
    ],
  },
  {
    id: 'spacing',
    group: 'Measures',
    title: 'Spacing in a length',
    asks: 'Holes or letters in a row: how far apart?',
    words: ['holes', 'pitch', 'layout', 'divide', 'middle'],
    fields: [
      { key: 'length', label: 'Length', as: 'length', value: 600, min: 0 },
      { key: 'count', label: 'Quantity', as: 'number', value: 5, min: 1, max: 1000 },
      { key: 'edge', label: 'First and last to the ends', as: 'length', value: 40, min: 0 },
      { key: 'width', label: 'Width of each', as: 'length', value: 8, min: 0 },
    ],
    source: 'arithmetic',
    results: ({ length, count, edge, width }) => {
      const n = Math.max(1, Math.round(count));
      const even = length / (n + 1);
      const between = n > 1 ? (length - 2 * edge) / (n - 1) : 0;
      return [
        { label: 'Middle to middle, ends as given', as: 'length', value: between, says: n > 1 && between < width ? 'they overlap' : undefined },
        { label: 'Gap between them', as: 'length', value: Math.max(0, between - width) },
        { label: 'Middle to middle, ends as wide', as: 'length', value: even },
      ];
    },
  },
  {
    id: 'slope',
    group: 'Measures',
    title: 'Degrees of a slope',
    asks: 'It rises so much over so much: how many degrees?',
    words: ['angle', 'bevel', 'rise', 'run', 'taper'],
    fields: [
      { key: 'rise', label: 'Rise', as: 'length', value: 25, min: 0 },
      { key: 'run', label: 'Run', as: 'length', value: 300, min: 0.001 },
    ],
    source: 'geometry: atan(rise/run)',
    results: ({ rise, run }) => [
      { label: 'Angle', as: 'number', value: (Math.atan2(rise, run) * 180) / Math.PI, unit: 'degrees', decimals: 2 },
      { label: 'Slope', as: 'number', value: (100 * rise) / run, unit: '%', decimals: 1 },
      { label: 'Along the slope', as: 'length', value: Math.hypot(rise, run) },
    ],
  },
  {
    id: 'fraction',
    group: 'Measures',
    title: 'Nearest fraction of an inch',
    asks: 'What is that on an inch rule?',
    words: ['convert', 'inches', 'millimetres', '1/64', 'drill'],
    fields: [{ key: 'length', label: 'Length', as: 'length', value: 12, min: 0 }],
    source: 'the international inch (published)',
    results: ({ length }) => {
      const { text, error } = nearestFraction(length);
      return [
        { label: 'Nearest 1/64', as: 'text', value: length, says: text },
        { label: 'which is off by', as: 'length', value: error, decimals: 3 },
        { label: 'Inches', as: 'number', value: length / MM_PER_INCH, unit: 'in', decimals: 4 },
      ];
    },
  },
  {
    id: 'time',
    group: 'Measures',
    title: 'Time of a way',
    asks: 'How long does a machine take from rest to rest?',
    words: ['feed', 'acceleration', 'speed', 'seconds'],
    fields: [
      { key: 'length', label: 'Length of the path', as: 'length', value: 100, min: 0 },
      { key: 'feed', label: 'Feed', as: 'feed', value: 6000, min: 1 },
      { key: 'acceleration', label: 'Acceleration', as: 'length', per: '/s²', value: 900, min: 1, max: 100_000 },
      { key: 'count', label: 'Number of times', as: 'number', value: 1, min: 1, max: 1e6 },
    ],
    source: 'motion: d/v + v/a, or 2·sqrt(d/a) where the speed is not reached',
    results: ({ length, feed, acceleration, count }) => {
      const v = feed / 60;
      const reached = length >= (v * v) / acceleration;
      const once = reached ? length / v + v / acceleration : 2 * Math.sqrt(length / acceleration);
      return [
        { label: 'Once', as: 'number', value: once, unit: 's', decimals: 2, says: reached ? undefined : 'it never gets to that feed' },
        { label: 'In all', as: 'time', value: once * count },
        { label: 'Distance to reach the feed', as: 'length', value: (v * v) / (2 * acceleration) },
      ];
    },
  },
];
