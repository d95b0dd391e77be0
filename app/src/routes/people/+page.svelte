<script lang="ts">
  import { enhance } from '$app/forms';
  import { superForm } from 'sveltekit-superforms';
  import DataTable, { type Column, type Sorted } from '$lib/ui/DataTable.svelte';
  import FormField from '$lib/ui/FormField.svelte';
  import FormSaid from '$lib/ui/FormSaid.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';

  let { data, form: answer } = $props();
  // svelte-ignore state_referenced_locally
  const made = superForm(data.form);
  const { form: makeForm, message } = made;
  const WHAT: Record<string, string> = {
    owner: 'owner: draws, plans and releases',
    operator: 'operator: draws, sets up and runs',
    watcher: 'watcher: sees everything, moves nothing',
  };
  type Person = (typeof data.people)[number];
  /** Somebody whose password is set anew, or who is taken out of the shop: asked once more. */
  let asked = $state<{ person: Person; what: 'password' | 'remove' } | null>(null);
  const ask = (person: Person, what: 'password' | 'remove') => (asked = { person, what });
  let sorted = $state<Sorted | null>({ by: 'name', down: false });
  const columns: Column<Person>[] = [
    { id: 'name', title: 'Name', cell: nameCell, sortBy: ({ name }) => name },
    { id: 'email', title: 'E-mail', cell: emailCell, sortBy: ({ email }) => email },
    { id: 'role', title: 'What they do', cell: roleCell, sortBy: ({ role }) => role },
    { id: 'acts', title: '', cell: actsCell },
  ];
</script>

{#snippet nameCell(person: Person)}<span class="whitespace-nowrap">{person.name}{person.id === data.me ? ' (you)' : ''}</span>{/snippet}
{#snippet emailCell({ email }: Person)}<span class="whitespace-nowrap">{email}</span>{/snippet}
{#snippet roleCell(person: Person)}
  <form class="inline" method="POST" action="?/role" use:enhance>
    <input type="hidden" name="id" value={person.id} /><input type="hidden" name="name" value={person.name} />
    <select class="select pr-7.5 min-w-80" name="role" aria-label="What {person.name} does" onchange={(event) => event.currentTarget.form!.requestSubmit()}>
      {#each Object.entries(WHAT) as [role, words] (role)}<option value={role} selected={role === person.role}>{words}</option>{/each}
    </select>
  </form>
{/snippet}
{#snippet actsCell(person: Person)}
  <div class="gap-2 flex flex-wrap justify-end">
    {#if person.id === data.me}
      <a class="btn preset-outlined-surface-300-700" href="/account">Your account</a>
    {:else}
      <button class="btn preset-outlined-surface-300-700" onclick={() => ask(person, 'password')}>New password…</button>
      <form class="inline" method="POST" action="?/end" use:enhance>
        <input type="hidden" name="id" value={person.id} /><input type="hidden" name="name" value={person.name} />
        <button class="btn preset-outlined-surface-300-700">Sign out everywhere</button>
      </form>
      <button class="btn preset-outlined-surface-300-700" onclick={() => ask(person, 'remove')}>Remove…</button>
    {/if}
  </div>
{/snippet}

<svelte:head><title>People · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="people" />
<main class="py-5 px-6.5 gap-5.5 grid max-w-304">
  <h1 class="text-3xl">People</h1>
  {#if answer && !('form' in answer)}<FormSaid message={answer} />{/if}
  <DataTable label="People" rows={data.people} idOf={({ id }) => id} {columns} bind:sorted />
  <form method="POST" action="?/make" class="gap-3 grid max-w-120" use:made.enhance>
    <h2 class="text-lg">Make an account</h2>
    <FormSaid message={$message} />
    <FormField of={made} label="Name" name="name" autocomplete="off" required />
    <FormField of={made} label="E-mail" name="email" type="email" autocomplete="off" />
    <label
      >What they do
      <select class="select" name="role" bind:value={$makeForm.role}
        ><option value="operator">{WHAT.operator}</option><option value="owner">{WHAT.owner}</option><option value="watcher">{WHAT.watcher}</option></select
      ></label
    >
    <FormField of={made} label="Password to begin with" name="password" type="password" autocomplete="new-password" required />
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold justify-self-start">Make the account</button>
  </form>
</main>
{#if asked}
  <Sheet title={asked.what === 'remove' ? `Remove ${asked.person.name}?` : `New password for ${asked.person.name}`} onclose={() => (asked = null)}>
    <form
      class="gap-3 grid max-w-120"
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
        <p class="text-surface-600-400">They are signed out everywhere and come in with the new one.</p>
        <label>Password <input class="input" name="password" type="password" required minlength="10" autocomplete="new-password" /></label>
      {:else}
        <p class="text-surface-600-400">They are signed out at once and cannot come in again. Jobs, runs and notes of theirs stay in the record.</p>
      {/if}
      <div class="gap-2 flex flex-wrap justify-start">
        <button class={asked.what === 'remove' ? 'btn preset-outlined-surface-300-700' : 'btn preset-filled-brand px-4 py-2.5 font-semibold'}
          >{asked.what === 'remove' ? `Remove ${asked.person.name}` : 'Set the password'}</button
        >
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (asked = null)}>Cancel</button>
      </div>
    </form>
  </Sheet>
{/if}
