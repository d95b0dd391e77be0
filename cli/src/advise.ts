import { parseArgs } from 'node:util';
import type { FontSource } from '@kerbe/core/artwork';
import { candidatesFor, fasterWays, tryBit, whereTimeGoes, willItShow } from '@kerbe/core/advise';
import { bitLabel } from '@kerbe/core/bits';
import { Bit } from '@kerbe/core/job';
import { planJob } from '@kerbe/core/plan';
import { loadJob } from './jobfile.ts';
import { Refusal } from './refusal.ts';
import { bitsFrom } from './new.ts';
import { rounded } from './plan.ts';

/** `kerbe advise`: where the time goes, what would be faster, whether it shows, and bits tried on a cut. */
export async function adviseCommand(args: string[], fonts: FontSource): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { cut: { type: 'string' }, bit: { type: 'string' }, sizes: { type: 'boolean', default: false } },
  });
  const job = loadJob(positionals[0]);
  if (values.cut !== undefined && !job.cuts[values.cut]) throw new Refusal(`--cut: there is no cut “${values.cut}”; there are ${job.cutOrder.join(', ')}.`);
  const crib = values.bit ? Object.values(bitsFrom(values.bit)).map((bit) => Bit.parse(bit)) : [];
  const plan = await planJob(job, { fonts });
  const time = whereTimeGoes(job, plan.cuts);
  const tried = values.cut === undefined ? [] : candidatesFor(job.cuts[values.cut].kind, crib, values.sizes);
  const report = {
    time: {
      total: rounded(time.atMachine),
      measuring: rounded(time.measuring),
      warmUp: rounded(time.warmUp),
      parts: time.parts.map(({ what, seconds }) => ({ what, seconds: rounded(seconds) })),
      cuts: time.cuts.map(({ cut, bit, ...figures }) => ({ cut, bit, ...Object.fromEntries(Object.entries(figures).map(([k, v]) => [k, rounded(v)])) })),
    },
    faster: (await fasterWays(job, plan, { crib, fonts })).map(({ label, cost, cut, saved }) => ({ label, cost, cut, saved: rounded(saved) })),
    shows: willItShow(job, plan.cuts),
    bits: tried
      .map((bit) => tryBit(job, values.cut!, plan.items, bit))
      .map(({ bit, seconds, lifts, deepest, unreached, ridge, needsFloor, findings }) => ({
        bit: bitLabel(bit),
        seconds: rounded(seconds),
        lifts,
        deepest: rounded(deepest),
        unreached: rounded(unreached),
        ridge: rounded(ridge),
        needsFloor,
        findings: findings.map(({ code }) => code),
      }))
      .sort((a, b) => a.unreached - b.unreached || a.seconds - b.seconds),
  };
  process.stdout.write(JSON.stringify(report, null, 2) + '\n');
  return 0;
}
