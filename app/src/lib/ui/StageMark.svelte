<script lang="ts">
  /** The state of a stage as a notch: open, half cut, cut, or cut with a burr. */
  let { state }: { state: 'not-started' | 'in-hand' | 'ready' | 'needs-you' } = $props();
</script>

<svg viewBox="0 0 24 18" width="24" height="18" aria-hidden="true" style="flex: none">
  {#if state === 'not-started'}
    <path d="M1 6h5l6 9 6-9h5" fill="none" stroke="var(--quiet)" stroke-width="1.6" />
  {:else if state === 'in-hand'}
    <path d="M1 6h5l6 9 6-9h5" fill="none" stroke="var(--accent)" stroke-width="1.6" />
    <path d="M9 10.5 12 15l3-4.5z" fill="var(--accent)" />
  {:else if state === 'ready'}
    <path d="M1 6h5l6 9 6-9h5" fill="var(--accent)" stroke="var(--accent)" stroke-width="1.6" />
  {:else}
    <path d="M1 6h5l6 9 6-9h5" fill="var(--amber)" stroke="var(--amber)" stroke-width="1.6" />
    <path d="M6 6 4.5 1.5 8.5 4zM18 6l1.5-4.5-4 2.5z" fill="var(--amber)" />
  {/if}
</svg>
