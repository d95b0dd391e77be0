/** What is drawn against what is cut: the order of the artwork, what no cut works on, an outline that is deleted, a board of another size. */
import { wordsOf } from '../findings/index.ts';
import { describe, expect, it } from 'vitest';
import { applyEdit, changedJob } from '../artwork/edit.ts';
import { resizedBoard } from '../artwork/board.ts';
import { differenceOf } from '../proof/difference.ts';
import { carvePlan, HeightMap } from '../proof/index.ts';
import { readJob, type CutKind, type Job, type JobInput } from '../job/index.ts';
import { takeLeftOut } from '../job/target.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { rapidFaults } from '../reference/rapids.ts';
import { FEED, RAPID, type Toolpath } from '../toolpath/index.ts';
import { judgeProgram, readProgram } from '../program/index.ts';
import { planJob, releasePrograms, writePrograms, type Plan } from './index.ts';

const BITS = {
  v: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 },
  e: { kind: 'end', id: 'e', diameter: 3 },
  d: { kind: 'drag', id: 'd', diameter: 6, lineWidth: 0.4 },
} as NonNullable<JobInput['tools']>;
const jobOf = (more: Partial<JobInput>): Job => {
  const reading = readJob({ ...JSON.parse(JSON.stringify(makeJob())), outline: null, tools: BITS, ...more });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
};
/** Nine squares in rows of three; of every third a hole is left out. */
const squares = Array.from({ length: 9 }, (_, k) => ({
  kind: 'rectangle' as const,
  id: `s${k}`,
  x: 30 + 40 * (k % 3),
  y: 15 + 24 * Math.floor(k / 3),
  width: 12,
  height: 12,
}));
const items = Object.fromEntries(squares.map((one) => [one.id, one]));
const plan = (job: Job) => planJob(job, { fonts: fontOf });

