/** A sheet in tiles: what the tiles burn is what the whole sheet would, each within its field; seams against all there are. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readJob, type Job, type JobInput } from '../job/index.ts';
import { tileMove, tilesOf, type Tile } from '../job/tiles.ts';
import { LASER_BENCH } from '../machine/index.ts';
import { planJob, releasePrograms, writePrograms } from '../plan/index.ts';
import { readProgram, toPath } from '../program/index.ts';
import { even, often } from '../reference/chance.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import type { PlannedCut } from './cut.ts';
import { leastSeams, tilePath, tiledSections } from './tiles.ts';

const PIXELS = { width: 80, height: 20, data: Uint8Array.from({ length: 1600 }, (_, k) => ((k % 80) * 37 + Math.floor(k / 80) * 11) % 256) };
const nothing = { fonts: () => undefined, pictures: () => Promise.resolve(PIXELS) };

/** A long sheet with a picture, a fill, a line and an outline that is cut out. */
function sheet(over: Partial<JobInput> = {}): Job {
  const reading = readJob({
    kerbe: 4,
    process: 'laser',
    name: 'Long sheet',
    board: { width: 800, height: 200, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    items: {
      photo: { kind: 'picture', id: 'photo', asset: 'a', x: 390, y: 100, width: 160, height: 40 },
      disc: { kind: 'ellipse', id: 'disc', x: 120, y: 100, width: 60, height: 60 },
      line: { kind: 'path', id: 'line', x: 400, y: 100, d: 'M-340 -50L340 60', fill: 'none' },
      edge: { kind: 'rectangle', id: 'edge', x: 400, y: 100, width: 740, height: 160 },
    },
    itemOrder: ['photo', 'disc', 'line', 'edge'],
    tools: { head1: { kind: 'head', id: 'head1' } },
    cuts: {
      p: { kind: 'laser-picture', id: 'p', on: ['photo'], tool: 'head1', linesPerMm: 2 },
      f: { kind: 'laser-fill', id: 'f', on: ['disc'], tool: 'head1', interval: 1, angle: 20 },
      s: { kind: 'laser-score', id: 's', on: ['line'], tool: 'head1' },
      c: { kind: 'laser-cut', id: 'c', on: ['edge'], tool: 'head1', feed: 160 },
    },
    cutOrder: ['p', 'f', 's', 'c'],
    machine: LASER_BENCH,
    ...over,
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}
const two = (over: object = {}): Partial<JobInput> => ({ tiles: { axis: 'x', seams: [330], ...over } });
const plan = (job: Job) => planJob(job, nothing);

/** What burns, as energy on a grid of whole millimetres of the sheet: share of power times length. */
function burned(paths: readonly { path: PlannedCut['path']; from: number }[]): Map<string, number> {
  const grid = new Map<string, number>();
  for (const { path, from } of paths)
    for (let i = 1; i < path.x.length; i++) {
      const power = path.power?.[i] ?? NaN;
      if (!(power > 0)) continue;
      const [dx, dy] = [path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]];
      const steps = Math.max(1, Math.ceil(Math.hypot(dx, dy) / 0.05));
      for (let k = 0; k < steps; k++) {
        const f = (k + 0.5) / steps;
        const key = `${Math.floor((path.x[i - 1] + f * dx + from) / 10)} ${Math.floor((path.y[i - 1] + f * dy) / 10)}`;
        grid.set(key, (grid.get(key) ?? 0) + (power * Math.hypot(dx, dy)) / steps);
      }
    }
  return grid;
}

describe('a sheet in tiles', () => {
  it('burns in all tiles together what it would burn whole, but for what cuts over the seam', async () => {
    for (const axis of ['x', 'y'] as const) {
      const job = sheet({ tiles: { axis, seams: axis === 'x' ? [330, 402] : [100] } });
      const { cuts } = await plan(job);
      const whole = burned(cuts.map(({ path }) => ({ path, from: 0 })));
      const pieces = tiledSections(job, cuts).flatMap(({ tile, sections }) =>
        sections.map(({ path }) => ({ path: axis === 'x' ? path : { ...path, y: path.y.map((y) => y + tile!.from) }, from: axis === 'x' ? tile!.from : 0 })),
      );
      const parts = burned(pieces);
      for (const key of new Set([...whole.keys(), ...parts.keys()]))
        expect(Math.abs((parts.get(key) ?? 0) - (whole.get(key) ?? 0)), `${axis} ${key}`).toBeLessThan(0.02 * (whole.get(key) ?? 0) + 0.7);
    }
  });
  it('each tile burns only its own part, and beside it there is nothing but the dark way of its rows', async () => {
    const job = sheet(two());
    const { cuts } = await plan(job);
    const tiles = tiledSections(job, cuts);
    expect(tiles.map(({ tile }) => [tile!.from, tile!.to])).toEqual([[0, 330], [330, 800]]); // prettier-ignore
    for (const { tile, sections } of tiles)
      for (const { path } of sections)
        for (let i = 1; i < path.x.length; i++) {
          if (path.power![i] > 0) {
            expect(Math.min(path.x[i], path.x[i - 1])).toBeGreaterThanOrEqual(tile!.index > 0 ? -0.2001 : 0);
            expect(Math.max(path.x[i], path.x[i - 1])).toBeLessThanOrEqual(tile!.to - tile!.from + 0.2001);
          } else expect(path.x[i]).toBeGreaterThanOrEqual(-20);
        }
  });
  it('a row that a seam cuts is dark before and after it as at any end; power never rests on a rapid', async () => {
    const job = sheet(two());
    const { cuts } = await plan(job);
    const { sections } = tiledSections(job, cuts)[1];
    const rows = sections[0].cuts.find(({ cut }) => cut.id === 'p')!.path;
    let begun = 0;
    for (let i = 1; i < rows.x.length; i++) {
      if (rows.kind[i] === 0) expect(rows.power![i]).toBe(0);
      if (rows.power![i] > 0 && Math.abs(rows.x[i - 1]) < 1e-9) {
        begun++;
        expect([rows.kind[i - 1], rows.power![i - 1]]).toEqual([1, 0]);
        expect(rows.x[i - 2]).toBeLessThan(-0.5);
      }
    }
    expect(begun).toBeGreaterThan(10);
  });
  it('is one program a tile, which reads back to what was planned, says what is pushed, and passes the gate', async () => {
    for (const by of ['stop', 'marks'] as const) {
      const job = sheet(two({ by }));
      const planned = await plan(job);
      expect(planned.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
      const { files, findings } = releasePrograms(job, planned, '2026-01-01');
      expect(findings).toEqual([]);
      expect(files.map(({ name, tile }) => [name.includes(`tile-${tile!.index + 1}-of-2`), tile!.count])).toEqual([[true, 2], [true, 2]]); // prettier-ignore
      expect(files[0].text).toContain('Lay the sheet with its front left corner at zero');
      expect(files[1].text).toContain(by === 'stop' ? 'Push the sheet along its stops, 330 mm to the left of where it lay' : 'two marks on the seam');
      expect(files.reduce((sum, { seconds }) => sum + seconds, 0)).toBeCloseTo(planned.time.running, 6);
      for (const { text } of files) {
        const { x } = toPath(readProgram(text));
        expect(Math.max(...x.filter((v) => !Number.isNaN(v)))).toBeLessThan(480);
      }
    }
  });
  it('marks are burned by the tile before, where the next one looks for them', async () => {
    const job = sheet(two({ by: 'marks' }));
    const { cuts } = await plan(job);
    const [first, second] = tiledSections(job, cuts);
    const label = 'marks on the seam';
    const spans = first.sections.flatMap(({ path }) => path.spans.filter((span) => span.label === label).map((span) => ({ path, span })));
    expect(spans).toHaveLength(1);
    const [{ path, span }] = spans;
    const ends = Array.from({ length: span.end - span.start }, (_, k) => [path.x[span.start + k], path.y[span.start + k]]);
    for (const [x, y] of ends) expect(Math.abs(x - 330) <= 2 && Math.min(Math.abs(y - 6), Math.abs(y - 194)) <= 2).toBe(true);
    expect(second.sections.some(({ path: other }) => other.spans.some((one) => one.label === label))).toBe(false);
  });
  it('left out, nothing of it is burned and the next is pushed all the way', async () => {
    const job = sheet({ tiles: { axis: 'x', seams: [200, 500], leftOut: [1] } });
    const planned = await plan(job);
    expect(planned.findings.map(({ code }) => code)).toContain('tiles-left-out');
    const files = writePrograms(job, planned, '2026-01-01');
    expect(files.map(({ tile }) => tile!.index)).toEqual([0, 2]);
    expect(files[1].text).toContain('500 mm to the left');
    expect(writePrograms(sheet({ tiles: { axis: 'x', seams: [330], leftOut: [0, 1] } }), planned, '2026-01-01')).toEqual([]);
  });
  it('a sheet larger than the field is told; tiles that fit it are not, and those that do not are', async () => {
    const codes = async (over: Partial<JobInput>) => (await plan(sheet(over))).findings.map(({ code }) => code);
    expect(await codes({})).toEqual(expect.arrayContaining(['board-too-large', 'outside-usable']));
    const fits = await codes(two());
    for (const code of ['board-too-large', 'outside-usable', 'laser-overscan-off-field', 'tiles-datum', 'tiles-not-here', 'tiles-marks'])
      expect(fits).not.toContain(code);
    expect(await codes(two({ seams: [120] }))).toContain('laser-overscan-off-field');
    expect(await codes(two({ by: 'marks' }))).toContain('tiles-marks');
    expect(await codes({ ...two(), datum: { corner: 'centre' } })).toContain('tiles-datum');
    expect((await planJob({ ...makeJob(), tiles: tilesOfJob() }, { ...nothing, fonts: fontOf })).findings.map(({ code }) => code)).toContain('tiles-not-here');
  });
  it('seams that do not go up are refused; one beyond a sheet that was made smaller is none', async () => {
    const base = JSON.parse(JSON.stringify(sheet())) as JobInput;
    for (const seams of [
      [400, 300],
      [300, 300],
    ])
      expect(readJob({ ...base, tiles: { axis: 'x', seams } }).ok).toBe(false);
    for (const seams of [[800], [330, 900]]) expect(readJob({ ...base, tiles: { axis: 'x', seams } }).ok).toBe(true);
    expect(tilesOf(sheet({ tiles: { axis: 'x', seams: [330, 900] } })).map(({ to }) => to)).toEqual([330, 800]);
    const whole = sheet({ tiles: { axis: 'x', seams: [800] } });
    expect(tilesOf(whole)).toEqual([]);
    const planned = await plan(whole);
    expect(writePrograms(whole, planned, '2026-01-01').map(({ tile }) => tile)).toEqual([undefined]);
    // Then it is larger than the field again, and said so.
    expect(planned.findings.map(({ code }) => code)).toEqual(expect.arrayContaining(['board-too-large', 'outside-usable']));
  });
  it('says what is done before each in words', () => {
    const [one, next] = tilesOf({ tiles: { axis: 'y', seams: [150], by: 'marks', leftOut: [] }, board: { width: 300, height: 400 } });
    const mm = (length: number) => `${length} mm`;
    expect(tileMove(one, mm)).toBe('Lay the sheet with its front left corner at zero');
    expect(tileMove(next, mm)).toBe('Push the sheet about 150 mm to the front, and set X and Y by the two marks on the seam');
  });
});

const tilesOfJob = () => ({ axis: 'x' as const, seams: [50], by: 'stop' as const, leftOut: [] });

describe('seams', () => {
  const lines = (spans: readonly (readonly [number, number])[]): PlannedCut[] => {
    const points = spans.flatMap(([a, b]) => [a, b]);
    const path = {
      kind: Uint8Array.from(points, (_, k) => k % 2),
      x: Float64Array.from(points),
      y: new Float64Array(points.length),
      z: new Float64Array(points.length),
      feed: new Float64Array(points.length).fill(1000),
      power: Float64Array.from(points, (_, k) => k % 2),
      spans: [],
    };
    return [{ path } as unknown as PlannedCut];
  };
  const crossed = (spans: readonly (readonly [number, number])[], seam: number) =>
    spans.filter(([a, b]) => Math.min(a, b) <= seam && seam <= Math.max(a, b)).length;

  it('none for a sheet that fits; between two groups in the middle of the gap', () => {
    expect(leastSeams(lines([[0, 100]]), 'x', 600, 600)).toEqual([]);
    expect(leastSeams(lines([[0, 300], [340, 700]]), 'x', 800, 600)).toEqual([320]); // prettier-ignore
  });
  it('cross as little as any that the field allows (all of them tried), and no tile is longer than the field', () => {
    const spans = fc.array(fc.tuple(even(0, 120).map(Math.round), even(0, 120).map(Math.round)), { maxLength: 30 });
    fc.assert(
      fc.property(spans, fc.integer({ min: 35, max: 130 }), (all, field) => {
        const seams = leastSeams(lines(all), 'x', 120, field);
        const edges = [0, ...seams, 120];
        edges.slice(1).forEach((to, k) => expect(to - edges[k]).toBeLessThanOrEqual(field));
        expect(seams).toHaveLength(Math.ceil(120 / field) - 1);
        const cost = (at: readonly number[]) => at.reduce((sum, seam) => sum + crossed(all, seam), 0);
        let least = Infinity;
        const tryAll = (from: number, left: number, at: number[]) => {
          if (left === 0) {
            if (120 - from <= field) least = Math.min(least, cost(at));
            return;
          }
          for (let k = from + 1; k <= Math.min(119, from + field); k++) tryAll(k, left - 1, [...at, k]);
        };
        tryAll(0, seams.length, []);
        if (seams.length > 0) expect(cost(seams)).toBe(least);
      }),
      often(20),
    );
  });
});

it('any path, cut at any seam: both parts together burn as much as the whole, and start where they are', () => {
  const tile = (index: number, from: number, to: number): Tile => ({ axis: 'x', index, count: 2, from, to, push: from, by: 'stop' });
  const move = fc.tuple(even(0, 100), even(0, 50), fc.constantFrom(0, 0.3, 1), fc.boolean());
  fc.assert(
    fc.property(fc.array(move, { minLength: 2, maxLength: 40 }), even(1, 99), (moves, seam) => {
      const path = {
        kind: Uint8Array.from(moves, ([, , , rapid], k) => (rapid || k === 0 ? 0 : 1)),
        x: Float64Array.from(moves, ([x]) => x),
        y: Float64Array.from(moves, ([, y]) => y),
        z: new Float64Array(moves.length),
        feed: new Float64Array(moves.length).fill(1000),
        power: Float64Array.from(moves, ([, , power, rapid], k) => (rapid || k === 0 ? 0 : power)),
        spans: [{ start: 0, end: moves.length, cut: 'a', label: 'all' }],
      };
      const amount = ({ x, y, kind, power }: typeof path | ReturnType<typeof tilePath>) => {
        let sum = 0;
        for (let i = 1; i < x.length; i++) if (kind[i] === 1) sum += (power![i] ?? 0) * Math.hypot(x[i] - x[i - 1], y[i] - y[i - 1]);
        return sum;
      };
      const parts = [tilePath(path, tile(0, 0, seam), 0), tilePath(path, tile(1, seam, 100), 0)];
      expect(amount(parts[0]) + amount(parts[1])).toBeCloseTo(amount(path), 6);
      for (const { kind } of parts) if (kind.length > 0) expect(kind[0]).toBe(0);
    }),
    often(200),
  );
});
