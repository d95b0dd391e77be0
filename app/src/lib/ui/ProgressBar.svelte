<script lang="ts">
  /** How far long work has come; without a share it says that it goes on. */
  import { Progress } from '@skeletonlabs/skeleton-svelte';

  let { label, share, class: size = 'h-1.5' }: { label: string; share: number | null; class?: string } = $props();
</script>

<Progress class="min-w-28 flex-1" value={share === null ? null : Math.round(1000 * share)} max={1000} aria-label={label}>
  <Progress.Track class={[size, 'bg-surface-200-800']} aria-label={label}><Progress.Range class="h-full bg-primary-600-400" /></Progress.Track>
</Progress>