describe('the order of the artwork', () => {
  const kinds: [CutKind, object][] = [
    ['vcarve', { tool: 'v' }],
    ['engrave', { tool: 'v', way: 'lines', depth: 0.5 }],
    ['drag', { tool: 'd' }],
    ['profile', { tool: 'e', side: 'inside', depth: 2 }],
    ['profile', { tool: 'e', side: 'outside', depth: 2 }],
    ['pocket', { tool: 'e', depth: 4, depthPerPass: 2 }],
    ['chamfer', { tool: 'v', part: 'outside', width: 1 }],
  ];
  const ORDERS = [
    [0, 1, 2, 3, 4, 5, 6, 7, 8],
    [8, 0, 7, 1, 6, 2, 5, 3, 4],
    [4, 8, 0, 2, 6, 1, 3, 5, 7],
  ];
  it.each(kinds)('reaches %s %o: thing by thing as they are listed, the same cut, and the shortest way when that is asked', async (kind, more) => {
    const cut = { kind, id: 'c', on: 'art', ...more } as never;
    const planned = async (order: number[], how: 'drawn' | 'shortest') => {
      const { cuts } = await plan(
        jobOf({ items, itemOrder: order.map((k) => `s${k}`), cuts: { c: { ...(cut as object), order: how } } as never, cutOrder: ['c'] }),
      );
      return cuts[0];
    };
    const short = (await planned(ORDERS[0], 'shortest')).facts;
    for (const order of ORDERS) {
      const { path, facts } = await planned(order, 'drawn');
      // Which square the bit is at, every time it has come down.
      const visited: number[] = [];
      for (let i = 1; i < path.kind.length; i++) {
        if (path.kind[i] !== FEED || path.z[i] >= 0 || path.z[i - 1] < 0) continue;
        const k = squares.reduce(
          (best, { x, y }, at) => (Math.hypot(x - path.x[i], y - path.y[i]) < Math.hypot(squares[best].x - path.x[i], squares[best].y - path.y[i]) ? at : best),
          0,
        );
        if (visited.at(-1) !== k) visited.push(k);
      }
      expect(visited).toEqual(order);
      // It is the same cut otherwise: as much wood, as deep, and every move safe.
      expect(facts.cutting).toBeGreaterThan(0.98 * short.cutting);
      expect(facts.cutting).toBeLessThan(1.02 * short.cutting);
      expect(facts.deepest).toBeCloseTo(short.deepest, 9);
      expect(rapidFaults(path, 5, 2)).toEqual([]);
      expect(path.spans.every((span, i) => span.start >= (path.spans[i - 1]?.end ?? 0) && span.end > span.start)).toBe(true);
    }
  });
  it('never frees a part before what is cut out of it, whatever the order says', async () => {
    const plate = { kind: 'rectangle' as const, id: 'plate', x: 100, y: 40, width: 120, height: 60 };
    const hole = { kind: 'rectangle' as const, id: 'hole', x: 100, y: 40, width: 20, height: 20 };
    const { cuts } = await plan(
      jobOf({
        items: { plate, hole },
        itemOrder: ['plate', 'hole'],
        cuts: { c: { kind: 'profile', id: 'c', on: 'art', tool: 'e', side: 'auto', tabs: 0, order: 'drawn' } } as never,
        cutOrder: ['c'],
      }),
    );
    const { path } = cuts[0];
    const first = path.kind.findIndex((kind) => kind !== RAPID);
    expect(Math.hypot(path.x[first] - 100, path.y[first] - 40)).toBeLessThan(20);
  });
  it('is taken up when things are put in order by hand', () => {
    const job = jobOf({
      items,
      itemOrder: squares.map(({ id }) => id),
      cuts: { c: { kind: 'vcarve', id: 'c', on: 'art', tool: 'v' }, own: { kind: 'vcarve', id: 'own', on: 'art', tool: 'v', order: 'rows' } } as never,
      cutOrder: ['c', 'own'],
    });
    expect(job.cuts.c.order).toBe('shortest');
    const change = applyEdit(job, { do: 'order', ids: ['s4'], how: 'first' }, { fonts: fontOf, tolerance: 0.005, items: job.items } as never);
    expect(changedJob(job, change)).toMatchObject({ cuts: { c: { order: 'drawn' }, own: { order: 'rows' } } });
    expect(changedJob(job, { items: {} }).cuts).toBe(job.cuts);
  });
});

