import { expect, it } from 'vitest';
import { STARTING_CHART } from './chart.ts';
import { presetsOf } from './presets.ts';
import { Bit } from './schema.ts';

it('lists what was found for bits, nozzles and heads, each with its own figures and where they come from; none of what has none', () => {
  const bits = [
    Bit.parse({
      kind: 'end',
      id: 'e',
      diameter: 6,
      feeds: { oak: { feed: 1800, plunge: 600, speed: 17_000, source: 'trial board' }, mdf: { feed: 3000, plunge: 900, speed: 18_000 } },
    }),
    Bit.parse({ kind: 'v', id: 'v', diameter: 12, angle: 60 }),
    Bit.parse({ kind: 'nozzle', id: 'n', chart: STARTING_CHART, chartSource: 'the maker' }),
    Bit.parse({
      kind: 'head',
      id: 'h',
      presets: [{ kind: 'laser-cut', material: 'birch ply', thickness: 3, feed: 300, power: 80, source: 'test card', date: '2026-11-29' }],
    }),
    Bit.parse({ kind: 'head', id: 'bare' }),
  ];
  const rows = presetsOf(bits, 'mm');
  expect(rows).toHaveLength(2 + STARTING_CHART.length + 1);
  expect(rows[0]).toEqual({
    machine: 'router',
    bit: 'e',
    tool: expect.any(String),
    material: 'oak',
    feed: 1800,
    plunge: 600,
    speed: 17_000,
    source: 'trial board',
  });
  expect(rows[2]).toMatchObject({ machine: 'torch', bit: 'n', thickness: STARTING_CHART[0].thickness, kerf: STARTING_CHART[0].kerf, source: 'the maker' });
  expect(rows.at(-1)).toMatchObject({ machine: 'laser', bit: 'h', work: 'laser-cut', material: 'birch ply', power: 80, date: '2026-11-29' });
  expect(presetsOf([], 'mm')).toEqual([]);
});
