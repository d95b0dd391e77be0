<script lang="ts">
  import { superForm } from 'sveltekit-superforms';
  import Entrance from '$lib/ui/Entrance.svelte';
  import FormField from '$lib/ui/FormField.svelte';
  import FormSaid from '$lib/ui/FormSaid.svelte';
  import { PEOPLE } from '$lib/labels/people';

  let { data } = $props();
  // svelte-ignore state_referenced_locally
  const own = superForm(data.form);
  const { message, enhance } = own;
  const WHAT: Record<string, string> = { owner: 'draws, plans and releases signs', operator: 'sets up and runs the machine' };
</script>

<svelte:head><title>Sign in · Kerbe</title></svelte:head>
<Entrance>
  <p class="text-lg">From the customer's words to a carved board.</p>
  <FormSaid message={$message} />
  {#if data.empty && !data.demo.length}
    <p class="caution">Nobody has an account here yet. Kerbe printed a link for the first owner where it was started: open that.</p>
  {/if}
  {#if data.demo.length}
    <h2>{PEOPLE.theSaltgrassSignShedDemo}</h2>
    {#each data.demo as person (person.role)}
      <form method="POST">
        <input type="hidden" name="demo" value={person.role} />
        <button class={person.role === 'owner' ? 'btn preset-filled-brand px-4 py-2.5 font-semibold' : 'btn preset-outlined-surface-300-700'}
          >{PEOPLE.openTheDemoAs(person.name)}</button
        > <span class="text-surface-600-400">{WHAT[person.role]}</span>
      </form>
    {/each}
    <hr class="my-3.5 border-surface-200-800" />
  {/if}
  <form method="POST" class="grid max-w-120 gap-2.5" use:enhance>
    <h2>{PEOPLE.withYourOwnAccount}</h2>
    <FormField of={own} label={PEOPLE.eMail} name="email" type="email" autocomplete="username" />
    <FormField of={own} label={PEOPLE.password} name="password" type="password" autocomplete="current-password" />
    <button class="btn preset-outlined-surface-300-700 justify-self-start">{PEOPLE.signIn}</button>
  </form>
</Entrance>
