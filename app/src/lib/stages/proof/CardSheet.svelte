<script lang="ts">
  /** Lays out a test card for the laser on an offcut, as a job of its own. */
  import { testCard } from '@kerbe/core/advise/test-card';
  import type { CardKind } from '@kerbe/core/cuts/laser/card';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { ask } from '$lib/ui/post';
  import { PROOF } from '$lib/labels/proof';
  import { COMMON } from '$lib/labels/common';

  let { session, onclose }: { session: JobSession; onclose: () => void } = $props();
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const KINDS: { value: CardKind; label: string }[] = [
    { value: 'power-speed', label: PROOF.powerByFeed },
    { value: 'lines', label: PROOF.powerByLinesToThe },
    { value: 'focus', label: PROOF.powerByFocus },
    { value: 'kerf', label: PROOF.powerByKerfWhichSlot },
  ];
  let kind = $state<CardKind>('power-speed');
  const heads = $derived(Object.values(job.tools).filter((bit) => bit.kind === 'head'));
  // svelte-ignore state_referenced_locally
  let head = $state(Object.values(session.job.tools).find((bit) => bit.kind === 'head')?.id ?? '');
  const size = $state({ width: 90, height: 90 });
  const count = $state({ rows: 5, columns: 5 });
  const power = $state({ low: 10, high: 80 });
  const feed = $state({ low: 600, high: 6000 });
  let why = $state<string | null>(null);
  let busy = $state(false);
  async function lay() {
    busy = true;
    why = null;
    try {
      const { material, thickness } = job.board;
      const card = testCard(
        { kind, ...size, ...count, power: [power.low, power.high], speed: [feed.low, feed.high] },
        {
          material,
          thickness,
          head: $state.snapshot(job.tools[head]) as (typeof job.tools)[string],
          units: unit,
          machine: $state.snapshot(job.machine) as typeof job.machine,
        },
      );
      const made = await ask<{ id: string }>('/api/jobs', 'POST', card);
      if (made.ok) location.assign(`/job/${made.value.id}?stage=proof`);
      else why = made.why;
    } catch (error) {
      why = (error as Error).message;
    }
    busy = false;
  }
</script>

<Sheet title={PROOF.testCard} {onclose}>
  {#if heads.length === 0}
    <p>There is no laser head in this job. Take one from the crib under Cuts.</p>
  {:else}
    <p class="text-surface-600-400">
      Squares with figures of their own, labelled by the laser, on a piece of the same {job.board.material}. Burned, the best one is pressed and becomes the
      preset.
    </p>
    <Choice label={PROOF.whatVaries} value={kind} options={KINDS} onchange={(v) => (kind = v)} />
    {#if heads.length > 1}<Choice
        label={PROOF.head}
        value={head}
        options={heads.map((one) => ({ value: one.id, label: one.name || one.id }))}
        onchange={(v) => (head = v)}
      />{/if}
    <LengthField label={PROOF.widthOfTheOffcut} value={size.width} {unit} min={10} onchange={(v) => (size.width = v)} />
    <LengthField label={PROOF.heightOfTheOffcut} value={size.height} {unit} min={10} onchange={(v) => (size.height = v)} />
    <NumberField label={COMMON.rows} value={count.rows} min={1} max={12} onchange={(v) => (count.rows = Math.round(v))} />
    <NumberField label={PROOF.columns} value={count.columns} min={1} max={12} onchange={(v) => (count.columns = Math.round(v))} />
    <NumberField label={PROOF.leastPower} unit={COMMON.ofFull} value={power.low} min={1} max={power.high} onchange={(v) => (power.low = v)} />
    <NumberField label={PROOF.mostPower} unit={COMMON.ofFull} value={power.high} min={power.low} max={100} onchange={(v) => (power.high = v)} />
    <LengthField feed label={PROOF.slowestFeed} value={feed.low} {unit} min={10} max={feed.high} onchange={(v) => (feed.low = v)} />
    <LengthField feed label={PROOF.fastestFeed} value={feed.high} {unit} min={feed.low} max={60000} onchange={(v) => (feed.high = v)} />
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
    <button class="btn mt-3.5 preset-filled-brand px-4 py-2.5 font-semibold" disabled={busy} onclick={lay}>{PROOF.layOutTheCard}</button>
  {/if}
</Sheet>
