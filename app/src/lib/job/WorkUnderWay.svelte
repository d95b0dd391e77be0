<script lang="ts">
  /** Work under way on the open job, with a way to end it; or why it did not come to its end. */
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { JobSession } from './session.svelte';
  import ProgressBar from '$lib/ui/ProgressBar.svelte';
  import { JOB } from '$lib/labels/job';
  import { COMMON } from '$lib/labels/common';

  let { session, editor }: { session: JobSession; editor: ArtEditor } = $props();
</script>

{#if editor.busy || editor.drawing.progress !== null}
  <div class="py-1.5 px-3 gap-3 border border-surface-200-800 absolute bottom-30.5 left-9 flex items-center bg-surface-50-950 text-sm" role="status">
    <ProgressBar label={editor.busy ?? JOB.drawing} share={editor.drawing.progress} />
    {editor.busy ?? 'Drawing'}…
    <button
      class="btn preset-outlined-surface-300-700"
      onclick={() => {
        editor.desk.cancel();
        if (editor.busy) void editor.redraw(session.job);
      }}>{COMMON.cancel}</button
    >
  </div>
{:else if session.progress}
  <div class="py-1.5 px-3 gap-3 border border-surface-200-800 absolute bottom-30.5 left-9 flex items-center bg-surface-50-950 text-sm" role="status">
    <ProgressBar label={session.progress.what} share={session.progress.done} />
    {session.progress.what}
    <button class="btn preset-outlined-surface-300-700" onclick={() => session.cancelPlan()}>{COMMON.cancel}</button>
  </div>
{:else if session.planFailed}
  <div class="py-1.5 px-3 gap-3 border border-surface-200-800 absolute bottom-30.5 left-9 flex items-center bg-surface-50-950 text-sm" role="alert">
    {session.planFailed} <button class="btn preset-outlined-surface-300-700" onclick={() => session.replan()}>{JOB.planAgain}</button>
  </div>
{/if}
