/** The crib: the shop's bits, and the hours each has cut. */
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

/**
 * Seconds every bit of the crib was run: as the agent counted them, and for runs from before it did,
 * shared out among the bits of the program as the release planned it.
 */
async function secondsByBit(): Promise<Map<string, number>> {
  const runs = await db()
    .selectFrom('run')
    .innerJoin('release', 'release.id', 'run.release_id')
    .innerJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'release.job_id').onRef('job_revision.revision', '=', 'release.revision'))
    .select(['run.program', 'run.actual_seconds', 'run.bit_seconds', 'release.programs', 'release.report', 'job_revision.doc'])
    .where('run.actual_seconds', '>', 0)
    .execute();
  const out = new Map<string, number>();
  for (const { program, actual_seconds, bit_seconds, programs, report, doc } of runs) {
    const counted = Object.entries(bit_seconds);
    for (const [id, seconds] of counted) {
      const crib = doc.bits[id]?.crib;
      if (crib) out.set(crib, (out.get(crib) ?? 0) + seconds);
    }
    if (counted.length > 0) continue;
    const used = new Set(programs.find(({ name }) => name === program)?.bits ?? []);
    const cuts = report.cuts.filter(({ id }) => doc.cuts[id] && used.has(doc.cuts[id].bit));
    const whole = cuts.reduce((sum, cut) => sum + cut.seconds, 0);
    for (const cut of cuts) {
      const id = doc.bits[doc.cuts[cut.id].bit]?.crib;
      if (id && whole > 0) out.set(id, (out.get(id) ?? 0) + (actual_seconds * cut.seconds) / whole);
    }
  }
  return out;
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
