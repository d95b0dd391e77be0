<script lang="ts">
  /** What is to be done to a machine from time to time, and when it was. */
  import { format } from 'date-fns';
  import type { CareState } from '@kerbe/core/setup/skim';
  import { ask } from '$lib/ui/post';

  let { machine, cares, onchange }: { machine: string; cares: readonly CareState[]; onchange: () => Promise<void> } = $props();
  let why = $state<string | null>(null);
  async function done(name: string) {
    const answer = await ask(`/api/machines/${machine}`, 'POST', { care: { name } });
    why = answer.ok ? null : answer.why;
    if (answer.ok) await onchange();
  }
  /** What comes first, hours of cutting or days. */
  function left({ left: { hours, days }, due }: CareState): string {
    if (due) return 'due now';
    const parts = [
      ...(hours === null ? [] : [`${Math.max(1, Math.round(hours))} h of cutting`]),
      ...(days === null ? [] : [days < 1.5 ? 'a day' : `${Math.round(days)} days`]),
    ];
    return `in ${parts.join(' or ')}`;
  }
</script>

<h2 class="pt-1.5 text-lg">Care</h2>
{#if why}<p class="caution" role="alert">{why}</p>{/if}
<ul>
  {#each cares as care (care.name)}
    <li class="flex items-center gap-2.5 border-t border-surface-200-800 py-1.5">
      <span class="flex-1"
        >{care.name}<small class={['block', care.due ? 'font-semibold text-warning-700-300' : 'text-surface-600-400']}
          >{left(care)}{care.done ? `, done ${format(care.done, 'd MMM')}` : ''}</small
        ></span
      >
      <button class="btn preset-outlined-surface-300-700" aria-label="{care.name}: done" onclick={() => done(care.name)}>Done</button>
    </li>
  {/each}
</ul>
<p class="text-sm text-surface-600-400">What is usual; the machine’s own manual decides.</p>
