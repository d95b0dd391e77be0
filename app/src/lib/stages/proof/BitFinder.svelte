<script lang="ts">
  /** Every bit of the crib, and usual sizes, tried on a cut: figures and a picture of each, to choose from. */
  import { wordsOf } from '@kerbe/core/findings';
  import { cutName, kindOf } from '@kerbe/core/cuts';
  import { bitName } from '@kerbe/core/bits';
  import { candidatesFor, inJob } from '@kerbe/core/advise/candidates';
  import type { Bit } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import DataTable, { type Column, type Sorted } from '$lib/ui/DataTable.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { duration, len } from '$lib/ui/format';
  import { onDestroy } from 'svelte';
  import { tryBits } from './advice';
  import type { TrialView } from './advice';
  import TrialPicture from './TrialPicture.svelte';
  import { COMMON } from '$lib/labels/common';
  import { PROOF } from '$lib/labels/proof';

  /** `first`: the cut it is tried on to begin with. */
  let { session, crib, first, onclose }: { session: JobSession; crib: readonly Bit[]; first: string | null; onclose: () => void } = $props();
  const job = $derived(session.job);
  const choices = $derived(job.cutOrder.filter((id) => !kindOf(job.cuts[id]).wholeBoard).map((id) => ({ value: id, label: cutName(job.cuts[id]) })));
  // svelte-ignore state_referenced_locally
  let cut = $state(first && session.job.cuts[first] ? first : (session.job.cutOrder[0] ?? ''));
  let sizes = $state(false);
  let trials = $state.raw<TrialView[]>([]);
  let asked = $state(0);
  let running = $state(false);
  let why = $state<string | null>(null);
  let stop: AbortController | null = null;
  let sorted = $state<Sorted | null>({ by: 'seconds', down: false });
  const forbids = (trial: TrialView) => trial.findings.some(({ severity }) => severity === 'error');
  const nameOf = (bit: Bit) => bitName(bit, session.job.units);
  const columns: Column<TrialView>[] = [
    { id: 'bit', title: COMMON.bit, cell: bitCell, sortBy: ({ bit }) => nameOf(bit) },
    { id: 'seconds', title: COMMON.time, cell: timeCell, sortBy: ({ seconds }) => seconds },
    { id: 'lifts', title: PROOF.lifts, cell: liftsCell, sortBy: ({ lifts }) => lifts },
    { id: 'deepest', title: PROOF.deepest, cell: deepestCell, sortBy: ({ deepest }) => deepest },
    { id: 'unreached', title: PROOF.notReached, cell: unreachedCell, sortBy: ({ unreached }) => unreached },
    { id: 'ridge', title: PROOF.ridges, cell: ridgeCell, sortBy: ({ ridge }) => ridge },
    { id: 'picture', title: PROOF.closeUp, cell: pictureCell },
    { id: 'use', title: '', cell: useCell },
  ];
  const area = (mm2: number) => (mm2 < 0.05 ? 'all reached' : job.units === 'in' ? `${(mm2 / 645.16).toFixed(3)} in²` : `${mm2.toFixed(1)} mm²`);

  async function start() {
    const bits = candidatesFor(job.cuts[cut].kind, crib, sizes);
    stop = new AbortController();
    [trials, asked, running, why] = [[], bits.length, true, null];
    try {
      await tryBits(job, cut, bits, stop.signal, (trial) => (trials = [...trials, trial]));
    } catch (error) {
      if (!stop.signal.aborted) why = (error as Error).message;
    }
    running = false;
  }
  function choose({ bit, cut: tried }: TrialView) {
    const known = crib.some(({ id }) => id === bit.id);
    const [id, own] = inJob(job, bit);
    session.edit(PROOF.use(nameOf(bit)), (d) => {
      d.tools[id] = JSON.parse(JSON.stringify(known ? own : { ...own, crib: undefined }));
      d.cuts[cut] = JSON.parse(JSON.stringify({ ...tried, tool: id }));
    });
    onclose();
  }
  onDestroy(() => stop?.abort());
</script>

{#snippet bitCell(trial: TrialView)}
  <b class={[forbids(trial) && 'font-normal text-surface-600-400']}>{nameOf(trial.bit)}</b>{#if !crib.some(({ id }) => id === trial.bit.id)}<br /><span
      class="text-surface-600-400">not in the crib</span
    >{/if}
  {#if trial.needsFloor}<br /><span class="text-warning-600-400 text-xs">needs a floor</span>{/if}
  {#each trial.findings.filter(({ severity }) => severity !== 'note') as found, k (k)}<br /><span class="text-warning-600-400 text-xs"
      >{found.severity === 'error' ? '✕' : '▲'} {wordsOf(found, job.units).what}</span
    >{/each}
{/snippet}
{#snippet timeCell({ seconds }: TrialView)}<span class="whitespace-nowrap">{duration(seconds)}</span>{/snippet}
{#snippet liftsCell({ lifts }: TrialView)}{lifts}{/snippet}
{#snippet deepestCell({ deepest }: TrialView)}<span class="whitespace-nowrap">{len(deepest, job.units)}</span>{/snippet}
{#snippet unreachedCell({ unreached }: TrialView)}<span class="whitespace-nowrap">{area(unreached)}</span>{/snippet}
{#snippet ridgeCell({ ridge }: TrialView)}<span class="whitespace-nowrap">{ridge > 0 ? len(ridge, job.units) : 'none'}</span>{/snippet}
{#snippet pictureCell({ picture, bit }: TrialView)}<TrialPicture {picture} label={nameOf(bit)} />{/snippet}
{#snippet useCell(trial: TrialView)}
  <button
    class="btn preset-outlined-surface-300-700 whitespace-nowrap"
    disabled={forbids(trial)}
    aria-label={PROOF.useThis(nameOf(trial.bit))}
    onclick={() => choose(trial)}>{PROOF.useIt}</button
  >
{/snippet}

<Sheet title={COMMON.findTheRightBit} wide {onclose}>
  {#if choices.length === 0}
    <p>There is no cut yet to find a bit for. Add one under Cuts.</p>
  {:else}
    <div class="gap-3.5 grid grid-cols-[minmax(0,27rem)_auto_auto] items-center text-sm">
      <Choice label={PROOF.forThisCut} value={cut} options={choices} onchange={(v) => ((cut = v), (trials = []))} />
      <label><input class="checkbox" type="checkbox" bind:checked={sizes} /> {PROOF.alsoUsualSizesThatAre}</label>
      {#if running}<button class="btn preset-outlined-surface-300-700" onclick={() => stop?.abort()}>{COMMON.cancel}</button>{:else}<button
          class="btn preset-filled-brand px-4 py-2.5 font-semibold"
          onclick={start}>{PROOF.tryThem}</button
        >{/if}
    </div>
    {#if running}<p role="status"><progress max={asked} value={trials.length}></progress> {trials.length} of {asked} tried</p>{/if}
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
    {#if trials.length > 0}
      <div class="max-h-[60vh] overflow-y-auto">
        <DataTable label={PROOF.bitsThatWereTried} rows={trials} idOf={(trial) => trial.bit.id} {columns} last={forbids} bind:sorted />
      </div>
    {:else if !running}
      <p class="text-surface-600-400">
        Each bit is planned on the real artwork with feeds that suit it in {job.board.material}, or with the preset of the shop.
      </p>
    {/if}
  {/if}
</Sheet>
