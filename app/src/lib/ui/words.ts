/** What a run's states and events are called where people read them. */
import { PROCESSES, type Pause, type ProcessDef, type RunStage } from '@kerbe/core/process';
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

/** A pause has words of its own, when it is for a tool or for the Start button. */
const ofPause = (pause: Pause | null | undefined) => (pause && pause.reason !== 'person' ? pause.reason : null);
const stageOf = (process: ProcessDef, stage: string, pause: ReturnType<typeof ofPause>) =>
  process.stages[pause ?? (stage as RunStage)] as { now: string; record: string } | undefined;

/** A state or an event in the record: `finished`, `at a bit change`. */
export const recordWord = (event: string, facts: RunFacts | null = null, process: ProcessDef = PROCESSES.router): string =>
  EVENT[event] ?? stageOf(process, event, facts?.kind === 'paused' ? ofPause(facts.pause) : null)?.record ?? event;

/** What a run does now, for whoever stands at the machine. */
export const stageTitle = (run: Pick<RunState, 'state' | 'pause'>, process: ProcessDef): string =>
  stageOf(process, run.state, run.state === 'paused' ? ofPause(run.pause) : null)!.now;
