<script lang="ts">
  /** A sum over the open job: what comes out goes into one of its cuts by one press. */
  import { cutName, kindOf } from '@kerbe/core/cuts';
  import type { Cut } from '@kerbe/core/job';
  import { SUMS, type Result } from '@kerbe/core/sums';
  import SumCard from '$lib/shop/SumCard.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import type { JobSession } from './session.svelte';
  import { JOB } from '$lib/labels/job';

  let { session, id, onclose }: { session: JobSession; id: string; onclose: () => void } = $props();
  const sum = $derived(SUMS.find((one) => one.id === id) ?? SUMS[0]);
  let said = $state<string | null>(null);
  const withFigure = (cut: Cut, { into, value }: Result) => kindOf(cut).schema.safeParse({ ...$state.snapshot(cut), [into!]: value });
  /** Cuts that have such a field at all. */
  const cutsFor = (result: Result): Cut[] =>
    session.job.cutOrder
      .map((id) => session.job.cuts[id])
      .filter((cut) => !withFigure(cut, result).error?.issues.some(({ code }) => code === 'unrecognized_keys'));

  function put(result: Result, cut: Cut) {
    const { label, value, into } = result;
    const changed = withFigure(cut, result);
    if (!changed.success) {
      said = `${cutName(cut)} does not take that: ${changed.error.issues[0].message}`;
      return;
    }
    session.edit(`${sum.title}: ${label.toLowerCase()}`, (d) => void (d.cuts[cut.id] = { ...d.cuts[cut.id], [into!]: value } as Cut));
    said = `It is in “${cutName(cut)}” now.`;
  }
</script>

{#snippet putInto(result: Result)}
  {@const cuts = cutsFor(result)}
  {#if cuts.length > 0}
    <p class="flex flex-wrap items-center gap-1.5 py-1.5">
      {#each cuts as cut (cut.id)}<button class="btn preset-outlined-surface-300-700" onclick={() => put(result, cut)}>{JOB.putItInto(cutName(cut))}</button
        >{/each}
    </p>
  {:else}<p class="py-1.5 text-sm text-surface-600-400">No cut of this job takes it.</p>{/if}
{/snippet}

<Sheet title={JOB.sum} {onclose}>
  {#key sum.id}<SumCard {sum} unit={session.job.units} put={putInto} />{/key}
  {#if said}<p role="status" class="pt-2">{said}</p>{/if}
</Sheet>
