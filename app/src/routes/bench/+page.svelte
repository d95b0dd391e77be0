<script lang="ts">
  import { onDestroy, onMount, untrack } from 'svelte';
  import { format } from 'date-fns';
  import { EXERCISE_BITS, EXERCISES } from '@kerbe/core/setup/exercises';
  import type { Bit } from '@kerbe/core/job';
  import { invalidate } from '$app/navigation';
  import { MachineLink } from '$lib/machine.svelte';
  import BenchView from '$lib/bench/BenchView.svelte';
  import Hands from '$lib/bench/Hands.svelte';
  import Panel from '$lib/bench/Panel.svelte';
  import { Practice } from '$lib/bench/practice.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';

  let { data } = $props();
  /** A shop always has a simulated machine. */
  const [first] = untrack(() => data.machines);
  const machine = new MachineLink(first.id);
  const shop = $derived(data.machines.find(({ id }) => id === machine.id) ?? first);
  const act = new Practice(machine);
  const crib = $derived([...(EXERCISE_BITS as unknown as Bit[]), ...data.crib.filter(({ id }) => !EXERCISE_BITS.some((one) => one.id === id))]);
  let tab = $state<'exercises' | 'hands'>('exercises');
  onMount(() => machine.open());
  onDestroy(() => machine.close());
  $effect(() => {
    void machine.now;
    act.see();
  });
  const kept = $derived(act.kept);
  $effect(() => {
    if (kept === 'kept') void invalidate('kerbe:bench');
  });
  const best = (id: string) => data.results.filter(({ exercise }) => exercise === id);
</script>

<svelte:head><title>Bench · Kerbe</title></svelte:head>
<div class="page">
  <ShopBar user={data.user} here="bench" />
  <main>
    <div class="view"><BenchView {machine} {shop} /></div>
    <section class="side" aria-label="Hands and exercises">
      {#if data.machines.length > 1}
        <Choice
          label="Machine"
          value={machine.id}
          options={data.machines.map(({ id, name }) => ({ value: id, label: name }))}
          onchange={(id) => machine.use(id)}
        />
      {/if}
      <div class="tabs" role="group" aria-label="What to do here">
        <button class="press" aria-pressed={tab === 'exercises'} onclick={() => (tab = 'exercises')}>Exercises</button>
        <button class="press" aria-pressed={tab === 'hands'} onclick={() => (tab = 'hands')}>Hands on the machine</button>
      </div>
      {#if tab === 'hands'}
        <Hands {act} {crib} />
      {:else if act.laying}
        <p role="status">The scene is being laid out…</p>
      {:else if act.exercise && act.verdict}
        <h2>{act.exercise.title}</h2>
        <p>{act.exercise.brief}</p>
        <ol class="tasks">
          {#each act.exercise.tasks as task, k (task.text)}
            <li class:done={act.verdict.tasks[k]}>
              <span aria-hidden="true">{act.verdict.tasks[k] ? '✓' : '○'}</span>
              {task.text}<span class="sr-only">{act.verdict.tasks[k] ? ', done' : ', to do'}</span>
            </li>
          {/each}
        </ol>
        {#each act.verdict.slips as slip (slip)}<p class="caution">{slip}</p>{/each}
        {#if act.verdict.finished}
          <p class="verdict" role="status">{act.verdict.passed ? 'Done, without a slip.' : 'Done, with a slip: once more, and it is yours.'}</p>
          <p>{act.exercise.lesson}</p>
          <p class="quiet">{act.kept === 'kept' ? 'Kept with your results.' : act.kept === 'failed' ? 'The result could not be kept.' : ''}</p>
          <button class="next" onclick={() => act.end()}>Another exercise</button>
        {:else}<p class="quiet">Your hands on the machine are under the other tab; its panel is beside.</p>{/if}
        <button class="press" onclick={() => act.begin(act.exercise!.id)}>From the beginning</button>
        {#if !act.verdict.finished}<button class="press" onclick={() => act.end()}>Leave the exercise</button>{/if}
      {:else}
        <p>Every mistake here is free. Each exercise lays out a scene on the simulated machine, watches what you do, and says what it teaches.</p>
        <ul class="list">
          {#each EXERCISES as exercise (exercise.id)}
            {@const mine = best(exercise.id)}
            {@const passed = mine.find(({ passed: p }) => p)}
            <li>
              <button class="press" onclick={() => act.begin(exercise.id)}>{exercise.title}</button>
              <span class="quiet"
                >{passed
                  ? `done ${format(new Date(passed.at), 'd MMM')}`
                  : mine.length > 0
                    ? `${mine.length} ${mine.length === 1 ? 'try' : 'tries'}, with slips`
                    : ''}</span
              >
            </li>
          {/each}
        </ul>
      {/if}
    </section>
    <section class="side" aria-label="Panel of the machine"><Panel {act} {shop} {crib} /></section>
  </main>
</div>

<style>
  .page {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    height: 100vh;
  }
  main {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(20rem, 23rem) minmax(19rem, 22rem);
    min-height: 0;
  }
  .view {
    padding: 0.8rem;
    min-height: 0;
  }
  .side {
    overflow-y: auto;
    padding: 0.8rem 1rem;
    border-left: 1px solid var(--line);
    background: var(--sheet);
    font-size: 0.92rem;
  }
  .tabs {
    display: flex;
    gap: 0.4rem;
    padding-bottom: 0.5rem;
  }
  h2 {
    font-size: 1.15rem;
  }
  .tasks,
  .list {
    list-style: none;
    padding: 0;
    margin: 0.5rem 0;
    display: grid;
    gap: 0.3rem;
  }
  .tasks li.done {
    color: var(--accent);
  }
  .list li {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 0.5rem;
  }
  .list .press {
    flex: 1;
    text-align: left;
  }
  .verdict {
    font-size: 1.1rem;
    font-weight: 600;
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
  @media (max-width: 1100px) {
    main {
      grid-template-columns: 1fr 1fr;
      overflow-y: auto;
    }
    .view {
      grid-column: 1 / -1;
      height: 38vh;
    }
  }
</style>
