<script lang="ts">
  import { format } from 'date-fns';
  import { enhance } from '$app/forms';
  import { superForm } from 'sveltekit-superforms';
  import DataTable, { type Column, type Sorted } from '$lib/ui/DataTable.svelte';
  import FormField from '$lib/ui/FormField.svelte';
  import FormSaid from '$lib/ui/FormSaid.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { PEOPLE } from '$lib/labels/people';
  import { COMMON } from '$lib/labels/common';

  let { data, form: answer } = $props();
  // svelte-ignore state_referenced_locally
  const own = superForm(data.name, { resetForm: false });
  // svelte-ignore state_referenced_locally
  const change = superForm(data.password);
  const { message: nameSaid } = own;
  const { message: changeSaid } = change;
  /** What a browser calls itself, as a person would. */
  function screen(agent: string | null): string {
    const system = /Android|iPhone|iPad|Windows|Mac OS|Linux/.exec(agent ?? '')?.[0];
    const browser = /Firefox|Edg|Chrome|Safari/.exec(agent ?? '')?.[0];
    return [browser, system].filter(Boolean).join(' on ') || 'a screen that does not say what it is';
  }
  type Session = (typeof data.sessions)[number];
  let sorted = $state<Sorted | null>({ by: 'since', down: true });
  const columns: Column<Session>[] = [
    { id: 'screen', title: PEOPLE.device, cell: screenCell, sortBy: ({ userAgent }) => screen(userAgent) },
    { id: 'address', title: PEOPLE.address, cell: addressCell, sortBy: ({ ipAddress }) => ipAddress ?? '' },
    { id: 'since', title: PEOPLE.since, cell: sinceCell, sortBy: ({ createdAt }) => new Date(createdAt).getTime() },
    { id: 'end', title: '', cell: endCell },
  ];
</script>

{#snippet screenCell(session: Session)}{screen(session.userAgent)}{session.here ? ' (this one)' : ''}{/snippet}
{#snippet addressCell({ ipAddress }: Session)}<span class="figure">{ipAddress ?? ''}</span>{/snippet}
{#snippet sinceCell({ createdAt }: Session)}<span class="figure">{format(createdAt, 'd MMM yyyy HH:mm')}</span>{/snippet}
{#snippet endCell(session: Session)}
  {#if !session.here}
    <form method="POST" action="?/end" use:enhance>
      <input type="hidden" name="session" value={session.id} /><button class="btn preset-outlined-surface-300-700">{PEOPLE.signOutThere}</button>
    </form>
  {/if}
{/snippet}

<svelte:head><title>Your account · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="account" />
<main class="py-5 px-6.5 gap-5.5 grid max-w-208">
  <h1 class="text-3xl">{PEOPLE.yourAccount}</h1>
  {#if answer && 'said' in answer}<p role="status">{answer.said}</p>{/if}
  <form class="gap-2.5 grid max-w-120" method="POST" action="?/name" use:own.enhance>
    <h2 class="text-lg">{COMMON.name}</h2>
    <FormSaid message={$nameSaid} />
    <FormField of={own} label={PEOPLE.yourNameInThisShop} name="name" autocomplete="name" required />
    <button class="btn preset-outlined-surface-300-700 justify-self-start">{PEOPLE.changeTheName}</button>
  </form>
  <form class="gap-2.5 grid max-w-120" method="POST" action="?/password" use:change.enhance>
    <h2 class="text-lg">{PEOPLE.password}</h2>
    <FormSaid message={$changeSaid} />
    <FormField of={change} label={PEOPLE.currentPassword} name="old" type="password" autocomplete="current-password" />
    <FormField of={change} label={PEOPLE.newPasswordAtLeastTen} name="password" type="password" autocomplete="new-password" required />
    <button class="btn preset-outlined-surface-300-700 justify-self-start">{PEOPLE.changeThePassword}</button>
  </form>
  <section class="gap-2.5 grid">
    <h2 class="text-lg">{PEOPLE.whereYouAreSignedIn}</h2>
    <DataTable label={PEOPLE.whereYouAreSignedIn} rows={data.sessions} idOf={({ id }) => id} {columns} bind:sorted />
    {#if data.sessions.length > 1}
      <form method="POST" action="?/end" use:enhance>
        <input type="hidden" name="session" value="others" /><button class="btn preset-outlined-surface-300-700">{PEOPLE.signOutEverywhereElse}</button>
      </form>
    {/if}
  </section>
</main>
