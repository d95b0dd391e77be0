<script lang="ts">
  let { form } = $props();
</script>

<svelte:head><title>The first owner · Kerbe</title></svelte:head>
<main>
  <h1><img src="/notch.svg" alt="" width="44" height="44" /> Kerbe</h1>
  <h2>This shop has nobody yet. Make the account of its owner.</h2>
  <p class="quiet">The owner draws, plans and releases signs, and makes the accounts of everybody else.</p>
  {#if form?.why}<p class="caution" role="alert">{form.why}</p>{/if}
  <form method="POST">
    <label>Name <input class="input" name="name" required maxlength="60" autocomplete="name" /></label>
    <label>E-mail <input class="input" name="email" type="email" required autocomplete="username" /></label>
    <label>Password, at least ten characters <input class="input" name="password" type="password" required minlength="10" autocomplete="new-password" /></label>
    <button class="next">Make the account and come in</button>
  </form>
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
  h2 {
    font-size: 1.1rem;
  }
  form {
    display: grid;
    gap: 0.6rem;
  }
  .next {
    justify-self: start;
  }
</style>
