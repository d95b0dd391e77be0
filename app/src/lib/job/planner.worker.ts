/**
 * Everything heavy about the open job, off the main thread: plan, times, findings, programs,
 * and the proof on a height map. A newer job cancels an older one between steps; only cuts that
 * changed are planned and carved again. Questions about the last plan are answered one by one.
 */
import type { CheckedThings } from '@kerbe/core/artwork/check';
import { kindOf } from '@kerbe/core/cuts';
import { whereTimeGoes, willItShow } from '@kerbe/core/advise';
import { ArtCache } from '@kerbe/core/artwork';
import { boardThickness, type Job } from '@kerbe/core/job';
import { contoursOf, type Region } from '@kerbe/core/geometry';
import { comesTo, CutCache, leastSeams, picturesFor, pieceSeconds, piecesOf, planJob, writePrograms, type Plan, type PlannedCut } from '@kerbe/core/plan';
import {
  asBurned,
  boardStl,
  burnFigures,
  burnImage,
  burnMap,
  differenceOf,
  HeightMap,
  asCut,
  kerfsAlong,
  blankMap,
  LayeredBoard,
  momentAt,
  Scrubber,
  speedOver,
  tilesOf,
  timelineOf,
  workPicture,
} from '@kerbe/core/proof';
import { fontSource, loadFonts } from './fonts.ts';
import { greyPictures } from './pictures.ts';
import { shownPath } from './shown-path.ts';
import { answer, transfer } from '../workers/answering.ts';
import { Superseded } from '../workers/superseded.ts';
import type { Answers, Progress } from '../workers/workroom.ts';
import type { CutView, PieceView, PlanView, Questions, SentMap } from './planner.ts';

/** Drawings, cuts, and findings of single things, kept from plan to plan. */
const art = new ArtCache();
const cuts = new CutCache();
const checked: CheckedThings = new WeakMap();
let newest = 0;

/** Cells of the live proof: fine enough to see a V's tip, few enough to stay quick; and of the finest that is drawn. */
const LIVE = { cell: 0.2, cells: 4e6, side: 4096 };
const FINEST = { cells: 20e6, side: 8192 };
/** Cells of a burned sheet. */
const BURNED = { cells: 4e6, side: 4096 };
/** Cells of the board while it is scrubbed. */
const SCRUBBED = { cell: 0.25, cells: 1.5e6, side: 4096 };

/** Lets a newer request in. */
const breathe = () => new Promise<void>((done) => setTimeout(done, 0));

/** The plan that was shown last, and what was worked out of it since. */
let shown: { job: Job; plan: Plan; files: PlanView['files']; board: LayeredBoard; finer?: LayeredBoard; scrubber?: Scrubber } | null = null;

async function plan({ job, date, crib }: Questions['plan'][0], progress?: Progress): Promise<Questions['plan'][1]> {
  const id = ++newest;
  const signal = {
    throwIfAborted() {
      if (id !== newest) throw new Superseded('Something newer is wanted.');
    },
  };
  const onProgress = async (what: string, done: number) => {
    void progress?.(done, what);
    await breathe();
  };
  await onProgress('Fetching faces', 0);
  await loadFonts(job);
  const planned = await planJob(job, {
    fonts: fontSource,
    pictures: greyPictures,
    art,
    cuts,
    checked,
    crib: crib ? new Set(crib) : undefined,
    signal,
    onProgress,
  });
  await onProgress('Carving the proof', 0.96);
  signal.throwIfAborted();
  const cell = cellFor(job, LIVE.cell, LIVE);
  const same = shown && shown.board.map.cell === cell && sameBlank(shown.job.board, job.board);
  const board = same ? shown!.board : new LayeredBoard(blankMap(job.board, cell));
  const dirty = Uint32Array.from(board.update(planned.cuts));
  // The finer board is brought up to date when it is asked for again.
  const files = writePrograms(job, planned, date);
  shown = { job, plan: planned, files, board, finer: same ? shown!.finer : undefined };
  const { map } = board;
  const view: Omit<PlanView, 'map'> = {
    cuts: planned.cuts.map(viewOf),
    findings: planned.findings,
    files,
    deepest: Math.max(0, ...planned.cuts.map(({ cut, facts, torch, beam }) => kindOf(cut).scratchDepth ?? torch?.depth ?? beam?.depth ?? facts.deepest)),
    time: whereTimeGoes(job, planned.cuts),
    stretches: timelineOf(job, planned.cuts).stretches,
    shows: willItShow(job, planned.cuts),
    thumbnail: workPicture(job, planned.cuts, map),
    pieces: piecesView(job, planned.cuts),
  };
  const sent: SentMap = same
    ? { ...gridOf(map), tiles: dirty, data: tilesOf(map, dirty) }
    : { ...gridOf(map), height: map.height.slice(), spare: map.height.slice() };
  const buffers = new Set<ArrayBufferLike>([view.thumbnail.data.buffer]);
  for (const cut of view.cuts) for (const array of [cut.kind, cut.x, cut.y, cut.z]) buffers.add(array.buffer);
  if ('height' in sent) for (const array of [sent.height, sent.spare!]) buffers.add(array.buffer);
  else for (const array of [sent.tiles, sent.data]) buffers.add(array.buffer);
  return transfer({ view, map: sent }, [...buffers] as Transferable[]);
}

const gridOf = ({ columns, rows, cell }: HeightMap) => ({ columns, rows, cell });

