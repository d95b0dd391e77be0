<script lang="ts">
  import ShopBar from '$lib/ui/ShopBar.svelte';

  let { data, form } = $props();
  const WHAT: Record<string, string> = {
    owner: 'owner: draws, plans and releases',
    operator: 'operator: draws, sets up and runs',
    watcher: 'watcher: sees everything, moves nothing',
  };
</script>

<svelte:head><title>People · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="people" />
<main>
  <h1>People</h1>
  <table>
    <thead><tr><th>Name</th><th>E-mail</th><th>What they do</th></tr></thead>
    <tbody>
      {#each data.people as person (person.id)}<tr><td>{person.name}</td><td>{person.email}</td><td>{WHAT[person.role]}</td></tr>{/each}
    </tbody>
  </table>
  <form method="POST">
    <h2>Make an account</h2>
    {#if form?.why}<p class="caution" role="alert">{form.why}</p>{:else if form?.made}<p role="status">{form.made} can sign in now.</p>{/if}
    <label>Name <input class="input" name="name" required maxlength="60" autocomplete="off" /></label>
    <label>E-mail <input class="input" name="email" type="email" required autocomplete="off" /></label>
    <label
      >What they do
      <select class="select" name="role"
        ><option value="operator">{WHAT.operator}</option><option value="owner">{WHAT.owner}</option><option value="watcher">{WHAT.watcher}</option></select
      ></label
    >
    <label>Password to begin with <input class="input" name="password" type="password" required minlength="10" autocomplete="new-password" /></label>
    <button class="next">Make the account</button>
  </form>
</main>

<style>
  main {
    padding: 1.2rem 1.6rem;
    display: grid;
    gap: 1.4rem;
    max-width: 60rem;
  }
  h1 {
    font-size: 1.7rem;
  }
  h2 {
    font-size: 1.1rem;
  }
  th {
    text-align: left;
    color: var(--quiet);
    font-weight: 500;
  }
  td,
  th {
    padding: 0.5rem 0.8rem 0.5rem 0;
    border-bottom: 1px solid var(--line);
  }
  table {
    width: 100%;
  }
  form {
    display: grid;
    gap: 0.7rem;
    max-width: 30rem;
  }
  form .next {
    justify-self: start;
  }
</style>
