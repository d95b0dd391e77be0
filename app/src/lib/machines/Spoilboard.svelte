<script lang="ts">
  /** The spoilboard of a router: how thick it is and was, how long it lasts, the job that skims it, and what it is after. */
  import { format } from 'date-fns';
  import { goto } from '$app/navigation';
  import { readJob, type Bit } from '@kerbe/core/job';
  import { formatFeed, type LengthUnit } from '@kerbe/core/length';
  import { skimAgain, skimBits, skimJob, skimsLeft, THROUGH_CUTS } from '@kerbe/core/setup/skim';
  import type { MachineView } from '$lib/stages/types';
  import type { SpoilboardState } from '$lib/server/care';
  import Chart from '$lib/ui/Chart.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import DataTable, { type Column, type Sorted } from '$lib/ui/DataTable.svelte';
  import { len } from '$lib/ui/format';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ask } from '$lib/ui/post';
  import { MACHINES } from '$lib/labels/machines';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    machine: MachineView;
    state: SpoilboardState;
    bits: readonly Bit[];
    unit: LengthUnit;
    onchange: () => Promise<void>;
  }
  let { machine, state: board, bits, unit, onchange }: Props = $props();
  const { height: now, least } = $derived(machine.profile.spoilboard);
  let why = $state<string | null>(null);
  let height = $state<number | null>(null);
  let note = $state('');
  let fresh = $state(false);
  let thin = $state(false);
  // svelte-ignore state_referenced_locally
  let skimming = $state(board.due.length > 0);

  const straight = $derived(skimBits(bits));
  const usable = $derived(machine.profile.limits.usable);
  /** Taken off at a time: what is common in each unit. */
  const SKIM = $derived(unit === 'in' ? 0.254 : 0.2);
  const form = $state<{ width?: number; depth?: number; skim?: number; repeats: number; stepover?: number; overlap: number; bit: string }>({
    repeats: 1,
    overlap: 0,
    bit: '',
  });
  const bit = $derived(straight.find(({ id }) => id === form.bit) ?? straight[0]);
  const made = $derived(
    skimJob(
      { ...form, width: form.width ?? usable.width, depth: form.depth ?? usable.height, skim: form.skim ?? SKIM, bit: { ...bit, crib: bit.id } },
      machine,
      unit,
    ),
  );
  async function tell(body: object): Promise<boolean> {
    const answer = await ask(`/api/machines/${machine.id}`, 'POST', body);
    why = answer.ok ? null : answer.why;
    if (answer.ok) await onchange();
    return answer.ok;
  }
  async function write() {
    if (!(await tell({ height, note, fresh, thin }))) return;
    height = null;
    note = '';
    fresh = thin = false;
  }
  /** The job that skimmed it last goes on below what it took: its zero still holds. */
  async function again(job: string) {
    const before = await ask<{ revision: number; doc: unknown }>(`/api/jobs/${job}`);
    if (!before.ok) return void (why = before.why);
    const read = readJob(before.value.doc);
    if (!read.ok) return void (why = String(read.why));
    const kept = await ask(`/api/jobs/${job}`, 'PUT', { from: before.value.revision, label: MACHINES.skimOnceMore, doc: skimAgain(read.job) });
    why = kept.ok ? null : kept.why;
    if (kept.ok) await goto(`/job/${job}?stage=program`);
  }
  async function make() {
    const answer = await ask<{ id: string }>('/api/jobs', 'POST', made.job);
    why = answer.ok ? null : answer.why;
    if (answer.ok) await goto(`/job/${answer.value.id}?stage=proof`);
  }
  type Height = SpoilboardState['heights'][number];
  let sorted = $state<Sorted | null>({ by: 'at', down: true });
  const columns: Column<Height>[] = [
    { id: 'at', title: COMMON.when, cell: whenCell, sortBy: ({ at }) => new Date(at).getTime() },
    { id: 'height', title: COMMON.height, cell: heightCell, sortBy: ({ height }) => height, figures: true },
    { id: 'note', title: COMMON.note, cell: noteCell },
    { id: 'author', title: COMMON.who, cell: whoCell, sortBy: ({ author }) => author },
  ];
</script>

