/** What is true of every kind of cut that is registered, whatever it does. */
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { planJob, releasePrograms } from '../plan/index.ts';
import { carvePlan, differenceOf, HeightMap } from '../proof/index.ts';
import { CHANGES, jobOf, pixelsOf } from '../reference/every-cut.ts';
import { fontOf } from '../reference/fixtures.ts';
import { Cut, kindNamed, kindOf, KINDS, kindTable, namedBy, renamed } from './index.ts';

describe.each(KINDS)('%s', (name) => {
  const kind = kindNamed(name);
  const job = jobOf(name, {});
  it('has a definition that can be read', () => {
    expect(kind.kind).toBe(name);
    for (const words of [kind.label, kind.title, kind.help]) expect(words.length).toBeGreaterThan(2);
    expect(kind.tools.length).toBeGreaterThan(0);
    for (const { field } of kind.references ?? []) expect(Object.keys(CHANGES[name])).toContain(field);
  });
  it('is carved as it is asked for, and its programs read back', async () => {
    const plan = await planJob(job, { fonts: fontOf, pictures: pixelsOf });
    const [planned] = plan.cuts;
    expect(planned.facts.moves).toBeGreaterThan(0);
    expect(planned.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    const map = new HeightMap(job.board.width, job.board.height, 0.25);
    carvePlan(map, plan.cuts);
    const { over } = differenceOf(job, plan.items, plan.cuts, map);
    expect(over.area).toBe(0);
    const { files, findings } = releasePrograms(job, plan, '2026-01-31');
    expect(findings).toEqual([]);
    expect(files[0].text).toContain(`- ${kind.label}`);
    expect(files[0].text).not.toMatch(/NaN|undefined|Infinity/);
    for (const { label, value } of kindOf(planned.cut).figures(planned)) expect(Number.isFinite(value), label).toBe(true);
  });
  it('is deeper, or what stands for depth in it is more, when a trial board varies it', async () => {
    const changed = kind.varyDepth(job.cuts.c, 0.37);
    expect(changed).not.toEqual(job.cuts.c);
    expect(Cut.safeParse(changed).success).toBe(true);
  });
  it('names what it names, and can be given other names', () => {
    const { tools: bits } = namedBy(job.cuts.c);
    expect(bits).toContain(job.cuts.c.tool);
    const other = renamed(job.cuts.c, 'tool', (bit) => `${bit}x`);
    expect(namedBy(other).tools).toEqual(bits.map((bit) => `${bit}x`));
  });
});

it('the table of docs/job-format.md is theirs, and names every field', () => {
  const table = kindTable();
  expect(readFileSync(new URL('../../../docs/job-format.md', import.meta.url), 'utf8')).toContain(table);
  const common = ['id', 'kind', 'name', 'on', 'tool', 'feed', 'plunge', 'speed'];
  for (const name of KINDS)
    for (const field of Object.keys(CHANGES[name])) if (!common.includes(field)) expect(kindNamed(name).format, name).toContain(`\`${field}\``);
});

/** Files of a folder and those below it. */
const filesIn = (folder: string): string[] =>
  readdirSync(new URL(`../../../${folder}`, import.meta.url), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.(ts|svelte)$/.test(entry.name) && !entry.parentPath.includes('node_modules'))
    .map((entry) => `${entry.parentPath}/${entry.name}`);

it('nothing outside the definitions asks for the name of a kind', () => {
  const names = KINDS.filter((name) => !['drag', 'drill'].includes(name)).join('|');
  // A bit is called drag or drill too: there only a cut's own kind is looked for.
  const asks = new RegExp(`case '(${names})'|kind [!=]==? '(${names})'|(cut|draft|next|other)\\??\\.kind [!=]==? '(drag|drill)'`);
  const found = ['core/src', 'app/src', 'agent/src', 'machines/src', 'files/src', 'cli/src']
    .flatMap(filesIn)
    .filter((file) => !/\.test\.ts$|\/reference\/|core\/src\/cuts\/router\//.test(file))
    .flatMap((file) =>
      readFileSync(file, 'utf8')
        .split('\n')
        .flatMap((line, i) => (asks.test(line) ? [`${file}:${i + 1} ${line.trim()}`] : [])),
    );
  expect(found).toEqual([]);
});
