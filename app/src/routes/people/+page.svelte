<script lang="ts">
  import { enhance } from '$app/forms';
  import Sheet from '$lib/ui/Sheet.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';

  let { data, form } = $props();
  const WHAT: Record<string, string> = {
    owner: 'owner: draws, plans and releases',
    operator: 'operator: draws, sets up and runs',
    watcher: 'watcher: sees everything, moves nothing',
  };
  type Person = (typeof data.people)[number];
  /** Somebody whose password is set anew, or who is taken out of the shop: asked once more. */
  let asked = $state<{ person: Person; what: 'password' | 'remove' } | null>(null);
  const ask = (person: Person, what: 'password' | 'remove') => (asked = { person, what });
</script>

<svelte:head><title>People · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="people" />
<main>
  <h1>People</h1>
  {#if form?.why}<p class="caution" role="alert">{form.why}</p>{:else if form?.said}<p role="status">{form.said}</p>{/if}
  <table>
    <thead><tr><th>Name</th><th>E-mail</th><th>What they do</th><th></th></tr></thead>
    <tbody>
      {#each data.people as person (person.id)}
        <tr>
          <td>{person.name}{person.id === data.me ? ' (you)' : ''}</td>
          <td>{person.email}</td>
          <td>
            <form method="POST" action="?/role" use:enhance>
              <input type="hidden" name="id" value={person.id} /><input type="hidden" name="name" value={person.name} />
              <select class="select" name="role" aria-label="What {person.name} does" onchange={(event) => event.currentTarget.form!.requestSubmit()}>
                {#each Object.entries(WHAT) as [role, words] (role)}<option value={role} selected={role === person.role}>{words}</option>{/each}
              </select>
            </form>
          </td>
          <td>
            <div class="does">
              {#if person.id === data.me}
                <a class="press" href="/account">Your account</a>
              {:else}
                <button class="press" onclick={() => ask(person, 'password')}>New password…</button>
                <form method="POST" action="?/end" use:enhance>
                  <input type="hidden" name="id" value={person.id} /><input type="hidden" name="name" value={person.name} />
                  <button class="press">Sign out everywhere</button>
                </form>
                <button class="press" onclick={() => ask(person, 'remove')}>Remove…</button>
              {/if}
            </div>
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  <form method="POST" action="?/make" class="make" use:enhance>
    <h2>Make an account</h2>
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
{#if asked}
  <Sheet title={asked.what === 'remove' ? `Remove ${asked.person.name}?` : `New password for ${asked.person.name}`} onclose={() => (asked = null)}>
    <form
      class="sure"
      method="POST"
      action="?/{asked.what}"
      use:enhance={() =>
        async ({ update }) => {
          asked = null;
          await update();
        }}
    >
      <input type="hidden" name="id" value={asked.person.id} /><input type="hidden" name="name" value={asked.person.name} />
      {#if asked.what === 'password'}
        <p class="quiet">They are signed out everywhere and come in with the new one.</p>
        <label>Password <input class="input" name="password" type="password" required minlength="10" autocomplete="new-password" /></label>
      {:else}
        <p class="quiet">They are signed out at once and cannot come in again. Jobs, runs and notes of theirs stay in the record.</p>
      {/if}
      <div class="does">
        <button class={asked.what === 'remove' ? 'press' : 'next'}>{asked.what === 'remove' ? `Remove ${asked.person.name}` : 'Set the password'}</button>
        <button type="button" class="press" onclick={() => (asked = null)}>Cancel</button>
      </div>
    </form>
  </Sheet>
{/if}

<style>
  main {
    padding: 1.2rem 1.6rem;
    display: grid;
    gap: 1.4rem;
    max-width: 76rem;
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
  .make,
  .sure {
    display: grid;
    gap: 0.7rem;
    max-width: 30rem;
  }
  .make .next {
    justify-self: start;
  }
  td form {
    display: inline;
  }
  td .select {
    padding-right: 1.8rem;
    min-width: 20rem;
  }
  td:first-child {
    white-space: nowrap;
  }
  .does {
    display: flex;
    gap: 0.5rem;
    flex-wrap: wrap;
    justify-content: flex-end;
  }
  .sure .does {
    justify-content: flex-start;
  }
</style>
