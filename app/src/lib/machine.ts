/** What is known of a machine: the snapshot its agent sends ten times a second. */
import { noSetup, type AgentSnapshot } from '@kerbe/core/link';
import type { ProcessName } from '@kerbe/core/process';

export interface MachineSnapshot extends AgentSnapshot {
  /** False when the agent itself cannot be reached. */
  agent: boolean;
}

export const NO_MACHINE: MachineSnapshot = {
  agent: false,
  link: false,
  status: null,
  setup: noSetup(),
  run: null,
  controls: null,
  busy: null,
  stopWanted: null,
};

/**
 * The machine of the shop a job is for: the one it names; when it names none that is there, the first of its
 * kind, linked ones before others. Null when there is none of its kind.
 */
export function meantOf<M extends { id: string; connected: boolean; profile: { kind: ProcessName | string } }>(
  machines: readonly M[],
  job: { machine: { id?: string }; process: ProcessName },
): M | null {
  const fit = machines.filter(({ profile }) => profile.kind === job.process);
  return fit.find(({ id }) => id === job.machine.id) ?? fit.find(({ connected }) => connected) ?? fit[0] ?? null;
}
