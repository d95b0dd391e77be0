<script lang="ts">
  import { onDestroy, onMount, untrack } from 'svelte';
  import { format } from 'date-fns';
  import { EXERCISE_BITS, EXERCISES } from '@kerbe/core/practice/exercises';
  import type { Bit } from '@kerbe/core/job';
  import { invalidate } from '$app/navigation';
  import { MachineLink } from '$lib/machine.svelte';
  import BenchView from '$lib/bench/BenchView.svelte';
  import Hands from '$lib/bench/Hands.svelte';
  import Panel from '$lib/bench/Panel.svelte';
  import { Practice } from '$lib/bench/practice.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { Tabs } from '@skeletonlabs/skeleton-svelte';
  import { BENCH } from '$lib/labels/bench';
  import { COMMON } from '$lib/labels/common';

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
  const kind = $derived(shop.profile.kind);
  const exercises = $derived(EXERCISES.filter(({ process }) => process === kind));
  /** In an exercise its own programs lie ready, else one to try the machine with. */
  const files = $derived.by(() => {
    const all = data.files[kind] ?? [];
    const own = act.exercise ? (act.exercise.programs ?? []) : all.slice(0, 1).map(({ name }) => name);
    return all.filter(({ name }) => own.includes(name));
  });
  const best = (id: string) => data.results.filter(({ exercise }) => exercise === id);
</script>

<svelte:head><title>Bench · Kerbe</title></svelte:head>
<div class="grid grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)] h-screen">
  <ShopBar user={data.user} here="bench" />
  <main class="grid grid-cols-[minmax(0,1fr)_minmax(20rem,23rem)_minmax(19rem,22rem)] min-h-0 max-[1100px]:grid-cols-2 max-[1100px]:overflow-y-auto">
    <div class="p-3.5 min-h-0 max-[1100px]:col-span-full max-[1100px]:h-[38vh]"><BenchView {machine} {shop} /></div>
    <section class="py-3.5 px-4 border-l border-surface-200-800 overflow-y-auto bg-surface-50-950 text-sm" aria-label={BENCH.handsAndExercises}>
      {#if data.machines.length > 1}
        <Choice
          label={COMMON.machine}
          value={machine.id}
          options={data.machines.map(({ id, name }) => ({ value: id, label: name }))}
          onchange={(id) => {
            act.end();
            machine.use(id);
          }}
        />
      {/if}
      <Tabs value={tab} onValueChange={({ value }) => (tab = value as typeof tab)}>
        <Tabs.List class="mb-3 border-surface-200-800">
          <Tabs.Trigger value="exercises" class="btn data-[selected]:font-semibold">{BENCH.exercises}</Tabs.Trigger>
          <Tabs.Trigger value="hands" class="btn data-[selected]:font-semibold">{BENCH.handsOnTheMachine}</Tabs.Trigger>
          <Tabs.Indicator class="bg-primary-600-400" />
        </Tabs.List>
        <Tabs.Content value="hands"
          >{#if tab === 'hands'}{#key kind}<Hands {act} {crib} unit={data.units} {kind} />{/key}{/if}</Tabs.Content
        >
        <Tabs.Content value="exercises">
          {#if act.laying}
            <p role="status">The scene is being laid out…</p>
          {:else if act.exercise && act.verdict}
            <h2 class="text-lg">{act.exercise.title}</h2>
            <p>{act.exercise.brief}</p>
            <ol class="my-2 gap-1.5 grid">
              {#each act.exercise.tasks as task, k (task.text)}
                <li class={[act.verdict.tasks[k] && 'text-primary-600-400']}>
                  <span aria-hidden="true">{act.verdict.tasks[k] ? '✓' : '○'}</span>
                  {task.text}<span>{act.verdict.tasks[k] ? ', done' : ', to do'}</span>
                </li>
              {/each}
            </ol>
            {#each act.verdict.slips as slip (slip)}<p class="caution">{slip}</p>{/each}
            {#if act.verdict.finished}
              <p class="text-lg font-semibold" role="status">
                {act.verdict.passed ? 'Done, without a slip.' : 'Done, with a slip: once more, and it is yours.'}
              </p>
              <p>{act.exercise.lesson}</p>
              <p class="text-surface-600-400">
                {act.kept === 'kept' ? 'Kept with your results.' : act.kept === 'failed' ? 'The result could not be kept.' : ''}
              </p>
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => act.end()}>{BENCH.anotherExercise}</button>
            {:else}<p class="text-surface-600-400">Your hands on the machine are under the other tab; its panel is beside.</p>{/if}
            <button class="btn preset-outlined-surface-300-700" onclick={() => act.begin(act.exercise!.id)}>{BENCH.fromTheBeginning}</button>
            {#if !act.verdict.finished}<button class="btn preset-outlined-surface-300-700" onclick={() => act.end()}>{BENCH.leaveTheExercise}</button>{/if}
          {:else}
            <p>Every mistake here is free. Each exercise lays out a scene on the simulated machine, watches what you do, and says what it teaches.</p>
            <ul class="my-2 gap-1.5 grid">
              {#each exercises as exercise (exercise.id)}
                {@const mine = best(exercise.id)}
                {@const passed = mine.find(({ passed: p }) => p)}
                <li class="gap-2 flex justify-between items-center">
                  <button class="btn preset-outlined-surface-300-700 flex-1 text-left justify-start" onclick={() => act.begin(exercise.id)}
                    >{exercise.title}</button
                  >
                  <span class="text-surface-600-400"
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
        </Tabs.Content>
      </Tabs>
    </section>
    <section class="py-3.5 px-4 border-l border-surface-200-800 overflow-y-auto bg-surface-50-950 text-sm" aria-label={BENCH.panelOfTheMachine}>
      <Panel {act} {shop} {crib} unit={data.units} {files} />
    </section>
  </main>
</div>
