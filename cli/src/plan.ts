import { saidOf } from './said.ts';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import type { FontSource } from '@kerbe/core/artwork';
import { pieceSeconds, piecesOf, planJob, releasePrograms, type Piece, type Plan, type PlannedCut } from '@kerbe/core/plan';
import { forbids } from '@kerbe/core/preflight';
import { bitLabel } from '@kerbe/core/bits';
import type { TorchContour } from '@kerbe/core/cuts';
import type { Job } from '@kerbe/core/job';
import { loadJob } from './jobfile.ts';
import { picturesOf } from './pictures.ts';
import { Refusal } from './refusal.ts';

/** `kerbe plan`: programs - one for all or one for each bit, as the job says or `--split` - and report.json. */
export async function planCommand(args: string[], fonts: FontSource): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' }, split: { type: 'string' }, date: { type: 'string' } },
  });
  const job = loadJob(positionals[0]);
  if (!values.out) throw new Refusal('--out is missing: the folder for the programs.');
  if (values.split !== undefined && values.split !== 'tool' && values.split !== 'pauses') throw new Refusal('--split is tool or pauses.');
  const plan = await planJob(job, { fonts, pictures: picturesOf(job) });
  mkdirSync(values.out, { recursive: true });
  const written = releasePrograms(job, plan, values.date ?? new Date().toISOString().slice(0, 10), values.split);
  plan.findings.push(...written.findings);
  const forbidden = forbids(plan.findings);
  const files = forbidden ? [] : written.files;
  for (const file of files) writeFileSync(join(values.out, file.name), file.text);
  writeFileSync(
    join(values.out, 'report.json'),
    JSON.stringify(
      reportOf(
        job,
        plan,
        files.map(({ name }) => name),
      ),
      null,
      2,
    ) + '\n',
  );
  for (const found of plan.findings) process.stderr.write(saidOf(found, job.units));
  return forbidden ? 2 : 0;
}

const contourReport = ({ pierce, start, lead, leadLength, length, feed, ...facts }: TorchContour) => ({
  ...facts,
  pierce: pierce.map(rounded),
  start: start.map(rounded),
  lead: { kind: lead, length: rounded(leadLength) },
  length: rounded(length),
  feed: rounded(feed),
});

/** A piece of the plate after the cut: mm², kg. */
const pieceReport = ({ part, lies, holds, area, weight, centre, region }: Piece, seconds: number) => ({
  kind: part ? 'part' : 'scrap',
  lies,
  // Parts that tabs still hold in it.
  ...(holds > 0 ? { holds } : {}),
  area: rounded(area),
  weight: rounded(weight),
  centre: centre.map(rounded),
  holes: region.holes.length,
  // Its contours with the way to them, touches and pierces.
  seconds: rounded(seconds),
});

/** What becomes of a plate, piece by piece. */
export function piecesReport(job: Job, plan: Pick<Plan, 'cuts'>) {
  const pieces = piecesOf(job.board, plan.cuts);
  const seconds = pieceSeconds(pieces, plan.cuts, job.machine);
  return pieces.map((piece, k) => pieceReport(piece, seconds[k]));
}

export const rounded = (value: number) => Math.round(value * 1000) / 1000;

function reportOf(job: Job, plan: Plan, programs: string[]) {
  const used = plan.cuts.filter(({ facts }) => facts.moves > 0);
  const extent = (pick: (cut: PlannedCut) => number, choose: (...values: number[]) => number) => (used.length ? rounded(choose(...used.map(pick))) : null);
  return {
    programs,
    cuts: plan.cuts.map(({ cut, bit, facts, seconds, lifts, unreached, torch }) => ({
      cut: cut.id,
      kind: cut.kind,
      bit: bitLabel(bit),
      moves: facts.moves,
      length: rounded(facts.cutting),
      travel: rounded(facts.travel),
      lifts,
      seconds: rounded(seconds),
      deepest: rounded(facts.deepest),
      // Area drawn that the bit cannot get into, mm².
      ...(unreached === undefined ? {} : { unreached: rounded(unreached) }),
      // A torch: each contour as it is cut, and how often it pierces and feels for the plate.
      ...(torch === undefined ? {} : { kerf: torch.kerf, pierces: torch.pierces, touches: torch.touches, contours: torch.contours.map(contourReport) }),
    })),
    ...(plan.cuts.some(({ torch }) => torch) ? { pieces: piecesReport(job, plan) } : {}),
    extents: {
      minX: extent((c) => c.facts.box.minX, Math.min),
      minY: extent((c) => c.facts.box.minY, Math.min),
      maxX: extent((c) => c.facts.box.maxX, Math.max),
      maxY: extent((c) => c.facts.box.maxY, Math.max),
      deepest: extent((c) => c.facts.deepest, Math.max),
    },
    seconds: rounded(plan.time.atMachine),
    findings: plan.findings,
  };
}
