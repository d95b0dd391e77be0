import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import type { FontSource } from '@kerbe/core/artwork';
import { nestJob } from '@kerbe/core/nest/job';
import { drawJob } from '@kerbe/core/plan';
import { loadJob } from './jobfile.ts';
import { rounded } from './plan.ts';
import { Refusal } from './refusal.ts';

/** Turns by the word of `--turn`, degrees. */
const TURNS: Record<string, number[]> = { '0': [0], '180': [0, 180], '90': [0, 90, 180, 270], '45': [0, 45, 90, 135, 180, 225, 270, 315] };

/** `kerbe nest`: the pieces of a job, and copies of them, laid out on its board. */
export async function nestCommand(args: string[], fonts: FontSource): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      gap: { type: 'string', default: '5' },
      margin: { type: 'string', default: '10' },
      turn: { type: 'string', default: '90' },
      copies: { type: 'string', multiple: true, default: [] },
      rounds: { type: 'string', default: '20' },
      seed: { type: 'string', default: '1' },
    },
  });
  const job = loadJob(positionals[0]);
  const number = (text: string, what: string, least = 0) => {
    const value = Number(text);
    if (text.trim() === '' || !Number.isFinite(value) || value < least) throw new Refusal(`${what}: “${text}” should be a number from ${least}.`);
    return value;
  };
  const turns = TURNS[values.turn];
  if (!turns) throw new Refusal(`--turn is ${Object.keys(TURNS).join(', ')}: by how many degrees pieces may be turned.`);
  const copies = Object.fromEntries(
    values.copies.map((text) => {
      const [id, count] = /^\d+$/.test(text) ? ['', text] : text.split('=');
      if (id !== '' && !job.items[id]) throw new Refusal(`--copies: “${id}” is not drawn. Drawn: ${job.itemOrder.join(', ')}.`);
      return [id, Math.round(number(count ?? '', '--copies'))];
    }),
  );
  const all = copies[''] === undefined ? {} : Object.fromEntries(job.itemOrder.map((id) => [id, copies['']]));
  const items = await drawJob(job, { fonts }, async () => {});
  const made = nestJob(job, items, {
    gap: number(values.gap, '--gap'),
    margin: number(values.margin, '--margin'),
    rounds: number(values.rounds, '--rounds'),
    seed: number(values.seed, '--seed'),
    turns,
    copies: { ...all, ...copies },
  });
  if (values.out) writeFileSync(values.out, JSON.stringify(made.job, null, 2) + '\n');
  const { placed, left, used, share } = made.nest;
  const report = {
    placed: placed.map(({ dx, dy, ...one }) => ({ ...one, dx: rounded(dx), dy: rounded(dy) })),
    left,
    used: rounded(used),
    share: rounded(share),
  };
  process.stdout.write(JSON.stringify(report, null, 2) + '\n');
  for (const id of left) process.stderr.write(`kerbe: there is no room for ${id}.\n`);
  return left.length > 0 ? 2 : 0;
}
