/** What a run's states and events are called where people read them. */
export const RUN_WORD: Record<string, string> = {
  start: 'started',
  starting: 'starting',
  running: 'running',
  held: 'held',
  'bit-change': 'at a bit change',
  'link-lost': 'link lost',
  stopping: 'stop not confirmed',
  measured: 'bit measured',
  override: 'feed or spindle changed',
  controls: 'controls',
  restart: 'agent restarted',
  done: 'finished',
  stopped: 'stopped',
  failed: 'failed',
};
