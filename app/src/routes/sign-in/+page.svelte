<script lang="ts">
  import Entrance from '$lib/ui/Entrance.svelte';

  let { data, form } = $props();
  const WHAT: Record<string, string> = { owner: 'draws, plans and releases signs', operator: 'sets up and runs the machine' };
</script>

<svelte:head><title>Sign in · Kerbe</title></svelte:head>
<Entrance>
  <p class="text-lg">From the customer's words to a carved board.</p>
  {#if form?.why}<p class="caution" role="alert">{form.why}</p>{/if}
  {#if data.empty && !data.demo.length}
    <p class="caution">Nobody has an account here yet. Kerbe printed a link for the first owner where it was started: open that.</p>
  {/if}
  {#if data.demo.length}
    <h2>The Saltgrass Sign Shed (demo)</h2>
    {#each data.demo as person (person.role)}
      <form method="POST">
        <input type="hidden" name="demo" value={person.role} />
        <button class={person.role === 'owner' ? 'btn preset-filled-brand px-4 py-2.5 font-semibold' : 'btn preset-outlined-surface-300-700'}
          >Open the demo as {person.name}</button
        > <span class="text-surface-600-400">{WHAT[person.role]}</span>
      </form>
    {/each}
    <hr class="my-3.5 border-surface-200-800" />
  {/if}
  <form method="POST">
    <h2>With your own account</h2>
    <label>E-mail <input class="input" name="email" type="email" autocomplete="username" required /></label>
    <label>Password <input class="input" name="password" type="password" autocomplete="current-password" required /></label>
    <button class="btn preset-outlined-surface-300-700">Sign in</button>
  </form>
</Entrance>
