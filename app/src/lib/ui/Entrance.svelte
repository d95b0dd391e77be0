<script lang="ts">
  /** What stands before the shop: the name, and one form in the middle of the page. */
  import type { Snippet } from 'svelte';

  let { children }: { children: Snippet } = $props();
</script>

<main>
  <h1><img src="/notch.svg" alt="" width="44" height="44" /> Kerbe</h1>
  {@render children()}
</main>

<style>
  main {
    max-width: 34rem;
    margin: 9vh auto;
    padding: 0 1.5rem;
    display: grid;
    gap: 0.9rem;
  }
  h1 {
    font-size: 2.6rem;
    display: flex;
    gap: 0.8rem;
    align-items: center;
  }
  main :global(h2) {
    font-size: 1.1rem;
  }
  main :global(form.account) {
    display: grid;
    gap: 0.6rem;
  }
  main :global(form.account button) {
    justify-self: start;
  }
</style>
