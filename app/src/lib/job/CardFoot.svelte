<script lang="ts">
  /** The foot of every card, always in sight: what was found, what matters here, and the next step. */
  import { Popover, Portal } from '@skeletonlabs/skeleton-svelte';
  import CircleHelp from '@lucide/svelte/icons/circle-question-mark';
  import { HELP } from '../stages/help';
  import { SEVERITY } from '../stages/severity';
  import type { JobSession } from './session.svelte';
  import type { JobView } from './view.svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import { JOB } from '$lib/labels/job';
  import { COMMON } from '$lib/labels/common';

  let { session, view }: { session: JobSession; view: JobView } = $props();
  const found = $derived((session.plan?.findings ?? []).filter(({ severity }) => severity !== 'note'));
  const worst = $derived(found.some(({ severity }) => severity === 'error') ? 'error' : 'warning');
  const count = $derived(found.filter(({ severity }) => severity === worst).length);
</script>

<div class="flex items-center gap-1.5 border-t border-surface-200-800 px-3.5 py-2 whitespace-nowrap">
  <Popover positioning={{ placement: 'top-start' }}>
    <Popover.Trigger class="btn preset-outlined-surface-300-700 text-sm"><CircleHelp size={16} /> {JOB.whatMattersHere}</Popover.Trigger>
    <Portal>
      <Popover.Positioner class="z-20!">
        <Popover.Content class="card w-104 preset-outlined-surface-300-700 bg-surface-50-950 p-4">
          <Popover.Title class="font-semibold">{JOB.whatMattersOn(view.title)}</Popover.Title>
          <ul class="grid gap-2 pt-2 text-sm">
            {#each HELP[view.stage] as rule (rule)}<li class="border-l-2 border-surface-300-700 pl-2.5">{rule}</li>{/each}
          </ul>
        </Popover.Content>
      </Popover.Positioner>
    </Portal>
  </Popover>
  {#if found.length > 0}
    <Tip tip={JOB.showWhatWasFound}
      >{#snippet children(attributes)}<button {...attributes} class={['btn px-1.5 text-sm', SEVERITY[worst].tone]} onclick={() => view.showFindings()}
          >{SEVERITY[worst].mark} {count} {worst === 'error' ? JOB.toFix : JOB.toCheck}</button
        >{/snippet}</Tip
    >
  {/if}
  {#if view.next}
    {@const next = view.next}
    <button class="ml-auto btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => view.go(next.id)}>{COMMON.next(next.title)}</button>
  {/if}
</div>
