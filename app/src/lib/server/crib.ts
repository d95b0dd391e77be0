/** The crib: the shop's bits, and the hours each has cut. */
import { sql } from 'kysely';
import type { Bit } from '@kerbe/core/job';
import { db } from './db';
import { USUAL } from '@kerbe/core/bits/usual';

const KIND_ORDER: Bit['kind'][] = ['v', 'end', 'ball', 'tapered', 'engraving', 'drag', 'drill', 'surfacing'];

export interface CribBit {
  bit: Bit;
  /** Hours under power, from the runs of the shop. */
  hours: number;
}

/** The shop's bits, without their hours. */
export async function cribBits(): Promise<Bit[]> {
  const rows = await db().selectFrom('crib_bit').select('doc').orderBy('id').execute();
  const place = ({ kind, diameter }: Bit) => KIND_ORDER.indexOf(kind) * 1000 + diameter;
  return rows.map(({ doc }) => doc).sort((a, b) => place(a) - place(b));
}

export async function crib(): Promise<CribBit[]> {
  const [bits, seconds] = await Promise.all([cribBits(), secondsByBit()]);
  return bits.map((bit) => ({ bit, hours: (seconds.get(bit.id) ?? 0) / 3600 }));
}

/** Seconds every bit of the crib was run, as the agent counted them: summed in the database, whatever the number of runs. */
async function secondsByBit(): Promise<Map<string, number>> {
  const { rows } = await sql<{ bit: string; seconds: number }>`
    select crib.value as bit, sum(counted.value::double precision) as seconds
    from run, jsonb_each_text(run.crib) crib, jsonb_each_text(run.bit_seconds) counted
    where crib.key = counted.key
    group by crib.value`.execute(db());
  return new Map(rows.map(({ bit, seconds }) => [bit, seconds]));
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
