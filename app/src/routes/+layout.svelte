<script lang="ts">
  import { onMount } from 'svelte';
  import '../app.css';
  import { nextCall } from '$lib/day/next.svelte';
  import { writeInchesBy } from '$lib/ui/format';
  import Toasts from '$lib/ui/Toasts.svelte';

  let { data, children } = $props();
  // Before anything is written: lengths are read once.
  // svelte-ignore state_referenced_locally
  writeInchesBy(data.inches);
  /** Until the page is alive nothing can be pressed: a press that does nothing is worse than one that has to wait. */
  let alive = $state(false);
  onMount(() => (alive = true));
  // Whoever comes in later is told as well.
  const signedIn = $derived(data.user !== null);
  $effect(() => (signedIn ? nextCall.follow() : undefined));
</script>

<div class="contents" inert={!alive}>
  {@render children()}
</div>
<Toasts />