describe('an order of a cut’s own', () => {
  /** Three rows of three, their things listed at random; what is wanted is reckoned from the places alone. */
  const listed = [4, 8, 0, 2, 6, 1, 3, 5, 7].map((k) => `s${k}`);
  const kinds: [CutKind, object][] = [
    ['vcarve', { tool: 'v' }],
    ['vcarve', { tool: 'v', floorDepth: 1, depthPerPass: 0.6 }],
    ['engrave', { tool: 'v', way: 'lines', depth: 0.5 }],
    ['engrave', { tool: 'v', way: 'fill', depth: 0.5 }],
    ['drag', { tool: 'd' }],
    ['profile', { tool: 'e', side: 'outside', depth: 2, lead: 'arc' }],
    ['pocket', { tool: 'e', depth: 4, depthPerPass: 2 }],
    ['chamfer', { tool: 'v', part: 'outside', width: 1 }],
  ];
  const at = (id: string) => items[id] as { x: number; y: number };
  const WANTED: [string, object, (a: string, b: string) => number][] = [
    ['across', {}, (a, b) => at(a).x - at(b).x],
    ['rows', {}, (a, b) => at(b).y - at(a).y || at(a).x - at(b).x],
    ['hand', { sequence: ['s7', 's2', 's5'] }, (a, b) => place(a) - place(b)],
  ];
  /** Where it stands in the order by hand. */
  const place = (id: string) => (['s7', 's2', 's5'].includes(id) ? ['s7', 's2', 's5'].indexOf(id) : 3 + listed.indexOf(id));
  /** Which square the bit is at, every time it has come down. */
  function visited({ kind, x, y, z }: Toolpath): string[] {
    const out: string[] = [];
    for (let i = 1; i < kind.length; i++) {
      if (kind[i] !== FEED || z[i] >= 0 || z[i - 1] < 0) continue;
      const [nearest] = [...squares].sort((a, b) => Math.hypot(a.x - x[i], a.y - y[i]) - Math.hypot(b.x - x[i], b.y - y[i]));
      if (out.at(-1) !== nearest.id) out.push(nearest.id);
    }
    return out;
  }
  describe.each(WANTED)('%s', (order, more, compare) => {
    it.each(kinds)('%s %o', async (kind, figures) => {
      const cut = { kind, id: 'c', on: 'art', ...figures, order, ...more };
      const { cuts } = await plan(jobOf({ items, itemOrder: listed, cuts: { c: cut } as never, cutOrder: ['c'] }));
      const { path } = cuts[0];
      const came = visited(path);
      expect([...came].sort()).toEqual([...listed].sort());
      for (let i = 1; i < came.length; i++) expect(compare(came[i - 1], came[i]), came.join(' ')).toBeLessThanOrEqual(0);
      expect(rapidFaults(path, 5, 2)).toEqual([]);
    });
  });
  it('drilled holes at typed places stand in their order too', async () => {
    const points = [
      [80, 20],
      [20, 20],
      [50, 60],
      [10, 60],
    ];
    const holes = async (order: string) => {
      const cut = { kind: 'drill', id: 'c', on: 'holes', tool: 'h', points, order };
      const { path } = (
        await plan(
          jobOf({
            items: {},
            itemOrder: [],
            tools: { h: { kind: 'drill', id: 'h', diameter: 4, fluteLength: 40 } } as never,
            cuts: { c: cut } as never,
            cutOrder: ['c'],
          }),
        )
      ).cuts[0];
      const out: number[][] = [];
      for (let i = 0; i < path.kind.length; i++)
        if (path.kind[i] === FEED && path.z[i] < -1 && out.at(-1)?.join() !== [path.x[i], path.y[i]].join()) out.push([path.x[i], path.y[i]]);
      return out;
    };
    expect(await holes('across')).toEqual([points[3], points[1], points[2], points[0]]);
    expect(await holes('rows')).toEqual([points[3], points[2], points[1], points[0]]);
  });
  it('inner shapes before what they lie in, whatever the kind; words letter by letter from the left', async () => {
    const ring = (id: string, size: number) => ({ kind: 'rectangle' as const, id, x: 100, y: 40, width: size, height: size });
    const nested = { big: ring('big', 60), small: ring('small', 10), middle: ring('middle', 30) };
    const { cuts } = await plan(
      jobOf({
        items: nested,
        itemOrder: Object.keys(nested),
        cuts: { c: { kind: 'engrave', id: 'c', on: 'art', tool: 'v', way: 'lines', depth: 0.5, order: 'inside-out' } } as never,
        cutOrder: ['c'],
      }),
    );
    expect(cuts[0].path.spans.map(({ item }) => item)).toEqual(['small', 'middle', 'big']);
    const words = { kind: 'text' as const, id: 'w', text: 'iBi Heron', face: 'cinzel', capHeight: 12, x: 100, y: 40 };
    const said = await plan(
      jobOf({
        items: { w: words } as never,
        itemOrder: ['w'],
        cuts: { c: { kind: 'vcarve', id: 'c', on: 'art', tool: 'v', order: 'across' } } as never,
        cutOrder: ['c'],
      }),
    );
    const letters = said.cuts[0].path.spans.map(({ part }) => part!);
    expect(letters).toEqual([...letters].sort((a, b) => a - b));
    expect(new Set(letters).size).toBe(8);
  });
});

