<script lang="ts">
  /** What is said of one job for the day: when it is due, how many, and what is done to it after it is cut. */
  import { costWords } from '$lib/shop/cost-words';
  import type { Planning } from '@kerbe/core/day/planning';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { clock, span, type DayJob, type DayView } from './view';
  import { DAY } from '$lib/labels/day';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    day: DayView;
    job: DayJob;
    mayWrite: boolean;
    currency: string;
    /** Only what is changed. */
    onchange: (change: Partial<Planning>) => void;
  }
  let { day, job, mayWrite, currency, onchange }: Props = $props();
  const id = $props.id();
  const { planning } = $derived(job);
  const money = (value: number) => `${currency}${value.toFixed(2)}`;
  const set = (change: Partial<Planning>) => onchange(change);
  const slots = $derived(day.slots.filter(({ task }) => task.job === job.id));
  const ready = $derived(slots.length > 0 ? Math.max(...slots.map((slot) => slot.ready)) : null);
  const late = $derived(Math.max(0, ...slots.map((slot) => slot.late)));
  const step = (k: number, change: Partial<Planning['finishing'][number]>) =>
    set({ finishing: planning.finishing.map((one, i) => (i === k ? { ...one, ...change } : one)) });
</script>

<details class="border-t border-surface-200-800">
  <summary class="flex cursor-pointer items-center gap-3 py-2.5">
    {#if job.picture}<img class="h-10 w-16 object-contain" src={job.picture} alt="" />{/if}
    <span class="flex-1">
      <b>{job.name}</b>
      <small class="block text-surface-600-400">
        {job.left === 0 ? 'all cut' : `${job.left} to cut`}{job.done ? `, ${job.done} done` : ''}{job.seconds === null
          ? ''
          : `, ${span(Math.max(1, Math.round(job.seconds / 60)))} each`}{planning.promisedTo ? `, for ${planning.promisedTo}` : ''}
      </small>
    </span>
    <span class="text-right text-sm">
      {#if job.why}<span class="text-warning-600-400">{job.why}</span>
      {:else if late > 0}<b class="text-error-600-400">{DAY.late(span(late))}</b>
      {:else if ready !== null}{DAY.ready} <b class="figure">{clock(ready, day.first)}</b>{/if}
    </span>
  </summary>
  <fieldset class="grid gap-1 pb-3.5" disabled={!mayWrite}>
    <div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
      <label class="text-sm" for="{id}-due">{DAY.due}</label>
      <input
        id="{id}-due"
        class="input"
        type="datetime-local"
        value={planning.due ?? ''}
        onchange={(event) => set({ due: event.currentTarget.value.slice(0, 16) || null })}
      />
    </div>
    <div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
      <label class="text-sm" for="{id}-for">{DAY.promisedTo}</label>
      <input
        id="{id}-for"
        class="input"
        value={planning.promisedTo}
        maxlength="120"
        onchange={(event) => set({ promisedTo: event.currentTarget.value.trim() })}
      />
    </div>
    <NumberField label={DAY.quantity} unit={DAY.boards} value={planning.quantity} min={1} max={200} onchange={(quantity) => set({ quantity })} />
    <label class="flex items-center gap-2 py-1 text-sm"
      ><input class="checkbox" type="checkbox" checked={planning.urgent} onchange={(event) => set({ urgent: event.currentTarget.checked })} />
      {DAY.urgentLateByAnHour}</label
    >
    <label class="flex items-center gap-2 py-1 text-sm"
      ><input class="checkbox" type="checkbox" checked={planning.boardHere} onchange={(event) => set({ boardHere: event.currentTarget.checked })} />
      {DAY.theBoardIsHere}</label
    >
    <h4 class="pt-1.5 text-sm font-semibold">{DAY.finishingSteps}</h4>
    {#each planning.finishing as one, k (k)}
      <div class="flex flex-wrap items-end gap-2">
        <label class="text-sm"
          >{DAY.step(k + 1)}<input
            class="input w-36"
            value={one.name}
            maxlength="60"
            onchange={(event) => step(k, { name: event.currentTarget.value.trim() || one.name })}
          /></label
        >
        <label class="text-sm"
          >{DAY.handsOnMin}<input
            class="input w-22"
            type="number"
            min="0"
            value={one.hands}
            onchange={(event) => step(k, { hands: Math.max(0, Number(event.currentTarget.value) || 0) })}
          /></label
        >
        <label class="text-sm"
          >{DAY.waitingAfterItMin}<input
            class="input w-22"
            type="number"
            min="0"
            value={one.waits}
            onchange={(event) => step(k, { waits: Math.max(0, Number(event.currentTarget.value) || 0) })}
          /></label
        >
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => set({ finishing: planning.finishing.filter((_, i) => i !== k) })}
          >{COMMON.takeItOut}</button
        >
      </div>
    {/each}
    {#if job.cost}
      <p class="text-sm">One costs {money(job.cost.all)}: {costWords(job.cost, money)}.</p>
    {/if}
    <p class="flex flex-wrap gap-2 pt-1.5">
      <button
        type="button"
        class="btn preset-outlined-surface-300-700"
        onclick={() => set({ finishing: [...planning.finishing, { name: 'Paint', hands: 20, waits: 240 }] })}>{DAY.addAStep}</button
      >
      <a class="btn preset-outlined-surface-300-700" href="/job/{job.id}">{DAY.openTheJob}</a>
      {#if job.cost?.material != null}<a class="btn preset-outlined-surface-300-700" href="/api/jobs/{job.id}/quote" download>{DAY.quoteAsPdf}</a>
      {:else if job.cost}<a class="btn preset-outlined-surface-300-700" href="/materials">{DAY.priceOfItsMaterial}</a>{/if}
      <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => set({ since: null })}>{DAY.removeItFromThePlan}</button>
    </p>
  </fieldset>
</details>
