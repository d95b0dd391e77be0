import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { testCard } from '@kerbe/core/advise/test-card';
import { CARD_KINDS, type CardKind } from '@kerbe/core/cuts/laser/card';
import { Bit, type Job } from '@kerbe/core/job';
import { readLength } from '@kerbe/core/length';
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
  let card: Job;
  try {
    const ask = { kind, width: size[0], height: size[1], rows, columns };
    const head = Bit.parse({ kind: 'head', id: 'head1', watts: Number(values.watts) });
    card = testCard(
      { ...ask, power: rangeOf(values.power, '--power'), speed: rangeOf(values.speed, '--speed') },
      { thickness: size[2], material: values.material, head },
    );
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal((error as Error).message);
  }
  const text = JSON.stringify(card, null, 2) + '\n';
  if (values.out) writeFileSync(values.out, text);
  else process.stdout.write(text);
  return 0;
}
