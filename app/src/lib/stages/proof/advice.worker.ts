/** Judgement calls that need plans of their own: bits tried one after another, changes timed, trial boards laid out. */
import { fasterWays, trialBoard, tryBit, type BitTrial } from '@kerbe/core/advise';
import { ArtCache } from '@kerbe/core/artwork';
import type { Job } from '@kerbe/core/job';
import { piecesIn } from '@kerbe/core/nest/job';
import { drawJob, planCut, planJob, type PlannedItem } from '@kerbe/core/plan';
import { carve, HeightMap, removalOf, thumbnail } from '@kerbe/core/proof';
import { fontSource, loadFonts } from '../../job/fonts.ts';
import { greyPictures } from '$lib/job/pictures';
import { answer, transfer } from '../../workers/answering.ts';
import type { Answers } from '../../workers/workroom.ts';
import type { Questions, TrialView } from './advice.ts';

/** How much of a cut is shown of each bit, mm, and how finely. */
const PIECE = { width: 220, height: 100, cell: 0.5 };

const art = new ArtCache();

async function drawn(job: Job): Promise<PlannedItem[]> {
  await loadFonts(job);
  return drawJob(job, { fonts: fontSource, art }, async () => {});
}

/** What the cut works on, or as much of it as is shown from its upper left, carved by this bit alone. */
function pictureOf(job: Job, items: readonly PlannedItem[], trial: BitTrial): TrialView['picture'] {
  const planned = planCut({ ...job, tools: { ...job.tools, [trial.bit.id]: trial.bit } }, trial.cut, items);
  const { minX, maxX, minY, maxY } = planned.facts.box;
  const width = Math.min(PIECE.width, Math.max(10, maxX - minX + 4));
  const height = Math.min(PIECE.height, Math.max(6, maxY - minY + 4));
  const map = new HeightMap(width, height, PIECE.cell);
  if (planned.facts.moves > 0) {
    const { path, shape } = removalOf(planned);
    const [ox, oy] = [minX - 2, maxY + 2 - height];
    carve(map, { ...path, x: path.x.map((x) => x - ox), y: path.y.map((y) => y - oy) }, shape);
  }
  return thumbnail(map, job.board);
}

const answers: Answers<Questions> = {
  async bit({ job, cut, bit }) {
    const items = await drawn(job);
    const trial = tryBit(job, cut, items, bit);
    const picture = pictureOf(job, items, trial);
    return transfer({ ...trial, picture }, [picture.data.buffer as ArrayBuffer]);
  },
  async faster({ job, crib }, progress) {
    await loadFonts(job);
    const plan = await planJob(job, { fonts: fontSource, pictures: greyPictures, art });
    return fasterWays(job, plan, { crib, fonts: fontSource, onProgress: (what, done) => void progress?.(done, what) });
  },
  async pieces({ job }) {
    return piecesIn(await drawn(job)).map(([first, ...more]) => ({ id: first.item.id, things: 1 + more.length }));
  },
  trial: async ({ job, ask }) => trialBoard(job, await drawn(job), ask),
};

answer(answers);
