<script lang="ts">
  /** The head of a job: its name, whether it is saved, undo and redo, units and screen; and what stands in the way of saving. */
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import Undo from '@lucide/svelte/icons/undo-2';
  import Redo from '@lucide/svelte/icons/redo-2';
  import NextCall from '$lib/day/NextCall.svelte';
  import { prefs } from '$lib/ui/prefs.svelte';
  import type { JobSession } from './session.svelte';
  import Segments from '$lib/ui/Segments.svelte';
  import ToolButton from '$lib/ui/ToolButton.svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import { COMMON } from '$lib/labels/common';
  import { JOB } from '$lib/labels/job';

  interface Props {
    session: JobSession;
    user: string | undefined;
    onunits: () => void;
    onfind: () => void;
    onhistory: () => void;
  }
  let { session, user, onunits, onfind, onhistory }: Props = $props();
  const job = $derived(session.job);
  let naming = $state(false);
  const saved = $derived(
    { saved: `rev ${session.revision} saved`, saving: 'saving…', waiting: 'changed', offline: 'not saved: kept here', clash: 'changed elsewhere' }[
      session.save.kind
    ],
  );
</script>

<header class="phone:hidden py-2 px-4 gap-3.5 border-b border-surface-200-800 row-start-1 flex items-center">
  <a href="/" aria-label={COMMON.toTheShop}><img src="/notch.svg" alt="" width="26" height="26" /></a>
  {#if naming}
    <!-- svelte-ignore a11y_autofocus -->
    <input
      class="input name border-primary-600-400 text-xl font-semibold"
      aria-label={JOB.nameOfTheJob}
      value={job.name}
      autofocus
      maxlength="120"
      onblur={(e) => {
        const text = e.currentTarget.value.trim();
        if (text) session.edit(JOB.rename, (d) => void (d.name = text));
        naming = false;
      }}
      onkeydown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
    />
  {:else}
    <h1 class="text-xl">
      <Tip tip={JOB.rename}>{#snippet children(attributes)}<button {...attributes} onclick={() => (naming = true)}>{job.name}</button>{/snippet}</Tip>
    </h1>
  {/if}
  <Tip tip={JOB.historyEverySavedVersion}
    >{#snippet children(attributes)}<button {...attributes} class="text-surface-600-400" aria-live="polite" data-save={session.save.kind} onclick={onhistory}
        >{saved}</button
      >{/snippet}</Tip
  >
  <ToolButton
    label={session.undoLabel ? JOB.undoEdit(session.undoLabel) : JOB.nothingToUndo}
    keys="Ctrl Z"
    disabled={!session.undoLabel}
    onclick={() => session.undo()}><Undo size={18} /></ToolButton
  >
  <ToolButton
    label={session.redoLabel ? JOB.redoEdit(session.redoLabel) : JOB.nothingToRedo}
    keys="Ctrl Y"
    disabled={!session.redoLabel}
    onclick={() => session.redo()}><Redo size={18} /></ToolButton
  >
  <button class="btn preset-outlined-surface-300-700 ml-auto text-surface-600-400 min-w-56 text-left flex justify-between max-[1100px]:min-w-0" onclick={onfind}
    >{JOB.search} <kbd>{JOB.ctrlK}</kbd></button
  >
  <span class="max-[1100px]:hidden"><NextCall /></span>
  <Segments
    label={COMMON.units}
    value={job.units}
    options={[
      { value: 'mm', label: 'mm' },
      { value: 'in', label: 'in' },
    ]}
    onchange={onunits}
  />
  <ToolButton label={prefs.mode === 'light' ? COMMON.darkScreen : COMMON.lightScreen} onclick={() => prefs.toggleMode()}
    >{#if prefs.mode === 'light'}<Moon size={18} />{:else}<Sun size={18} />{/if}</ToolButton
  >
  <span class="text-surface-600-400">{user}</span>
</header>

{#if session.save.kind === 'clash'}
  <div class="py-2 px-4 gap-3.5 row-start-2 bg-warning-600-400 text-surface-100-900 flex items-center" role="alert">
    {session.save.why}
    <button class="btn preset-outlined-surface-300-700" onclick={() => session.resolveClash(true)}>{JOB.goOnWithMine}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => session.resolveClash(false)}>{JOB.takeTheOther}</button>
  </div>
{:else if session.save.kind === 'offline'}
  <div class="py-2 px-4 gap-3.5 row-start-2 bg-warning-600-400 text-surface-100-900 flex items-center" role="alert">{session.save.why}</div>
{/if}
