/** The database: PostgreSQL through Kysely. Tables are made by the migrations in migrations.ts. */
import type { RunFacts } from '@kerbe/core/link';
import { Kysely, PostgresDialect, type ColumnType, type Generated, type JSONColumnType } from 'kysely';
import pg from 'pg';
import type { Bit, Job } from '@kerbe/core/job';
import type { Setup } from '@kerbe/core/link';
import type { MachineProfile } from '@kerbe/core/machine';
import type { DayOrder, Planning } from '@kerbe/core/day/planning';
import type { Template } from '@kerbe/core/job/template';
import type { Tile } from '@kerbe/core/job/tiles';
import type { ProgramSpan, Worked } from '@kerbe/core/program';
import type { ToldFinding } from '@kerbe/core/findings';
import type { ShopSettings } from '$lib/shop/settings';
import { env } from '$env/dynamic/private';
import { trouble } from './log';

export interface ProgramRecord {
  name: string;
  text: string;
  sha256: string;
  bits: string[];
  /** Running, and what a person's changes of bit in it take; releases from before have no changes. */
  seconds: number;
  changes?: number;
  lines: number;
  /** Which of its lines cut what; releases from before do not say. */
  spans?: ProgramSpan[];
  extents: { min: [number, number, number]; max: [number, number, number] } | null;
  /** What of a sheet larger than the field it burns. */
  tile?: Tile;
}

/** What a revision of a job takes at the machine. */
export interface JobFigures {
  revision: number;
  /** Seconds, changes of bit included. */
  seconds: number;
  /** In the order they are used: as the crib knows them, or by what they are; and what they are called in either unit. */
  bits: { key: string; mm: string; in: string }[];
  /** What each bit of the crib does in it; of figures kept before this was counted, nothing. */
  worn?: { bit: string; seconds: number; strikes: number }[];
  /** Seconds of the run at which a bit is changed. */
  calls: number[];
  /** A finding forbids cutting it. */
  forbidden: boolean;
}

export interface ReleaseReport {
  /** Date in the programs' headers. */
  date: string;
  seconds: number;
  deepest: number;
  findings: ToldFinding[];
  cuts: { id: string; kind: string; bit: string; moves: number; seconds: number; deepest: number; length: number; lifts: number }[];
  /** Warnings a person has ticked, by code. */
  accepted: { code: string; by: string }[];
}

/** Something that came out wrong, what it came from as far as one can tell, and who said so. */
export interface Defect {
  kind: string;
  note: string;
  cause: string;
  by: string;
  at: string;
}

/** Columns named as better-auth made them. */
interface AuthTables {
  user: { id: string; name: string; email: string; role: string | null };
  session: { id: string; token: string; userId: string; expiresAt: Date; createdAt: Date; userAgent: string | null; ipAddress: string | null };
  account: { id: string; userId: string; providerId: string; password: string | null };
}

