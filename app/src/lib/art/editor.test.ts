/** The artwork editor without a screen: what is selected and locked, edits worked out elsewhere, only what changed drawn again. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { readJob, type Job } from '@kerbe/core/job';
import { JobSession } from '../job/session.svelte';
import { FakeWorker, Store } from '../testing';
import type { DrawnThing } from './desk';
import { Superseded } from '../workers/superseded';
import { ArtEditor } from './editor.svelte';

const square = (id: string, x: number, more = {}) => ({ kind: 'rectangle' as const, id, x, y: 50, width: 20, height: 20, ...more });
function someJob(): Job {
  const reading = readJob({
    kerbe: 4,
    name: 'T',
    board: { width: 200, height: 100, thickness: 18 },
    items: { a: square('a', 20), b: square('b', 60), c: square('c', 100, { locked: true }), d: square('d', 140, { layer: 'fixed' }) },
    itemOrder: ['a', 'b', 'c', 'd'],
    layers: [
      { id: 'first', name: 'First' },
      { id: 'fixed', name: 'Fixed', locked: true },
    ],
    tools: { end: { kind: 'end', id: 'end', diameter: 6 } },
    cuts: { out: { kind: 'profile', id: 'out', on: ['a', 'b'], tool: 'end' } },
    cutOrder: ['out'],
  });
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
}
const drawn = (id: string, x: number): DrawnThing => ({
  id,
  contours: [Float64Array.of(x - 10, 40, x + 10, 40, x + 10, 60, x - 10, 60)],
  lines: [],
  box: { minX: x - 10, minY: 40, maxX: x + 10, maxY: 60 },
  marks: {
    points: new Float64Array(0),
    lines: new Float64Array(0),
    circles: new Float64Array(0),
    rounds: new Float64Array(0),
    box: { minX: 0, minY: 0, maxX: 0, maxY: 0 },
  } as never,
  islands: 0,
  parts: 1,
});

let session: JobSession;
let editor: ArtEditor;
let worker: FakeWorker;
const settle = () => vi.advanceTimersByTimeAsync(0);
/** Answers the newest question of the artwork worker. */
const answer = async (value: unknown) => {
  worker.reply(worker.asked.at(-1)!, value);
  await settle();
};

