/** Tables of Kerbe, as migrations in code; better-auth keeps its own beside them. */
import { Migrator, sql, type Kysely, type Migration } from 'kysely';
import type pg from 'pg';
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
  '006-accounts-keys-indexes': {
    async up(db: Kysely<unknown>) {
      // Who did it by account: names may change, and be given to somebody else.
      for (const table of ['audit', 'run', 'release', 'job_revision'])
        await db.schema
          .alterTable(table)
          .addColumn('author_id', 'text', (c) => c.notNull().defaultTo(''))
          .execute();
      await db.schema
        .alterTable('exercise_result')
        .addColumn('learner_id', 'text', (c) => c.notNull().defaultTo(''))
        .execute();
      // The key it was started with, once; and which bit of the crib each of its bits is.
      await db.schema
        .alterTable('run')
        .addColumn('key', 'text', (c) => c.unique())
        .addColumn('crib', 'jsonb', (c) => c.notNull().defaultTo('{}'))
        .execute();
      await sql`update run set crib = coalesce((
        select jsonb_object_agg(bit.key, bit.value ->> 'crib')
        from release join job_revision revision on revision.job_id = release.job_id and revision.revision = release.revision,
          jsonb_each(revision.doc -> 'bits') bit
        where release.id = run.release_id and bit.value ? 'crib'
      ), '{}')`.execute(db);
      await db.schema.alterTable('job').addColumn('archived_at', 'timestamptz').execute();
      // A photo may show two runs.
      await db.schema
        .createTable('run_photo')
        .addColumn('run_id', 'text', (c) => c.notNull().references('run.id').onDelete('cascade'))
        .addColumn('asset_id', 'text', (c) => c.notNull().references('asset.id').onDelete('cascade'))
        .addColumn('at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addPrimaryKeyConstraint('run_photo_pk', ['run_id', 'asset_id'])
        .execute();
      await sql`insert into run_photo (run_id, asset_id, at) select run_id, id, created_at from asset where run_id is not null`.execute(db);
      await db.schema.alterTable('asset').dropColumn('run_id').execute();
      const index = (name: string, table: string, columns: string[]) => db.schema.createIndex(name).on(table).columns(columns).execute();
      await index('run_by_job', 'run', ['job_id', 'started_at']);
      await index('run_by_time', 'run', ['started_at', 'id']);
      await index('run_event_by_run', 'run_event', ['run_id', 'id']);
      await index('release_by_job', 'release', ['job_id', 'created_at']);
      await index('run_by_release', 'run', ['release_id']);
      await index('job_by_change', 'job', ['updated_at', 'id']);
      await index('asset_by_job', 'asset', ['job_id']);
      await sql`create index job_with_holders on job (updated_at) where jsonb_array_length(coalesce(doc->'board'->'holders', '[]'::jsonb)) > 0`.execute(db);
    },
  },
  '007-run-facts': {
    async up(db) {
      // What an event was, beside its words.
      await db.schema.alterTable('run_event').addColumn('facts', 'jsonb').execute();
    },
  },
  '008-run-machine': {
    async up(db: Kysely<unknown>) {
      await db.schema
        .alterTable('run')
        .addColumn('machine_id', 'text', (c) => c.references('machine.id').onDelete('set null'))
        .addColumn('cut_last', 'jsonb')
        .execute();
      // Until now a run knew its machine by name alone, and names are not unique: where two share one it stays unknown.
      await sql`update run set machine_id = machine.id from machine
        where machine.name = run.machine and not exists (select from machine other where other.name = machine.name and other.id <> machine.id)`.execute(db);
      // Jobs were for the machine the shop was linked to; from now on each names its own.
      for (const table of ['job', 'job_revision'])
        await sql`update ${sql.table(table)} as told
          set doc = jsonb_set(told.doc, '{machine}', coalesce(told.doc -> 'machine', '{}') || jsonb_build_object('id', machine.id))
          from machine where machine.connected`.execute(db);
      await db.schema.createIndex('run_by_machine').on('run').columns(['machine_id', 'started_at']).execute();
    },
  },
  '009-history-and-shop': {
    async up(db) {
      // A version as it looked when it was saved, and the name somebody gave it.
      await db.schema.alterTable('job_revision').addColumn('picture', 'text').addColumn('named', 'text').execute();
      // Kept to start others from, and not on the wall.
      await db.schema
        .alterTable('job')
        .addColumn('template', 'boolean', (c) => c.notNull().defaultTo(false))
        .execute();
      // One row: what is said of the shop as a whole.
      await db.schema
        .createTable('shop')
        .addColumn('one', 'boolean', (c) =>
          c
            .primaryKey()
            .defaultTo(true)
            .check(sql`one`),
        )
        .addColumn('doc', 'jsonb', (c) => c.notNull())
        .execute();
    },
  },
  '010-day': {
    async up(db) {
      // What is said of a job for the plan of the day, and what was worked out of it once.
      await db.schema
        .alterTable('job')
        .addColumn('planning', 'jsonb', (c) => c.notNull().defaultTo(sql`'{}'`))
        .addColumn('figures', 'jsonb')
        .execute();
      // One row: the order the day was put in.
      await db.schema
        .createTable('day')
        .addColumn('one', 'boolean', (c) =>
          c
            .primaryKey()
            .defaultTo(true)
            .check(sql`one`),
        )
        .addColumn('doc', 'jsonb', (c) => c.notNull())
        .execute();
    },
  },
  '011-wear': {
    async up(db) {
      // Hours the shop gives a bit, and when it was sharp again.
      await db.schema.alterTable('crib_bit').addColumn('life', 'double precision').execute();
      await db.schema
        .createTable('bit_event')
        .addColumn('id', 'serial', (c) => c.primaryKey())
        .addColumn('bit', 'text', (c) => c.notNull().references('crib_bit.id').onDelete('cascade'))
        .addColumn('kind', 'text', (c) => c.notNull())
        .addColumn('at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('cost', 'double precision')
        .addColumn('note', 'text', (c) => c.notNull().defaultTo(''))
        .addColumn('by', 'text', (c) => c.notNull())
        .execute();
      await db.schema.createIndex('bit_event_by_bit').on('bit_event').columns(['bit', 'at']).execute();
    },
  },
  '012-record': {
    async up(db) {
      // Words a run is found by: its own, and those of its job, which may be called something else tomorrow.
      const words = (text: string) => sql.raw(`to_tsvector('simple', regexp_replace(${text}, '[^[:alnum:]]+', ' ', 'g'))`);
      await db.schema
        .alterTable('run')
        .addColumn('words', sql`tsvector`, (c) =>
          c.generatedAlwaysAs(words("notes || ' ' || author || ' ' || machine || ' ' || program || ' ' || message || ' ' || defects::text")).stored(),
        )
        .execute();
      await db.schema
        .alterTable('job')
        .addColumn('words', sql`tsvector`, (c) => c.generatedAlwaysAs(words("name || ' ' || coalesce(doc->'board'->>'material', '')")).stored())
        .execute();
      for (const table of ['run', 'job']) await db.schema.createIndex(`${table}_by_words`).on(table).using('gin').column('words').execute();
      await db.schema.createIndex('run_by_state').on('run').columns(['state', 'started_at']).execute();
    },
  },
  '013-care': {
    async up(db) {
      // A skim that a run made is written down by itself: from which zero, and how far below it; it is to be measured.
      await db.schema
        .alterTable('spoilboard_skim')
        .addColumn('run_id', 'text', (c) => c.unique().references('run.id').onDelete('set null'))
        .addColumn('zero_at', 'text')
        .addColumn('below_zero', 'double precision')
        .addColumn('marks', 'boolean', (c) => c.notNull().defaultTo(false))
        .execute();
      await db.schema.createIndex('spoilboard_skim_by_machine').on('spoilboard_skim').columns(['machine_id', 'id']).execute();
      await db.schema
        .createTable('machine_care')
        .addColumn('id', 'serial', (c) => c.primaryKey())
        .addColumn('machine_id', 'text', (c) => c.notNull().references('machine.id').onDelete('cascade'))
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .addColumn('by', 'text', (c) => c.notNull())
        .addColumn('note', 'text', (c) => c.notNull().defaultTo(''))
        .execute();
      await db.schema.createIndex('machine_care_by_machine').on('machine_care').columns(['machine_id', 'name', 'at']).execute();
    },
  },
  '014-sizes': {
    async up(db) {
      // Seconds of each bit of the crib by run, beside the run: summed without unfolding every run there ever was.
      await db.schema
        .createTable('run_bit')
        .addColumn('run_id', 'text', (c) => c.notNull().references('run.id').onDelete('cascade'))
        .addColumn('bit', 'text', (c) => c.notNull())
        .addColumn('seconds', 'double precision', (c) => c.notNull())
        .addColumn('started_at', 'timestamptz', (c) => c.notNull())
        .addPrimaryKeyConstraint('run_bit_pkey', ['run_id', 'bit'])
        .execute();
      await sql`create index run_bit_by_bit on run_bit (bit, started_at) include (seconds)`.execute(db);
      await sql`create function bits_of_run() returns trigger language plpgsql as $$
        begin
          delete from run_bit where run_id = new.id;
          insert into run_bit (run_id, bit, seconds, started_at)
            select new.id, crib.value, sum(counted.value::double precision), new.started_at
            from jsonb_each_text(new.crib) crib join jsonb_each_text(new.bit_seconds) counted on crib.key = counted.key group by crib.value;
          return null;
        end $$`.execute(db);
      await sql`create trigger bits_of_run after insert or update of crib, bit_seconds, started_at on run for each row execute function bits_of_run()`.execute(
        db,
      );
      await sql`insert into run_bit (run_id, bit, seconds, started_at)
        select run.id, crib.value, sum(counted.value::double precision), run.started_at
        from run cross join jsonb_each_text(run.crib) crib join jsonb_each_text(run.bit_seconds) counted on crib.key = counted.key
        group by run.id, crib.value, run.started_at`.execute(db);
      // What is asked for on the wall: any part of a name, a material, a note or of what a sign says.
      await sql`alter table job add column searched text generated always as (name || ' ' || coalesce(doc->'board'->>'material', '') || ' '
        || coalesce(doc->>'notes', '') || ' ' || jsonb_path_query_array(doc, '$.items.*.text')::text) stored`.execute(db);
      // Comes with PostgreSQL; where somebody else keeps the database and has it not, parts of words are looked for one by one.
      await sql`do $$ begin
        create extension if not exists pg_trgm;
        create index job_by_part on job using gin (searched gin_trgm_ops);
      exception when others then raise notice 'no index for parts of words: %', sqlerrm; end $$`.execute(db);
      await sql`create index job_on_wall on job (updated_at, id) where archived_at is null and not template`.execute(db);
      await sql`create index job_by_name on job (lower(name), id) where archived_at is null and not template`.execute(db);
      await sql`create index job_template on job (lower(name)) where template`.execute(db);
      // Since when it is on the plan of the day: a column, for what PostgreSQL knows of one it plans by.
      await sql`alter table job add column since text generated always as (planning->>'since') stored`.execute(db);
      await sql`create index job_on_day on job (since) where archived_at is null and since is not null`.execute(db);
      await sql`create index job_off_day on job (updated_at) where archived_at is null and not template and since is null`.execute(db);
      await sql`create index job_put_away on job (updated_at, id) where archived_at is not null`.execute(db);
      await sql`create index run_care on run (machine_id, started_at) include (actual_seconds)`.execute(db);
      await db.schema.dropIndex('run_by_machine').execute();
      // The machine it ran on, or the name that is left of one that is gone.
      await sql`alter table run add column place text generated always as (coalesce(machine_id, machine)) stored`.execute(db);
      await sql`create index run_by_place on run (place, state, started_at)`.execute(db);
    },
  },
  '015-worked': {
    async up(db) {
      // How far each tool of a run cut and how often it was switched on, by its id in the job; of runs before this nobody counted it.
      await sql`alter table run add column worked jsonb not null default '{}'`.execute(db);
      await sql`alter table run_bit add column metres double precision not null default 0, add column strikes integer not null default 0`.execute(db);
      await sql`create or replace function bits_of_run() returns trigger language plpgsql as $$
        begin
          delete from run_bit where run_id = new.id;
          insert into run_bit (run_id, bit, seconds, metres, strikes, started_at)
            select new.id, crib.value, sum(counted.value::double precision),
              sum(coalesce((new.worked->crib.key->>'metres')::double precision, 0)), sum(coalesce((new.worked->crib.key->>'strikes')::integer, 0)), new.started_at
            from jsonb_each_text(new.crib) crib join jsonb_each_text(new.bit_seconds) counted on crib.key = counted.key group by crib.value;
          return null;
        end $$`.execute(db);
      await sql`drop trigger bits_of_run on run`.execute(db);
      await sql`create trigger bits_of_run after insert or update of crib, bit_seconds, worked, started_at on run for each row execute function bits_of_run()`.execute(
        db,
      );
      await sql`drop index run_bit_by_bit`.execute(db);
      await sql`create index run_bit_by_bit on run_bit (bit, started_at) include (seconds, metres, strikes)`.execute(db);
      await sql`alter table crib_bit add column strikes_life integer`.execute(db);
    },
  },
};

/** Any number that no other program on this database takes. */
const LOCK = 0x6b657262;

/** Does something while nobody else on this database does the same. */
export async function alone(pool: pg.Pool, work: () => Promise<void>): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [LOCK]);
    await work();
  } finally {
    await client.query('select pg_advisory_unlock($1)', [LOCK]).catch(() => {});
    client.release();
  }
}

/** Brings the tables up to date; throws with the reason when it cannot. */
export async function migrate(db: Database): Promise<void> {
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  const { error } = await migrator.migrateToLatest();
  if (error) throw error;
}
