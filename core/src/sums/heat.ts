/** Sums of torch and laser: kerf, energy, dots, overscan, power. */
import { kerfFromTest } from '../bits/chart.ts';
import { overscanOf } from '../cuts/laser/rows.ts';
import { MM_PER_INCH } from '../length/index.ts';
import type { Sum } from './sum.ts';

export const HEAT: readonly Sum[] = [
  {
    id: 'kerf',
    group: 'Torch',
    title: 'Kerf from a test cut',
    asks: 'A square with a hole was cut: how wide is the kerf?',
    words: ['offset', 'laser', 'plasma', 'too small'],
    fields: [
      { key: 'used', label: 'Kerf it was cut with', as: 'length', value: 1.5, min: 0 },
      { key: 'square', label: 'Square as drawn', as: 'length', value: 60, min: 0 },
      { key: 'cutSquare', label: 'and as it measures', as: 'length', value: 59.8, min: 0 },
      { key: 'hole', label: 'Hole as drawn', as: 'length', value: 30, min: 0 },
      { key: 'cutHole', label: 'and as it measures', as: 'length', value: 30.2, min: 0 },
    ],
    source: 'arithmetic: the part came out smaller and the hole wider by what is missing of the kerf',
    results: ({ used, square, cutSquare, hole, cutHole }) => [
      { label: 'Kerf', as: 'length', value: kerfFromTest(used, { square, hole }, { square: cutSquare, hole: cutHole }), into: 'kerf' },
    ],
  },
  {
    id: 'energy',
    group: 'Laser',
    title: 'Energy of a beam',
    asks: 'What does the sheet take, and which feed gives the same at another power?',
    words: ['joule', 'power', 'interval', 'darkness', 'same mark'],
    fields: [
      { key: 'watts', label: 'Full power', as: 'number', unit: 'W', value: 10, min: 0.1, max: 1000 },
      { key: 'power', label: 'Power', as: 'number', unit: '% of full', value: 100, min: 0, max: 100 },
      { key: 'feed', label: 'Feed', as: 'feed', value: 6000, min: 1 },
      { key: 'pitch', label: 'Line interval', as: 'length', value: 0.1, min: 0.001 },
      { key: 'other', label: 'Other power', as: 'number', unit: '% of full', value: 50, min: 0, max: 100 },
    ],
    source: 'derived: P/v for each mm, P/(v·pitch) for an area',
    results: ({ watts, power, feed, pitch, other }) => {
      const line = (60 * watts * power) / 100 / feed;
      return [
        { label: 'Energy along the line', as: 'number', value: line, unit: 'J', each: 'length', decimals: 3 },
        { label: 'A filled area takes', as: 'number', value: line / pitch, unit: 'J', each: 'area', decimals: 2 },
        { label: 'The same at the other power', as: 'feed', value: power > 0 ? (feed * other) / power : 0, into: 'feed' },
      ];
    },
  },
  {
    id: 'dots',
    group: 'Laser',
    title: 'Dots, pitch and size',
    asks: 'How large is a picture, and how far apart are its lines?',
    words: ['dpi', 'pixels', 'lines per mm', 'resolution'],
    fields: [
      { key: 'dpi', label: 'Dots to the inch', as: 'number', value: 300, min: 1, max: 5000 },
      { key: 'pixels', label: 'Pixels across', as: 'number', value: 709, min: 1, max: 100_000 },
    ],
    source: 'the international inch (published)',
    results: ({ dpi, pixels }) => [
      { label: 'Lines', as: 'number', value: dpi / MM_PER_INCH, unit: '', each: 'length', decimals: 3, into: 'linesPerMm' },
      { label: 'Line interval', as: 'length', value: MM_PER_INCH / dpi, decimals: 4, into: 'interval' },
      { label: 'Size across', as: 'length', value: (pixels / dpi) * MM_PER_INCH },
    ],
  },
  {
    id: 'overscan',
    group: 'Laser',
    title: 'Overscan',
    asks: 'How far must a row run on, so that the beam burns at one speed?',
    words: ['acceleration', 'margin', 'edge'],
    fields: [
      { key: 'feed', label: 'Feed', as: 'feed', value: 6000, min: 1 },
      { key: 'acceleration', label: 'Acceleration', as: 'length', per: '/s²', value: 2000, min: 1, max: 100_000 },
    ],
    source: 'motion: v²/(2a)',
    results: ({ feed, acceleration }) => [{ label: 'On each side', as: 'length', value: overscanOf(feed, acceleration), into: 'overscan' }],
  },
  {
    id: 's-word',
    group: 'Laser',
    title: 'S from per cent',
    asks: 'Which S is that power on this controller?',
    words: ['power', 'full scale', 'PWM', 'G-code'],
    fields: [
      { key: 'power', label: 'Power', as: 'number', unit: '% of full', value: 30, min: 0, max: 100 },
      { key: 'scale', label: 'S at full power', as: 'number', value: 1000, min: 1, max: 1e6 },
      { key: 's', label: 'An S that was read', as: 'number', value: 255, min: 0, max: 1e6 },
    ],
    source: 'arithmetic',
    results: ({ power, scale, s }) => [
      { label: 'S', as: 'number', value: (power / 100) * scale, decimals: 1 },
      {
        label: 'The S that was read is',
        as: 'number',
        value: (100 * s) / scale,
        unit: '% of full',
        decimals: 1,
        says: s > scale ? 'more than full' : undefined,
      },
    ],
  },
];
