/** Cuts, findings and determinism, from the job document on. */
import { wordsOf } from '../findings/index.ts';
import { describe, expect, it } from 'vitest';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { readJob, jobSchema, type JobInput } from '../job/index.ts';
import { insideContour, offset } from '../geometry/index.ts';
import { planJob, writePrograms } from './index.ts';

const plan = (change: Partial<JobInput> = {}) => planJob(makeJob(change), { fonts: fontOf });
const codes = async (change: Partial<JobInput> = {}) => (await plan(change)).findings.map(({ code }) => code);
const base = makeJob();
const carve = (change: object) => ({ cuts: { ...base.cuts, carve: { ...base.cuts.carve, ...change } } }) as Partial<JobInput>;
const out = (change: object) => ({ cuts: { ...base.cuts, out: { ...base.cuts.out, ...change } } }) as Partial<JobInput>;
const words = (change: object) => ({ items: { ...base.items, words: { ...base.items.words, ...change } } }) as Partial<JobInput>;

describe('profile', () => {
  it('runs half the cutting width outside the line, climb clockwise, conventional counter-clockwise', async () => {
    for (const [direction, sign] of [
      ['climb', -1],
      ['conventional', 1],
    ] as const) {
      const planned = await plan(out({ direction, tabs: 0, depth: 2 }));
      const { path } = planned.cuts[1];
      let area = 0;
      for (let i = 1; i < path.kind.length; i++) if (path.kind[i] === 1) area += path.x[i - 1] * path.y[i] - path.x[i] * path.y[i - 1];
      expect(Math.sign(area)).toBe(sign);
      const { box } = planned.cuts[1].facts;
      expect(box.minX).toBeCloseTo(10 - 3.175, 3);
      expect(box.maxY).toBeCloseTo(70 + 3.175, 3);
    }
  });
  it('uses the measured width of a bit', async () => {
    const bits = { ...base.tools, end6: { ...base.tools.end6, measuredWidth: 6.6 } };
    expect((await plan({ tools: bits })).cuts[1].facts.box.minX).toBeCloseTo(10 - 3.3, 3);
  });
  it('goes down in equal passes no deeper than asked, through the board by the allowance', async () => {
    const planned = await plan(out({ depthPerPass: 4 }));
    const depths = new Set([...planned.cuts[1].path.z].filter((z) => z < 0).map((z) => z.toFixed(3)));
    expect(planned.cuts[1].facts.deepest).toBeCloseTo(18.3, 9);
    expect(planned.cuts[1].path.spans.map(({ label }) => label)).toEqual(['pass 1 of 5', 'pass 2 of 5', 'pass 3 of 5', 'pass 4 of 5', 'pass 5 of 5']);
    expect([...depths]).toContain((-18.3 / 5).toFixed(3));
  });
  it('leaves tabs of the asked width and height, on straight runs', async () => {
    const planned = await plan(out({ tabs: 4, tabWidth: 6, tabHeight: 2 }));
    const { path, tabs } = planned.cuts[1];
    expect(tabs).toEqual([4]);
    const top = -(18 - 2);
    let spans = 0;
    for (let i = 1; i < path.kind.length; i++)
      if (Math.abs(path.z[i] - top) < 1e-9 && Math.abs(path.z[i - 1] - top) < 1e-9) {
        // Width of wood left: the way at tab height less the bit.
        expect(Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]) - 6.35).toBeCloseTo(6, 6);
        spans++;
      }
    // Every pass that goes below the top of the tabs leaves them.
    expect(spans).toBe(4);
  });
  it('never cuts into the part', async () => {
    const planned = await plan();
    const part = offset(planned.items[1].regions, -0.001)[0].outer.xy;
    const { path } = planned.cuts[1];
    for (let i = 0; i < path.kind.length; i++) if (path.z[i] < 0) expect(insideContour(part, path.x[i], path.y[i])).toBe(false);
  });
});

