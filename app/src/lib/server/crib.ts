/** The crib: the shop's bits, and the hours each has cut. */
import { sql } from 'kysely';
import { Bit } from '@kerbe/core/job';
import { db } from './db';

const bit = (fields: object): Bit => Bit.parse(fields);

/** What most sign shops own; new signs begin with the first five. */
const USUAL: Bit[] = [
  bit({ kind: 'v', id: 'v60', name: '60° V, 12.7 mm', angle: 60, diameter: 12.7, fluteLength: 16 }),
  bit({ kind: 'v', id: 'v90', name: '90° V, 19 mm', angle: 90, diameter: 19, fluteLength: 14 }),
  bit({ kind: 'end', id: 'end6', name: 'end mill, 6.35 mm', diameter: 6.35 }),
  bit({ kind: 'end', id: 'end3', name: 'end mill, 3.175 mm', diameter: 3.175, fluteLength: 12 }),
  bit({ kind: 'drill', id: 'drill5', name: 'drill, 5 mm', diameter: 5, shank: 5, fluteLength: 50 }),
  bit({ kind: 'v', id: 'v30', name: '30° V, 6.35 mm', angle: 30, diameter: 6.35, fluteLength: 12 }),
  bit({ kind: 'ball', id: 'ball6', name: 'ball nose, 6.35 mm', diameter: 6.35 }),
  bit({ kind: 'tapered', id: 'taper', name: 'tapered ball, 11°, tip 1 mm', angle: 11, diameter: 6.35, tipRadius: 0.5, fluteLength: 25 }),
  bit({
    kind: 'engraving',
    id: 'engrave20',
    name: 'engraving cutter, 20°, tip 0.5 mm',
    angle: 20,
    diameter: 3.175,
    tipFlat: 0.508,
    shank: 3.175,
    flutes: 1,
    fluteLength: 7.4,
  }),
  bit({ kind: 'drag', id: 'drag', name: 'drag diamond, 90°', diameter: 6.35, lineWidth: 0.5, flutes: 1 }),
  bit({ kind: 'surfacing', id: 'surf25', name: 'surfacing bit, 25 mm', diameter: 25, fluteLength: 10, flutes: 3 }),
  bit({ kind: 'end', id: 'comp6', name: 'compression bit, 6.35 mm', diameter: 6.35, spiral: 'compression', upLength: 5 }),
];

/** One of the usual bits, as a bit of a job. */
export const bitOf = (id: string): Bit => ({ ...USUAL.find((one) => one.id === id)!, crib: id });

export const SHOP_BITS: Record<string, Bit> = Object.fromEntries(USUAL.slice(0, 5).map(({ id }) => [id, bitOf(id)]));

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
