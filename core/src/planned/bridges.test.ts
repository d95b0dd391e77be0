/** Bridges as things of their own: what hangs on them, what is cut beside them, and what becomes of them. */
import { describe, expect, it } from 'vitest';
import { changedJob } from '../artwork/change.ts';
import { repairArtwork } from '../artwork/repair.ts';
import { readJob, type Job } from '../job/index.ts';
import { nestJob, usualSpacing } from '../nest/job.ts';
import { planJob } from '../plan/index.ts';
import { arcMoves, within } from '../reference/arc-oracle.ts';
import { fontOf, plateJob } from '../reference/fixtures.ts';
import { piecesOf } from './pieces.ts';

const sign = (items: Record<string, Parameters<typeof plateJob>[0][number]>, cut: object = {}): Job =>
  plateJob(Object.values(items), { side: 'inside', ...cut });
const WORDS = { kind: 'text' as const, id: 'words', x: 150, y: 100, text: 'BOAR', face: 'alfa', capHeight: 60 };
const planned = (job: Job) => planJob(job, { fonts: fontOf });
async function bridged(job: Job): Promise<Job> {
  const { findings } = await planned(job);
  const found = findings.find(({ code }) => code === 'art-islands')!;
  return { ...job, ...changedJob(job, repairArtwork(job, found, { fonts: fontOf, tolerance: job.tolerance / 2, items: job.items })) };
}

describe('bridges', () => {
  it('hold every island of the words: nothing but scrap falls out, and the arc keeps off the bars', async () => {
    const bare = sign({ words: WORDS });
    const free = piecesOf(bare.board, (await planned(bare)).cuts).filter(({ lies }) => lies !== 'held').length;
    const job = await bridged(bare);
    const plan = await planned(job);
    expect(plan.findings.map(({ code }) => code)).not.toContain('art-islands');
    expect(plan.findings.map(({ code }) => code)).not.toContain('art-uncut');
    expect(job.items.words).toEqual(bare.items.words);
    // A bar goes from the island over the stroke: the middle of it is metal that stays.
    const frame = piecesOf(job.board, plan.cuts).find(({ lies }) => lies === 'held')!;
    const bars = Object.values(job.items).filter(({ bridge }) => bridge);
    expect(bars.length).toBeGreaterThanOrEqual(5);
    const letters = plan.items.find(({ item }) => item.id === 'words')!.regions;
    for (const bar of bars) {
      expect(within([frame.region], bar.x, bar.y)).toBe(true);
      expect(within(letters, bar.x, bar.y)).toBe(false);
    }
    for (const { path } of plan.cuts)
      for (const [ax, ay, bx, by] of arcMoves(path))
        for (const bar of bars) expect(Math.hypot((ax + bx) / 2 - bar.x, (ay + by) / 2 - bar.y)).toBeGreaterThan(1.4);
    // Islands were pieces of their own.
    expect(free).toBeGreaterThan(piecesOf(job.board, plan.cuts).filter(({ lies, part }) => part && lies !== 'held').length);
  });
  it('stay when the words change, and bars for what is new are added by one more press', async () => {
    const job = await bridged(sign({ words: WORDS }));
    const before = Object.values(job.items).filter(({ bridge }) => bridge);
    const other: Job = { ...job, items: { ...job.items, words: { ...job.items.words, text: 'BOARD' } as Job['items'][string] } };
    expect(Object.values(other.items).filter(({ bridge }) => bridge)).toEqual(before);
    const more = await bridged(other);
    expect((await planned(more)).findings.map(({ code }) => code)).not.toContain('art-islands');
    expect(readJob(JSON.parse(JSON.stringify(more))).ok).toBe(true);
  });
  it('are cut by nothing, by themselves neither', async () => {
    const bar = { kind: 'rectangle' as const, id: 'bar', x: 150, y: 100, width: 60, height: 6, bridge: true };
    const alone = await planned(sign({ bar }, { side: 'auto' }));
    expect(alone.cuts[0].facts.moves).toBe(0);
    const ring = { outer: { kind: 'ellipse' as const, id: 'outer', x: 150, y: 100, width: 80, height: 80 } };
    const plain = await planned(sign(ring, { side: 'auto' }));
    const split = await planned(sign({ ...ring, bar: { ...bar, width: 100 } }, { side: 'auto' }));
    expect([plain.cuts[0].torch!.contours.length, split.cuts[0].torch!.contours.length]).toEqual([1, 2]);
    const hidden = await planned(sign({ ...ring, bar: { ...bar, width: 100, hidden: true } }, { side: 'auto' }));
    expect(hidden.cuts[0].torch!.contours).toHaveLength(1);
  });
  it('go along with the piece they lie on when pieces are laid out', async () => {
    const tag = { kind: 'rectangle' as const, id: 'tag', x: 200, y: 150, width: 60, height: 40 };
    const bar = { kind: 'rectangle' as const, id: 'bar', x: 200, y: 150, width: 80, height: 6, bridge: true };
    // Listed first, too.
    const job = sign({ bar, tag }, { side: 'auto' });
    const laid = nestJob(job, (await planned(job)).items, { ...usualSpacing(job), turns: [0], copies: { tag: 2 }, rounds: 5 });
    const tags = laid.job.itemOrder.map((id) => laid.job.items[id]).filter(({ bridge }) => !bridge);
    const bars = laid.job.itemOrder.map((id) => laid.job.items[id]).filter(({ bridge }) => bridge);
    expect([tags.length, bars.length]).toEqual([2, 2]);
    for (const one of tags) expect(bars.some(({ x, y }) => Math.hypot(x - one.x, y - one.y) < 1e-6)).toBe(true);
  });
});
