/** Tables of Kerbe, as migrations in code; better-auth keeps its own beside them. */
import { Migrator, sql, type Kysely, type Migration } from 'kysely';
import type { Database } from './db';

const migrations: Record<string, Migration> = {
  '001-jobs-releases-runs': {
    async up(db: Kysely<unknown>) {
      await db.schema
        .createTable('job')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('state', 'text', (c) => c.notNull())
        .addColumn('revision', 'integer', (c) => c.notNull())
        .addColumn('doc', 'jsonb', (c) => c.notNull())
        .addColumn('picture', 'text')
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('updated_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await db.schema
        .createTable('job_revision')
        .addColumn('job_id', 'text', (c) => c.notNull().references('job.id').onDelete('cascade'))
        .addColumn('revision', 'integer', (c) => c.notNull())
        .addColumn('doc', 'jsonb', (c) => c.notNull())
        .addColumn('label', 'text', (c) => c.notNull())
        .addColumn('author', 'text', (c) => c.notNull())
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addPrimaryKeyConstraint('job_revision_pk', ['job_id', 'revision'])
        .execute();
      await db.schema
        .createTable('release')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('job_id', 'text', (c) => c.notNull().references('job.id'))
        .addColumn('revision', 'integer', (c) => c.notNull())
        .addColumn('sha256', 'text', (c) => c.notNull())
        .addColumn('programs', 'jsonb', (c) => c.notNull())
        .addColumn('report', 'jsonb', (c) => c.notNull())
        .addColumn('author', 'text', (c) => c.notNull())
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await db.schema
        .createTable('run')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('release_id', 'text', (c) => c.notNull().references('release.id'))
        .addColumn('job_id', 'text', (c) => c.notNull().references('job.id'))
        .addColumn('program', 'text', (c) => c.notNull())
        .addColumn('state', 'text', (c) => c.notNull())
        .addColumn('message', 'text', (c) => c.notNull().defaultTo(''))
        .addColumn('line', 'integer', (c) => c.notNull().defaultTo(0))
        .addColumn('lines', 'integer', (c) => c.notNull().defaultTo(0))
        .addColumn('estimate_seconds', 'double precision', (c) => c.notNull())
        .addColumn('actual_seconds', 'double precision', (c) => c.notNull().defaultTo(0))
        .addColumn('author', 'text', (c) => c.notNull())
        .addColumn('notes', 'text', (c) => c.notNull().defaultTo(''))
        .addColumn('started_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('ended_at', 'timestamptz')
        .execute();
      await db.schema
        .createTable('run_event')
        .addColumn('id', 'bigserial', (c) => c.primaryKey())
        .addColumn('run_id', 'text', (c) => c.notNull().references('run.id').onDelete('cascade'))
        .addColumn('at', 'timestamptz', (c) => c.notNull())
        .addColumn('event', 'text', (c) => c.notNull())
        .addColumn('line', 'integer')
        .addColumn('text', 'text')
        .execute();
      await db.schema
        .createTable('audit')
        .addColumn('id', 'bigserial', (c) => c.primaryKey())
        .addColumn('at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('author', 'text', (c) => c.notNull())
        .addColumn('command', 'text', (c) => c.notNull())
        .addColumn('detail', 'text', (c) => c.notNull())
        .addColumn('refused', 'text')
        .execute();
    },
  },
  '002-assets': {
    async up(db: Kysely<unknown>) {
      await db.schema
        .createTable('asset')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('job_id', 'text', (c) => c.references('job.id').onDelete('cascade'))
        .addColumn('kind', 'text', (c) => c.notNull())
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('mime', 'text', (c) => c.notNull())
        .addColumn('sha256', 'text', (c) => c.notNull())
        .addColumn('bytes', 'bytea', (c) => c.notNull())
        .addColumn('author', 'text', (c) => c.notNull())
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await db.schema.createIndex('asset_by_hash').on('asset').columns(['sha256', 'job_id']).execute();
    },
  },
  '003-crib-templates': {
    async up(db: Kysely<unknown>) {
      await db.schema
        .createTable('crib_bit')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('doc', 'jsonb', (c) => c.notNull())
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('updated_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await db.schema
        .createTable('cut_template')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('doc', 'jsonb', (c) => c.notNull())
        .addColumn('author', 'text', (c) => c.notNull())
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
    },
  },
  '004-revision-tab': {
    async up(db: Kysely<unknown>) {
      await db.schema.alterTable('job_revision').addColumn('tab', 'text').execute();
    },
  },
  '005-machines-record': {
    async up(db: Kysely<unknown>) {
      await db.schema
        .createTable('machine')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('doc', 'jsonb', (c) => c.notNull())
        .addColumn('connected', 'boolean', (c) => c.notNull().defaultTo(false))
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('updated_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await db.schema
        .createTable('spoilboard_skim')
        .addColumn('id', 'bigserial', (c) => c.primaryKey())
        .addColumn('machine_id', 'text', (c) => c.notNull().references('machine.id').onDelete('cascade'))
        .addColumn('at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('height', 'double precision', (c) => c.notNull())
        .addColumn('note', 'text', (c) => c.notNull().defaultTo(''))
        .addColumn('author', 'text', (c) => c.notNull())
        .execute();
      await db.schema
        .alterTable('run')
        .addColumn('machine', 'text', (c) => c.notNull().defaultTo(''))
        .addColumn('setup', 'jsonb', (c) => c.notNull().defaultTo('{}'))
        .addColumn('bit_seconds', 'jsonb', (c) => c.notNull().defaultTo('{}'))
        .addColumn('from_line', 'integer')
        .addColumn('defects', 'jsonb', (c) => c.notNull().defaultTo('[]'))
        .execute();
      await db.schema
        .alterTable('asset')
        .addColumn('run_id', 'text', (c) => c.references('run.id').onDelete('cascade'))
        .execute();
      await db.schema
        .createTable('exercise_result')
        .addColumn('id', 'bigserial', (c) => c.primaryKey())
        .addColumn('at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('learner', 'text', (c) => c.notNull())
        .addColumn('exercise', 'text', (c) => c.notNull())
        .addColumn('passed', 'boolean', (c) => c.notNull())
        .addColumn('slips', 'jsonb', (c) => c.notNull().defaultTo('[]'))
        .addColumn('seconds', 'double precision', (c) => c.notNull())
        .execute();
    },
  },
};

/** Brings the tables up to date; throws with the reason when it cannot. */
export async function migrate(db: Database): Promise<void> {
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  const { error } = await migrator.migrateToLatest();
  if (error) throw error;
}
