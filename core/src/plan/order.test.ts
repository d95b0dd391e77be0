/** Order of cuts, what is planned again, templates and pairs. */
import { wordsOf } from '../findings/index.ts';
import { describe, expect, it } from 'vitest';
import { ArtCache } from '../artwork/index.ts';
import { readJob, type Job, type JobInput } from '../job/index.ts';
import { pairJob } from '../job/pair.ts';
import { layTemplate, Template, templateOf } from '../job/template.ts';
import { fontOf, makeJob, mixedJob } from '../reference/fixtures.ts';
import { CutCache, orderFindings, planJob, usualOrder } from './index.ts';

const everything = (order?: string[]): Job =>
  mixedJob({
    cuts: {
      out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end6' },
      rest: { kind: 'pocket', id: 'rest', on: ['plate'], tool: 'end3', after: 'end6' },
      carve: { kind: 'vcarve', id: 'carve', on: ['words'], tool: 'v60' },
      window: { kind: 'profile', id: 'window', on: ['plate'], side: 'inside', tool: 'end6' },
      groove: { kind: 'engrave', id: 'groove', on: 'lines', tool: 'v60' },
      clear: { kind: 'pocket', id: 'clear', on: ['plate'], tool: 'end6' },
      drill: { kind: 'drill', id: 'drill', on: 'holes', tool: 'drill5' },
    },
    cutOrder: order ?? ['out', 'rest', 'carve', 'window', 'groove', 'clear', 'drill'],
  });

describe('the usual order (common practice)', () => {
  it('holes, then carving by bit with what clears first, then openings, the outline last', () => {
    const order = usualOrder(everything());
    expect(order[0]).toBe('drill');
    expect(order.slice(-2)).toEqual(['window', 'out']);
    expect(order.indexOf('clear')).toBeLessThan(order.indexOf('rest'));
    // Both cuts of the V bit follow each other.
    expect(Math.abs(order.indexOf('carve') - order.indexOf('groove'))).toBe(1);
    expect(orderFindings({ ...everything(), cutOrder: order })).toEqual([]);
  });
  it('is the same whatever order the cuts were added in', () => {
    const stages = (order: string[]) => usualOrder(everything(order)).map((id) => id);
    expect(stages(['drill', 'clear', 'rest', 'carve', 'groove', 'window', 'out']).at(-1)).toBe('out');
    expect(stages(['out', 'window', 'groove', 'carve', 'rest', 'clear', 'drill'])[0]).toBe('drill');
  });
  it.each([
    [['out', 'drill', 'clear', 'rest', 'carve', 'groove', 'window'], 'order-freed-first', /moves under the bit/],
    [['drill', 'window', 'clear', 'rest', 'carve', 'groove', 'out'], 'order-opened-first', /trembles/],
    [['clear', 'rest', 'carve', 'groove', 'drill', 'window', 'out'], 'order-drilled-late', /whole/],
    [['drill', 'rest', 'clear', 'carve', 'groove', 'window', 'out'], 'order-cleared-after', /break/],
    [['drill', 'carve', 'clear', 'groove', 'rest', 'window', 'out'], 'order-bit-changes', /minutes/],
  ])('%j broken by hand: %s, with why it matters and a way back', (order, code, why) => {
    const found = orderFindings(everything(order)).find((one) => one.code === code);
    expect(wordsOf(found!, 'mm').why).toMatch(why);
    expect(found?.repair?.order).toEqual(usualOrder(everything(order)));
  });
  it('says which cut by its name, or by what it is - never by the name it has inside', () => {
    const order = ['out', 'drill', 'clear', 'rest', 'carve', 'groove', 'window'];
    for (const job of [
      everything(order),
      { ...everything(order), cuts: { ...everything(order).cuts, drill: { ...everything(order).cuts.drill, name: 'Screw holes' } } } as Job,
    ]) {
      const said = orderFindings(job)
        .map((one) => wordsOf(one, 'mm').what)
        .join(' ');
      expect(said).toMatch(job.cuts.drill.name ? /before “Screw holes”/ : /before the drill/);
      expect(said).not.toMatch(/\b(clear|rest|groove|carve\d|profile\d)\b(?!.*bit)/);
    }
  });
  it('planing comes before all', () => {
    const base = everything();
    const job = makeJob({
      tools: { ...base.tools, s: { kind: 'surfacing', id: 's', diameter: 25 } },
      cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'art', tool: 'v60' }, plane: { kind: 'surface', id: 'plane', on: 'art', tool: 's' } },
      cutOrder: ['carve', 'plane'],
    });
    expect(usualOrder(job)).toEqual(['plane', 'carve']);
    expect(orderFindings(job).map(({ code }) => code)).toEqual(['order-planed-late']);
  });
  it('a cut that counts on clearing that nobody does is an error', async () => {
    const job = everything(['drill', 'rest', 'carve', 'groove', 'window', 'out', 'clear']);
    const { clear, ...cuts } = job.cuts;
    expect(clear.kind).toBe('pocket');
    const plan = await planJob({ ...job, cuts, cutOrder: job.cutOrder.filter((id) => id !== 'clear') }, { fonts: fontOf });
    expect(plan.findings.find(({ code }) => code === 'clearing-missing')).toMatchObject({ severity: 'error', cut: 'rest' });
  });
});

