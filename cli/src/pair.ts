/** `kerbe pair job.json --cut ID`: the job of the other half of a recess, a plug or a V-carved inlay. */
import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { pairJob } from '@kerbe/core/job/pair';
import { readLength } from '@kerbe/core/length';
import { loadJob } from './jobfile.ts';
import { Refusal } from './refusal.ts';

export async function pairCommand(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { cut: { type: 'string' }, glue: { type: 'string', default: '0.5' }, saw: { type: 'string', default: '1' }, out: { type: 'string' } },
  });
  const job = loadJob(positionals[0]);
  if (!values.cut) throw new Refusal('--cut is missing: the recess, plug or V-carve whose other half is wanted.');
  const mm = (text: string, what: string) => {
    const reading = readLength(text, { unit: 'mm' });
    if (!reading.ok) throw new Refusal(`${what}: ${reading.why}`);
    return reading.mm;
  };
  const pair = pairJob(job, values.cut, { glue: mm(values.glue, '--glue'), saw: mm(values.saw, '--saw') });
  if (!pair.ok) throw new Refusal(pair.why);
  for (const line of pair.told) process.stderr.write(`note: ${line}\n`);
  const text = JSON.stringify(pair.job, null, 2) + '\n';
  if (values.out) writeFileSync(values.out, text);
  else process.stdout.write(text);
  return 0;
}
