<script lang="ts">
  /** The job of the other half of an inlay: another board, another set-up, another record. */
  import { pairJob, type InlayRoom } from '@kerbe/core/job/pair';
  import type { ExtraProps } from './extra';
  import { ask } from '$lib/ui/post';

  let { session, cut, room, label = 'Make the job of the other half' }: ExtraProps & { room?: InlayRoom; label?: string } = $props();
  let note = $state<string | null>(null);
  async function makeHalf() {
    const pair = pairJob(session.job, cut.id, room);
    if (!pair.ok) {
      note = pair.why;
      return;
    }
    const answer = await ask<{ id: string }>('/api/jobs', 'POST', pair.job);
    // A page of its own: the other job has its own undo steps and its own saves.
    if (answer.ok) location.assign(`/job/${answer.value.id}?stage=cuts`);
    else note = answer.why;
  }
</script>

<button class="btn preset-outlined-surface-300-700" onclick={makeHalf}>{label}</button>
{#if note}<p class="caution" role="alert">{note}</p>{/if}
