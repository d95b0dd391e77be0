/** What the card asks of a cut, against what a cut is: nothing that cannot be asked, nothing asked that the job would refuse. */
import { describe, expect, it } from 'vitest';
import { Bit, Cut, readJob, type CutKind, type Job } from '../job/index.ts';
import { putAt, valueAt, type CardContext, type Field } from './card.ts';
import { bitsFor, kindNamed, KINDS, type BaseCut } from './index.ts';

const fieldsOf = (kind: string): readonly Field<BaseCut>[] => kindNamed(kind).fields;

const bits = [
  { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 },
  { kind: 'tapered', id: 'taper', angle: 11, diameter: 6 },
  { kind: 'engraving', id: 'grave', angle: 20, diameter: 3.175, tipFlat: 0.5 },
  { kind: 'end', id: 'end6', diameter: 6 },
  { kind: 'end', id: 'end3', diameter: 3 },
  { kind: 'ball', id: 'ball', diameter: 6 },
  { kind: 'drag', id: 'drag', diameter: 6, lineWidth: 0.4 },
  { kind: 'drill', id: 'drill', diameter: 5 },
  { kind: 'surfacing', id: 'plane', diameter: 25 },
  { kind: 'nozzle', id: 'nozzle' },
  { kind: 'head', id: 'head' },
].map((bit) => Bit.parse(bit));

function jobWith(cut: Cut): { ok: boolean; job: Job; why: string[] } {
  const reading = readJob({
    kerbe: 4,
    process: kindNamed(cut.kind).process,
    name: 'T',
    board: { width: 200, height: 100, thickness: 18 },
    items: { edge: { kind: 'rectangle', id: 'edge', x: 100, y: 50, width: 180, height: 80 } },
    itemOrder: ['edge'],
    outline: 'edge',
    tools: Object.fromEntries(bits.map((bit) => [bit.id, bit])),
    cuts: { [cut.id]: cut },
    cutOrder: [cut.id],
  });
  return reading.ok ? { ok: true, job: reading.job, why: [] } : { ok: false, job: null as never, why: reading.why };
}
const made = (kind: CutKind): Cut => {
  const [bit] = bitsFor(kind, Object.fromEntries(bits.map((one) => [one.id, one])));
  return Cut.parse({ kind, id: 'c', on: 'art', tool: bit.id, ...(kind === 'recess' || kind === 'plug' ? { mate: 'end3' } : {}) });
};
const contextOf = (cut: Cut): CardContext => {
  const { job } = jobWith(cut);
  return { job, bit: job.tools[cut.tool] };
};

/** Cuts of a kind in every state that opens more questions: each choice made, each length that may be empty given and left out. */
function states(kind: CutKind): Cut[] {
  let all = [made(kind), ...(kind === 'vcarve' ? [{ ...made(kind), plug: { margin: 12 } } as Cut] : [])];
  for (const field of fieldsOf(kind)) {
    if (field.as !== 'choice' && !(field.as === 'length' && field.empty)) continue;
    all = all.flatMap((cut) => (all.length > 64 ? [cut] : [cut, ...valuesOf(field, cut).map((value) => changed(cut, field, value))]));
  }
  return all;
}
function valuesOf(field: Field<BaseCut>, cut: Cut): unknown[] {
  if (field.as === 'flag') return [true, false];
  if (field.as === 'number') return [field.min, field.max];
  if (field.as === 'length') return [Math.max(field.min, 0.5), ...(field.empty ? [undefined] : [])];
  const { options } = field;
  const list = typeof options === 'function' ? options(cut, contextOf(cut)) : options;
  const number = typeof valueAt(cut, field.key) === 'number';
  return list.map(({ value }) => (value === '' ? undefined : number ? Number(value) : value));
}
function changed(cut: Cut, field: Field<BaseCut>, value: unknown): Cut {
  const draft = structuredClone(cut);
  putAt(draft, field, value);
  return draft;
}
const asked = (cut: Cut) => fieldsOf(cut.kind).filter((field) => field.when?.(cut, contextOf(cut)) ?? true);

