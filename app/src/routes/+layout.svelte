<script lang="ts">
  import '../app.css';
  import { Toaster } from 'svelte-sonner';
  import { prefs } from '$lib/ui/prefs.svelte';

  let { children } = $props();
</script>

{@render children()}
<Toaster theme={prefs.mode} position="bottom-center" />