describe('what is planned again', () => {
  const keep = { art: new ArtCache(), cuts: new CutCache() };
  const planned = async (job: Job) => (await planJob(job, { fonts: fontOf, ...keep })).cuts;
  /** Cuts that are not the very same objects as before. */
  const again = async (from: Job, to: Job) => {
    const before = await planned(from);
    const after = await planned(to);
    return after.filter((cut) => !before.includes(cut)).map(({ cut }) => cut.id);
  };
  const job = everything(usualOrder(everything()));
  it('nothing, when nothing changed - not even when the document comes as a copy', async () => {
    expect(await again(job, structuredClone(job))).toEqual([]);
  });
  it('only the cut whose figure changed', async () => {
    expect(await again(job, { ...job, cuts: { ...job.cuts, clear: { ...job.cuts.clear, depth: 2 } as Job['cuts'][string] } })).toEqual(['clear']);
  });
  it('only cuts that work on the thing that was changed', async () => {
    const words = { ...job.items.words, text: 'Mill' } as Job['items'][string];
    expect(await again(job, { ...job, items: { ...job.items, words } })).toEqual(['carve']);
  });
  it('every cut of a bit that was changed, and those that count on it', async () => {
    const end6 = { ...job.tools.end6, measuredWidth: 6.4 };
    expect((await again(job, { ...job, tools: { ...job.tools, end6 } })).sort()).toEqual(['clear', 'out', 'rest', 'window']);
  });
  it.each([
    ['the board', { board: { ...everything().board, thickness: 19 } }],
    ['the clearance', { program: { ...everything().program, clearance: 8 } }],
    ['the tolerance', { tolerance: 0.02 }],
    ['the machine', { machine: { ...everything().machine, maxSpeed: [900, 900, 300] as [number, number, number] } }],
  ])('everything, when %s changed', async (_what, more) => {
    expect((await again(job, { ...job, ...more })).length).toBe(job.cutOrder.length);
  });
  it('the datum moves the program, not the toolpath', async () => {
    expect(await again(job, { ...job, datum: { corner: 'centre', z: 'spoilboard' } })).toEqual([]);
  });
  it('the result is that of a fresh plan', async () => {
    const changed = { ...job, cuts: { ...job.cuts, clear: { ...job.cuts.clear, depth: 2 } as Job['cuts'][string] } };
    await planned(job);
    const kept = await planned(changed);
    const fresh = (await planJob(changed, { fonts: fontOf })).cuts;
    expect(kept.map(({ path, findings }) => [[...path.x], [...path.z], findings])).toEqual(
      fresh.map(({ path, findings }) => [[...path.x], [...path.z], findings]),
    );
  });
});

