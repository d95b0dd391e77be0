<script lang="ts">
  /** What is said of a form as a whole: that it was done, or why it was not. */
  import type { Said } from '$lib/ui/said';

  let { message }: { message: Said | undefined } = $props();
</script>

{#if message}
  {#if 'why' in message}<p class="caution" role="alert">{message.why}</p>{:else}<p role="status">{message.said}</p>{/if}
{/if}
