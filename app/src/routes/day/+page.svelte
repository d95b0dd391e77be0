<script lang="ts">
  /** The shop's day: boards on their machines, what is due, and when somebody is needed. */
  import { onMount, untrack } from 'svelte';
  import type { Planning, ShopHours } from '@kerbe/core/day/planning';
  import { invalidateAll } from '$app/navigation';
  import { momentOf } from '$lib/day/clock';
  import JobPlanning from '$lib/day/JobPlanning.svelte';
  import Lanes from '$lib/day/Lanes.svelte';
  import { nextCall } from '$lib/day/next.svelte';
  import { CALL_WORDS, clock, span, type DayView } from '$lib/day/view';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ask } from '$lib/ui/post';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { DAY } from '$lib/labels/day';
  import { COMMON } from '$lib/labels/common';

  let { data } = $props();
  let day = $state.raw<DayView>(untrack(() => data.day));
  /** The first day on which something is cut. */
  let at = $state(untrack(() => Math.max(0, Math.min(...data.day.slots.map((slot) => Math.floor(slot.from / 1440))))) || 0);
  let other = $state('');
  let why = $state<string | null>(null);
  let busy = $state(false);
  const mayWrite = $derived(data.user?.role !== 'watcher');
  const first = $derived(new Date(`${day.first}T00:00`));
  const last = $derived(Math.max(0, ...day.slots.map((slot) => Math.floor((slot.to - 1) / 1440))));
  const DAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];
  const dateOf = (k: number) =>
    new Date(first.getFullYear(), first.getMonth(), first.getDate() + k).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });

  /** Changes go one after another: the answer that is shown is that of the last. */
  let line: Promise<unknown> = Promise.resolve();
  function tell(method: 'GET' | 'PUT' | 'POST' | 'PATCH', url: string, body?: unknown): Promise<boolean> {
    const told = line.then(() => tellNow(method, url, body));
    line = told;
    return told;
  }
  async function tellNow(method: 'GET' | 'PUT' | 'POST' | 'PATCH', url: string, body?: unknown): Promise<boolean> {
    busy = method !== 'GET';
    const answer = await ask<DayView>(url, method, body);
    busy = false;
    why = answer.ok ? null : answer.why;
    if (!answer.ok) return false;
    day = answer.value;
    nextCall.take(day);
    return true;
  }
  // What really happens moves the plan.
  onMount(() => {
    const timer = setInterval(() => void tell('GET', '/api/day'), 30_000);
    return () => clearInterval(timer);
  });
  const plan = (id: string, change: Partial<Planning>) => tell('PATCH', `/api/day/jobs/${id}`, change);
  async function add() {
    const id = other;
    other = '';
    if (await plan(id, { since: new Date().toISOString() })) await invalidateAll();
  }
  async function change(id: string, change: Partial<Planning>) {
    if ((await plan(id, change)) && change.since === null) await invalidateAll();
  }
  /** A board is put at a minute, and before or after others by that; or let go. */
  function put(task: string, minute: number | null) {
    const pins = { ...day.pins };
    if (minute === null) delete pins[task];
    else pins[task] = momentOf(minute, first);
    const begins = Object.fromEntries(day.slots.map((slot) => [slot.task.id, slot.task.id === task && minute !== null ? minute - 0.5 : slot.from]));
    const order = [...day.order].sort((a, b) => begins[a] - begins[b]);
    void tell('PUT', '/api/day', { order, pins });
  }
  const setHours = (change: Partial<ShopHours>) => tell('PUT', '/api/day/hours', { ...day.hours, ...change });
</script>