describe('a template', () => {
  const job = everything(usualOrder(everything()));
  it('keeps cuts by what they work on, and finds the like in other artwork', async () => {
    const template = templateOf(job, 'Plate with holes');
    expect(Template.parse(JSON.parse(JSON.stringify(template)))).toEqual(template);
    expect(Object.values(template.cuts).map(({ id, on }) => [id, on])).toEqual(
      expect.arrayContaining([
        ['carve', 'words'],
        ['clear', 'shapes'],
        ['out', 'outline'],
      ]),
    );
    const other = makeJob({
      items: {
        name: { kind: 'text', id: 'name', x: 100, y: 40, text: 'Otter', face: 'bebas', capHeight: 20 },
        round: { kind: 'ellipse', id: 'round', x: 20, y: 40, width: 5, height: 5 },
        rim: { kind: 'rectangle', id: 'rim', x: 100, y: 40, width: 180, height: 60 },
      },
      itemOrder: ['name', 'round', 'rim'],
      outline: 'rim',
      tools: {},
      cuts: {},
      cutOrder: [],
    });
    const { job: laid, idle } = layTemplate(other, template);
    expect(readJob(laid).ok).toBe(true);
    const plan = await planJob(laid, { fonts: fontOf });
    const moves = Object.fromEntries(plan.cuts.map(({ cut, facts }) => [cut.id, facts.moves > 0]));
    expect(moves).toMatchObject({ carve: true, drill: true, out: true, clear: false });
    // What nothing in the drawing plays is named.
    expect(idle.length).toBe(4);
  });
  it('uses bits the job has, and brings others under a free name', () => {
    const { job: laid } = layTemplate(
      { ...job, tools: { ...job.tools, v60: { ...job.tools.v60, diameter: 6 } as Job['tools'][string] } },
      templateOf(job, 'T'),
    );
    expect(laid.tools.end6).toEqual(job.tools.end6);
    expect(laid.tools['v60-2'].diameter).toBe(12.7);
    expect(laid.cuts.carve.tool).toBe('v60-2');
  });
});

describe('the other half', () => {
  const recess = makeJob({
    tools: { a: { kind: 'end', id: 'a', diameter: 3 }, b: { kind: 'end', id: 'b', diameter: 6 } },
    cuts: { r: { kind: 'recess', id: 'r', on: ['edge'], tool: 'a', mate: 'b', gap: 0.2 } },
    cutOrder: ['r'],
  });
  it('of a recess is a plug with the bits exchanged and the same gap, and back again', () => {
    const pair = pairJob(recess, 'r');
    if (!pair.ok) throw new Error(pair.why);
    expect(readJob(pair.job).ok).toBe(true);
    expect(pair.job.cuts.r).toMatchObject({ kind: 'plug', tool: 'b', mate: 'a', gap: 0.2 });
    expect(pair.job.itemOrder).toEqual(['edge']);
    const back = pairJob(pair.job, 'r');
    expect(back.ok && back.job.cuts.r).toMatchObject({ kind: 'recess', tool: 'a', mate: 'b', gap: 0.2 });
  });
  it('of a V-carve is carved round the mirrored drawing, words on a path too', async () => {
    const job = makeJob({
      items: {
        words: { kind: 'text', id: 'words', x: 0, y: 0, text: 'Mill', face: 'playfair', capHeight: 14, baseline: { kind: 'path', item: 'bow' } },
        bow: { kind: 'arc', id: 'bow', x: 100, y: -40, radius: 80, angle: 120, sweep: -60 },
      },
      itemOrder: ['words', 'bow'],
      outline: null,
      cuts: { c: { kind: 'vcarve', id: 'c', on: ['words'], tool: 'v60', floorDepth: 4 } },
      cutOrder: ['c'],
      tools: { v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 } },
    });
    const pair = pairJob(job, 'c', { glue: 0.5, saw: 1.5 });
    if (!pair.ok) throw new Error(pair.why);
    expect(pair.job.cuts.c).toMatchObject({ startDepth: 3.5, floorDepth: 1.5, plug: {} });
    const box = async (one: Job) =>
      (await planJob(one, { fonts: fontOf })).items
        .find(({ item }) => item.id === 'words')!
        .regions.map((r) => [...r.outer.xy])
        .flat();
    const drawn = await box(job);
    const mirrored = await box(pair.job);
    const xs = (all: number[]) => all.filter((_, i) => i % 2 === 0);
    expect(Math.min(...xs(mirrored))).toBeCloseTo(200 - Math.max(...xs(drawn)), 3);
    expect(Math.max(...xs(mirrored))).toBeCloseTo(200 - Math.min(...xs(drawn)), 3);
  });
  it('is refused in words where there is none', () => {
    const say = (job: Job, id: string, room?: { glue: number; saw: number }) => {
      const pair = pairJob(job, id, room);
      return pair.ok ? '' : pair.why;
    };
    expect(say(makeJob(), 'out')).toMatch(/Only a recess/);
    expect(say(makeJob(), 'carve')).toMatch(/needs a floor/);
    expect(say(makeJob(), 'gone')).toMatch(/not in the job/);
    const floor = makeJob({ cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'art', tool: 'v60', floorDepth: 0.4 } }, cutOrder: ['carve'] });
    expect(say(floor, 'carve', { glue: 0.5, saw: 1 })).toMatch(/glue/);
  });
});