/** Fields of a cut that are asked elsewhere on the card, or by hand on the board. */
const ELSEWHERE = [
  'id',
  'kind',
  'name',
  'on',
  'tool',
  'feed',
  'plunge',
  'speed',
  'tabsAt',
  'points',
  'startsAt',
  'floorOf',
  'plug',
  'hold',
  'order',
  'sequence',
  'off',
  'group',
];

describe.each(KINDS)('%s', (kind) => {
  it('has a title, and a bit that suits it', () => {
    expect(kindNamed(kind).title).toMatch(/^[A-Z]/);
    expect(kindNamed(kind).help).toMatch(/^[A-Z].*\.$/);
    expect(bitsFor(kind, Object.fromEntries(bits.map((bit) => [bit.id, bit]))).length).toBeGreaterThan(0);
  });
  it('every field it has is asked somewhere', () => {
    const schema = Cut.options.find(({ shape }) => shape.kind.value === kind)!;
    const here = fieldsOf(kind).map(({ key }) => key.split('.')[0]);
    // A V-carve is told what cleared its floor by the choice of that bit, above the fields.
    const above = kind === 'vcarve' ? ['after'] : [];
    expect(Object.keys(schema.shape).filter((key) => ![...ELSEWHERE, ...above, ...here].includes(key))).toEqual([]);
  });
  it('takes every answer that can be given: each is a job that reads back with that answer in it', () => {
    for (const cut of states(kind))
      for (const field of asked(cut))
        for (const value of valuesOf(field, cut)) {
          const { ok, job, why } = jobWith(changed(cut, field, value));
          expect(ok, `${field.label}: ${String(value)}: ${why.join()}`).toBe(true);
          if (value !== undefined) expect(valueAt(job.cuts.c, field.key)).toEqual(value);
        }
  });
  it('a length that has to be something is refused below nothing by the job too', () => {
    const cut = made(kind);
    for (const field of asked(cut)) if (field.as === 'length' && field.min > 0) expect(jobWith(changed(cut, field, -1)).ok, field.label).toBe(false);
  });
  it('says what stands in an empty field, and hints without a slip, in every state', () => {
    for (const cut of states(kind))
      for (const field of asked(cut)) {
        const said = [field.hint?.(cut, contextOf(cut)), field.as === 'length' ? field.empty?.(cut, contextOf(cut)) : undefined];
        for (const words of said) if (words !== undefined) expect(words).not.toMatch(/NaN|undefined|Infinity|^\s*$/);
      }
  });
  it('asks each thing once, and no two alike', () => {
    for (const cut of states(kind)) {
      const labels = asked(cut).map(({ label }) => label);
      expect(new Set(labels).size).toBe(labels.length);
    }
  });
});

describe('what is asked only sometimes', () => {
  const labels = (cut: Cut) => asked(cut).map(({ key }) => key);
  const profile = made('profile') as Extract<Cut, { kind: 'profile' }>;
  it('through cuts ask how far into the spoilboard, others do not', () => {
    expect(labels(profile)).toContain('throughAllowance');
    expect(labels({ ...profile, depth: 3 })).not.toContain('throughAllowance');
    expect(labels({ ...profile, skin: 0.5 })).not.toContain('throughAllowance');
  });
  it('on the line there is no wall: no lead, no allowance, no corners', () => {
    const on = labels({ ...profile, side: 'on' });
    for (const key of ['lead', 'allowance', 'outsideCorners', 'insideCorners']) expect(on).not.toContain(key);
  });
  it('tabs put by hand, or by distance, are not counted', () => {
    expect(labels({ ...profile, tabEvery: 80 })).not.toContain('tabs');
    expect(labels({ ...profile, tabsAt: [{ item: 'edge', u: 0.5, v: 0 }] })).not.toContain('tabs');
  });
  it('a spring has no protrusion, a cone no preload; the change brings the figures of the other', () => {
    const cut = made('drag');
    expect(labels(cut)).toContain('hold.preload');
    const cone = changed(
      cut,
      fieldsOf('drag').find(({ key }) => key === 'hold.by')!,
      'cone',
    );
    expect(labels(cone)).toEqual(expect.arrayContaining(['hold.protrusion', 'hold.passes']));
    expect(labels(cone)).not.toContain('hold.preload');
    expect(valueAt(cone, 'hold')).toEqual({ by: 'cone', protrusion: 0.25, passes: 2 });
  });
});
