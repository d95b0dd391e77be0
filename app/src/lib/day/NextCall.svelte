<script lang="ts">
  /** Who is needed where next, by the plan of the day. */
  import { nextCall } from './next.svelte';
  import { CALL_WORDS } from './view';
  import { DAY } from '$lib/labels/day';
</script>

{#if nextCall.call}
  {@const { moment, what, machine, task } = nextCall.call}
  <a class="max-w-72 min-w-0 truncate max-[1100px]:max-w-44 text-sm text-surface-600-400" href="/day" title={DAY.byThePlanOfThe(task)}
    ><b class="figure">{moment.slice(11)}</b>
    {CALL_WORDS[what]}, {machine}</a
  >
{/if}
