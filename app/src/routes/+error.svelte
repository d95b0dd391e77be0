<script lang="ts">
  import { page } from '$app/state';
  import { SHOP } from '$lib/labels/shop';
</script>

<svelte:head><title>Kerbe</title></svelte:head>
<main class="px-6 my-[15vh] mx-auto gap-4 max-w-160 grid">
  <h1 class="text-3xl">{page.status === 404 ? SHOP.pageNotFound : SHOP.thatDidNotWork}</h1>
  <p>{page.error?.message}</p>
  {#if page.error?.request}<p class="text-sm text-surface-600-400">In the log it is <span class="figure select-all">{page.error.request}</span>.</p>{/if}
  <p><a class="btn preset-filled-brand px-4 py-2.5 font-semibold" href="/">{SHOP.backToTheShop}</a></p>
</main>
