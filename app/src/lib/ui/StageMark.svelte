<script lang="ts">
  /** The state of a stage as a notch: open, half cut, cut, or cut with a burr. */
  let { state }: { state: 'not-started' | 'in-hand' | 'ready' | 'needs-you' } = $props();
</script>

<svg viewBox="0 0 24 18" width="24" height="18" aria-hidden="true" style="flex: none">
  {#if state === 'not-started'}
    <path class="stroke-surface-600-400" d="M1 6h5l6 9 6-9h5" fill="none" stroke-width="1.6" />
  {:else if state === 'in-hand'}
    <path class="stroke-primary-600-400" d="M1 6h5l6 9 6-9h5" fill="none" stroke-width="1.6" />
    <path class="fill-primary-600-400" d="M9 10.5 12 15l3-4.5z" />
  {:else if state === 'ready'}
    <path class="fill-primary-600-400 stroke-primary-600-400" d="M1 6h5l6 9 6-9h5" stroke-width="1.6" />
  {:else}
    <path class="fill-warning-600-400 stroke-warning-600-400" d="M1 6h5l6 9 6-9h5" stroke-width="1.6" />
    <path class="fill-warning-600-400" d="M6 6 4.5 1.5 8.5 4zM18 6l1.5-4.5-4 2.5z" />
  {/if}
</svg>
