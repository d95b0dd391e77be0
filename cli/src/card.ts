import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { CARD_KINDS, layCard, type Card, type CardKind } from '@kerbe/core/cuts/laser/card';
import { SINGLE_LINE } from '@kerbe/core/artwork/faces';
import { JOB_VERSION, readJob, type JobInput } from '@kerbe/core/job';
import { readLength } from '@kerbe/core/length';
import { LASER_BENCH } from '@kerbe/core/machine';
import { Refusal } from './refusal.ts';

/** A range such as 10-80. */
function rangeOf(text: string, what: string): [number, number] {
  const [low, high] = text.split('-').map(Number);
  if (!(low > 0 && high >= low)) throw new Refusal(`${what} is a range, for example 10-80.`);
  return [low, high];
}

/** `kerbe card`: a test card for a laser, as a job. */
export async function cardCommand(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: {
      board: { type: 'string', default: '100x100x3' },
      material: { type: 'string', default: 'birch ply' },
      vary: { type: 'string', default: 'power-speed' },
      rows: { type: 'string', default: '5' },
      columns: { type: 'string', default: '5' },
      power: { type: 'string', default: '10-80' },
      speed: { type: 'string', default: '600-6000' },
      watts: { type: 'string', default: '10' },
      out: { type: 'string' },
    },
  });
  const kind = values.vary as CardKind;
  if (!CARD_KINDS.includes(kind)) throw new Refusal(`--vary is ${CARD_KINDS.join(' or ')}.`);
  const size = values.board.split('x').map((text) => {
    const reading = readLength(text, { unit: 'mm' });
    if (!reading.ok) throw new Refusal(`--board: ${reading.why}`);
    return reading.mm;
  });
  if (size.length !== 3) throw new Refusal('--board is width x height x thickness, for example 100x100x3.');
  const [rows, columns] = [Number(values.rows), Number(values.columns)];
  if (![rows, columns].every((n) => Number.isInteger(n) && n >= 1 && n <= 20)) throw new Refusal('--rows and --columns are 1 to 20.');
  let card: Card;
  try {
    const ask = { kind, width: size[0], height: size[1], rows, columns };
    card = layCard({ ...ask, power: rangeOf(values.power, '--power'), speed: rangeOf(values.speed, '--speed') });
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal((error as Error).message);
  }
  const reading = readJob(jobOf(card, kind, size, values.material, Number(values.watts)));
  if (!reading.ok) throw new Refusal(`This makes no card:\n  ${reading.why.join('\n  ')}`);
  const text = JSON.stringify(reading.job, null, 2) + '\n';
  if (values.out) writeFileSync(values.out, text);
  else process.stdout.write(text);
  return 0;
}

/** The card as a document: a cut for every square, and one for all labels, which is burned first. */
function jobOf({ cells, labels }: Card, vary: CardKind, [width, height, thickness]: number[], material: string, watts: number): JobInput {
  const items: JobInput['items'] = {};
  const cuts: JobInput['cuts'] = {};
  for (const [k, { text, x, y, height: capHeight }] of labels.entries())
    items[`label${k}`] = { kind: 'text', id: `label${k}`, text, x, y, face: SINGLE_LINE, capHeight, align: 'left' };
  cuts.labels = { kind: 'laser-score', id: 'labels', name: 'Labels', on: Object.keys(items), tool: 'head1' };
  for (const { row, column, x, y, size, power, speed, linesPerMm, focus, slot } of cells) {
    const id = `r${row + 1}c${column + 1}`;
    items[id] = { kind: 'rectangle', id, x, y, width: size, height: size };
    const common = { id, name: `${power} %, ${speed} mm/min`, on: [id], tool: 'head1', power, feed: speed };
    cuts[id] =
      vary === 'kerf'
        ? { ...common, kind: 'laser-cut', side: 'inside', kerf: slot }
        : vary === 'focus'
          ? { ...common, kind: 'laser-score', focus, name: `${power} %, focus ${focus} mm below` }
          : { ...common, kind: 'laser-fill', interval: 1 / linesPerMm };
  }
  return {
    kerbe: JOB_VERSION,
    process: 'laser',
    name: `Test card, ${vary}`,
    board: { width, height, thickness, material, holdDown: 'tape' },
    items,
    itemOrder: Object.keys(items),
    tools: { head1: { kind: 'head', id: 'head1', watts } },
    cuts,
    cutOrder: Object.keys(cuts),
    machine: LASER_BENCH,
  };
}
