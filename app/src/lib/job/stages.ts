/** The stages of a job, and how each of them stands. */
import type { Job } from '@kerbe/core/job';
import type { Finding } from '@kerbe/core/preflight';
import type { RunState, Setup } from '@kerbe/core/link';
import { COMMON } from '$lib/labels/common';
import { JOB } from '$lib/labels/job';

export const STAGES = [
  { id: 'board', title: COMMON.board },
  { id: 'artwork', title: JOB.artwork },
  { id: 'cuts', title: JOB.cuts },
  { id: 'proof', title: JOB.proof },
  { id: 'program', title: JOB.program },
  { id: 'setup', title: JOB.setUp },
  { id: 'run', title: JOB.run },
  { id: 'record', title: JOB.record },
] as const;
export type Stage = (typeof STAGES)[number]['id'];
export type StageState = 'not-started' | 'in-hand' | 'ready' | 'needs-you';
export const STATE_WORD: Record<StageState, string> = { 'not-started': 'not started', 'in-hand': 'in hand', ready: 'ready', 'needs-you': 'check this' };

export interface Standing {
  job: Job;
  findings: readonly Finding[];
  /** The plan belongs to an older document. */
  stale: boolean;
  /** There is a release, and it is of the job as it stands. */
  released: 'no' | 'of an older job' | 'yes';
  setup: Setup;
  homed: boolean;
  /** The run of what is released, and whether any run of the job has ended. */
  run: RunState | null;
  recorded: boolean;
}

/** Is there anything to carve besides the outline? */
const hasArt = ({ items, outline }: Job): boolean =>
  Object.values(items).some((item) => item.id !== outline && (item.kind !== 'text' || item.text.trim() !== ''));

export function stageStates({ job, findings, stale, released, setup, homed, run, recorded }: Standing): Record<Stage, StageState> {
  const about = (codes: RegExp) => findings.some(({ code, severity }) => severity !== 'note' && codes.test(code));
  const error = (of: (found: Finding) => unknown) => findings.some((found) => found.severity === 'error' && of(found));
  const drawn = hasArt(job);
  const zeroed = setup.zeroXY?.corner === job.datum.corner && setup.zeroZ?.datum === job.datum.z && setup.bitFitted !== null;
  let cuts: StageState = drawn ? 'ready' : 'in-hand';
  if (job.cutOrder.length === 0) cuts = 'not-started';
  else if (error(({ cut }) => cut)) cuts = 'needs-you';
  let proof: StageState = error(() => true) ? 'needs-you' : 'ready';
  if (!drawn) proof = 'not-started';
  else if (stale) proof = 'in-hand';
  let ran: StageState = 'not-started';
  if (run?.state === 'running') ran = 'in-hand';
  else if (run) ran = run.endedAt && run.state === 'done' ? 'ready' : 'needs-you';
  return {
    board: about(/^board|^through|^deeper/) ? 'needs-you' : 'ready',
    artwork: about(/^text|^art/) ? 'needs-you' : drawn ? 'ready' : 'not-started',
    cuts,
    proof,
    program: released === 'yes' ? 'ready' : released === 'no' ? 'not-started' : 'needs-you',
    setup: released !== 'yes' ? 'not-started' : zeroed ? 'ready' : homed ? 'in-hand' : 'not-started',
    run: ran,
    record: recorded ? 'ready' : 'not-started',
  };
}