describe('a cut that is switched off', () => {
  const v = { kind: 'vcarve', id: 'v', on: 'art', tool: 'v', floorDepth: 1 };
  const clear = { kind: 'pocket', id: 'clear', on: 'art', tool: 'e', floorOf: 'v', depth: 1 };
  const edge = { kind: 'profile', id: 'edge', on: 'art', tool: 'e', depth: 2 };
  const job = (change: Record<string, object>) =>
    jobOf({
      items,
      itemOrder: squares.map(({ id }) => id),
      cuts: { clear: { ...clear, ...change.clear }, v: { ...v, ...change.v }, edge: { ...edge, ...change.edge } } as never,
      cutOrder: ['clear', 'v', 'edge'],
    });
  const offOf = ({ findings }: Plan) => findings.filter(({ code }) => code === 'cuts-off').map((found) => wordsOf(found, 'mm').what);
  it('is in no program and takes no time, and that is said', async () => {
    const all = await plan(job({}));
    const less = await plan(job({ edge: { off: true } }));
    expect(offOf(all)).toEqual([]);
    expect(less.cuts.map(({ cut }) => cut.id)).toEqual(['clear', 'v']);
    expect(less.time.running).toBeLessThan(all.time.running);
    expect(offOf(less)).toEqual(['A cut is switched off: the profile.']);
    const { files, findings } = releasePrograms(job({ edge: { off: true } }), less, '2026-01-31');
    expect(findings).toEqual([]);
    expect(files.map(({ text }) => text).join()).not.toContain('- profile');
  });
  it('takes what only serves it along, and not the other way round', async () => {
    expect((await plan(job({ v: { off: true } }))).cuts.map(({ cut }) => cut.id)).toEqual(['edge']);
    expect((await plan(job({ clear: { off: true } }))).cuts.map(({ cut }) => cut.id)).toEqual(['v', 'edge']);
  });
  it('all of them off is a job without a cut', async () => {
    const { cuts, findings } = await plan(job({ v: { off: true }, edge: { off: true } }));
    expect(cuts).toEqual([]);
    expect(findings.map(({ code }) => code)).toEqual(expect.arrayContaining(['job-no-cuts', 'cuts-off']));
  });
});

describe('rapidly down to just above what was cut', () => {
  it('in a pocket of several passes, a stepped hole and a drilled one: shorter, and never into wood, read back from the program', async () => {
    const hole = { kind: 'ellipse' as const, id: 'hole', x: 150, y: 60, width: 5, height: 5 };
    const cuts = {
      p: { kind: 'pocket', id: 'p', on: ['s0', 's1'], tool: 'e', depth: 8, depthPerPass: 2, entry: 'straight' },
      d: { kind: 'drill', id: 'd', on: ['hole'], tool: 't', depth: 10 },
    } as never;
    const bits = { ...BITS, t: { kind: 'drill', id: 't', diameter: 5, fluteLength: 40 } } as never;
    const made = async (approach: number) => {
      const job = jobOf({
        items: { s0: items.s0, s1: items.s1, hole },
        itemOrder: ['s0', 's1', 'hole'],
        tools: bits,
        cuts,
        cutOrder: ['d', 'p'],
        program: { approach } as never,
      });
      const planned = await plan(job);
      for (const { path } of planned.cuts) expect(rapidFaults(path, 5, Math.min(approach, 1))).toEqual([]);
      // The second pass of a pocket comes down rapidly into what the first one cut.
      const { path } = planned.cuts[1];
      expect([...path.z].filter((z, i) => i > 0 && path.kind[i] === RAPID && z < path.z[i - 1] && z < 0)).toHaveLength(2 * 3);
      const [file] = writePrograms(job, planned, '2026-01-01', 'pauses');
      expect(judgeProgram(readProgram(file.text))).toEqual([]);
      return planned.time.atMachine;
    };
    expect(await made(2)).toBeLessThan(await made(5));
  });
});

