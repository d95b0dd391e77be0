/** The open job without a browser: undo and redo, steps that join, saving through every kind of weather, drafts, and the planner's order. */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { readJob, type Job } from '@kerbe/core/job';
import { FakeWorker, Store } from '../testing';
import { Planner } from './planner';
import { JobSession } from './session.svelte';

function someJob(name = 'Reed Gate'): Job {
  const reading = readJob({
    kerbe: 4,
    name,
    board: { width: 200, height: 100, thickness: 18 },
    items: { edge: { kind: 'rectangle', id: 'edge', x: 100, y: 50, width: 180, height: 80 } },
    itemOrder: ['edge'],
    outline: 'edge',
    tools: { end: { kind: 'end', id: 'end', diameter: 6 } },
    cuts: { out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end' } },
    cutOrder: ['out'],
  });
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
}

interface Saved {
  from: number;
  label: string;
  doc: Job;
  tab: string;
}
/** What the server does with the next saves; the last goes on for ever. */
type Weather = (saved: Saved) => { status: number; body: unknown } | 'away' | 'answer lost';
let weather: Weather[];
let puts: Saved[];
let server: { revision: number; doc: Job };
let drafts: Store;

const fine: Weather = (saved) => {
  if (saved.from !== server.revision) return { status: 409, body: { why: 'Somebody else saved it.', revision: server.revision } };
  server = { revision: server.revision + 1, doc: saved.doc };
  return { status: 200, body: { revision: server.revision } };
};

beforeEach(() => {
  vi.useFakeTimers();
  FakeWorker.all = [];
  puts = [];
  weather = [fine];
  server = { revision: 7, doc: someJob() };
  drafts = new Store();
  vi.stubGlobal('Worker', FakeWorker);
  vi.stubGlobal('localStorage', drafts);
  vi.stubGlobal('sessionStorage', new Store());
  vi.stubGlobal('fetch', async (_url: string, init?: { method?: string; body?: string }) => {
    const answer = (status: number, body: unknown) => ({ ok: status < 300, status, json: async () => structuredClone(body) });
    if (init?.method !== 'PUT') return answer(200, server);
    const saved = JSON.parse(init.body!) as Saved;
    puts.push(saved);
    const what = (weather.length > 1 ? weather.shift()! : weather[0])(saved);
    if (typeof what === 'string') throw new TypeError('Failed to fetch');
    return answer(what.status, what.body);
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const workers = () => FakeWorker.all;
const open = () => new JobSession('j1', server.revision, structuredClone(server.doc));
const wait = (ms: number) => vi.advanceTimersByTimeAsync(ms);
const name = (session: JobSession, to: string, key: string | null = null) => session.edit(`Name ${to}`, (d) => void (d.name = to), key);

describe('another version taken for the present one', () => {
  it('is one named step, whatever it differs by, and Undo takes it back', async () => {
    const session = open();
    const before = session.job;
    const other: Job = {
      ...structuredClone(server.doc),
      name: 'As ordered',
      items: {},
      itemOrder: [],
      outline: null,
      notes: 'of May',
      guides: [{ axis: 'x', at: 5 }],
    };
    name(session, 'Since then');
    session.restore('Back to revision 3', other);
    expect(session.job).toEqual(other);
    expect(session.undoLabel).toBe('Back to revision 3');
    session.undo();
    expect(session.job).toEqual({ ...before, name: 'Since then' });
    session.redo();
    expect(session.job).toEqual(other);
    await wait(1000);
    expect(puts.at(-1)!.doc).toEqual(other);
    session.close();
  });
  it('that is the same is no step', () => {
    const session = open();
    session.restore('Back to revision 7', structuredClone(session.job));
    expect(session.undoLabel).toBeNull();
    session.close();
  });
});

describe('tries of one thing', () => {
  it('are one step for as long as they last, and back again by one Undo', async () => {
    const session = open();
    for (const to of ['A', 'B', 'C']) {
      session.edit('Font', (d) => void (d.name = to), 'tries', Infinity);
      await wait(5000);
    }
    expect(session.job.name).toBe('C');
    session.undo();
    expect([session.job.name, session.undoLabel]).toEqual(['Reed Gate', null]);
    session.close();
  });
});

describe('undo and redo', () => {
  /** Edits of every part of the document. */
  const edit = fc.oneof(
    fc.record({ do: fc.constant('name' as const), to: fc.string({ minLength: 1, maxLength: 8 }) }),
    fc.record({ do: fc.constant('width' as const), to: fc.integer({ min: 100, max: 400 }) }),
    fc.record({ do: fc.constant('move' as const), to: fc.integer({ min: -50, max: 50 }) }),
    fc.record({ do: fc.constant('add' as const), to: fc.integer({ min: 1, max: 5 }) }),
    fc.record({ do: fc.constant('drop' as const), to: fc.integer({ min: 1, max: 5 }) }),
    fc.record({ do: fc.constant('tabs' as const), to: fc.integer({ min: 0, max: 9 }) }),
  );
  const apply = (session: JobSession, { do: what, to }: { do: string; to: string | number }) =>
    session.edit(what, (d) => {
      if (what === 'name') d.name = String(to);
      else if (what === 'width') d.board.width = Number(to);
      else if (what === 'move') d.items.edge.x += Number(to);
      else if (what === 'tabs' && d.cuts.out?.kind === 'profile') d.cuts.out.tabs = Number(to);
      else if (what === 'add' && !d.items[`t${to}`]) {
        d.items[`t${to}`] = { ...d.items.edge, id: `t${to}` };
        d.itemOrder.push(`t${to}`);
      } else if (what === 'drop' && d.items[`t${to}`]) {
        delete d.items[`t${to}`];
        d.itemOrder = d.itemOrder.filter((id) => id !== `t${to}`);
      }
    });

  it('all the way back is the job as it was opened, all the way forth as it was left', () =>
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 30 }), (edits) => {
        drafts.kept.clear();
        const session = open();
        const first = session.job;
        for (const one of edits) apply(session, one);
        const last = session.job;
        for (let i = 0; session.undoLabel !== null; i++) {
          expect(i).toBeLessThanOrEqual(edits.length);
          session.undo();
        }
        expect(session.job).toEqual(first);
        while (session.redoLabel !== null) session.redo();
        expect(session.job).toEqual(last);
        session.undo();
        session.redo();
        expect(session.job).toEqual(last);
        session.close();
      }),
      { numRuns: 60 },
    ));
  it('what changes nothing is no step; an edit after an undo drops what was undone', () => {
    const session = open();
    name(session, 'Reed Gate');
    expect(session.undoLabel).toBeNull();
    name(session, 'One');
    name(session, 'Two');
    session.undo();
    expect([session.job.name, session.undoLabel, session.redoLabel]).toEqual(['One', 'Name One', 'Name Two']);
    name(session, 'Three');
    expect(session.redoLabel).toBeNull();
    session.undo();
    session.undo();
    expect(session.job.name).toBe('Reed Gate');
    session.undo();
    expect(session.job.name).toBe('Reed Gate');
  });
  it('typing is one step, a pause makes another, and another field too', async () => {
    const session = open();
    for (const text of ['H', 'He', 'Her']) name(session, text, 'name');
    await wait(1500);
    name(session, 'Hero', 'name');
    session.edit('Width', (d) => void (d.board.width = 250), 'width');
    session.undo();
    expect(session.job).toMatchObject({ name: 'Hero', board: { width: 200 } });
    session.undo();
    expect(session.job.name).toBe('Her');
    session.undo();
    expect([session.job.name, session.undoLabel]).toEqual(['Reed Gate', null]);
  });
  it('keeps the last two hundred steps', () => {
    const session = open();
    for (let i = 1; i <= 230; i++) name(session, `N${i}`);
    while (session.undoLabel !== null) session.undo();
    expect(session.job.name).toBe('N30');
  });
});

describe('saving', () => {
  it('half a second after the last change, once, by the revision it came from', async () => {
    const session = open();
    name(session, 'One');
    await wait(300);
    name(session, 'Two');
    expect(session.save.kind).toBe('waiting');
    await wait(499);
    expect(puts).toHaveLength(0);
    await wait(2);
    expect(puts).toMatchObject([{ from: 7, label: 'Name Two', doc: { name: 'Two' } }]);
    expect([session.save.kind, session.revision]).toEqual(['saved', 8]);
    expect(drafts.kept.size).toBe(0);
    await wait(10_000);
    expect(puts).toHaveLength(1);
  });
  it('without a connection everything is kept here, and saved when it is back', async () => {
    weather = [() => 'away', () => 'away', fine];
    const session = open();
    name(session, 'Kept');
    await wait(600);
    expect(session.save).toMatchObject({ kind: 'offline', why: expect.stringMatching(/kept in this browser/) });
    expect(JSON.parse(drafts.getItem('kerbe-draft-j1')!)).toMatchObject({ revision: 7, job: { name: 'Kept' } });
    await wait(5000);
    expect(session.save.kind).toBe('saved');
    expect(server.doc.name).toBe('Kept');
  });
  it('the database away is tried again; a refusal is said and not tried for ever', async () => {
    weather = [() => ({ status: 503, body: { why: 'The database is away.' } }), fine];
    const session = open();
    name(session, 'One');
    await wait(600);
    expect(session.save).toEqual({ kind: 'offline', why: 'The database is away.' });
    await wait(2100);
    expect(session.save.kind).toBe('saved');
    weather = [() => ({ status: 400, body: { why: 'That is no job.' } })];
    name(session, 'Two');
    await wait(60_000);
    expect(puts).toHaveLength(3);
    expect(session.save).toEqual({ kind: 'offline', why: 'That is no job.' });
  });
  it('what changes while a save is under way is saved after it', async () => {
    let during: () => void = () => {};
    weather = [
      (saved) => {
        during();
        return fine(saved);
      },
      fine,
    ];
    const session = open();
    during = () => name(session, 'Second');
    name(session, 'First');
    await wait(510);
    expect(session.save.kind).toBe('waiting');
    await wait(600);
    expect(puts.map(({ from, doc }) => [from, doc.name])).toEqual([
      [7, 'First'],
      [8, 'Second'],
    ]);
    expect(session.save.kind).toBe('saved');
  });
  it('asked to save now it says when all of it is there', async () => {
    const session = open();
    expect(await session.saveNow()).toBe(true);
    name(session, 'Now');
    const done = session.saveNow();
    await wait(0);
    expect(await done).toBe(true);
    weather = [() => 'away'];
    name(session, 'Later');
    expect(await session.saveNow()).toBe(false);
  });
});

describe('two that change the same job', () => {
  const clash = async () => {
    const session = open();
    server = { revision: 8, doc: someJob('Theirs') };
    name(session, 'Mine');
    await wait(600);
    expect(session.save).toEqual({ kind: 'clash', why: 'Somebody else saved it.', revision: 8 });
    return session;
  };
  it('nothing is written over by itself, however long one waits or types', async () => {
    const session = await clash();
    name(session, 'Mine still');
    await wait(60_000);
    expect(puts).toHaveLength(1);
    expect(server.doc.name).toBe('Theirs');
    expect(session.job.name).toBe('Mine still');
  });
  it('mine, by a press, goes on top of theirs', async () => {
    const session = await clash();
    await session.resolveClash(true);
    expect(server).toMatchObject({ revision: 9, doc: { name: 'Mine' } });
    expect([session.save.kind, session.revision]).toEqual(['saved', 9]);
  });
  it('theirs, by a press, is shown as it is, with nothing to undo into', async () => {
    const session = await clash();
    await session.resolveClash(false);
    expect([session.job.name, session.revision, session.undoLabel, session.save.kind]).toEqual(['Theirs', 8, null, 'saved']);
    expect(drafts.kept.size).toBe(0);
    await wait(10_000);
    expect(puts).toHaveLength(1);
  });
});

describe('nothing is lost on reload', () => {
  it('what never reached the server comes back, is told, and goes there', async () => {
    weather = [() => 'away'];
    const session = open();
    name(session, 'Typed before the crash');
    await wait(100);
    weather = [fine];
    const again = open();
    expect(again.job.name).toBe('Typed before the crash');
    await wait(10);
    expect(server.doc.name).toBe('Typed before the crash');
    expect(again.save.kind).toBe('saved');
    session.close();
  });
  it('what the server took without being able to say so is no clash', async () => {
    const session = open();
    name(session, 'Taken');
    weather = [
      (saved) => {
        fine(saved);
        return 'answer lost';
      },
      fine,
    ];
    await wait(600);
    session.close();
    expect(server.revision).toBe(8);
    // The database keeps no order of fields.
    const turned = Object.fromEntries(Object.entries(server.doc).reverse()) as Job;
    const again = new JobSession('j1', 8, turned);
    expect([again.save.kind, again.job.name, again.revision]).toEqual(['saved', 'Taken', 8]);
    expect(drafts.kept.size).toBe(0);
  });
  it('a draft that cannot be read is put away, a browser without room for one still has the server', async () => {
    drafts.setItem('kerbe-draft-j1', '{"revision":7,"job":');
    const session = open();
    expect([session.job.name, drafts.kept.size]).toEqual(['Reed Gate', 0]);
    drafts.full = true;
    name(session, 'No room');
    await wait(600);
    expect(server.doc.name).toBe('No room');
  });
  it('leaving the page saves what is left', async () => {
    const session = open();
    name(session, 'Last word');
    session.close();
    await wait(0);
    expect(server.doc.name).toBe('Last word');
    expect(FakeWorker.all.every(({ ended }) => ended)).toBe(true);
  });
});

describe('the planner', () => {
  const events = () => ({ progress: vi.fn(), plan: vi.fn(), failed: vi.fn() });
  const map = (height: number[]) => ({ columns: 2, rows: 1, cell: 1, height: Float32Array.from(height), spare: undefined }) as never;
  const view = (height: number[]) => ({ view: {}, map: map(height) });

  it('is got ready while its job is fetched: one worker, taken by the first planner, and none more while a job is open', async () => {
    // Other tests leave jobs open.
    vi.resetModules();
    const { Planner, startPlanning } = await import('./planner');
    startPlanning();
    startPlanning();
    const [worker, ...more] = workers();
    expect(more).toEqual([]);
    const planner = new Planner(events());
    startPlanning();
    expect(workers()).toEqual([worker]);
    const other = new Planner(events());
    expect(workers()).toHaveLength(2);
    other.close();
    planner.close();
    expect(worker.ended).toBe(true);
    startPlanning();
    expect(workers()).toHaveLength(3);
    new Planner(events()).close();
  });
  it('waits for its worker; of several plans only the newest is shown, and only its progress', async () => {
    const seen = events();
    const planner = new Planner(seen);
    const [worker] = workers();
    planner.request(someJob('a'), '2026-01-01', null);
    planner.request(someJob('b'), '2026-01-01', null);
    await wait(0);
    expect(worker.asked).toEqual([]);
    worker.ready();
    await wait(0);
    expect(worker.asked).toMatchObject([
      { name: 'plan', what: { job: { name: 'a' } } },
      { name: 'plan', what: { job: { name: 'b' } } },
    ]);
    worker.fail(worker.asked[0], 'Something newer is wanted.', 'Superseded');
    worker.reply(worker.asked[1], view([0, 0]));
    planner.request(someJob('c'), '2026-01-01', null);
    await wait(0);
    expect([seen.plan, seen.failed].map(({ mock }) => mock.calls.length)).toEqual([0, 0]);
    worker.reply(worker.asked[2], view([0, -1]));
    await wait(0);
    expect(seen.plan).toHaveBeenCalledTimes(1);
  });
  it('cancelled, it ends the work in the middle of a step and begins afresh; questions under way are refused', async () => {
    const seen = events();
    const planner = new Planner(seen);
    const [first] = workers();
    first.ready();
    planner.request(someJob(), '2026-01-01', null);
    const question = planner.ask('speed', { parts: 3 });
    planner.cancel();
    await expect(question).rejects.toThrow('Cancelled');
    expect(first.ended).toBe(true);
    const second = workers()[1];
    second.ready();
    await wait(0);
    expect(second.asked).toEqual([]);
    planner.request(someJob('after'), '2026-01-01', null);
    await wait(0);
    second.reply(second.asked[0], view([0, 0]));
    await wait(0);
    expect(seen.plan).toHaveBeenCalledTimes(1);
    expect(seen.failed).not.toHaveBeenCalled();
  });
  it('goes on when its worker dies, and says so when a second one dies of the same job', async () => {
    const seen = events();
    const planner = new Planner(seen);
    planner.request(someJob(), '2026-01-01', null);
    for (let k = 0; k < 2; k++) {
      workers().at(-1)!.ready();
      await wait(0);
      expect(workers().at(-1)!.asked).toMatchObject([{ name: 'plan' }]);
      expect(seen.failed).not.toHaveBeenCalled();
      workers().at(-1)!.die('out of memory');
    }
    await wait(0);
    expect(seen.failed).toHaveBeenCalledWith(expect.stringMatching(/planning worker stopped over this \(out of memory\)/));
    planner.request(someJob('smaller'), '2026-01-01', null);
    workers().at(-1)!.ready();
    await wait(0);
    workers()
      .at(-1)!
      .reply(workers().at(-1)!.asked[0], view([0, 0]));
    await wait(0);
    expect(seen.plan).toHaveBeenCalledTimes(1);
  });
  it('a job is planned again at every change, and shows as old until it is', async () => {
    vi.stubGlobal('document', { createElement: () => ({ getContext: () => null }) });
    const session = open();
    const [worker] = workers();
    worker.ready();
    await wait(0);
    worker.reply(worker.asked[0], { view: { thumbnail: { width: 1, height: 1, data: [] } }, map: map([0, 0]) });
    await wait(0);
    expect(session.stale).toBe(false);
    name(session, 'Other');
    expect(session.stale).toBe(true);
    await wait(0);
    expect(worker.asked.at(-1)).toMatchObject({ what: { job: { name: 'Other' } } });
    session.cancelPlan();
    expect(session.planFailed).toMatch(/cancelled/);
    session.useCrib(['a']);
    session.useCrib(['a']);
    workers()[1].ready();
    await wait(0);
    expect(workers()[1].asked).toMatchObject([{ what: { crib: ['a'] } }]);
  });
});
