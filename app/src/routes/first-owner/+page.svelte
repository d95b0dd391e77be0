<script lang="ts">
  import { superForm } from 'sveltekit-superforms';
  import Entrance from '$lib/ui/Entrance.svelte';
  import FormField from '$lib/ui/FormField.svelte';
  import FormSaid from '$lib/ui/FormSaid.svelte';
  import { PEOPLE } from '$lib/labels/people';
  import { COMMON } from '$lib/labels/common';

  let { data } = $props();
  // svelte-ignore state_referenced_locally
  const own = superForm(data.form);
  const { message, enhance } = own;
</script>

<svelte:head><title>The first owner · Kerbe</title></svelte:head>
<Entrance>
  <h2>{PEOPLE.thisShopHasNobodyYet}</h2>
  <p class="text-surface-600-400">The owner draws, plans and releases signs, and makes the accounts of everybody else.</p>
  <FormSaid message={$message} />
  <form method="POST" class="grid max-w-120 gap-2.5" use:enhance>
    <FormField of={own} label={COMMON.name} name="name" autocomplete="name" required />
    <FormField of={own} label={PEOPLE.eMail} name="email" type="email" autocomplete="username" />
    <FormField of={own} label={PEOPLE.passwordAtLeastTenCharacters} name="password" type="password" autocomplete="new-password" required />
    <button class="btn preset-filled-brand justify-self-start px-4 py-2.5 font-semibold">{PEOPLE.makeTheAccountAndCome}</button>
  </form>
</Entrance>
