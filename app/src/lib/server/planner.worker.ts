/** Plans a job for a release, in a thread of its own so that the server goes on answering. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { faceById, openFont, type Font } from '@kerbe/core/artwork/text';
import { bitLabel } from '@kerbe/core/bits';
import { readJob } from '@kerbe/core/job';
import { planJob, writePrograms } from '@kerbe/core/plan';
import { readProgram, statsOf } from '@kerbe/core/program';
import type { ProgramRecord, ReleaseReport } from './db';

const require = createRequire(import.meta.url);
const fonts = new Map<string, Font>();

function fontSource(id: string): Font | undefined {
  const face = faceById(id);
  if (!face) return undefined;
  let font = fonts.get(id);
  if (!font) fonts.set(id, (font = openFont(readFileSync(require.resolve(face.file)))));
  return font;
}

export interface Planned {
  programs: ProgramRecord[];
  report: Omit<ReleaseReport, 'accepted'>;
}

export default async function plan({ doc, date }: { doc: unknown; date: string }): Promise<Planned> {
  const reading = readJob(doc);
  if (!reading.ok) throw new Error(reading.why.join(' '));
  const { job } = reading;
  const planned = await planJob(job, { fonts: fontSource });
  const files = [...writePrograms(job, planned, date, 'pauses'), ...writePrograms(job, planned, date, 'bit')];
  return {
    programs: files.map((file) => {
      const program = readProgram(file.text);
      return {
        ...file,
        sha256: createHash('sha256').update(file.text).digest('hex'),
        lines: program.lines,
        extents: statsOf(program, job.machine).extents,
      };
    }),
    report: {
      date,
      seconds: planned.seconds,
      deepest: Math.max(0, ...planned.cuts.map(({ facts }) => facts.deepest)),
      findings: planned.findings,
      cuts: planned.cuts.map(({ cut, bit, facts, seconds, lifts }) => ({
        id: cut.id,
        kind: cut.kind,
        bit: bitLabel(bit),
        moves: facts.moves,
        seconds,
        deepest: facts.deepest,
        length: facts.cutting,
        lifts,
      })),
    },
  };
}
