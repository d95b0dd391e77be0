/** What the browser knows of the machine: the agent's snapshot, sent ten times a second. */
import { noSetup, type AgentSnapshot } from '@kerbe/core/link';

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
