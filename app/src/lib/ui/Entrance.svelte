<script lang="ts">
  /** What stands before the shop: the name, and one form in the middle of the page. */
  import type { Snippet } from 'svelte';
  import { COMMON } from '$lib/labels/common';

  let { children }: { children: Snippet } = $props();
</script>

<main class="px-6 my-[9vh] mx-auto gap-3.5 max-w-136 grid">
  <h1 class="gap-3.5 text-5xl flex items-center"><img src="/notch.svg" alt="" width="44" height="44" /> {COMMON.kerbe}</h1>
  {@render children()}
</main>