/** The wanted cell, or as fine a one as stays within bounds. */
function cellFor({ board }: Job, wanted: number, most: { cells: number; side: number }): number {
  let cell = wanted;
  while ((board.width / cell) * (board.height / cell) > most.cells || Math.max(board.width, board.height) / cell > most.side) cell *= 1.25;
  return cell;
}

const last = () => {
  if (!shown) throw new Error('Nothing is planned yet.');
  return shown;
};

const answers: Answers<Questions> = {
  plan,
  scrub({ t }) {
    const now = last();
    now.scrubber ??= new Scrubber(now.job, now.plan.cuts, cellFor(now.job, SCRUBBED.cell, SCRUBBED));
    const { map, moment } = now.scrubber.at(t);
    return transfer({ map: { ...gridOf(map), height: map.height }, moment }, [map.height.buffer as ArrayBuffer]);
  },
  owners() {
    const owners = last().board.owners();
    return transfer({ owners }, [owners.buffer as ArrayBuffer]);
  },
  difference() {
    const { job, plan: planned, board } = last();
    const { by, left, over, cuts: each } = differenceOf(job, planned.items, planned.cuts, board.map);
    const classes = Uint8Array.from(by, (value) => (value > 0 ? 1 : value < 0 ? 2 : 0));
    return transfer({ classes, left, over, cuts: each }, [classes.buffer]);
  },
  asCut(shown) {
    const { job, board } = last();
    return asCut(board.map, shown, boardThickness(job.board), SAME);
  },
  kerfs({ from, to }) {
    const { job, plan: planned } = last();
    return kerfsAlong(planned.cuts, boardThickness(job.board), from, to);
  },
  finer({ cell }) {
    const now = last();
    const fine = cellFor(now.job, cell, FINEST);
    if (now.finer?.map.cell !== fine) now.finer = new LayeredBoard(blankMap(now.job.board, fine));
    now.finer.update(now.plan.cuts);
    const [height, spare] = [now.finer.map.height.slice(), now.finer.map.height.slice()];
    return transfer({ map: { ...gridOf(now.finer.map), height, spare } }, [height.buffer, spare.buffer]);
  },
  speed({ parts }) {
    const { job, plan: planned } = last();
    return { speeds: speedOver(timelineOf(job, planned.cuts), planned.cuts, parts) };
  },
  burn({ cell, t }) {
    const { job, plan: planned } = last();
    const moment = t === null ? null : momentAt(timelineOf(job, planned.cuts), planned.cuts, t);
    const map = burnMap(job, planned.cuts, cellFor(job, cell, BURNED), moment ? { cut: moment.cut, move: moment.move } : undefined);
    const image = burnImage(map, job.board);
    const asked = t === null ? asBurned(job.board, planned.cuts, ({ cut }) => picturesFor(job, cut, planned.items), map) : null;
    return transfer({ image, figures: burnFigures(map, job.board), asked, cell: map.cell, at: moment && { x: moment.x, y: moment.y } }, [
      image.data.buffer as ArrayBuffer,
    ]);
  },
  async sums() {
    const { files } = last();
    if (!globalThis.crypto?.subtle) return { sums: [] };
    const sum = async (text: string) => {
      const digest = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text));
      return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
    };
    return { sums: await Promise.all(files.map(async ({ name, text }) => ({ name, sha256: await sum(text) }))) };
  },
  seams({ axis, field }) {
    const { job, plan } = last();
    return { seams: leastSeams(plan.cuts, axis, axis === 'x' ? job.board.width : job.board.height, field) };
  },
  stl() {
    const { job, board } = last();
    const stl = boardStl(board.map, boardThickness(job.board));
    return transfer({ stl }, [stl.buffer as ArrayBuffer]);
  },
};

/** Is it the same board before it is cut? */
const sameBlank = (a: Job['board'], b: Job['board']): boolean =>
  a.width === b.width && a.height === b.height && (a.gone === b.gone || JSON.stringify([a.gone, a.thickness]) === JSON.stringify([b.gone, b.thickness]));

/** What becomes of a plate, as it is shown; nothing where no torch cuts. */
function piecesView(job: Job, planned: readonly PlannedCut[]): PieceView[] {
  if (!planned.some(({ torch }) => torch)) return [];
  const pieces = piecesOf(job.board, planned);
  const seconds = pieceSeconds(pieces, planned, job.machine);
  return pieces.map(({ part, lies, holds, area, weight, centre, region }, k) => ({
    ...{ part, lies, holds, area, weight, centre, seconds: seconds[k] },
    rings: contoursOf(region).map(({ xy }) => xy),
  }));
}

/** Heights this near to each other are the same: a machine and its simulation have their own steps, mm. */
const SAME = 0.12;
/** Pieces that are numbered on the board, at most. */
const MOST_PIECES = 200;

/** What the screen shows of a cut. Its arrays are copies: those planned are kept for the next plan. */
function viewOf(planned: PlannedCut): CutView {
  const { cut, bit, path, facts, seconds, lifts, through, tabPoints, spots, fit } = planned;
  const rings = (regions: readonly Region[]) => regions.flatMap((region) => contoursOf(region).map(({ xy }) => xy));
  return {
    id: cut.id,
    bit,
    ...shownPath(planned),
    facts,
    seconds,
    lifts,
    through,
    figures: kindOf(cut).figures(planned),
    tabPoints,
    pieces: cut.order === 'shortest' ? [] : comesTo(path).slice(0, MOST_PIECES),
    spots,
    fit: fit && { plug: rings(fit.plug), recess: rings(fit.recess), gap: fit.gap },
  };
}

answer(answers);
