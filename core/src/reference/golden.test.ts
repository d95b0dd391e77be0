/**
 * The golden set: what Kerbe makes of the demo jobs and of a job for every field of every kind of
 * cut - programs, findings, proof - as hashes. Moving code must not change one of them. Where a
 * mended fault does, write them anew with `KERBE_GOLDEN=write npx vitest run golden` and give the
 * reason in the commit message.
 */
import { wordsOf } from '../findings/index.ts';
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { afterAll, describe, expect, it } from 'vitest';
import { readJob, type CutKind, type Job } from '../job/index.ts';
import { planJob, releasePrograms, type Plan } from '../plan/index.ts';
import { carvePlan, differenceOf, HeightMap } from '../proof/index.ts';
import { CHANGES, jobOf, pixelsOf } from './every-cut.ts';
import { fontOf } from './fixtures.ts';

const HASHES = new URL('./golden/hashes.json', import.meta.url);
const DEMO = new URL('./golden/v1/', import.meta.url);
const DATE = '2026-01-31';

const golden = JSON.parse(readFileSync(HASHES, 'utf8')) as Record<string, string>;
const found: Record<string, string> = {};
const hash = (data: unknown): string => createHash('sha256').update(JSON.stringify(data)).digest('hex').slice(0, 16);

/** Programs as they would be released, without the time in their header (schedule.test.ts), and what is said of the job. */
const programsOf = (job: Job, plan: Plan) =>
  releasePrograms(job, plan, DATE).files.map(({ name, text, bits }) => [name, text.replace(/About [\s\S]*?\n(?=[(;]Bit)/, ''), bits]);
const findingsOf = (plan: Plan) =>
  plan.findings.map((found) => {
    const { code, severity, cut, item, at } = found;
    const { what, why, remedy } = wordsOf(found, 'mm');
    return [code, severity, what, why, remedy, cut, item, at];
  });

/** The carved board and what it differs by from what was asked for, in thousandths of a mm. */
function proofOf(job: Job, plan: Plan) {
  const map = new HeightMap(job.board.width, job.board.height, 0.5);
  carvePlan(map, plan.cuts);
  const { left, over, cuts } = differenceOf(job, plan.items, plan.cuts, map);
  const round = (mm: number) => Math.round(mm * 1000);
  const amount = ({ area, worst }: { area: number; worst: number }) => [round(area), round(worst)];
  return [hash(Array.from(map.height, round)), amount(left), amount(over), cuts.map(({ cut, ...one }) => [cut, amount(one.left), amount(one.over)])];
}

/** Every setting of the program that changes how it is written. */
const written = (job: Job): Job => ({
  ...job,
  program: { ...job.program, units: 'in', split: 'tool', arcs: true, drilling: 'cycles', lineNumbers: true, comments: 'semicolon' },
  cuts: Object.fromEntries(Object.entries(job.cuts).map(([id, cut]) => [id, { ...cut, order: 'drawn' }])),
});

function check(name: string, made: unknown): void {
  found[name] = hash(made);
  if (process.env.KERBE_GOLDEN !== 'write') expect(found[name], name).toBe(golden[name]);
}

afterAll(() => {
  if (process.env.KERBE_GOLDEN === 'write') writeFileSync(HASHES, JSON.stringify(found, null, 2) + '\n');
});

describe('the demo jobs', () => {
  it.each(readdirSync(DEMO))('%s', async (file) => {
    const reading = readJob(JSON.parse(readFileSync(new URL(file, DEMO), 'utf8')));
    if (!reading.ok) throw new Error(reading.why.join('\n'));
    const { job } = reading;
    const plan = await planJob(job, { fonts: fontOf, pictures: pixelsOf });
    check(`${file} programs`, programsOf(job, plan));
    check(`${file} findings`, findingsOf(plan));
    check(`${file} proof`, proofOf(job, plan));
    const other = written(job);
    check(`${file} programs in inches`, programsOf(other, await planJob(other, { fonts: fontOf, pictures: pixelsOf })));
  });
});

describe.each(Object.keys(CHANGES) as CutKind[])('%s', (kind) => {
  it('as it is', async () => {
    const job = jobOf(kind, {});
    const plan = await planJob(job, { fonts: fontOf, pictures: pixelsOf });
    check(`${kind} programs`, programsOf(job, plan));
    check(`${kind} findings`, findingsOf(plan));
    check(`${kind} proof`, proofOf(job, plan));
    const other = written(job);
    check(`${kind} programs in inches`, programsOf(other, await planJob(other, { fonts: fontOf, pictures: pixelsOf })));
  });
  it.each(Object.entries(CHANGES[kind]))('with another %s', async (field, change) => {
    const job = jobOf(kind, { ...change.with, ...change.to });
    const plan = await planJob(job, { fonts: fontOf, pictures: pixelsOf });
    check(`${kind} ${field}`, [programsOf(job, plan), findingsOf(plan)]);
  });
});

it('nothing of the golden set is left out', () => {
  if (process.env.KERBE_GOLDEN !== 'write') expect(Object.keys(found).sort()).toEqual(Object.keys(golden).sort());
});
