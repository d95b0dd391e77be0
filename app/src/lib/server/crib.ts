/** The crib: the shop's bits, and the hours each has cut. */
import { sql } from 'kysely';
import type { Bit } from '@kerbe/core/job';
import type { Wear } from '@kerbe/core/preflight/wear';
import { db } from './db';
import { USUAL } from '@kerbe/core/bits/usual';

const KIND_ORDER: Bit['kind'][] = ['v', 'end', 'ball', 'tapered', 'engraving', 'drag', 'drill', 'surfacing', 'nozzle', 'head'];

export interface CribBit {
  bit: Bit;
  /** Hours under power, from the runs of the shop: in all, and since it was sharp. */
  hours: number;
  since: number;
  /** Hours the shop gives it. */
  life: number | null;
  /** The way it has cut, m, and how often it was switched on - pierces of a nozzle -, in all and since it was sharp or new. */
  metres: number;
  metresSince: number;
  strikes: number;
  strikesSince: number;
  /** Pierces the shop gives it. */
  strikesLife: number | null;
  /** When it was sharp again, the newest first. */
  events: { kind: 'sharpened' | 'replaced'; at: string; cost: number | null; note: string; by: string }[];
}

/** The shop's bits, without their hours. */
export async function cribBits(): Promise<Bit[]> {
  const rows = await db().selectFrom('crib_bit').select('doc').orderBy('id').execute();
  const place = ({ kind, diameter }: Bit) => KIND_ORDER.indexOf(kind) * 1000 + diameter;
  return rows.map(({ doc }) => doc).sort((a, b) => place(a) - place(b));
}

export async function crib(): Promise<CribBit[]> {
  const [bits, done, lives, events] = await Promise.all([
    cribBits(),
    doneByBit(),
    db().selectFrom('crib_bit').select(['id', 'life', 'strikes_life']).execute(),
    db().selectFrom('bit_event').selectAll().orderBy('at', 'desc').orderBy('id', 'desc').execute(),
  ]);
  return bits.map((bit) => {
    const { seconds = 0, seconds_since = 0, metres = 0, metres_since = 0, strikes = 0, strikes_since = 0 } = done.get(bit.id) ?? {};
    const { life = null, strikes_life: strikesLife = null } = lives.find(({ id }) => id === bit.id) ?? {};
    return {
      bit,
      hours: seconds / 3600,
      since: seconds_since / 3600,
      life,
      metres,
      metresSince: metres_since,
      strikes,
      strikesSince: strikes_since,
      strikesLife,
      events: events.filter((one) => one.bit === bit.id).map(({ kind, at, cost, note, by }) => ({ kind, at: at.toISOString(), cost, note, by })),
    };
  });
}

/** What is known of each edge, for the findings of a job. */
export async function wear(): Promise<Record<string, Wear>> {
  return Object.fromEntries(
    (await crib())
      .filter(({ life, strikesLife }) => life !== null || strikesLife !== null)
      .map(({ bit, since, life, strikesSince, strikesLife }) => [bit.id, { hours: since, life, strikes: strikesSince, strikesLife }]),
  );
}

/** Hours the shop gives a bit, or pierces it gives a nozzle; null for none. */
export const giveLife = (id: string, given: { life: number | null } | { strikes_life: number | null }) =>
  db().updateTable('crib_bit').set(given).where('id', '=', id).execute();

export type BitEvent = { bit: string; kind: 'sharpened' | 'replaced'; cost: number | null; note: string };
/** Writes down that a bit is sharp again: its hours count from now. False when it is not in the crib. */
export async function sharpAgain(event: BitEvent, by: string): Promise<boolean> {
  if (!(await db().selectFrom('crib_bit').select('id').where('id', '=', event.bit).executeTakeFirst())) return false;
  await db()
    .insertInto('bit_event')
    .values({ ...event, by })
    .execute();
  return true;
}

interface Done {
  seconds: number;
  seconds_since: number;
  metres: number;
  metres_since: number;
  strikes: number;
  strikes_since: number;
}

/** What every bit of the crib has done, as the agent and its programs counted it: summed in the database, whatever the number of runs. */
async function doneByBit(): Promise<Map<string, Done>> {
  const { rows } = await sql<Done & { bit: string }>`
    select bit, sum(seconds) as seconds, coalesce(sum(seconds) filter (where fresh), 0) as seconds_since,
      sum(metres) as metres, coalesce(sum(metres) filter (where fresh), 0) as metres_since,
      sum(strikes)::integer as strikes, coalesce(sum(strikes) filter (where fresh), 0)::integer as strikes_since
    from (select run_bit.*, sharp.at is null or run_bit.started_at > sharp.at as fresh
      from run_bit left join (select bit, max(at) as at from bit_event group by bit) sharp on sharp.bit = run_bit.bit) counted
    group by bit`.execute(db());
  return new Map(rows.map(({ bit, ...done }) => [bit, done]));
}

/** Puts bits into the crib; those with an id it has already take their place. */
export async function keepBits(bits: readonly Bit[]): Promise<void> {
  await db()
    .transaction()
    .execute(async (trx) => {
      for (const one of bits) {
        const doc = JSON.stringify(one);
        await trx
          .insertInto('crib_bit')
          .values({ id: one.id, doc })
          .onConflict((conflict) => conflict.column('id').doUpdateSet({ doc, updated_at: new Date() }))
          .execute();
      }
    });
}

export const dropBit = (id: string) => db().deleteFrom('crib_bit').where('id', '=', id).execute();

/** The usual set, for a crib that is empty. */
export async function fillCrib(): Promise<void> {
  const any = await db().selectFrom('crib_bit').select('id').limit(1).executeTakeFirst();
  if (!any) await keepBits(USUAL);
}
