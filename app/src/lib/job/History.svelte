<script lang="ts">
  /** Every saved version of the job: looked at, named, and gone back to - itself one step that can be undone. */
  import { onMount } from 'svelte';
  import { format } from 'date-fns';
  import { readJob } from '@kerbe/core/job';
  import { ask } from '$lib/ui/post';
  import Sheet from '$lib/ui/Sheet.svelte';
  import type { JobSession } from './session.svelte';
  import type { Version } from './version';
  import { JOB } from '$lib/labels/job';

  let { session, mayWrite, onclose }: { session: JobSession; mayWrite: boolean; onclose: () => void } = $props();
  let versions = $state.raw<Version[]>([]);
  let more = $state(false);
  let onlyNamed = $state(false);
  let looking = $state(true);
  let why = $state('');
  /** The version that is looked at. */
  let shown = $state<number | null>(null);
  const picked = $derived(versions.find(({ revision }) => revision === shown) ?? versions[0]);

  async function load(from: Version[]) {
    looking = true;
    const query = new URLSearchParams({ ...(from.length > 0 && { before: String(from.at(-1)!.revision) }), ...(onlyNamed && { named: '1' }) });
    const answer = await ask<{ versions: Version[]; more: boolean }>(`/api/jobs/${session.id}/versions?${query}`);
    looking = false;
    why = answer.ok ? '' : answer.why;
    if (answer.ok) [versions, more] = [[...from, ...answer.value.versions], answer.value.more];
  }
  // What is on the screen is saved first: it is a version too.
  onMount(() => void session.saveNow().then(() => load([])));

  async function restore({ revision, named }: Version) {
    const answer = await ask<{ doc: unknown }>(`/api/jobs/${session.id}/versions/${revision}`);
    if (!answer.ok) return void (why = answer.why);
    const read = readJob(answer.value.doc);
    if (!read.ok) return void (why = `Revision ${revision} cannot be used: ${read.why[0]}`);
    session.restore(`Back to ${named ? `“${named}”` : `revision ${revision}`}`, read.job);
    onclose();
  }
  async function name(version: Version, named: string) {
    const answer = await ask(`/api/jobs/${session.id}/versions/${version.revision}`, 'PATCH', { named });
    why = answer.ok ? '' : answer.why;
    if (answer.ok) versions = versions.map((one) => (one.revision === version.revision ? { ...one, named: named.trim() || null } : one));
  }
</script>

<Sheet title={JOB.historyOf(session.job.name)} wide {onclose}>
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
  <div class="grid min-h-0 grid-cols-[minmax(0,1fr)_24rem] gap-6">
    <div>
      <label class="flex items-center gap-2 pb-2 text-sm">
        <input
          class="checkbox"
          type="checkbox"
          checked={onlyNamed}
          onchange={(event) => {
            onlyNamed = event.currentTarget.checked;
            void load([]);
          }}
        />
        {JOB.onlyVersionsWithAName}
      </label>
      <ol class="max-h-[58vh] overflow-y-auto" aria-label={JOB.savedVersions}>
        {#each versions as version (version.revision)}
          <li class="border-t border-surface-200-800">
            <button
              class={['flex w-full items-center gap-3 px-1 py-2 text-left', picked === version && 'bg-surface-100-900']}
              aria-pressed={picked === version}
              onclick={() => (shown = version.revision)}
            >
              {#if version.picture}<img class="h-10 w-20 flex-none object-contain" src={version.picture} alt="" />{:else}<span
                  class="h-10 w-20 flex-none bg-tertiary-200-800"
                ></span>{/if}
              <span class="min-w-0 flex-1"
                ><b class="block truncate">{version.named ?? version.label}</b>
                <small class="text-surface-600-400">rev {version.revision}, {format(version.at, 'd MMM, HH:mm')}, {version.author}</small></span
              >
            </button>
          </li>
        {:else}
          <li class="py-2 text-surface-600-400">{looking ? 'Looking…' : 'No version has a name yet. Pick one of all versions and name it.'}</li>
        {/each}
      </ol>
      {#if more}<button class="btn mt-2 preset-outlined-surface-300-700" disabled={looking} onclick={() => load(versions)}>{JOB.olderVersions}</button>{/if}
    </div>
    {#if picked}
      <section aria-label={JOB.theVersionThatIsLooked}>
        {#if picked.picture}<img class="w-full" src={picked.picture} alt={JOB.revisionCarved(picked.revision)} />{/if}
        <p class="py-2">
          <b>Revision {picked.revision}</b>: {picked.label}
          <span class="block text-surface-600-400">{format(picked.at, 'd MMMM yyyy, HH:mm')}, {picked.author}</span>
        </p>
        {#if mayWrite}
          {#key picked.revision}
            <label class="label pb-3"
              ><span>{JOB.nameOfThisVersion}</span>
              <input
                class="input"
                maxlength="80"
                value={picked.named ?? ''}
                placeholder={JOB.suchAsAsOrdered}
                onchange={(event) => name(picked, event.currentTarget.value)}
              /></label
            >
          {/key}
          <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={picked.revision === session.revision} onclick={() => restore(picked)}
            >{picked.revision === session.revision ? JOB.thisIsTheJobAs : JOB.goBackToRevision(picked.revision)}</button
          >
          <p class="pt-2 text-sm text-surface-600-400">Going back is one step: Undo takes it back, and every version stays here.</p>
        {/if}
      </section>
    {/if}
  </div>
</Sheet>