describe('V-carve', () => {
  it('every tip lies at the depth where the cone touches the drawing, and every corner at the surface', async () => {
    const { cuts } = await plan();
    expect(cuts[0].facts.deepest).toBeCloseTo(cuts[0].widest! / Math.tan(Math.PI / 6), 9);
    expect(cuts[0].facts.deepest).toBeLessThan(11);
  });
  it('starts lower when asked', async () => {
    const [a, b] = [await plan(), await plan(carve({ startDepth: 1.5 }))];
    expect(b.cuts[0].facts.deepest - a.cuts[0].facts.deepest).toBeCloseTo(1.5, 9);
  });
  it('travels only at clearance', async () => {
    const { cuts } = await plan();
    for (const { path } of cuts)
      for (let i = 1; i < path.kind.length; i++)
        if (path.kind[i] === 0 && (path.x[i] !== path.x[i - 1] || path.y[i] !== path.y[i - 1])) {
          expect(path.z[i]).toBe(5);
          expect(path.z[i - 1]).toBe(5);
        }
  });
  // Common practice: shop-floor ratio of a flat-bottom star, 240 s at 2 % floor step-over, 45 s at 10 %.
  it('a finer floor step-over costs time in proportion', async () => {
    const star = Array.from({ length: 10 }, (_, i) => {
      const r = i % 2 ? 18 : 45;
      const a = (Math.PI * i) / 5 + Math.PI / 2;
      return `${i ? 'L' : 'M'}${(50 + r * Math.cos(a)).toFixed(4)} ${(50 + r * Math.sin(a)).toFixed(4)}`;
    }).join('');
    const seconds = async (stepover: number) =>
      (
        await plan({
          board: { width: 100, height: 100, thickness: 18 },
          items: { star: { kind: 'path', id: 'star', x: 0, y: 0, d: `${star}Z` } },
          itemOrder: ['star'],
          outline: null,
          cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'art', tool: 'v60', floorDepth: 4, stepover, feed: 1524, plunge: 762 } },
          cutOrder: ['carve'],
        })
      ).cuts[0].seconds;
    const ratio = (await seconds(0.02 * 12.7)) / (await seconds(0.1 * 12.7));
    expect(ratio).toBeGreaterThan(3.5);
    expect(ratio).toBeLessThan(6);
  });
});

