/** Layers of a drawing given to kinds of work: one cut for each kind, each thing in one of them, marks before what is cut out. */
import { describe, expect, it } from 'vitest';
import { readJob, type Job } from '../job/index.ts';
import { giveLayer, LAYER_WORK, layersOf } from './by-layer.ts';

function drawing(over: object = {}): Job {
  const box = (id: string, layer: string, x: number) => [id, { kind: 'rectangle', id, layer, x, y: 20, width: 8, height: 8 }] as const;
  const items = Object.fromEntries([box('a', 'red', 10), box('b', 'red', 25), box('c', 'blue', 40), box('d', 'black', 55), box('guide', 'notes', 70)]);
  const reading = readJob({
    kerbe: 4,
    process: 'laser',
    name: 'Drawing',
    board: { width: 90, height: 40, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    layers: ['red', 'blue', 'black', 'notes', 'empty'].map((id) => ({ id, name: id })),
    items,
    itemOrder: Object.keys(items),
    tools: { head1: { kind: 'head', id: 'head1' } },
    cuts: {},
    cutOrder: [],
    ...over,
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}
const given = (job: Job) => Object.fromEntries(layersOf(job).map(({ name, work }) => [name, work]));

describe('layers', () => {
  it('are told with what lies on them; those with nothing are left out', () => {
    expect(layersOf(drawing()).map(({ name, items, work }) => [name, items.length, work])).toEqual([
      ['red', 2, null],
      ['blue', 1, null],
      ['black', 1, null],
      ['notes', 1, null],
    ]);
  });
  it('given to kinds of work they are cuts of a sound job: marks first, what is left out in none', () => {
    const job = [
      ['red', 'laser-cut'],
      ['blue', 'laser-fill'],
      ['black', 'laser-score'],
    ].reduce((one, [layer, work]) => giveLayer(one, layer, work as (typeof LAYER_WORK)[number]), drawing());
    expect(given(job)).toEqual({ red: 'laser-cut', blue: 'laser-fill', black: 'laser-score', notes: null });
    expect(job.cutOrder.map((id) => job.cuts[id].kind)).toEqual(['laser-fill', 'laser-score', 'laser-cut']);
    expect(readJob(JSON.parse(JSON.stringify(job))).ok).toBe(true);
    expect(JSON.stringify(job.cuts)).not.toContain('guide');
  });
  it('two layers of one kind are one cut; figures that were set stay; the last one taken away takes the cut away', () => {
    let job = giveLayer(giveLayer(drawing(), 'red', 'laser-cut'), 'black', 'laser-cut');
    expect(job.cuts['layers-cut'].on).toEqual(['a', 'b', 'd']);
    (job.cuts['layers-cut'] as { power: number }).power = 61;
    job = giveLayer(job, 'red', 'laser-score');
    expect(job.cuts['layers-cut']).toMatchObject({ on: ['d'], power: 61 });
    job = giveLayer(job, 'black', null);
    expect(Object.keys(job.cuts)).toEqual(['layers-score']);
    expect(job.cutOrder).toEqual(['layers-score']);
  });
  it('cuts of one’s own stay, and come before what is cut out when they mark', () => {
    const own = {
      mark: { kind: 'laser-fill', id: 'mark', on: ['guide'], tool: 'head1' },
      out: { kind: 'laser-cut', id: 'out', on: ['guide'], tool: 'head1' },
    };
    const job = giveLayer(drawing({ cuts: own, cutOrder: ['mark', 'out'] }), 'blue', 'laser-fill');
    expect(job.cutOrder).toEqual(['mark', 'layers-fill', 'out']);
  });
  it('without a head it is said', () => {
    expect(() => giveLayer(drawing({ tools: {} }), 'red', 'laser-cut')).toThrow(/no laser head/);
  });
});
