<script lang="ts">
  import { enhance } from '$app/forms';
  import { superForm } from 'sveltekit-superforms';
  import DataTable, { type Column, type Sorted } from '$lib/ui/DataTable.svelte';
  import FormField from '$lib/ui/FormField.svelte';
  import FormSaid from '$lib/ui/FormSaid.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { COMMON } from '$lib/labels/common';
  import { PEOPLE } from '$lib/labels/people';

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
    { id: 'name', title: COMMON.name, cell: nameCell, sortBy: ({ name }) => name },
    { id: 'email', title: PEOPLE.eMail, cell: emailCell, sortBy: ({ email }) => email },
    { id: 'role', title: PEOPLE.role, cell: roleCell, sortBy: ({ role }) => role },
    { id: 'acts', title: '', cell: actsCell },
  ];
</script>

{#snippet nameCell(person: Person)}<span class="whitespace-nowrap">{person.name}{person.id === data.me ? ' (you)' : ''}</span>{/snippet}
{#snippet emailCell({ email }: Person)}<span class="whitespace-nowrap">{email}</span>{/snippet}
{#snippet roleCell(person: Person)}
  <form class="inline" method="POST" action="?/role" use:enhance>
    <input type="hidden" name="id" value={person.id} /><input type="hidden" name="name" value={person.name} />
    <select class="select pr-7.5 min-w-80" name="role" aria-label={PEOPLE.roleOf(person.name)} onchange={(event) => event.currentTarget.form!.requestSubmit()}>
      {#each Object.entries(WHAT) as [role, words] (role)}<option value={role} selected={role === person.role}>{words}</option>{/each}
    </select>
  </form>
{/snippet}
{#snippet actsCell(person: Person)}
  <div class="gap-2 flex flex-wrap justify-end">
    {#if person.id === data.me}
      <a class="btn preset-outlined-surface-300-700" href="/account">{PEOPLE.yourAccount}</a>
    {:else}
      <button class="btn preset-outlined-surface-300-700" onclick={() => ask(person, 'password')}>{PEOPLE.newPassword}</button>
      <form class="inline" method="POST" action="?/end" use:enhance>
        <input type="hidden" name="id" value={person.id} /><input type="hidden" name="name" value={person.name} />
        <button class="btn preset-outlined-surface-300-700">{PEOPLE.signOutEverywhere}</button>
      </form>
      <button class="btn preset-outlined-surface-300-700" onclick={() => ask(person, 'remove')}>{PEOPLE.remove}</button>
    {/if}
  </div>
{/snippet}

<svelte:head><title>People · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="people" />
<main class="py-5 px-6.5 gap-5.5 grid max-w-304">
  <h1 class="text-3xl">{COMMON.people}</h1>
  {#if answer && !('form' in answer)}<FormSaid message={answer} />{/if}
  <DataTable label={COMMON.people} rows={data.people} idOf={({ id }) => id} {columns} bind:sorted />
  <form method="POST" action="?/make" class="gap-3 grid max-w-120" use:made.enhance>
    <h2 class="text-lg">{PEOPLE.makeAnAccount}</h2>
    <FormSaid message={$message} />
    <FormField of={made} label={COMMON.name} name="name" autocomplete="off" required />
    <FormField of={made} label={PEOPLE.eMail} name="email" type="email" autocomplete="off" />
    <label
      >{PEOPLE.role}
      <select class="select" name="role" bind:value={$makeForm.role}
        ><option value="operator">{WHAT.operator}</option><option value="owner">{WHAT.owner}</option><option value="watcher">{WHAT.watcher}</option></select
      ></label
    >
    <FormField of={made} label={PEOPLE.firstPassword} name="password" type="password" autocomplete="new-password" required />
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold justify-self-start">{PEOPLE.makeTheAccount}</button>
  </form>
</main>
{#if asked}
  <Sheet title={asked.what === 'remove' ? PEOPLE.removePerson(asked.person.name) : PEOPLE.newPasswordFor(asked.person.name)} onclose={() => (asked = null)}>
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
        <label>{PEOPLE.password} <input class="input" name="password" type="password" required minlength="10" autocomplete="new-password" /></label>
      {:else}
        <p class="text-surface-600-400">They are signed out at once and cannot come in again. Jobs, runs and notes of theirs stay in the record.</p>
      {/if}
      <div class="gap-2 flex flex-wrap justify-start">
        <button class={asked.what === 'remove' ? 'btn preset-outlined-surface-300-700' : 'btn preset-filled-brand px-4 py-2.5 font-semibold'}
          >{asked.what === 'remove' ? COMMON.removeThing(asked.person.name) : PEOPLE.setThePassword}</button
        >
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (asked = null)}>{COMMON.cancel}</button>
      </div>
    </form>
  </Sheet>
{/if}
