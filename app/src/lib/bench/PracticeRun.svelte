<script lang="ts">
  /** Programs that lie ready for an exercise: their headers to be read, a run begun, held, gone on with, taken up at a contour. */
  import { isPractice } from '@kerbe/core/practice/exercises';
  import { PROCESSES, type ProcessName } from '@kerbe/core/process';
  import type { Act } from '$lib/stages/setup/act.svelte';
  import { duration } from '$lib/ui/format';
  import ProgressBar from '$lib/ui/ProgressBar.svelte';
  import type { PracticeFile } from './practice.svelte';
  import { BENCH } from '$lib/labels/bench';
  import { COMMON } from '$lib/labels/common';

  let { act, files, kind }: { act: Act; files: readonly PracticeFile[]; kind: ProcessName } = $props();
  const now = $derived(act.machine.now);
  const run = $derived(now.run && isPractice(now.run.id) ? now.run : null);
  const under = $derived(run !== null && run.endedAt === null);
  /** What was broken off, and where it can be pierced or lit again. */
  const again = $derived(run && run.endedAt !== null && run.state !== 'done' ? files.find(({ name }) => name === run.name) : undefined);
</script>

{#if files.length > 0}
  <section class="py-2 gap-2 grid border-t border-surface-200-800" aria-label={BENCH.programsThatLieReady}>
    <h3 class="text-sm text-surface-600-400">{BENCH.programsThatLieReady}</h3>
    {#each files as { name, header, seconds } (name)}
      <div class="gap-2 flex items-center justify-between">
        <details class="min-w-0 flex-1">
          <summary class="cursor-pointer"
            ><code class="bg-transparent">{name}</code> <span class="text-surface-600-400">{BENCH.about(duration(seconds))}</span></summary
          >
          <pre class="text-xs whitespace-pre-wrap py-1">{header.join('\n')}</pre>
        </details>
        <button
          class="btn preset-outlined-surface-300-700 flex-none"
          disabled={act.busy !== null || under}
          onclick={() => act.send({ do: 'practice', program: name })}>{BENCH.run(name)}</button
        >
      </div>
    {/each}
    {#if run}
      <p>
        <b>{PROCESSES[kind].stages[run.pause?.reason === 'start' ? 'start' : run.state].now}</b>
        <span class="text-surface-600-400">{run.name}, line {run.line} of {run.lines}</span>
      </p>
      {#if run.message}<p>{run.message}</p>{/if}
      {#if under}
        <ProgressBar label={COMMON.programLinesDone} share={run.line / Math.max(1, run.lines)} />
        <div class="gap-1.5 flex flex-wrap items-center">
          <button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={() => act.send({ do: 'resume' })}>{BENCH.goOn}</button>
          <button class="btn preset-outlined-surface-300-700" onclick={() => act.send({ do: 'present' })}>{COMMON.iAmHere}</button>
        </div>
      {:else if again}
        <div class="gap-1.5 flex flex-wrap items-center" role="group" aria-label={BENCH.takeItUpAgain}>
          {#each again.places as { line, label } (line)}<button
              class="btn preset-outlined-surface-300-700"
              disabled={act.busy !== null}
              onclick={() => act.send({ do: 'practice', program: again.name, from: line })}>{BENCH.goOnFrom(label || `line ${line}`)}</button
            >{/each}
        </div>
      {/if}
    {/if}
  </section>
{/if}
