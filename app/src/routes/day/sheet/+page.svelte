<script lang="ts">
  /** What is fetched before the day begins: boards, bits and how they are held, by machine, to be printed. */
  import { CALL_WORDS, clock, span } from '$lib/day/view';
  import { DAY } from '$lib/labels/day';
  import { COMMON } from '$lib/labels/common';

  let { data } = $props();
  const { day } = $derived(data);
  const date = $derived(new Date(`${day.first}T00:00`).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' }));
  const today = $derived(day.slots.filter((slot) => slot.from < 1440));
  const bits = $derived(day.bits.filter(({ first }) => first < 1440));
  const calls = $derived(day.calls.filter(({ at }) => at < 1440));
</script>

<svelte:head><title>Pull sheet · Kerbe</title></svelte:head>
<main class="mx-auto grid max-w-200 gap-5 px-6.5 py-5">
  <p class="flex gap-2 print:hidden">
    <a class="btn preset-outlined-surface-300-700" href="/day">{DAY.backToTheDay}</a>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => print()}>{COMMON.printIt}</button>
  </p>
  <h1 class="text-2xl">{DAY.pullSheet(date)}</h1>
  {#if today.length === 0}<p class="text-surface-600-400">Nothing is planned for today.</p>{/if}
  {#each day.machines as machine (machine.id)}
    {@const slots = today.filter(({ task }) => task.machine === machine.id)}
    {#if slots.length > 0}
      <section>
        <h2>{machine.name}</h2>
        <table class="table">
          <thead><tr><th>{COMMON.from}</th><th>To</th><th>{COMMON.job}</th><th>{COMMON.board}</th><th>{DAY.bitsInOrder}</th><th>{DAY.beforeIt}</th></tr></thead>
          <tbody>
            {#each slots as slot (slot.task.id)}
              <tr>
                <td class="figure">{clock(slot.from)}</td>
                <td class="figure">{clock(slot.to)}</td>
                <td>{slot.task.name}</td>
                <td>{slot.task.board}{slot.task.boardHere ? '' : ' - not here yet'}</td>
                <td>{slot.task.bits.map((bit) => day.names[bit] ?? bit).join(', ')}</td>
                <td>{[...slot.morning.map(({ name, minutes }) => `${name} ${span(minutes)}`), ...slot.changes.map((what) => `new ${what}`)].join(', ')}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      </section>
    {/if}
  {/each}
  {#if bits.length > 0}
    <section>
      <h2>{COMMON.bits}</h2>
      <ul>
        {#each bits as { bit, tasks } (bit)}<li>☐ {day.names[bit] ?? bit}, for {[...new Set(tasks.map(({ name }) => name))].join(', ')}</li>{/each}
      </ul>
    </section>
  {/if}
  {#if calls.length > 0}
    <section>
      <h2>{DAY.somebodyIsNeeded}</h2>
      <ul>
        {#each calls as call (call.moment + call.what + call.task)}<li>
            <b class="figure">{clock(call.at)}</b>
            {CALL_WORDS[call.what]}, {call.machine}: {call.task}
          </li>{/each}
      </ul>
    </section>
  {/if}
</main>