describe('findings: each has a job that triggers it, and a near miss that does not', () => {
  const CASES: [string, Partial<JobInput>, Partial<JobInput>][] = [
    ['deeper-than-board', { board: { width: 200, height: 80, thickness: 4 }, ...out({ tabHeight: 0.5 }) }, { board: { width: 200, height: 80, thickness: 9 } }],
    ['bit-too-short', out({ depth: 26 }), out({ depth: 18 })],
    ['bit-too-narrow', words({ capHeight: 78, text: 'R' }), words({ capHeight: 25, text: 'R' })],
    ['art-off-board', words({ x: 175 }), words({ x: 120 })],
    ['outside-usable', { machine: { usable: { x: 0, y: 0, width: 150, height: 150 } } }, { machine: { usable: { x: 0, y: 0, width: 190, height: 150 } } }],
    ['board-too-large', { machine: { usable: { x: 0, y: 0, width: 199, height: 150 } } }, { machine: { usable: { x: 0, y: 0, width: 200, height: 150 } } }],
    ['feed-over-limit', carve({ feed: 12_000 }), carve({ feed: 10_000 })],
    ['spindle-over-limit', carve({ speed: 25_000 }), carve({ speed: 24_000 })],
    ['part-freed', out({ tabs: 0 }), { ...out({ tabs: 0 }), board: { width: 200, height: 80, thickness: 18, holdDown: 'tape' } }],
    ['tabs-few', { ...out({ tabs: 4, tabWidth: 200 }) }, out({ tabs: 3 })],
    ['through-into-bed', out({ throughAllowance: 4 }), out({ throughAllowance: 1 })],
    ['pass-deep', out({ depthPerPass: 8 }), out({ depthPerPass: 6 })],
    ['text-empty', words({ text: '  ' }), {}],
    ['text-missing', words({ text: 'Ж' }), words({ text: 'é' })],
    ['text-face', words({ face: 'nowhere' }), {}],
    ['cut-wrong-bit', carve({ tool: 'end6' }), {}],
    ['job-no-cuts', { cuts: {}, cutOrder: [] }, {}],
    ['cut-empty', carve({ on: [] }), {}],
    ['order-freed-first', { cutOrder: ['out', 'carve'] }, {}],
    [
      'board-uneven',
      { board: { width: 200, height: 80, thickness: 18, measured: [18, 18, 18, 15] } },
      { board: { width: 200, height: 80, thickness: 18, measured: [18, 18, 18, 17.9] } },
    ],
    ['stroke-narrower-than-tip', { tools: { ...base.tools, v60: { ...base.tools.v60, tipFlat: 2 } } as JobInput['tools'] }, {}],
    ['bit-does-not-fit', { ...out({ side: 'inside', depth: 2, on: ['words'] }) }, {}],
    [
      'art-unreadable',
      { items: { ...base.items, bad: { kind: 'path', id: 'bad', x: 0, y: 0, d: 'M 0 0 L x' } } as JobInput['items'], itemOrder: ['words', 'edge', 'bad'] },
      {},
    ],
  ];
  it.each(CASES)('%s', async (code, trigger, miss) => {
    const found = (await plan(trigger)).findings;
    expect(found.map((f) => f.code)).toContain(code);
    const { what, why, remedy } = wordsOf(
      found.find((f) => f.code === code)!,
      'mm',
    );
    for (const text of [what, why, remedy]) expect(text).toMatch(/^[A-Z“].*[.]$/s);
    expect(await codes(miss)).not.toContain(code);
  });
  it('a sound job has none', async () => expect(await codes()).toEqual([]));
});

describe('the document', () => {
  it('names what is wrong by its place', () => {
    const bad = (data: unknown) => {
      const reading = readJob(data);
      return reading.ok ? [] : reading.why;
    };
    expect(bad(null).join()).toMatch(/job:/);
    expect(bad({ ...base, kerbe: 9 })[0]).toMatch(/newer Kerbe/);
    expect(bad({ ...base, board: { ...base.board, width: NaN } })[0]).toMatch(/^board\.width/);
    expect(bad({ ...base, board: { ...base.board, width: -1 } })[0]).toMatch(/^board\.width/);
    expect(bad({ ...base, cutOrder: ['carve', 'out', 'ghost'] })[0]).toMatch(/“ghost”/);
    expect(bad({ ...base, cuts: { ...base.cuts, carve: { ...base.cuts.carve, tool: 'ghost' } } })[0]).toMatch(/bit “ghost”/);
    expect(bad({ ...base, outline: 'ghost' })[0]).toMatch(/outline “ghost”/);
    expect(bad({ ...base, wings: 2 })[0]).toMatch(/wings/);
  });
  it('reads back what it wrote', () => expect(readJob(JSON.parse(JSON.stringify(base)))).toEqual({ ok: true, job: base }));
  it('has a schema for other programs', () =>
    expect(jobSchema()).toMatchObject({ type: 'object', required: expect.arrayContaining(['kerbe', 'board', 'items']) }));
});

it('the same job gives the same bytes', async () => {
  const write = async () => writePrograms(makeJob(), await plan(), '2026-01-01');
  expect(await write()).toEqual(await write());
});

it('can be cancelled between steps', async () => {
  const control = new AbortController();
  const work = planJob(base, { fonts: fontOf, signal: control.signal, onProgress: (_what, done) => void (done > 0.3 && control.abort()) });
  await expect(work).rejects.toThrow();
});