describe('everything drawn is cut by something, or is a guide', () => {
  const line = { kind: 'line' as const, id: 'l', x: 20, y: 70, length: 60 };
  const single = { kind: 'text' as const, id: 't', x: 100, y: 60, text: 'No 7', face: 'single-line', capHeight: 10 };
  const found = async (more: Partial<JobInput>) => (await plan(jobOf(more))).findings.filter(({ code }) => code === 'not-cut');
  const pocket = { p: { kind: 'pocket', id: 'p', on: 'art', tool: 'e', depth: 2 } } as never;
  it('says what no cut works on, by its name, and offers to make it a guide', async () => {
    const all = { s0: items.s0, s1: { ...items.s1, name: 'Badge' } };
    const only = { p: { kind: 'pocket', id: 'p', on: ['s0'], tool: 'e', depth: 2 } } as never;
    const [one, ...rest] = await found({ items: all, itemOrder: ['s0', 's1'], cuts: only, cutOrder: ['p'] });
    expect(rest).toEqual([]);
    expect(wordsOf(one, 'mm').what).toBe('Drawn, and no cut works on it: “Badge”.');
    expect(one).toMatchObject({ severity: 'warning', repair: { items: ['s1'], guide: true } });
    expect(await found({ items: { ...all, s1: { ...items.s1, guide: true } }, itemOrder: ['s0', 's1'], cuts: only, cutOrder: ['p'] })).toEqual([]);
    expect(await found({ items: all, itemOrder: ['s0', 's1'], cuts: pocket, cutOrder: ['p'] })).toEqual([]);
  });
  it('says lines and single-line words that only cuts of shapes work on', async () => {
    const [one] = await found({ items: { l: line, t: single, s0: items.s0 }, itemOrder: ['l', 't', 's0'], cuts: pocket, cutOrder: ['p'] });
    expect(wordsOf(one, 'mm').what).toBe('Drawn, and no cut works on it: a line, “No 7”.');
    const engrave = { g: { kind: 'engrave', id: 'g', on: 'art', tool: 'v', way: 'lines', depth: 0.5 } } as never;
    expect(await found({ items: { l: line, t: single, s0: items.s0 }, itemOrder: ['l', 't', 's0'], cuts: engrave, cutOrder: ['g'] })).toEqual([]);
  });
  it('a guide is cut by nothing, whatever a cut works on', async () => {
    const { cuts } = await plan(jobOf({ items: { s0: items.s0, s1: { ...items.s1, guide: true } }, itemOrder: ['s0', 's1'], cuts: pocket, cutOrder: ['p'] }));
    expect(cuts[0].facts.box.maxX).toBeLessThan(40);
  });
  it('what is left out of a run is cut in the next: no cut works on it, nothing misses it, and both runs together are the whole', async () => {
    const job = jobOf({ items: { s0: items.s0, s1: items.s1 }, itemOrder: ['s0', 's1'], cuts: pocket, cutOrder: ['p'] });
    const box = async (now: Job) => (await plan(now)).cuts[0].facts.box;
    const whole = await box(job);
    const first = structuredClone(job);
    first.items.s1.later = true;
    const { findings } = await plan(first);
    expect(findings.map(({ code }) => code).filter((code) => code === 'not-cut' || code === 'left-out')).toEqual(['left-out']);
    const second = structuredClone(first);
    takeLeftOut(second);
    expect([second.items.s0.later, second.items.s1.later]).toEqual([true, undefined]);
    const [a, b] = [await box(first), await box(second)];
    expect(a.maxX).toBeLessThan(b.minX);
    expect({ ...whole, minX: a.minX, maxX: b.maxX }).toEqual(whole);
    // Once more, and it is the first run again; a guide and what is hidden never take part.
    takeLeftOut(second);
    expect(second.items).toEqual(first.items);
    const still = structuredClone(job);
    still.items.s0.guide = true;
    still.items.s1.hidden = true;
    takeLeftOut(still);
    expect([still.items.s0.later, still.items.s1.later]).toEqual([undefined, undefined]);
  });
  it('engraving that fills shapes follows the lines beside them, as deep as the shapes', async () => {
    const fill = { g: { kind: 'engrave', id: 'g', on: 'art', tool: 'v', way: 'fill', depth: 0.5 } } as never;
    const job = jobOf({ items: { l: line, t: single, s0: items.s0 }, itemOrder: ['l', 't', 's0'], cuts: fill, cutOrder: ['g'] });
    const { cuts, items: drawn, findings } = await plan(job);
    expect(findings.filter(({ code }) => code === 'not-cut')).toEqual([]);
    const { path } = cuts[0];
    const isOn = (i: number) => Math.abs(path.y[i] - 70) < 1e-6;
    const along = [...path.x].filter((_, i) => path.kind[i] === FEED && isOn(i) && path.z[i] <= -0.5 + 1e-9);
    expect([Math.min(...along), Math.max(...along)]).toEqual([20, 80]);
    /** Cells along the line that the comparison counts as left standing. */
    const leftOnLine = (z: Float64Array) => {
      const map = new HeightMap(job.board.width, job.board.height, 0.1);
      const made = [{ ...cuts[0], path: { ...path, z } }];
      const { by } = differenceOf(job, drawn, made, carvePlan(map, made));
      return by.reduce((sum, d, i) => sum + (d > 0 && Math.abs(Math.floor(i / map.columns) * map.cell - 70) < 0.3 ? 1 : 0), 0);
    };
    expect(leftOnLine(path.z)).toBe(0);
    // Not followed, it is left all along.
    expect(leftOnLine(path.z.map((z, i) => (isOn(i) ? 5 : z)))).toBeGreaterThan(2 * 590);
  });
});

