<script lang="ts">
  import { page } from '$app/state';
</script>

<svelte:head><title>Kerbe</title></svelte:head>
<main>
  <h1>{page.status === 404 ? 'Not here' : 'That did not work'}</h1>
  <p>{page.error?.message}</p>
  <p><a class="next" href="/">Back to the shop</a></p>
</main>

<style>
  main {
    max-width: 40rem;
    margin: 15vh auto;
    padding: 0 1.5rem;
    display: grid;
    gap: 1rem;
  }
  h1 {
    font-size: 2rem;
  }
</style>
