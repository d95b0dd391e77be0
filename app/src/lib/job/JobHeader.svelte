<script lang="ts">
  /** The head of a job: its name, whether it is saved, undo and redo, units and screen; and what stands in the way of saving. */
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import Undo from '@lucide/svelte/icons/undo-2';
  import Redo from '@lucide/svelte/icons/redo-2';
  import { prefs } from '$lib/ui/prefs.svelte';
  import type { JobSession } from './session.svelte';

  interface Props {
    session: JobSession;
    user: string | undefined;
    onunits: () => void;
    onfind: () => void;
  }
  let { session, user, onunits, onfind }: Props = $props();
  const job = $derived(session.job);
  let naming = $state(false);
  const saved = $derived(
    { saved: `rev ${session.revision} saved`, saving: 'saving…', waiting: 'changed', offline: 'not saved: kept here', clash: 'changed elsewhere' }[
      session.save.kind
    ],
  );
</script>

<header>
  <a href="/" aria-label="To the shop"><img src="/notch.svg" alt="" width="26" height="26" /></a>
  {#if naming}
    <!-- svelte-ignore a11y_autofocus -->
    <input
      class="name"
      aria-label="Name of the job"
      value={job.name}
      autofocus
      maxlength="120"
      onblur={(e) => {
        const text = e.currentTarget.value.trim();
        if (text) session.edit('Rename', (d) => void (d.name = text));
        naming = false;
      }}
      onkeydown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
    />
  {:else}
    <h1><button title="Rename" onclick={() => (naming = true)}>{job.name}</button></h1>
  {/if}
  <span class="quiet" aria-live="polite" data-save={session.save.kind}>{saved}</span>
  <button
    class="icon"
    disabled={!session.undoLabel}
    onclick={() => session.undo()}
    aria-label={session.undoLabel ? `Undo: ${session.undoLabel}` : 'Nothing to undo'}><Undo size={18} /></button
  >
  <button
    class="icon"
    disabled={!session.redoLabel}
    onclick={() => session.redo()}
    aria-label={session.redoLabel ? `Redo: ${session.redoLabel}` : 'Nothing to redo'}><Redo size={18} /></button
  >
  <button class="press find" onclick={onfind}>find or do… <kbd>Ctrl K</kbd></button>
  <button class="icon wide" onclick={onunits} aria-label="mm | in, now {job.units === 'mm' ? 'millimetres' : 'inches'}"
    ><b class:quiet={job.units !== 'mm'}>mm</b> | <b class:quiet={job.units !== 'in'}>in</b></button
  >
  <button class="icon" onclick={() => prefs.toggleMode()} aria-label={prefs.mode === 'light' ? 'Dark screen' : 'Light screen'}
    >{#if prefs.mode === 'light'}<Moon size={18} />{:else}<Sun size={18} />{/if}</button
  >
  <span class="quiet">{user}</span>
</header>

{#if session.save.kind === 'clash'}
  <div class="banner" role="alert">
    {session.save.why}
    <button class="press" onclick={() => session.resolveClash(true)}>Go on with mine</button>
    <button class="press" onclick={() => session.resolveClash(false)}>Take the other</button>
  </div>
{:else if session.save.kind === 'offline'}
  <div class="banner" role="alert">{session.save.why}</div>
{/if}

<style>
  header {
    grid-row: 1;
    display: flex;
    align-items: center;
    gap: 0.8rem;
    padding: 0.45rem 1rem;
    border-bottom: 1px solid var(--line);
  }
  h1 {
    font-size: 1.2rem;
  }
  .name {
    font-size: 1.2rem;
    font-weight: 600;
    border: 0;
    border-bottom: 1px solid var(--accent);
    background: none;
    color: var(--ink);
  }
  .find {
    margin-left: auto;
    color: var(--quiet);
    min-width: 14rem;
    text-align: left;
    display: flex;
    justify-content: space-between;
  }
  .icon {
    padding: 0.45rem;
    min-width: 2.2rem;
  }
  .icon:disabled {
    opacity: 0.35;
  }
  .banner {
    grid-row: 2;
    background: var(--amber);
    color: var(--paper);
    padding: 0.45rem 1rem;
    display: flex;
    gap: 0.8rem;
    align-items: center;
  }
  @media (max-height: 480px), (max-width: 600px) {
    header {
      display: none;
    }
  }
  @media (max-width: 1100px) {
    .find {
      min-width: 0;
    }
  }
</style>
