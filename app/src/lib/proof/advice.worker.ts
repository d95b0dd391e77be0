/** Judgement calls that need plans of their own: bits tried one after another, changes timed, trial boards laid out. */
import { fasterWays, trialBoard, tryBit, type BitTrial, type Faster, type TrialAsk, type TrialBoard } from '@kerbe/core/advise';
import { ArtCache } from '@kerbe/core/artwork';
import { shapeOf } from '@kerbe/core/bits';
import type { Bit, Job } from '@kerbe/core/job';
import { drawJob, planCut, planJob, type PlannedItem } from '@kerbe/core/plan';
import { carve, HeightMap, markOf, thumbnail } from '@kerbe/core/proof';
import { fontSource, loadFonts } from '../job/fonts.ts';

export type AdviceAsk =
  { kind: 'bits'; job: Job; cut: string; bits: Bit[] } | { kind: 'faster'; job: Job; crib: Bit[] } | { kind: 'trial'; job: Job; ask: TrialAsk };

export interface TrialView extends BitTrial {
  /** A piece of the cut as this bit leaves it. */
  picture: { width: number; height: number; data: Uint8ClampedArray };
}

export type AdviceAnswer =
  | { kind: 'ready' }
  | { kind: 'progress'; what: string; done: number }
  | { kind: 'bit'; trial: TrialView }
  | { kind: 'faster'; ways: Faster[] }
  | { kind: 'trial'; board: TrialBoard }
  | { kind: 'done' }
  | { kind: 'failed'; why: string };

/** How much of a cut is shown of each bit, mm, and how finely. */
const PIECE = { width: 220, height: 100, cell: 0.5 };

const art = new ArtCache();
const post = (answer: AdviceAnswer, transfer: Transferable[] = []) => (self as unknown as Worker).postMessage(answer, transfer);

async function drawn(job: Job): Promise<PlannedItem[]> {
  await loadFonts(job);
  return drawJob(job, { fonts: fontSource, art }, async () => {});
}

/** What the cut works on, or as much of it as is shown from its upper left, carved by this bit alone. */
function pictureOf(job: Job, items: readonly PlannedItem[], trial: BitTrial): TrialView['picture'] {
  const planned = planCut({ ...job, bits: { ...job.bits, [trial.bit.id]: trial.bit } }, trial.cut, items);
  const { minX, maxX, minY, maxY } = planned.facts.box;
  const width = Math.min(PIECE.width, Math.max(10, maxX - minX + 4));
  const height = Math.min(PIECE.height, Math.max(6, maxY - minY + 4));
  const map = new HeightMap(width, height, PIECE.cell);
  if (planned.facts.moves > 0) {
    const path = markOf(planned);
    const [ox, oy] = [minX - 2, maxY + 2 - height];
    carve(map, { ...path, x: path.x.map((x) => x - ox), y: path.y.map((y) => y - oy) }, shapeOf(planned.bit));
  }
  return thumbnail(map, job.board);
}

async function answer(ask: AdviceAsk): Promise<void> {
  const { job } = ask;
  switch (ask.kind) {
    case 'bits': {
      const items = await drawn(job);
      for (const [k, bit] of ask.bits.entries()) {
        post({ kind: 'progress', what: bit.name || 'a usual size', done: k / ask.bits.length });
        const trial = tryBit(job, ask.cut, items, bit);
        const picture = pictureOf(job, items, trial);
        post({ kind: 'bit', trial: { ...trial, picture } }, [picture.data.buffer as ArrayBuffer]);
      }
      return post({ kind: 'done' });
    }
    case 'faster': {
      await loadFonts(job);
      const plan = await planJob(job, { fonts: fontSource, art });
      const ways = await fasterWays(job, plan, { crib: ask.crib, fonts: fontSource, onProgress: (what, done) => post({ kind: 'progress', what, done }) });
      return post({ kind: 'faster', ways });
    }
    case 'trial':
      return post({ kind: 'trial', board: trialBoard(job, await drawn(job), ask.ask) });
  }
}

self.onmessage = ({ data }: MessageEvent<AdviceAsk>) => {
  answer(data).catch((error: Error) => post({ kind: 'failed', why: error.message }));
};
post({ kind: 'ready' });