export interface Tables extends AuthTables {
  job: {
    id: string;
    name: string;
    state: 'drawing' | 'ready' | 'at-machine' | 'done';
    revision: number;
    doc: JSONColumnType<Job>;
    picture: string | null;
    archived_at: Date | null;
    /** Kept to start others from. */
    template: Generated<boolean>;
    /** What is said of it for the plan of the day; and what a revision of it takes, as it was worked out. */
    planning: ColumnType<Partial<Planning>, string | undefined, string>;
    figures: ColumnType<JobFigures | null, string | null | undefined, string | null>;
    created_at: Generated<Date>;
    updated_at: Generated<Date>;
  };
  job_revision: {
    job_id: string;
    revision: number;
    doc: JSONColumnType<Job>;
    label: string;
    author: string;
    author_id: Generated<string>;
    /** The browser tab it came from: what it saved itself is no clash to it. */
    tab: string | null;
    /** How it looked, when that was other than before; and the name somebody gave it. */
    picture: Generated<string | null>;
    named: Generated<string | null>;
    created_at: Generated<Date>;
  };
  /** Seconds of a bit of the crib in a run: kept beside it by the database itself. */
  run_bit: { run_id: string; bit: string; seconds: number; metres: Generated<number>; strikes: Generated<number>; started_at: Date };
  shop: { one: Generated<boolean>; doc: JSONColumnType<ShopSettings> };
  /** The order the day was put in: one row. */
  day: { one: Generated<boolean>; doc: JSONColumnType<DayOrder> };
  release: {
    id: string;
    job_id: string;
    revision: number;
    sha256: string;
    /** One program with pauses first, then one for each bit. */
    programs: JSONColumnType<ProgramRecord[]>;
    report: JSONColumnType<ReleaseReport>;
    author: string;
    author_id: Generated<string>;
    created_at: Generated<Date>;
  };
  run: {
    id: string;
    release_id: string;
    job_id: string;
    program: string;
    state: string;
    message: string;
    line: number;
    lines: number;
    estimate_seconds: number;
    actual_seconds: number;
    author: string;
    author_id: Generated<string>;
    /** The key of the command that began it: the same again begins no other. */
    key: string | null;
    /** For each of its bits that is in the crib, which one it is there. */
    crib: JSONColumnType<Record<string, string>>;
    notes: string;
    started_at: Generated<Date>;
    ended_at: Date | null;
    /** The machine's name then, and what was set up at it when the run began. */
    machine: string;
    /** Which machine it belongs to; null for one that is in the shop no more. */
    machine_id: string | null;
    setup: JSONColumnType<Partial<Setup>>;
    /** Seconds cut with each bit, by its id in the job. */
    bit_seconds: JSONColumnType<Record<string, number>>;
    /** How far each bit cut and how often it was switched on, by its id in the job. */
    worked: ColumnType<Record<string, Worked>, string | undefined, string>;
    /** What was being cut when it ended before its end. */
    cut_last: JSONColumnType<ProgramSpan> | null;
    /** The line it went on from, when it did not begin at the beginning. */
    from_line: number | null;
    defects: JSONColumnType<Defect[]>;
  };
  machine: {
    id: string;
    name: string;
    doc: JSONColumnType<MachineProfile>;
    /** Does Kerbe have an agent that is linked to it? */
    connected: boolean;
    created_at: Generated<Date>;
    updated_at: Generated<Date>;
  };
  spoilboard_skim: {
    id: Generated<number>;
    machine_id: string;
    at: Generated<Date>;
    height: number;
    note: string;
    author: string;
    /** The run that made it: reckoned from what it took off, and to be measured. From which zero, and how far below it. */
    run_id: string | null;
    zero_at: string | null;
    below_zero: number | null;
    /** Not skimmed: marks were seen in it. */
    marks: Generated<boolean>;
  };
  machine_care: { id: Generated<number>; machine_id: string; name: string; at: Generated<Date>; by: string; note: string };
  exercise_result: {
    id: Generated<number>;
    at: Generated<Date>;
    learner: string;
    learner_id: string;
    exercise: string;
    passed: boolean;
    slips: JSONColumnType<string[]>;
    seconds: number;
  };
  /** Files kept as they came: drawings and pictures of a job, and the shop's own faces (without a job). */
  asset: {
    id: string;
    job_id: string | null;
    kind: 'drawing' | 'picture' | 'face';
    name: string;
    mime: string;
    sha256: string;
    bytes: Buffer;
    author: string;
    created_at: Generated<Date>;
  };
  /** Photos of what came out of a run. */
  run_photo: { run_id: string; asset_id: string; at: Generated<Date> };
  /** The shop's bits. */
  crib_bit: {
    id: string;
    doc: JSONColumnType<Bit>;
    life: ColumnType<number | null, number | null | undefined, number | null>;
    /** Pierces the shop gives a nozzle. */
    strikes_life: ColumnType<number | null, number | null | undefined, number | null>;
    created_at: Generated<Date>;
    updated_at: Generated<Date>;
  };
  /** A bit was sharpened, or another one took its place. */
  bit_event: {
    id: Generated<number>;
    bit: string;
    kind: 'sharpened' | 'replaced';
    at: Generated<Date>;
    cost: number | null;
    note: string;
    by: string;
  };
  cut_template: { id: string; name: string; doc: JSONColumnType<Template>; author: string; created_at: Generated<Date> };
  run_event: {
    id: Generated<number>;
    run_id: string;
    at: Date;
    event: string;
    line: number | null;
    text: string | null;
    facts: ColumnType<RunFacts | null, string | null, never>;
  };
  audit: { id: Generated<number>; at: Generated<Date>; author: string; author_id: string; command: string; detail: string; refused: string | null };
}

export type Database = Kysely<Tables>;

let made: { db: Database; pool: pg.Pool } | null = null;

export function connection(): { db: Database; pool: pg.Pool } {
  if (!made) {
    const pool = new pg.Pool({ connectionString: env.DATABASE_URL, max: 10, connectionTimeoutMillis: 4000 });
    // A connection lost while idle must not take the server down: the next query says so.
    pool.on('error', (error) => trouble('database', error));
    // Nor may one that is lost in the middle of a query or a transaction: its error comes by the query too.
    pool.on('connect', (client) => client.on('error', (error) => trouble('database, in a query', error)));
    made = { pool, db: new Kysely<Tables>({ dialect: new PostgresDialect({ pool }) }) };
  }
  return made;
}

export const db = (): Database => connection().db;

/** True for errors that mean the database cannot be reached now, not that the query is wrong. */
export function isUnreachable(error: unknown): boolean {
  const e = error as { code?: string; message?: string };
  return /^(ECONN|57P0|08)/.test(e.code ?? '') || /terminat|timeout exceeded|Connection (ended|closed)/i.test(e.message ?? '');
}