describe('the outline of the sign', () => {
  it('deleted takes the cuts that were made for it along, and nothing else', () => {
    const job = makeJob();
    expect(job.outline).not.toBeNull();
    const made = Object.keys(job.cuts).filter((id) => job.cuts[id].on === 'outline');
    expect(made).not.toEqual([]);
    const next = changedJob(job, { items: { [job.outline!]: null } });
    expect(next.outline).toBeNull();
    expect(next.cutOrder).toEqual(job.cutOrder.filter((id) => !made.includes(id)));
    expect(Object.keys(next.cuts).sort()).toEqual([...next.cutOrder].sort());
    const other = Object.keys(job.items).find((id) => id !== job.outline)!;
    expect(changedJob(job, { items: { [other]: null } }).cutOrder).toEqual(job.cutOrder);
  });
});

describe('a board of another size', () => {
  const sign = jobOf({
    board: { width: 400, height: 150, thickness: 18 },
    items: {
      words: { kind: 'text', id: 'words', x: 200, y: 75, text: '', face: 'cinzel', capHeight: 38 },
      edge: { kind: 'rectangle', id: 'edge', x: 200, y: 75, width: 370, height: 120 },
    },
    itemOrder: ['words', 'edge'],
    outline: 'edge',
    cuts: {},
    cutOrder: [],
  });
  it('of a new sign: words and outline go with it, the margins stay', () =>
    expect(resizedBoard(sign, { width: 300, height: 200 })).toMatchObject({
      board: { width: 300, height: 200 },
      items: { words: { x: 150, y: 100 }, edge: { x: 150, y: 100, width: 270, height: 170 } },
    }));
  it('of a sign that is drawn: it stays about the middle and keeps its size, unless it would not fit', () => {
    const typed = { ...sign, items: { ...sign.items, words: { ...sign.items.words, text: 'Reed' } as never } };
    expect(resizedBoard(typed, { width: 398 }).items.edge).toMatchObject({ x: 199, width: 370 });
    expect(resizedBoard(typed, { width: 600 }).items.edge).toMatchObject({ x: 300, width: 370 });
    expect(resizedBoard(typed, { width: 350 }).items.edge).toMatchObject({ x: 175, width: 320 });
  });
  it('and what reaches beyond it is found by the artwork check, not only by the proof', async () => {
    const { findings } = await plan(jobOf({ items: { s0: { ...items.s0, x: 2 } }, itemOrder: ['s0'], cuts: {}, cutOrder: [] }));
    expect(findings.filter(({ code }) => code === 'art-off-board')).toHaveLength(1);
  });
});