beforeEach(() => {
  vi.useFakeTimers();
  FakeWorker.all = [];
  vi.stubGlobal('Worker', FakeWorker);
  vi.stubGlobal('localStorage', new Store());
  vi.stubGlobal('sessionStorage', new Store());
  vi.stubGlobal('fetch', async () => {
    throw new TypeError('Failed to fetch');
  });
  vi.stubGlobal(
    'Path2D',
    class {
      moveTo() {}
      lineTo() {}
      closePath() {}
    },
  );
  session = new JobSession('j1', 1, someJob());
  editor = new ArtEditor(session);
  worker = FakeWorker.all[1];
  worker.ready();
});
afterEach(() => {
  editor.close();
  session.close();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('what is selected', () => {
  it('a group is taken whole, in the order of the drawing; what is not there is not', () => {
    editor.select(['b', 'a']);
    editor.group();
    editor.select(['b', 'gone']);
    expect(editor.ids).toEqual(['a', 'b']);
    editor.select(['c']);
    expect(editor.only?.id).toBe('c');
    editor.select(['a']);
    editor.ungroup();
    editor.select(['a']);
    expect(editor.ids).toEqual(['a']);
  });
  it('every new group has a name of its own', () => {
    editor.select(['a', 'b']);
    editor.group();
    editor.select(['c', 'd']);
    editor.group();
    expect(session.job.items.a.group).not.toBe(session.job.items.c.group);
  });
  it('what is locked, by itself or by its layer, is neither moved nor deleted, and that is said', () => {
    editor.select(['c', 'd']);
    editor.move(5, 5);
    expect(editor.note).toEqual({ text: 'What is selected is locked.', bad: true });
    editor.remove();
    expect(Object.keys(session.job.items)).toEqual(['a', 'b', 'c', 'd']);
    editor.select(['a', 'c']);
    editor.move(5, 0.1 + 0.2);
    expect([session.job.items.a.x, session.job.items.a.y, session.job.items.c.x]).toEqual([25, 50.3, 100]);
    editor.select(['c']);
    editor.mark('locked', false);
    editor.move(1, 0);
    expect(session.job.items.c.x).toBe(101);
  });
  it('deleted, a thing leaves the cuts that name it, and comes back with one undo', () => {
    editor.select(['a']);
    editor.remove();
    expect(session.job.cuts.out.on).toEqual(['b']);
    expect(session.job.itemOrder).toEqual(['b', 'c', 'd']);
    expect(editor.selection.size).toBe(0);
    session.undo();
    expect(session.job.cuts.out.on).toEqual(['a', 'b']);
    expect(session.job.itemOrder).toEqual(['a', 'b', 'c', 'd']);
  });
  it('a new thing has a free name, lies on top, and is selected', () => {
    const id = editor.add('A square', { kind: 'rectangle', x: 1, y: 2, width: 3, height: 4 }, 'a');
    expect(id).not.toBe('a');
    expect(session.job.itemOrder.at(-1)).toBe(id);
    expect(editor.ids).toEqual([id]);
  });
  it('what was typed of one thing is typed of others by one key, as far as they have it; what is locked stays', () => {
    editor.repeat();
    expect(editor.note).toMatchObject({ bad: true });
    editor.type('Width', ['a'], (item) => 'width' in item && (item.width = 35));
    editor.select(['b', 'c']);
    editor.repeat();
    expect(session.job.items).toMatchObject({ a: { width: 35 }, b: { width: 35 }, c: { width: 20 } });
    editor.select([]);
    editor.repeat();
    expect(editor.note?.text).toContain('“Width”');
    session.undo();
    expect(session.job.items.b).toMatchObject({ width: 20 });
    expect(session.job.items.a).toMatchObject({ width: 35 });
  });
  it('an edit that was done is done again to what is selected now', async () => {
    editor.select(['a']);
    void editor.edit('Turn', { do: 'turn', ids: ['a'], by: 30 });
    await settle();
    await answer({ items: {} });
    editor.select(['b']);
    editor.repeat();
    await settle();
    expect(worker.asked.at(-1)!.what).toMatchObject({ edit: { do: 'turn', ids: ['b'], by: 30 } });
  });
  it('brought in with layers, what was there keeps its own', () => {
    session.edit('No layers', (d) => {
      d.layers = [];
      delete d.items.d.layer;
    });
    editor.addAll('Bring in', [{ ...session.job.items.a, id: 'x', layer: 'art' }], [{ id: 'art', name: 'Art', hidden: false, locked: false }]);
    expect(session.job.layers.map(({ id }) => id)).toEqual(['first', 'art']);
    expect(readJob(JSON.parse(JSON.stringify(session.job))).ok).toBe(true);
  });
});

describe('drawing', () => {
  const draw = async (changed: DrawnThing[]) => {
    const done = editor.redraw(session.job);
    await settle();
    await answer({ changed, gone: [], whole: false });
    await answer([]);
    await done;
  };
  it('only what changed is drawn again; what is gone is gone from the board and from the selection', async () => {
    await draw([drawn('a', 20), drawn('b', 60), drawn('c', 100), drawn('d', 140)]);
    const before = editor.drawing.things.get('b');
    editor.select(['a', 'b']);
    expect(editor.selectionBox()).toEqual({ minX: 10, minY: 40, maxX: 70, maxY: 60 });
    session.change('Delete', { items: { a: null } });
    await draw([drawn('c', 101)]);
    expect([...editor.drawing.things.keys()]).toEqual(['b', 'c', 'd']);
    expect(editor.drawing.things.get('b')).toBe(before);
    expect(editor.ids).toEqual(['b']);
    expect(editor.drawing.within({ minX: 0, minY: 0, maxX: 75, maxY: 100 }).map(({ id }) => id)).toEqual(['b']);
  });
  it('a drawing that is no longer wanted says nothing; one that failed says why', async () => {
    const old = editor.redraw(session.job);
    await settle();
    worker.fail(worker.asked.at(-1)!, 'old', 'Superseded');
    await old;
    expect(editor.note).toBeNull();
    const bad = editor.redraw(session.job);
    await settle();
    worker.fail(worker.asked.at(-1)!, 'The face is damaged.');
    await bad;
    expect(editor.note).toEqual({ text: 'The face is damaged.', bad: true });
  });
});

describe('edits worked out by the worker', () => {
  it('are laid in as one named step, what came of them selected', async () => {
    editor.select(['a', 'b']);
    const done = editor.edit('Unite', { kind: 'unite', ids: ['a', 'b'] } as never);
    expect(editor.busy).toBe('Unite');
    await settle();
    await answer({ items: { a: null, b: null, ab: { ...session.job.items.a, id: 'ab' } }, note: 'Two became one.' });
    await done;
    expect([session.undoLabel, editor.busy, editor.note?.text]).toEqual(['Unite', null, 'Two became one.']);
    expect(session.job.itemOrder).toEqual(['ab', 'c', 'd']);
    expect(editor.ids).toEqual(['ab']);
  });
  it('are not laid over what changed meanwhile: nothing is lost', async () => {
    const done = editor.edit('Unite', { kind: 'unite', ids: ['a', 'b'] } as never);
    await settle();
    session.edit('Name', (d) => void (d.name = 'Changed'));
    await answer({ items: { a: null } });
    await done;
    expect(session.job.items.a).toBeDefined();
    expect(editor.note).toMatchObject({ bad: true, text: expect.stringMatching(/changed while/) });
  });
  it('go on when the worker dies: another one is asked, and everything is drawn anew by it', async () => {
    const done = editor.edit('Unite', { kind: 'unite', ids: ['a', 'b'] } as never);
    await settle();
    worker.die('out of memory');
    worker = FakeWorker.all.at(-1)!;
    // Asked before it was ready, the question waits for it.
    expect(worker.asked).toHaveLength(0);
    worker.ready();
    await settle();
    await answer({ items: { a: null } });
    await done;
    expect([session.job.items.a, editor.note]).toEqual([undefined, null]);
  });
  it('cancelled, nothing changes and nothing is said', async () => {
    const question = editor.desk.ask('subpaths', { job: session.job, thing: 'a' });
    const done = editor.edit('Unite', { kind: 'unite', ids: ['a', 'b'] } as never);
    await settle();
    editor.desk.cancel();
    await expect(question).rejects.toBeInstanceOf(Superseded);
    await done;
    expect([editor.note, editor.busy, session.undoLabel]).toEqual([null, null, null]);
  });
});
