/**
 * Everything heavy about the open job, off the main thread: plan, times, findings, programs,
 * and the proof on a height map with the pyramid the carved view walks. A newer job cancels an
 * older one between steps.
 */
import { ArtCache } from '@kerbe/core/artwork';
import type { Job } from '@kerbe/core/job';
import { planJob, targetRegions, writePrograms, type PlannedCut } from '@kerbe/core/plan';
import { carvePlan, HeightMap, thumbnail } from '@kerbe/core/proof';
import type { Finding } from '@kerbe/core/preflight';
import { fontSource, loadFonts } from './fonts.ts';
import type { Answer, PlanView, Request } from './planner.ts';

/** Drawings and findings of single things, kept from plan to plan. */
const art = new ArtCache();
const checked = new WeakMap<object, Finding[]>();
let newest = 0;

/** Cells of the live proof: fine enough to see a V's tip, few enough to stay quick. */
const MAX_CELLS = 4e6;
const MAX_SIDE = 4096;

const post = (answer: Answer, transfer: Transferable[] = []) => (self as unknown as Worker).postMessage(answer, transfer);
/** Lets a newer request in. */
const breathe = () => new Promise<void>((done) => setTimeout(done, 0));

async function plan({ id, job, date }: Request): Promise<void> {
  const signal = {
    throwIfAborted() {
      if (id !== newest) throw new Superseded();
    },
  };
  const onProgress = async (what: string, done: number) => {
    post({ kind: 'progress', id, what, done });
    await breathe();
  };
  await onProgress('Fetching faces', 0);
  await loadFonts(job);
  const planned = await planJob(job, { fonts: fontSource, art, checked, signal, onProgress });
  await onProgress('Carving the proof', 0.96);
  signal.throwIfAborted();
  const cell = cellFor(job);
  const map = new HeightMap(job.board.width, job.board.height, cell);
  carvePlan(map, planned.cuts);
  const files = writePrograms(job, planned, date);
  const view: PlanView = {
    cuts: planned.cuts.map((cut) => viewOf(cut, targetRegions(job, cut.cut, planned.items).length)),
    findings: planned.findings,
    seconds: planned.seconds,
    files,
    map: { columns: map.columns, rows: map.rows, cell, levels: pyramid(map) },
    deepest: Math.max(0, ...planned.cuts.map(({ facts }) => facts.deepest)),
    thumbnail: thumbnail(map, job.board.thickness),
  };
  const buffers = new Set<ArrayBufferLike>();
  for (const cut of view.cuts) for (const array of [cut.kind, cut.x, cut.y, cut.z]) buffers.add(array.buffer);
  for (const level of view.map.levels) buffers.add(level.data.buffer);
  buffers.add(view.thumbnail.data.buffer);
  post({ kind: 'plan', id, view }, [...buffers] as Transferable[]);
}

class Superseded extends Error {}

function cellFor({ board }: Job): number {
  let cell = 0.1;
  while ((board.width / cell) * (board.height / cell) > MAX_CELLS || Math.max(board.width, board.height) / cell > MAX_SIDE) cell *= 1.25;
  return cell;
}

function viewOf({ cut, bit, path, facts, seconds, lifts, ridge, widest, tabs, unreached, holes }: PlannedCut, regions: number): PlanView['cuts'][number] {
  return {
    id: cut.id,
    bit,
    kind: path.kind,
    x: path.x,
    y: path.y,
    z: path.z,
    facts,
    seconds,
    lifts,
    regions,
    ridge,
    widest,
    unreached,
    holes,
    tabs: tabs?.reduce((a, b) => a + b, 0),
  };
}

/** Level 0 is the map; each further level holds the highest of 2 x 2 cells, odd edges included. */
function pyramid(map: HeightMap): PlanView['map']['levels'] {
  const levels = [{ width: map.columns, height: map.rows, data: map.height as Float32Array }];
  for (let level = levels[0]; level.width > 1 || level.height > 1; level = levels[levels.length - 1]) {
    const width = Math.max(1, level.width >> 1);
    const height = Math.max(1, level.height >> 1);
    const data = new Float32Array(width * height);
    for (let j = 0; j < height; j++) {
      const j1 = j === height - 1 ? level.height - 1 : 2 * j + 1;
      for (let i = 0; i < width; i++) {
        const i1 = i === width - 1 ? level.width - 1 : 2 * i + 1;
        let high = -Infinity;
        for (let b = 2 * j; b <= j1; b++) for (let a = 2 * i; a <= i1; a++) high = Math.max(high, level.data[b * level.width + a]);
        data[j * width + i] = high;
      }
    }
    levels.push({ width, height, data });
  }
  return levels;
}

self.onmessage = async ({ data }: MessageEvent<Request>) => {
  newest = data.id;
  try {
    await plan(data);
  } catch (error) {
    if (!(error instanceof Superseded)) post({ kind: 'failed', id: data.id, why: (error as Error).message });
  }
};
post({ kind: 'ready' });
