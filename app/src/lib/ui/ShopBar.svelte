<script lang="ts">
  /** The bar of the shop's pages. */
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import { prefs } from './prefs.svelte';

  let { user, here }: { user: { name: string; role: string } | null; here: string } = $props();
</script>

<header>
  <a href="/" class="brand" aria-label="Kerbe, to the shop"><img src="/notch.svg" alt="" width="26" height="26" /> Kerbe</a>
  <nav aria-label="Shop">
    <a href="/" aria-current={here === 'shop' ? 'page' : undefined}>Shop</a>
    <a href="/logbook" aria-current={here === 'logbook' ? 'page' : undefined}>Logbook</a>
    <a href="/bits" aria-current={here === 'bits' ? 'page' : undefined}>Bits</a>
    <a href="/machines" aria-current={here === 'machines' ? 'page' : undefined}>Machines</a>
    <a href="/bench" aria-current={here === 'bench' ? 'page' : undefined}>Bench</a>
    {#if user?.role === 'owner'}<a href="/people" aria-current={here === 'people' ? 'page' : undefined}>People</a>{/if}
  </nav>
  <span class="grow"></span>
  <button class="plain" onclick={() => prefs.toggleMode()} aria-label={prefs.mode === 'light' ? 'Dark screen' : 'Light screen'}
    >{#if prefs.mode === 'light'}<Moon size={18} />{:else}<Sun size={18} />{/if}</button
  >
  <a href="/account" class="quiet" aria-current={here === 'account' ? 'page' : undefined}>{user?.name}</a>
  <form method="POST" action="/api/sign-out"><button class="plain">Sign out</button></form>
</header>

<style>
  header {
    display: flex;
    align-items: center;
    gap: 1.4rem;
    padding: 0.7rem 1.6rem;
    border-bottom: 1px solid var(--line);
  }
  .brand {
    display: flex;
    gap: 0.5rem;
    align-items: center;
    font-weight: 650;
    font-size: 1.15rem;
  }
  nav {
    display: flex;
    gap: 1.2rem;
  }
  nav a[aria-current] {
    box-shadow: 0 2px 0 var(--accent);
  }
  .grow {
    flex: 1;
  }
  .plain {
    padding: 0.3rem;
  }
</style>
