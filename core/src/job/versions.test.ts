/** Documents of every version there was, and of none. */
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { makeJob } from '../reference/fixtures.ts';
import { JOB_VERSION, readJob, type Job } from './index.ts';
import { upToDate } from './versions.ts';

/** Stored documents of a version. */
function examplesOf(version: number): Record<string, unknown>[] {
  const folder = new URL(`../reference/golden/v${version}/`, import.meta.url);
  return readdirSync(folder).map((file) => JSON.parse(readFileSync(new URL(file, folder), 'utf8')) as Record<string, unknown>);
}

/** A document with the words of an old version in place of today's, as text: everything else in it must be as it was. */
function inOldWords(job: Job, version: number): unknown {
  const { end, ...program } = job.program;
  const cuts = Object.values(job.cuts).map(({ order, sequence, off, group, ...cut }) => {
    expect([sequence, off, group]).toEqual([[], false, '']);
    return { order, cut };
  });
  const drawn = cuts.length > 0 && cuts.every(({ order }) => order === 'drawn');
  const old = {
    ...job,
    kerbe: JOB_VERSION,
    cuts: Object.fromEntries(cuts.map(({ cut }) => [cut.id, cut])),
    program: { ...program, order: drawn ? 'artwork' : 'shortest', park: end === 'park' },
  };
  if (version === 3) return JSON.parse(JSON.stringify(old));
  return JSON.parse(
    JSON.stringify(old)
      .replace(/"tools":/g, '"bits":')
      .replace(/"tool":/g, '"bit":')
      .replace('"split":"tool"', '"split":"bit"')
      .replace('"vary":["tool"', '"vary":["bit"'),
  );
}

describe.each([1, 2, 3])('a document of version %i', (version) => {
  const examples = examplesOf(version);
  it('is stored as one of that version', () => {
    expect(examples.length).toBeGreaterThan(2);
    for (const document of examples) expect(document.kerbe).toBe(version);
  });
  it.each(examples.map((document) => [document.name as string, document]))('%s opens as one of today', (_name, document) => {
    const before = JSON.stringify(document);
    const reading = readJob(document);
    expect(reading.ok ? [] : reading.why).toEqual([]);
    // Nothing but what the new versions say is other, and what was given is left as it was.
    if (reading.ok) expect(inOldWords(reading.job, version)).toEqual({ ...document, kerbe: JOB_VERSION, process: 'router' });
    expect(JSON.stringify(document)).toBe(before);
  });
});

describe('versions', () => {
  it('what is split or varied by bit is by tool today', () => {
    const [split] = examplesOf(2).filter((document) => (document.program as { split: string }).split === 'bit');
    const [trial] = examplesOf(2).filter((document) => document.trial);
    expect(readJob(split)).toMatchObject({ ok: true, job: { program: { split: 'tool' } } });
    expect(readJob(trial)).toMatchObject({ ok: true, job: { trial: { vary: ['tool', 'depth'] } } });
  });
  it('what was cut in the order of the artwork is so cut by cut, and a program that stayed where it was stays', () => {
    const [heron] = examplesOf(3).filter((document) => document.name === 'Heron Walk');
    const reading = readJob(heron);
    expect(reading).toMatchObject({ ok: true, job: { program: { end: 'stay' } } });
    if (reading.ok) expect(Object.values(reading.job.cuts).map(({ order }) => order)).toEqual(Object.values(reading.job.cuts).map(() => 'drawn'));
  });
  it.each([
    ['no bits', { kerbe: 2 }],
    ['bits that are none', { kerbe: 2, bits: 7, cuts: null, program: 'x', trial: [] }],
    ['cuts that are none', { kerbe: 1, bits: {}, cuts: { a: 7, b: null, c: [] }, trial: { vary: 'bit' } }],
  ])('an old document with %s is refused in words', (_what, document) => {
    const reading = readJob(document);
    expect(reading.ok).toBe(false);
    if (!reading.ok) expect(reading.why.join(' ')).toMatch(/[a-z]{3}/);
  });
  it('a document of today is left alone', () => {
    const job = makeJob();
    expect(job.kerbe).toBe(JOB_VERSION);
    expect(upToDate(job)).toBe(job);
  });
  it('what is read once reads the same again', () => {
    const reading = readJob(examplesOf(1)[0]);
    expect(reading.ok && readJob(JSON.parse(JSON.stringify(reading.job)))).toEqual(reading);
  });
  it.each([null, undefined, 7, 'x', [], {}, { kerbe: 0 }, { kerbe: -1 }, { kerbe: 1.5 }, { kerbe: '1' }, { kerbe: 'constructor' }, { kerbe: Infinity }])(
    'what is none is refused in words: %j',
    (data) => {
      const reading = readJob(data);
      expect(reading.ok).toBe(false);
      if (!reading.ok) expect(reading.why.join(' ')).toMatch(/[a-z]{3}/);
    },
  );
  it('one of a later version asks for a later Kerbe', () => {
    expect(readJob({ kerbe: JOB_VERSION + 1 })).toEqual({ ok: false, why: [expect.stringMatching(/newer Kerbe/)] });
  });
});
