<script lang="ts">
  /** Cut lists kept by the shop: laid on this artwork, or this one kept for others. */
  import { onMount } from 'svelte';
  import { layTemplate, templateOf, type Template } from '@kerbe/core/job/template';
  import type { JobSession } from '$lib/job/session.svelte';
  import { ask } from '$lib/ui/post';
  import Sheet from '$lib/ui/Sheet.svelte';

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
    session.edit(`Lay “${template.name}”`, (d) => {
      d.tools = job.tools;
      d.cuts = job.cuts;
      d.cutOrder = job.cutOrder;
    });
    if (idle.length === 0) onclose();
    else note = { text: `Laid. Nothing in this drawing is for: ${idle.join(', ')}. Undo takes it back.`, bad: false };
  }
</script>

<Sheet title="Cut templates" {onclose}>
  <p>A cut list keeps its cuts and bits and finds what they work on - words, holes, lines, shapes, the outline - in other artwork.</p>
  {#if list === null}
    <p class="quiet">Looking…</p>
  {:else}
    <ul>
      {#each list as { id, name: called, doc } (id)}
        <li>
          <span><strong>{called}</strong><small>{doc.cutOrder.map((key) => doc.cuts[key].name || doc.cuts[key].kind).join(', ')}</small></span>
          <button class="press" onclick={() => lay(doc)}>Apply to this job</button>
          <button class="press" aria-label="Forget {called}" onclick={() => fetchAll('DELETE', `/api/templates?id=${id}`)}>Forget</button>
        </li>
      {:else}
        <li class="quiet">None kept yet.</li>
      {/each}
    </ul>
  {/if}
  {#if note}<p class:caution={note.bad} role={note.bad ? 'alert' : 'status'}>{note.text}</p>{/if}
  <form
    onsubmit={(event) => {
      event.preventDefault();
      void fetchAll('POST', '/api/templates', templateOf(session.job, name.trim()), `“${name.trim()}” is kept.`);
    }}
  >
    <label>Keep the cuts of this job as <input class="input" bind:value={name} maxlength="120" required /></label>
    <button class="press" disabled={session.job.cutOrder.length === 0 || name.trim() === ''}>Keep</button>
  </form>
</Sheet>

<style>
  ul {
    list-style: none;
    padding: 0;
    margin: 0.4rem 0;
  }
  li {
    display: flex;
    gap: 0.6rem;
    align-items: center;
    border-top: 1px solid var(--line);
    padding: 0.45rem 0;
  }
  li span {
    flex: 1;
  }
  small {
    display: block;
    color: var(--quiet);
  }
  form {
    display: flex;
    gap: 0.6rem;
    align-items: end;
    padding-top: 0.6rem;
  }
</style>