<svelte:head><title>The day · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="day" />
<main class="grid gap-4 px-6.5 py-5">
  <div class="flex flex-wrap items-center gap-3">
    <h1 class="text-3xl">{at === 0 ? DAY.today : dateOf(at)}</h1>
    {#if at === 0}<span class="text-surface-600-400">{dateOf(0)}</span>{/if}
    <button class="btn preset-outlined-surface-300-700" disabled={at === 0} onclick={() => at--}>{DAY.previousDay}</button>
    <button class="btn preset-outlined-surface-300-700" disabled={at >= Math.max(last, 6)} onclick={() => at++}>{DAY.nextDay}</button>
    <span class="flex-1"></span>
    <label class="flex items-center gap-2 text-sm"
      ><input class="checkbox" type="checkbox" checked={nextCall.tells} onchange={(event) => void nextCall.tell(event.currentTarget.checked)} />
      {DAY.callMeWhenIAm}</label
    >
    <a class="btn preset-outlined-surface-300-700" href="/day/sheet">{DAY.pullSheetMore}</a>
    <button
      class="btn preset-filled-brand px-4 py-2.5 font-semibold"
      disabled={!mayWrite || busy || day.slots.length === 0}
      onclick={() => void tell('POST', '/api/day', { do: 'plan' })}>{DAY.planItForMe}</button
    >
  </div>
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
  {#if data.dues.length > 0}<p class="caution">
      Before the first board: {data.dues.join('; ')}. <a class="underline" href="/machines">{COMMON.machines}</a>
    </p>{/if}
  {#if day.jobs.length === 0}
    <p class="text-surface-600-400">
      Nothing is on the plan yet. Put jobs on it below: Kerbe knows how long each runs, which bits it takes and when somebody is needed, and lays them into the
      hours the shop is open.
    </p>
  {:else}
    <p>
      {day.late > 0 ? `Late by ${span(Math.round(day.late))} in all` : 'Nothing is late'}, {day.changes} changes of bit, board or zero.
      {#if day.asCame.late > day.late || day.asCame.changes > day.changes}<span class="text-surface-600-400"
          >As they came it would be {day.asCame.late > 0 ? `${span(Math.round(day.asCame.late))} late and ` : ''}{day.asCame.changes} changes.</span
        >{/if}
    </p>
    <Lanes {day} {at} {mayWrite} onput={put} />
    <p class="text-sm text-surface-600-400">
      Pull a board to another time, or move it with the arrow keys: it stays not before that. Delete lets it go again. Times are what the program is reckoned to
      take, corrected by the machine’s own runs.
    </p>
  {/if}
  <div class="grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-8">
    <section>
      <h2>{DAY.jobsOnThePlan}</h2>
      {#each day.jobs as job (job.id)}<JobPlanning {day} {job} {mayWrite} currency={data.currency} onchange={(one) => void change(job.id, one)} />{/each}
      <form
        class="flex gap-2 pt-3"
        onsubmit={(event) => {
          event.preventDefault();
          if (other) void add();
        }}
      >
        <select class="select max-w-80" aria-label={DAY.aJobToPutOn} bind:value={other} disabled={!mayWrite}>
          <option value="">{DAY.aJobOfTheShop}</option>
          {#each data.others as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
        </select>
        <button class="btn preset-outlined-surface-300-700" disabled={!other || busy}>{DAY.putItOnThePlan}</button>
      </form>
    </section>
    <section>
      <h2>{DAY.somebodyIsNeeded}</h2>
      <ol class="text-sm" aria-label={DAY.whenSomebodyIsNeeded}>
        {#each day.calls.slice(0, 10) as call (call.moment + call.what + call.task)}
          <li class="border-t border-surface-200-800 py-1.5">
            <b class="figure">{clock(call.at, day.first)}</b>
            {CALL_WORDS[call.what]}, {call.machine}: {call.task}
          </li>
        {:else}<li class="text-surface-600-400">Nobody is needed at a machine by the plan.</li>{/each}
      </ol>
      {#if day.bits.length > 0}
        <h2 class="pt-4">{DAY.bitsOfThePlan}</h2>
        <ul class="text-sm">
          {#each day.bits as { bit, first: wanted, tasks } (bit)}
            <li class="border-t border-surface-200-800 py-1.5">
              <b>{day.names[bit] ?? bit}</b> from {clock(wanted, day.first)}, {tasks.length === 1 ? 'one board' : `${tasks.length} boards`}
            </li>
          {/each}
        </ul>
      {/if}
      <details class="mt-4 border-t border-surface-200-800">
        <summary class="cursor-pointer py-2.5 font-semibold">{DAY.whenTheShopIsOpen(day.hours.from, day.hours.to)}</summary>
        <fieldset class="grid gap-1" disabled={data.user?.role !== 'owner'}>
          <div class="flex gap-3">
            <label class="text-sm"
              >{COMMON.from}<input
                class="input"
                type="time"
                value={day.hours.from}
                onchange={(event) => void setHours({ from: event.currentTarget.value })}
              /></label
            >
            <label class="text-sm"
              >To<input class="input" type="time" value={day.hours.to} onchange={(event) => void setHours({ to: event.currentTarget.value })} /></label
            >
          </div>
          <div class="flex flex-wrap gap-3 py-1.5" role="group" aria-label={DAY.daysSomebodyIsIn}>
            {#each DAYS as name, k (name)}
              <label class="flex items-center gap-1.5 text-sm"
                ><input
                  class="checkbox"
                  type="checkbox"
                  checked={day.hours.days.includes(k)}
                  onchange={(event) =>
                    void setHours({ days: event.currentTarget.checked ? [...day.hours.days, k].sort() : day.hours.days.filter((one) => one !== k) })}
                />
                {name}</label
              >
            {/each}
          </div>
          <NumberField label={DAY.peopleWhoAreIn} value={day.hours.people} min={1} max={50} onchange={(people) => void setHours({ people })} />
        </fieldset>
      </details>
    </section>
  </div>
</main>
