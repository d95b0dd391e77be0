/** What a run at the machine comes to while one looks elsewhere: told in a toast, never twice. */
import { PROCESSES, type ProcessDef } from '@kerbe/core/process';
import type { RunState } from '@kerbe/core/link';
import type { MachineLink } from './machine.svelte.ts';
import { toaster } from './ui/toasts.ts';
import { stageTitle } from './ui/words.ts';
import { COMMON } from '$lib/labels/common';

/** Stages somebody should come for. */
const WORTH: ReadonlySet<string> = new Set(['paused', 'held', 'done', 'stopped', 'failed'] satisfies RunState['state'][]);

/** Is there news in what a machine says of its run? What was so when one first looked is none. */
export const isNews = (before: RunState | null, now: RunState | null): now is RunState =>
  now !== null && before !== null && (now.id !== before.id || now.state !== before.state) && WORTH.has(now.state);

/** Watches a machine; to be called where effects may be. `away` says whether its run is out of sight; `onshow` leads to it. */
export function tellOfRuns(machine: { name: string; kind: string; link: MachineLink }, away: () => boolean, onshow: (() => void) | null = null): void {
  const process = (PROCESSES as Partial<Record<string, ProcessDef>>)[machine.kind];
  let before: RunState | null = null;
  $effect(() => {
    const now = machine.link.now.run;
    if (process && isNews(before, now) && away()) {
      toaster.create({
        title: `${machine.name}: ${stageTitle(now, process)}`,
        description: [now.name, now.message].filter(Boolean).join(': '),
        type: now.state === 'done' ? 'success' : 'warning',
        duration: now.state === 'done' ? 15_000 : Infinity,
        ...(onshow && { action: { label: COMMON.showTheRun, onClick: onshow } }),
      });
    }
    before = now;
  });
}
