/** The crib: the shop's bits, and the hours each has cut. */
import { Bit } from '@kerbe/core/job';
import { sql } from 'kysely';
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

/**
 * Seconds every bit of the crib was run, summed by the database: no program and no document is read
 * for it here. As the agent counted them; and for runs from before it did, shared out among the cuts
 * of the program as the release planned them.
 */
async function secondsByBit(): Promise<Map<string, number>> {
  const { rows } = await sql<{ crib: string; seconds: number }>`
    with counted as (
      select release.job_id, release.revision, one.key as bit, sum(one.value::double precision) as seconds
      from run join release on release.id = run.release_id, jsonb_each_text(run.bit_seconds) as one
      group by 1, 2, 3
    ), shared as (
      select release.job_id, release.revision, job_revision.doc -> 'cuts' -> (cut ->> 'id') ->> 'bit' as bit,
        run.actual_seconds * (cut ->> 'seconds')::double precision
          / nullif(sum((cut ->> 'seconds')::double precision) over (partition by run.id), 0) as seconds
      from run
      join release on release.id = run.release_id
      join job_revision on job_revision.job_id = release.job_id and job_revision.revision = release.revision
      cross join lateral jsonb_array_elements(release.report -> 'cuts') as cut
      where run.actual_seconds > 0 and run.bit_seconds = '{}'::jsonb
        and exists (
          select 1 from jsonb_array_elements(release.programs) as program
          where program ->> 'name' = run.program
            and program -> 'bits' ? (job_revision.doc -> 'cuts' -> (cut ->> 'id') ->> 'bit')
        )
    ), every_bit as (
      select job_id, revision, bit, sum(seconds) as seconds
      from (select * from counted union all select * from shared) as both_kinds
      group by 1, 2, 3
    )
    select job_revision.doc -> 'bits' -> every_bit.bit ->> 'crib' as crib, sum(every_bit.seconds) as seconds
    from every_bit
    join job_revision on job_revision.job_id = every_bit.job_id and job_revision.revision = every_bit.revision
    where every_bit.bit is not null
    group by 1
  `.execute(db());
  return new Map(rows.flatMap(({ crib: id, seconds }) => (id && seconds ? [[id, Number(seconds)]] : [])));
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
