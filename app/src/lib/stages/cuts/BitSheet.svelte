<script lang="ts">
  /** Bits of this job: their figures, and more from the crib. */
  import { bitName } from '@kerbe/core/bits';
  import type { Bit } from '@kerbe/core/job';
  import { kindNamed, kindsOf, namedBy } from '@kerbe/core/cuts';
  import { processOf } from '@kerbe/core/process';
  import type { JobSession } from '$lib/job/session.svelte';
  import BitDrawing from '$lib/board/BitDrawing.svelte';
  import { forJob } from '$lib/shop/crib';
  import Sheet from '$lib/ui/Sheet.svelte';
  import BitFields from './BitFields.svelte';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    session: JobSession;
    crib: readonly Bit[];
    /** Bit whose figures are shown first. */
    first: string | null;
    onclose: () => void;
  }
  let { session, crib, first, onclose }: Props = $props();
  const job = $derived(session.job);
  const bits = $derived(Object.values(job.tools));
  // svelte-ignore state_referenced_locally
  let shown = $state(first ?? Object.keys(session.job.tools)[0] ?? null);
  const used = $derived(new Set(Object.values(job.cuts).flatMap((cut) => namedBy(cut).tools)));
  const process = $derived(processOf(job));
  const many = $derived(process.tool.many);
  /** What a machine of this kind works with. */
  const suits = $derived(new Set(kindsOf(job.process).flatMap((kind) => kindNamed(kind).tools)));
  const more = $derived(crib.filter(({ id, kind }) => suits.has(kind) && !bits.some((bit) => bit.crib === id)));

  function take(bit: Bit) {
    const taken = forJob(bit, job.tools);
    session.edit(CUTS.addFromTheCrib(process.tool.one), (d) => void (d.tools[taken.id] = taken));
    shown = taken.id;
  }
  function leave(id: string) {
    session.edit(CUTS.removeFromTheJob(process.tool.one), (d) => void delete d.tools[id]);
    shown = Object.keys(session.job.tools)[0] ?? null;
  }
</script>

<Sheet title={CUTS.toolsOfThisJob(many[0].toUpperCase(), many.slice(1))} wide {onclose}>
  <div class="gap-5.5 grid grid-cols-[minmax(0,1fr)_26rem]">
    <div>
      <div class="gap-1.5 [&_svg]:h-[70px] [&_svg]:w-auto flex flex-wrap" role="group" aria-label={COMMON.bits}>
        {#each bits as bit (bit.id)}
          <button
            class="btn preset-outlined-surface-300-700 gap-1.5 grid justify-items-center content-end w-33 text-xs"
            aria-pressed={bit.id === shown}
            onclick={() => (shown = bit.id)}
          >
            <BitDrawing {bit} unit={session.job.units} scale={1.3} height={70} />{bitName(bit, session.job.units)}
          </button>
        {/each}
      </div>
      <h3>{CUTS.fromTheCrib}</h3>
      <div class="gap-1.5 [&_svg]:h-[70px] [&_svg]:w-auto flex flex-wrap">
        {#each more as bit (bit.id)}
          <button class="btn preset-outlined-surface-300-700 gap-1.5 grid justify-items-center content-end w-33 text-xs" onclick={() => take(bit)}
            ><BitDrawing {bit} unit={session.job.units} scale={1.3} height={70} />{bitName(bit, session.job.units)}</button
          >
        {:else}
          <p class="text-surface-600-400">All {many} of the crib are in this job. <a href="/bits">{CUTS.theCrib}</a></p>
        {/each}
      </div>
    </div>
    {#if shown && job.tools[shown]}
      {@const bit = job.tools[shown]}
      <div>
        {#key shown}<BitFields
            {bit}
            unit={job.units}
            onchange={(next) => session.edit(CUTS.figuresOfABit, (d) => void (d.tools[bit.id] = next), `bit ${bit.id}`)}
          />{/key}
        <button class="btn preset-outlined-surface-300-700" disabled={used.has(bit.id)} onclick={() => leave(bit.id)}
          >{used.has(bit.id) ? CUTS.usedByACut : CUTS.removeItFromThisJob}</button
        >
      </div>
    {/if}
  </div>
</Sheet>