{#snippet whenCell({ at }: Height)}<span class="figure">{format(new Date(at), 'd MMM yyyy')}</span>{/snippet}
{#snippet heightCell({ height }: Height)}{len(height, unit)}{/snippet}
{#snippet noteCell({ reckoned, note }: Height)}{reckoned ? 'reckoned from a run' : note}{/snippet}
{#snippet whoCell({ author }: Height)}{author}{/snippet}

<h2 class="pt-1.5 text-lg">{MACHINES.spoilboard}</h2>
<p>
  <b class="figure">{len(now, unit)}</b> thick{board.measure ? ', reckoned from the last skim' : ''}.
  <b class="figure">{skimsLeft(machine.profile.spoilboard, SKIM)}</b> skims of {len(SKIM, unit)} are left in it; below {len(least, unit)} it is not worth one.
</p>
{#each board.due as reason (reason)}<p class="caution">{reason} It is time to skim.</p>{:else}
  <p class="text-surface-600-400">{board.through} of {THROUGH_CUTS} runs cut through into it since it was skimmed.</p>
{/each}
{#if board.measure}
  <p class="caution">
    Are there marks left? Then skim once more: it goes on from the same zero. Else measure it in the middle and at two corners, and write down what it is: every
    through cut counts on it.
  </p>
  {#if board.job}{@const job = board.job}
    <p class="py-1">
      <button class="btn preset-outlined-surface-300-700" onclick={() => again(job)}>{MACHINES.skimOnceMore}</button>
    </p>{/if}
{/if}
{#if why}<p class="caution" role="alert">{why}</p>{/if}
<details class="border-t border-surface-200-800" bind:open={skimming}>
  <summary class="cursor-pointer py-2.5 text-base font-semibold">{MACHINES.skimIt}</summary>
  <LengthField label={COMMON.width} value={form.width ?? usable.width} {unit} min={1} onchange={(v) => (form.width = v)} />
  <LengthField label={MACHINES.frontToBack} value={form.depth ?? usable.height} {unit} min={1} onchange={(v) => (form.depth = v)} />
  <Choice
    label={COMMON.bit}
    value={bit.id}
    options={(straight.length ? straight : [bit]).map(({ id, name, diameter }) => ({ value: id, label: name || len(diameter, unit) }))}
    onchange={(id) => (form.bit = id)}
  />
  <LengthField label={MACHINES.takenOffAtATime} value={form.skim ?? SKIM} {unit} min={0.01} onchange={(v) => (form.skim = v)} />
  <NumberField label={MACHINES.times} value={form.repeats} min={1} max={50} onchange={(v) => (form.repeats = v)} />
  <LengthField label={MACHINES.betweenLanes} value={form.stepover ?? made.step} {unit} min={0.5} onchange={(v) => (form.stepover = v)} />
  <LengthField label={MACHINES.beyondTheEdges} value={form.overlap} {unit} min={0} onchange={(v) => (form.overlap = v)} />
  <p class="py-1 text-sm">
    {formatFeed(made.feed, unit)}{made.limited ? `, which is as fast as ${machine.name} goes` : ''}. The perimeter comes first, then back and forth. The bed
    must be bare, without a screw in it.
  </p>
  <p class="flex flex-wrap gap-2 py-1">
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={make}>{MACHINES.makeTheJobThatSkims}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => tell({ marks: 'Marks seen in it' })}>{MACHINES.thereAreMarksInIt}</button>
  </p>
</details>
<details class="border-t border-surface-200-800" open>
  <summary class="cursor-pointer py-2.5 text-base font-semibold">{MACHINES.recordItsHeight}</summary>
  <LengthField label={MACHINES.heightAfterTheSkim} value={height ?? undefined} {unit} min={0.1} onchange={(v) => (height = v)} />
  <label class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1 text-sm"
    >{COMMON.note} <input class="input" maxlength="400" bind:value={note} placeholder={MACHINES.aLittleOffNoMarks} /></label
  >
  {#if height !== null && height > now}
    <label><input class="checkbox" type="checkbox" bind:checked={fresh} /> {MACHINES.aNewSpoilboardWasFitted}</label>
  {:else if height !== null && height < least}
    <label><input class="checkbox" type="checkbox" bind:checked={thin} /> {MACHINES.itIsBelowTheLeast}</label>
  {/if}
  <p class="py-1"><button class="btn preset-outlined-surface-300-700" disabled={height === null} onclick={write}>{MACHINES.recordTheSkim}</button></p>
</details>
{#if board.heights.length > 1}
  <Chart
    label={MACHINES.heightOfTheSpoilboardOver}
    colours={['accent']}
    options={{
      chart: { type: 'line', height: 140 },
      series: [{ name: 'height', data: board.heights.map(({ at, height }): [number, number] => [new Date(at).getTime(), height]) }],
      stroke: { width: 2, curve: 'stepline' },
      markers: { size: 4 },
      xaxis: { type: 'datetime' },
      yaxis: { labels: { formatter: (v: number) => len(v, unit) } },
      annotations: { yaxis: [{ y: least, strokeDashArray: 4 }] },
    }}
  />
  <DataTable label={MACHINES.heightsOfTheSpoilboard} rows={board.heights} idOf={({ at }) => String(at)} {columns} bind:sorted />
{/if}
