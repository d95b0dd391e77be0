<script lang="ts">
  /** The bar of the shop's pages. */
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import NextCall from '$lib/day/NextCall.svelte';
  import { prefs } from './prefs.svelte';
  import { COMMON } from '$lib/labels/common';

  let { user, here }: { user: { name: string; role: string } | null; here: string } = $props();
</script>

<header class="py-3 px-6.5 gap-5.5 border-b border-surface-200-800 flex min-w-0 items-center max-[1100px]:gap-3.5 max-[1100px]:px-3.5">
  <a href="/" class="gap-2 flex items-center font-bold text-lg" aria-label={COMMON.kerbeToTheShop}
    ><img src="/notch.svg" alt="" width="26" height="26" class="max-w-none" /> <span class="max-[1100px]:hidden">{COMMON.kerbe}</span></a
  >
  <!-- On a small screen the pages are pushed along under a finger. -->
  <nav class="gap-4 flex min-w-0 overflow-x-auto py-0.5 [scrollbar-width:none]" aria-label={COMMON.shop}>
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/" aria-current={here === 'shop' ? 'page' : undefined}>{COMMON.shop}</a>
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/day" aria-current={here === 'day' ? 'page' : undefined}>{COMMON.day}</a>
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/logbook" aria-current={here === 'logbook' ? 'page' : undefined}
      >{COMMON.logbook}</a
    >
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/bits" aria-current={here === 'bits' ? 'page' : undefined}>{COMMON.bits}</a>
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/materials" aria-current={here === 'materials' ? 'page' : undefined}
      >{COMMON.materials}</a
    >
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/machines" aria-current={here === 'machines' ? 'page' : undefined}
      >{COMMON.machines}</a
    >
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/bench" aria-current={here === 'bench' ? 'page' : undefined}>{COMMON.bench}</a
    >
    <a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/sums" aria-current={here === 'sums' ? 'page' : undefined}>{COMMON.sums}</a>
    {#if user?.role === 'owner'}<a
        class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]"
        href="/people"
        aria-current={here === 'people' ? 'page' : undefined}>{COMMON.people}</a
      ><a class="aria-[current]:shadow-[0_2px_0_var(--color-primary-600-400)]" href="/settings" aria-current={here === 'settings' ? 'page' : undefined}
        >{COMMON.settings}</a
      >{/if}
  </nav>
  <span class="flex-1 max-[1100px]:hidden"></span>
  <NextCall />
  <button class="p-1.5" onclick={() => prefs.toggleMode()} aria-label={prefs.mode === 'light' ? COMMON.darkScreen : COMMON.lightScreen}
    >{#if prefs.mode === 'light'}<Moon size={18} />{:else}<Sun size={18} />{/if}</button
  >
  <a href="/account" class="text-surface-600-400 whitespace-nowrap" aria-current={here === 'account' ? 'page' : undefined}>{user?.name}</a>
  <form method="POST" action="/api/sign-out"><button class="p-1.5 whitespace-nowrap">{COMMON.signOut}</button></form>
</header>
