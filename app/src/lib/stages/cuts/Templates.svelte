<script lang="ts">
  /** Cut lists kept by the shop: laid on this artwork, or this one kept for others. */
  import { cutName } from '@kerbe/core/cuts';
  import { onMount } from 'svelte';
  import { layTemplate, templateOf, type Template } from '@kerbe/core/job/template';
  import type { JobSession } from '$lib/job/session.svelte';
  import { ask } from '$lib/ui/post';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  type Kept = { templates: { id: string; name: string; doc: Template; author: string }[] };
  let { session, onclose }: { session: JobSession; onclose: () => void } = $props();
  let list = $state.raw<Kept['templates'] | null>(null);
  let note = $state<{ text: string; bad: boolean } | null>(null);
  // svelte-ignore state_referenced_locally
  let name = $state(session.job.name);
  onMount(() => void fetchAll('GET'));

  async function fetchAll(method: 'GET' | 'POST' | 'DELETE', url = '/api/templates', body?: unknown, said = '') {
    const answer = await ask<Kept>(url, method, body);
    if (answer.ok) list = answer.value.templates;
    note = answer.ok ? (said ? { text: said, bad: false } : null) : { text: answer.why, bad: true };
  }
  function lay(template: Template) {
    const { job, idle } = layTemplate(session.job, template);
    session.edit(CUTS.apply(template.name), (d) => {
      d.tools = job.tools;
      d.cuts = job.cuts;
      d.cutOrder = job.cutOrder;
    });
    if (idle.length === 0) onclose();
    else note = { text: `Laid. Nothing in this drawing is for: ${idle.join(', ')}. Undo takes it back.`, bad: false };
  }
</script>

<Sheet title={CUTS.cutTemplates} {onclose}>
  <p>A cut list keeps its cuts and bits and finds what they work on - words, holes, lines, shapes, the outline - in other artwork.</p>
  {#if list === null}
    <p class="text-surface-600-400">Looking…</p>
  {:else}
    <ul class="my-1.5">
      {#each list as { id, name: called, doc } (id)}
        <li class="py-2 gap-2.5 border-t border-surface-200-800 flex items-center">
          <span class="flex-1"
            ><strong>{called}</strong><small class="block text-surface-600-400">{doc.cutOrder.map((key) => cutName(doc.cuts[key])).join(', ')}</small></span
          >
          <button class="btn preset-outlined-surface-300-700" onclick={() => lay(doc)}>{CUTS.applyToThisJob}</button>
          <button
            class="btn preset-outlined-surface-300-700"
            aria-label={COMMON.deleteNamed(called)}
            onclick={() => fetchAll('DELETE', `/api/templates?id=${id}`)}>{COMMON.delete}</button
          >
        </li>
      {:else}
        <li class="text-surface-600-400 py-2 gap-2.5 border-t border-surface-200-800 flex items-center">None yet.</li>
      {/each}
    </ul>
  {/if}
  {#if note}<p class:caution={note.bad} role={note.bad ? 'alert' : 'status'}>{note.text}</p>{/if}
  <form
    class="gap-2.5 flex items-end pt-2.5"
    onsubmit={(event) => {
      event.preventDefault();
      void fetchAll('POST', '/api/templates', templateOf(session.job, name.trim()), `“${name.trim()}” is kept.`);
    }}
  >
    <label>{CUTS.saveTheCutsOfThis} <input class="input" bind:value={name} maxlength="120" required /></label>
    <button class="btn preset-outlined-surface-300-700" disabled={session.job.cutOrder.length === 0 || name.trim() === ''}>{COMMON.save}</button>
  </form>
</Sheet>