describe('findings of the cuts', () => {
  const codes = async (change: Partial<JobInput>) => (await planJob(makeJob(change), { fonts: fontOf })).findings;
  it('travel lower than what holds the board is an error, and travel above it is above it everywhere', async () => {
    const board = { width: 200, height: 80, thickness: 18, holdDownHeight: 12 };
    expect(await codes({ board })).toEqual(expect.arrayContaining([expect.objectContaining({ code: 'clearance-low', severity: 'error' })]));
    const high = makeJob({ board, program: { clearance: 15 } });
    const plan = await planJob(high, { fonts: fontOf });
    expect(plan.findings.map(({ code }) => code)).not.toContain('clearance-low');
    for (const { path } of plan.cuts)
      for (let i = 1; i < path.kind.length; i++)
        if (path.kind[i] === 0 && (path.x[i] !== path.x[i - 1] || path.y[i] !== path.y[i - 1])) expect(path.z[i]).toBeGreaterThan(12);
  });
  it('a carve too deep for its board or its bit offers the floor that both allow', async () => {
    const bits = { v60: { kind: 'v' as const, id: 'v60', angle: 30, diameter: 12.7, fluteLength: 6 } };
    const cuts = { carve: { kind: 'vcarve' as const, id: 'carve', on: 'art' as const, tool: 'v60' } };
    const found = await codes({ board: { width: 200, height: 80, thickness: 5 }, tools: bits, cuts, cutOrder: ['carve'] });
    const floors = found.flatMap(({ repair }) => repair?.fields?.floorDepth ?? []);
    expect(floors.length).toBeGreaterThan(0);
    for (const floor of floors) expect(floor).toBe(4);
    const mended = await codes({
      board: { width: 200, height: 80, thickness: 5 },
      tools: bits,
      cuts: { carve: { ...cuts.carve, floorDepth: 4 } },
      cutOrder: ['carve'],
    });
    expect(mended.filter(({ severity }) => severity === 'error')).toEqual([]);
  });
  it('a compression bit wants a first pass deeper than its up-cutting part', async () => {
    const bits = { c: { kind: 'end' as const, id: 'c', diameter: 6, spiral: 'compression' as const, upLength: 5 } };
    const out = (depthPerPass: number) => ({
      tools: bits,
      cuts: { out: { kind: 'profile' as const, id: 'out', on: 'outline' as const, tool: 'c', depthPerPass } },
      cutOrder: ['out'],
    });
    expect((await codes(out(3))).map(({ code }) => code)).toContain('compression-shallow');
    expect((await codes(out(6))).map(({ code }) => code)).not.toContain('compression-shallow');
  });
  it('plugs that fit too tightly, leads without room, bevels too wide and lines of nobody are all named', async () => {
    const bits = { a: { kind: 'end' as const, id: 'a', diameter: 3 }, v: { kind: 'v' as const, id: 'v', angle: 60, diameter: 4 } };
    const recess = { kind: 'recess' as const, id: 'r', on: 'outline' as const, tool: 'a', mate: 'a', gap: 0 };
    expect((await codes({ tools: bits, cuts: { r: recess }, cutOrder: ['r'] })).map(({ code }) => code)).toContain('plug-tight');
    const chamfer = { kind: 'chamfer' as const, id: 'c', on: 'outline' as const, tool: 'v', width: 4 };
    expect((await codes({ tools: bits, cuts: { c: chamfer }, cutOrder: ['c'] })).map(({ code }) => code)).toContain('bevel-too-wide');
    expect((await codes({ program: { startLines: ['M120'] } })).map(({ code }) => code)).toContain('program-own-line');
  });
});
