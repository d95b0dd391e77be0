<script lang="ts">
  import Entrance from '$lib/ui/Entrance.svelte';

  let { form } = $props();
</script>

<svelte:head><title>The first owner · Kerbe</title></svelte:head>
<Entrance>
  <h2>This shop has nobody yet. Make the account of its owner.</h2>
  <p class="text-surface-600-400">The owner draws, plans and releases signs, and makes the accounts of everybody else.</p>
  {#if form?.why}<p class="caution" role="alert">{form.why}</p>{/if}
  <form method="POST" class="grid justify-items-start gap-2.5">
    <label>Name <input class="input" name="name" required maxlength="60" autocomplete="name" /></label>
    <label>E-mail <input class="input" name="email" type="email" required autocomplete="username" /></label>
    <label>Password, at least ten characters <input class="input" name="password" type="password" required minlength="10" autocomplete="new-password" /></label>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold">Make the account and come in</button>
  </form>
</Entrance>
