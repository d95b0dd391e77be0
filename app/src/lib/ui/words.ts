/** What a run's states and events are called where people read them. */
import { PROCESSES, type ProcessDef, type RunStage } from '@kerbe/core/process';
import type { RunFacts, RunState } from '@kerbe/core/link';

/** Events of a run that are no stage of it; `bit-change` was told so by an older agent. */
const EVENT: Record<string, string> = {
  start: 'started',
  starting: 'starting',
  'bit-change': 'at a bit change',
  measured: 'bit measured',
  override: 'feed or spindle changed',
  controls: 'controls',
  restart: 'agent restarted',
};

const stageOf = (process: ProcessDef, stage: string, change: boolean) => process.stages[change ? 'tool-change' : (stage as RunStage)] as { now: string; record: string } | undefined; // prettier-ignore

/** A state or an event in the record: `finished`, `at a bit change`. */
export const recordWord = (event: string, facts: RunFacts | null = null, process: ProcessDef = PROCESSES.router): string =>
  EVENT[event] ?? stageOf(process, event, facts?.kind === 'paused' && facts.pause.reason === 'tool-change')?.record ?? event;

/** What a run does now, for whoever stands at the machine. */
export const stageTitle = (run: Pick<RunState, 'state' | 'pause'>, process: ProcessDef): string =>
  stageOf(process, run.state, run.state === 'paused' && run.pause?.reason === 'tool-change')!.now;
