<script lang="ts">
  /** What is to be done to a machine from time to time, and when it was. */
  import { format } from 'date-fns';
  import type { CareState } from '@kerbe/core/setup/skim';
  import { ask } from '$lib/ui/post';
  import { MACHINES } from '$lib/labels/machines';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    machine: string;
    cares: readonly CareState[];
    /** May what is to be done be changed? */
    mayEdit: boolean;
    onchange: () => Promise<void>;
  }
  let { machine, cares, mayEdit, onchange }: Props = $props();
  let why = $state<string | null>(null);
  /** The list while it is written on: hours and days as they are typed. */
  let edited = $state<{ name: string; hours: string; days: string }[] | null>(null);
  const edit = () => (edited = cares.map(({ name, hours, days }) => ({ name, hours: hours?.toString() ?? '', days: days?.toString() ?? '' })));
  const figure = (text: string) => (text.trim() === '' ? undefined : Number(text.replace(',', '.')));
  async function keep(list: typeof edited) {
    const body = list
      ?.filter(({ name }) => name.trim() !== '')
      .map(({ name, hours, days }) => ({ name: name.trim(), hours: figure(hours), days: figure(days) }));
    const answer = await ask(`/api/machines/${machine}`, 'POST', { cares: body ?? null });
    why = answer.ok ? null : answer.why;
    if (!answer.ok) return;
    edited = null;
    await onchange();
  }
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

<h2 class="pt-1.5 text-lg">{MACHINES.care}</h2>
{#if why}<p class="caution" role="alert">{why}</p>{/if}
<ul>
  {#each cares as care (care.name)}
    <li class="flex items-center gap-2.5 border-t border-surface-200-800 py-1.5">
      <span class="flex-1"
        >{care.name}<small class={['block', care.due ? 'font-semibold text-warning-700-300' : 'text-surface-600-400']}
          >{left(care)}{care.done ? `, done ${format(care.done, 'd MMM')}` : ''}</small
        ></span
      >
      <button class="btn preset-outlined-surface-300-700" aria-label={MACHINES.done(care.name)} onclick={() => done(care.name)}>{COMMON.done}</button>
    </li>
  {/each}
</ul>
<p class="text-sm text-surface-600-400">What is usual; the machine’s own manual decides.</p>
{#if edited}
  <div class="grid grid-cols-[1fr_5rem_5rem_auto] items-center gap-1.5 py-2 text-sm">
    <span>What is done</span><span>after hours</span><span>or days</span><span></span>
    {#each edited as one, k (k)}
      <input class="input" aria-label={MACHINES.whatIsDone(k + 1)} bind:value={one.name} maxlength="60" />
      <input class="input text-right" aria-label={MACHINES.afterHoursOfCutting(k + 1)} inputmode="decimal" bind:value={one.hours} />
      <input class="input text-right" aria-label={MACHINES.afterDays(k + 1)} inputmode="decimal" bind:value={one.days} />
      <button class="btn preset-outlined-surface-300-700" aria-label={COMMON.removeThing(one.name || k + 1)} onclick={() => edited!.splice(k, 1)}
        >{COMMON.remove}</button
      >
    {/each}
  </div>
  <p class="flex flex-wrap gap-1.5">
    <button class="btn preset-outlined-surface-300-700" onclick={() => edited!.push({ name: '', hours: '', days: '' })}>{MACHINES.oneMore}</button>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => keep(edited)}>{MACHINES.saveTheList}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => keep(null)}>{MACHINES.backToWhatIsUsual}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => ((edited = null), (why = null))}>{COMMON.cancel}</button>
  </p>
{:else if mayEdit}<p class="pt-1.5"><button class="btn preset-outlined-surface-300-700" onclick={edit}>{MACHINES.changeTheList}</button></p>{/if}
