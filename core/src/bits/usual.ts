/** The bits a shop begins with. */
import { readChart } from './chart.ts';
import { nozzleFor } from './nozzle.ts';
import { Bit } from './schema.ts';

const bit = (fields: object): Bit => Bit.parse(fields);

/** What most sign shops own; new signs begin with the first five. */
export const USUAL: Bit[] = [
  bit({ kind: 'v', id: 'v60', name: '60° V, 12.7 mm', angle: 60, diameter: 12.7, fluteLength: 16 }),
  bit({ kind: 'v', id: 'v90', name: '90° V, 19 mm', angle: 90, diameter: 19, fluteLength: 14 }),
  bit({ kind: 'end', id: 'end6', name: 'end mill, 6.35 mm', diameter: 6.35 }),
  bit({ kind: 'end', id: 'end3', name: 'end mill, 3.175 mm', diameter: 3.175, fluteLength: 12 }),
  bit({ kind: 'drill', id: 'drill5', name: 'drill, 5 mm', diameter: 5, shank: 5, fluteLength: 50 }),
  bit({ kind: 'v', id: 'v30', name: '30° V, 6.35 mm', angle: 30, diameter: 6.35, fluteLength: 12 }),
  bit({ kind: 'ball', id: 'ball6', name: 'ball nose, 6.35 mm', diameter: 6.35 }),
  bit({ kind: 'tapered', id: 'taper', name: 'tapered ball, 11°', angle: 11, diameter: 6.35, tipRadius: 0.5, fluteLength: 25 }),
  bit({
    kind: 'engraving',
    id: 'engrave20',
    name: 'engraving cutter, 20°',
    angle: 20,
    diameter: 3.175,
    tipFlat: 0.508,
    shank: 3.175,
    flutes: 1,
    fluteLength: 7.4,
  }),
  bit({ kind: 'drag', id: 'drag', name: 'drag diamond, 90°', diameter: 6.35, lineWidth: 0.5, flutes: 1 }),
  bit({ kind: 'surfacing', id: 'surf25', name: 'surfacing bit, 25 mm', diameter: 25, fluteLength: 10, flutes: 3 }),
  bit({ kind: 'end', id: 'comp6', name: 'compression bit, 6.35 mm', diameter: 6.35, spiral: 'compression', upLength: 5 }),
  nozzleFor(3),
  bit({ kind: 'head', id: 'head1' }),
];

/** One of the usual bits, as a bit of a job: the shop's own of that id, or of that kind and size, where it has one. */
export function usualBit(id: string, crib: readonly Bit[] = []): Bit {
  const usual = USUAL.find((one) => one.id === id)!;
  const own = crib.find((bit) => bit.id === id) ?? crib.find((bit) => bit.kind === usual.kind && bit.diameter === usual.diameter) ?? usual;
  return { ...own, crib: own.id };
}

/** The nozzle for a plate, mm: the shop's own whose chart has this thickness, else any it has, else one with starting values. */
export function usualNozzle(thickness: number, crib: readonly Bit[] = []): Bit {
  const owned = crib.filter((bit) => bit.kind === 'nozzle');
  const charted = owned.find(({ chart }) => readChart(chart, thickness)?.beyond === false);
  const own = charted ?? owned[0] ?? nozzleFor(thickness);
  return { ...own, crib: own.id };
}

/** The shop's laser head; a small one where it has none written down. */
export function usualHead(crib: readonly Bit[] = []): Bit {
  const own = crib.find(({ kind }) => kind === 'head') ?? USUAL.find(({ kind }) => kind === 'head')!;
  return { ...own, crib: own.id };
}

/** Those every new job has to hand. */
export const TO_HAND = USUAL.slice(0, 5).map(({ id }) => id);
