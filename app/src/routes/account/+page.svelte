<script lang="ts">
  import { format } from 'date-fns';
  import { enhance } from '$app/forms';
  import ShopBar from '$lib/ui/ShopBar.svelte';

  let { data, form } = $props();
  /** What a browser calls itself, as a person would. */
  function screen(agent: string | null): string {
    const system = /Android|iPhone|iPad|Windows|Mac OS|Linux/.exec(agent ?? '')?.[0];
    const browser = /Firefox|Edg|Chrome|Safari/.exec(agent ?? '')?.[0];
    return [browser, system].filter(Boolean).join(' on ') || 'a screen that does not say what it is';
  }
</script>

<svelte:head><title>Your account · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="account" />
<main class="py-5 px-6.5 gap-5.5 grid max-w-208">
  <h1 class="text-3xl">Your account</h1>
  {#if form?.why}<p class="caution" role="alert">{form.why}</p>{:else if form?.said}<p role="status">{form.said}</p>{/if}
  <form class="gap-2.5 grid max-w-120" method="POST" action="?/name">
    <h2 class="text-lg">Name</h2>
    <label>What you are called in this shop <input class="input" name="name" value={data.user?.name} required maxlength="60" autocomplete="name" /></label>
    <button class="btn preset-outlined-surface-300-700 justify-self-start">Change the name</button>
  </form>
  <form class="gap-2.5 grid max-w-120" method="POST" action="?/password">
    <h2 class="text-lg">Password</h2>
    <label>The one you have <input class="input" name="old" type="password" required autocomplete="current-password" /></label>
    <label
      >The new one, at least ten characters <input class="input" name="password" type="password" required minlength="10" autocomplete="new-password" /></label
    >
    <button class="btn preset-outlined-surface-300-700 justify-self-start">Change the password</button>
  </form>
  <section class="gap-2.5 grid">
    <h2 class="text-lg">Where you are signed in</h2>
    <table class="table">
      <tbody>
        {#each data.sessions as session (session.id)}
          <tr>
            <td>{screen(session.userAgent)}{session.here ? ' (this one)' : ''}</td>
            <td class="figure">{session.ipAddress ?? ''}</td>
            <td class="figure">since {format(session.createdAt, 'd MMM yyyy HH:mm')}</td>
            <td>
              {#if !session.here}
                <form method="POST" action="?/end" use:enhance>
                  <input type="hidden" name="session" value={session.id} /><button class="btn preset-outlined-surface-300-700">Sign out there</button>
                </form>
              {/if}
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if data.sessions.length > 1}
      <form method="POST" action="?/end" use:enhance>
        <input type="hidden" name="session" value="others" /><button class="btn preset-outlined-surface-300-700">Sign out everywhere else</button>
      </form>
    {/if}
  </section>
</main>
