/**
 * A shop of version 1 - its whole database, as it was dumped - opens in this version: every job is read,
 * a released one plans to the same programs, and the tables are brought up to date with nothing lost.
 */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { Kysely, PostgresDialect, sql } from 'kysely';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { JOB_VERSION, readJob } from '@kerbe/core/job';
import { startDatabase } from '../../../../scripts/database.mjs';
import type { Tables } from './db';
import { migrate } from './migrations';
import { plan } from './heavy';

const DUMP = join(import.meta.dirname, 'examples/shop-of-version-1.sql.gz');
const home = mkdtempSync(join(tmpdir(), 'kerbe-v1-'));
let database: Awaited<ReturnType<typeof startDatabase>>;
let db: Kysely<Tables>;

beforeAll(async () => {
  database = await startDatabase(home);
  const pool = new pg.Pool({ connectionString: database.url, max: 2 });
  pool.on('error', () => {});
  // Lines of the dump that speak to its own program are none of the shop's.
  const dump = gunzipSync(readFileSync(DUMP))
    .toString('utf8')
    .replace(/^\\.*$/gm, '');
  await pool.query(dump);
  await pool.query('set search_path to public');
  db = new Kysely<Tables>({ dialect: new PostgresDialect({ pool }) });
});
afterAll(async () => {
  await db?.destroy();
  database?.stop();
  rmSync(home, { recursive: true, force: true });
});

/** A program without the time in its header, which is told in other words since. */
const timeless = (text: string) => text.replace(/About [\s\S]*?\n(?=\(Bit)/, '');

describe('a shop of version 1', () => {
  const counts = async () => {
    const tables = ['job', 'job_revision', 'release', 'crib_bit', 'machine', 'account'] as const;
    return Object.fromEntries(
      await Promise.all(
        tables.map(async (table) => [table, Number((await sql<{ n: string }>`select count(*) as n from ${sql.table(table)}`.execute(db)).rows[0].n)]),
      ),
    );
  };
  it('is brought up to date, once and again, and keeps all it had', async () => {
    const before = await counts();
    expect(before).toMatchObject({ job: 6, release: 2 });
    await migrate(db);
    await migrate(db);
    expect(await counts()).toEqual(before);
    // It was linked to one machine: every job and revision names that one.
    for (const table of ['job', 'job_revision'] as const)
      expect((await sql`select distinct doc #>> '{machine,id}' as id from ${sql.table(table)}`.execute(db)).rows).toEqual([{ id: 'simulated-router' }]);
  });
  it('opens every job and every revision', async () => {
    const docs = await db.selectFrom('job').select('doc').unionAll(db.selectFrom('job_revision').select('doc')).execute();
    expect(docs.length).toBeGreaterThanOrEqual(12);
    for (const { doc } of docs) {
      expect(doc).toMatchObject({ kerbe: 1 });
      const reading = readJob(doc);
      expect(reading.ok ? [] : reading.why).toEqual([]);
      if (reading.ok) expect(reading.job).toMatchObject({ kerbe: JOB_VERSION, process: 'router' });
    }
  });
  it('plans what it released to the same programs', async () => {
    const rows = await db
      .selectFrom('release')
      .innerJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'release.job_id').onRef('job_revision.revision', '=', 'release.revision'))
      .select([sql<string>`job_revision.doc::text`.as('doc'), 'release.programs', 'release.report'])
      .execute();
    const crib = (await db.selectFrom('crib_bit').select('id').execute()).map(({ id }) => id);
    for (const { doc, programs, report } of rows) {
      const made = await plan({ doc, date: report.date, own: { faces: {}, pictures: {} }, crib });
      const texts = (JSON.parse(made.programs) as typeof programs).map(({ name, text }) => [name, timeless(text)]);
      expect(texts).toEqual(programs.map(({ name, text }) => [name, timeless(text)]));
      // What its owner was told is told as it was.
      expect(report.findings.every(({ what, why, remedy }) => [what, why, remedy].every((words) => words.length > 3))).toBe(true);
    }
  });
});
