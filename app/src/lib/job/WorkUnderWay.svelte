<script lang="ts">
  /** Work under way on the open job, with a way to end it; or why it did not come to its end. */
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { JobSession } from './session.svelte';

  let { session, editor }: { session: JobSession; editor: ArtEditor } = $props();
</script>

{#if editor.busy || editor.drawing.progress !== null}
  <div class="doing" role="status">
    <progress max="1" value={editor.drawing.progress ?? undefined}></progress>
    {editor.busy ?? 'Drawing'}…
    <button
      class="press"
      onclick={() => {
        editor.desk.cancel();
        if (editor.busy) void editor.redraw(session.job);
      }}>Cancel</button
    >
  </div>
{:else if session.progress}
  <div class="doing" role="status">
    <progress max="1" value={session.progress.done}></progress>
    {session.progress.what}
    <button class="press" onclick={() => session.cancelPlan()}>Cancel</button>
  </div>
{:else if session.planFailed}
  <div class="doing" role="alert">{session.planFailed} <button class="press" onclick={() => session.replan()}>Plan again</button></div>
{/if}

<style>
  .doing {
    position: absolute;
    bottom: 7.6rem;
    left: 2.2rem;
    display: flex;
    gap: 0.7rem;
    align-items: center;
    background: var(--sheet);
    border: 1px solid var(--line);
    padding: 0.4rem 0.7rem;
    font-size: 0.88rem;
  }
</style>
