/** A test card for a laser as a job of its own: a cut for every square, and one for all labels, which is burned first. */
import type { Bit } from '../bits/schema.ts';
import { SINGLE_LINE } from '../artwork/text/faces.ts';
import type { CardAsk, CardCell } from '../cuts/laser/card.ts';
import { layCard } from '../cuts/laser/card.ts';
import { suggestBeam } from '../feeds/beam.ts';
import { JOB_VERSION, readJob, type Job, type JobInput } from '../job/index.ts';
import { LASER_BENCH, type Machine } from '../machine/index.ts';
import type { LengthUnit } from '../length/index.ts';

export interface CardSheet {
  thickness: number;
  material: string;
  head: Bit;
  units?: LengthUnit;
  machine?: Machine;
}

const VARY = { 'power-speed': ['power', 'feed'], lines: ['power', 'lines'], focus: ['power', 'focus'], kerf: ['power', 'kerf'] } as const;

/**
 * Lays a card out on a sheet.
 *
 * @throws a sentence when there is no room for it
 */
export function testCard(ask: CardAsk, { thickness, material, head, units = 'mm', machine = LASER_BENCH }: CardSheet): Job {
  const { cells, labels } = layCard(ask);
  const items: JobInput['items'] = {};
  const cuts: JobInput['cuts'] = {};
  for (const [k, { text, x, y, height: capHeight }] of labels.entries())
    items[`label${k}`] = { kind: 'text', id: `label${k}`, text, x, y, face: SINGLE_LINE, capHeight, align: 'left' };
  const drawn = suggestBeam(head, material, thickness, { kind: 'laser-score', burns: 'lines' });
  cuts.labels = {
    ...{ kind: 'laser-score', id: 'labels', name: 'Labels', on: Object.keys(items), tool: head.id },
    ...(drawn && { power: drawn.power, feed: drawn.feed }),
  };
  for (const cell of cells) {
    const { row, column, x, y, size } = cell;
    const id = `r${row + 1}c${column + 1}`;
    items[id] = { kind: 'rectangle', id, x, y, width: size, height: size };
    cuts[id] = { ...cutOf(cell, ask.kind), id, name: labelOf(cell, ask.kind), on: [id], tool: head.id } as JobInput['cuts'][string];
  }
  const { width, height, kind } = ask;
  const reading = readJob({
    kerbe: JOB_VERSION,
    process: 'laser',
    name: `Test card, ${kind}`,
    units,
    board: { width, height, thickness, material, holdDown: 'tape' },
    items,
    itemOrder: Object.keys(items),
    tools: { [head.id]: head },
    cuts,
    cutOrder: Object.keys(cuts),
    machine,
    trial: {
      vary: [...VARY[kind]],
      cells: cells.map((cell) => ({ label: labelOf(cell, kind), cut: `r${cell.row + 1}c${cell.column + 1}`, x: cell.x, y: cell.y })),
    },
  } satisfies JobInput);
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

const said = (value: number) => String(Math.round(value * 100) / 100);

/** What a square is called: what differs of it. */
function labelOf({ power, speed, linesPerMm, focus, slot }: CardCell, vary: CardAsk['kind']): string {
  const other = {
    'power-speed': `${said(speed)} mm/min`,
    lines: `${said(linesPerMm)} lines/mm`,
    focus: `focus ${said(focus)} below`,
    kerf: `kerf ${said(slot)}`,
  };
  return `${power} %, ${other[vary]}`;
}

/** What a square is burned with. */
function cutOf({ power, speed: feed, linesPerMm, focus, slot }: CardCell, vary: CardAsk['kind']): object {
  if (vary === 'kerf') return { kind: 'laser-cut', power, feed, side: 'inside', kerf: slot };
  if (vary === 'focus') return { kind: 'laser-score', power, feed, focus };
  return { kind: 'laser-fill', power, feed, interval: 1 / linesPerMm };
}
