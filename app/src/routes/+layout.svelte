<script lang="ts">
  import { onMount } from 'svelte';
  import '../app.css';
  import Toasts from '$lib/ui/Toasts.svelte';

  let { children } = $props();
  /** Until the page is alive nothing can be pressed: a press that does nothing is worse than one that has to wait. */
  let alive = $state(false);
  onMount(() => (alive = true));
</script>

<div class="contents" inert={!alive}>
  {@render children()}
</div>
<Toasts />
