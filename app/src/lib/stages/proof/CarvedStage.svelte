<script lang="ts">
  /** The carved view with what belongs to it: looks, marks, measuring, a version kept beside it, and the job along its time. */
  import type { JobSession } from '$lib/job/session.svelte';
  import CarvedBoard from '$lib/board/CarvedBoard.svelte';
  import { LOOKS, type LookName } from '@kerbe/core/proof/looks';
  import type { View } from '$lib/board/camera';
  import { saveFile } from '$lib/ui/files';
  import { duration, len } from '$lib/ui/format';
  import { untrack } from 'svelte';
  import { ABOVE, CORNER, type ProofDesk } from './desk.svelte';
  import ScrubBar from './ScrubBar.svelte';
  import { PROOF } from '$lib/labels/proof';
  import { COMMON } from '$lib/labels/common';

  let { session, desk }: { session: JobSession; desk: ProofDesk } = $props();
  const job = $derived(session.job);
  const plan = $derived(session.plan);
  let carved = $state<CarvedBoard>();
  let menu = $state(false);
  /** Cells on request, mm; a large board stops before. */
  const FINE = 0.05;
  const atFinest = $derived(desk.finest || (desk.map?.cell ?? 1) <= FINE);
  const cellSaid = $derived(`${(desk.map?.cell ?? 0).toFixed(3).replace(/0+$/, '')} mm`);
  const setView = (view: View) => (desk.view = view);
  const bit = $derived(
    desk.time !== null && desk.moment && plan
      ? { bit: plan.cuts[desk.moment.cut].bit, x: desk.moment.x, y: desk.moment.y, z: Math.max(desk.moment.z, -job.board.thickness) }
      : null,
  );
  const PAINTS = [
    ['#1c2723', 'black'],
    ['#f6f3ea', 'white'],
    ['#0e4f8a', 'blue'],
    ['#0e6555', 'green'],
    ['#8a1f1a', 'red'],
    ['#b8860b', 'gold'],
  ] as const;
  // Once nothing has changed for a moment, the picture is made finer.
  $effect(() => {
    void plan;
    const timer = setTimeout(() => untrack(() => void desk.refine()), 900);
    return () => clearTimeout(timer);
  });
  async function saveSolid() {
    const { stl } = await session.ask('stl', {});
    saveFile(`${job.name.replace(/[^\w -]/g, '')}.stl`, stl as BlobPart, 'model/stl');
  }
</script>

<div class="absolute inset-0 grid grid-rows-[minmax(0,1fr)_auto]">
  <div class={['relative grid min-h-0', desk.kept && 'grid-cols-2 gap-px bg-surface-300-700']}>
    {#if desk.kept}
      <CarvedBoard
        {job}
        map={desk.kept.map}
        deepest={desk.kept.deepest}
        view={desk.view}
        onview={setView}
        look={desk.lookName}
        paint={desk.paint}
        measuring={desk.measuring}
        label={PROOF.timeAndDepth(desk.kept.label, duration(desk.kept.seconds), len(desk.kept.deepest, job.units))}
      />
    {/if}
    <CarvedBoard
      bind:this={carved}
      {job}
      map={desk.map}
      deepest={plan?.deepest ?? 1}
      view={desk.view}
      onview={setView}
      look={desk.lookName}
      paint={desk.paint}
      marks={desk.time === null ? desk.marks : null}
      {bit}
      measuring={desk.measuring}
      line={desk.line}
      label={desk.kept && plan ? PROOF.nowTimeAndDepth(duration(plan.time.atMachine), len(plan.deepest, job.units)) : ''}
    />
    <div class={['absolute right-3.5 flex flex-wrap justify-end gap-1.5 text-sm [&_.btn]:bg-surface-50-950', desk.kept ? 'top-3.5' : 'bottom-3.5']}>
      <button class="btn preset-outlined-surface-300-700" aria-pressed={desk.measuring} onclick={() => (desk.measuring = !desk.measuring)}
        >{COMMON.measure}</button
      >
      <button class="btn preset-outlined-surface-300-700" onclick={() => setView(CORNER)}>{PROOF.fromTheFront}</button>
      <button class="btn preset-outlined-surface-300-700" onclick={() => setView(ABOVE)}>{PROOF.fromAbove}</button>
      <button class="btn preset-outlined-surface-300-700" aria-expanded={menu} onclick={() => (menu = !menu)}>{PROOF.looksAndFiles}</button>
    </div>
    {#if menu}
      <div
        class={[
          'card absolute right-3.5 grid max-w-76 gap-2 preset-outlined-surface-300-700 bg-surface-50-950 px-4 py-3.5 text-sm',
          desk.kept ? 'top-13.5' : 'bottom-13.5',
        ]}
      >
        <label class="gap-1 grid"
          >{COMMON.material}
          <select class="select" value={desk.look} onchange={(event) => desk.dress(event.currentTarget.value as LookName, desk.paint)}>
            <option value="material">{PROOF.asTheBoard(LOOKS[desk.lookName].name)}</option>
            {#each Object.entries(LOOKS) as [name, { name: said }] (name)}<option value={name}>{said}</option>{/each}
          </select></label
        >
        <div role="group" aria-label={PROOF.paintInTheCarving} class="gap-1.5 flex flex-wrap items-center">
          <span class="basis-full">Paint in the carving</span>
          <button class="btn preset-outlined-surface-300-700" aria-pressed={desk.paint === null} onclick={() => desk.dress(desk.look, null)}
            >{COMMON.none}</button
          >
          {#each PAINTS as [hex, name] (hex)}<button
              class="border border-surface-300-700 w-7.5 h-7.5 aria-pressed:outline-2 aria-pressed:outline-offset-2 aria-pressed:outline-primary-600-400"
              aria-label={name}
              title={name}
              aria-pressed={desk.paint === hex}
              style="background: {hex}"
              onclick={() => desk.dress(desk.look, hex)}
            ></button>{/each}
        </div>
        <button class="btn preset-outlined-surface-300-700" disabled={atFinest} onclick={() => void desk.refine(FINE)}
          >{atFinest ? PROOF.finestCells : PROOF.finerThan} {cellSaid}</button
        >
        <button class="btn preset-outlined-surface-300-700" onclick={() => carved?.savePicture(`${job.name.replace(/[^\w -]/g, '')}.png`)}
          >{PROOF.saveAPicturePng}</button
        >
        <button class="btn preset-outlined-surface-300-700" onclick={saveSolid}>{PROOF.saveTheSolidStl}</button>
        {#if desk.kept}<button class="btn preset-outlined-surface-300-700" onclick={() => (desk.kept = null)}>{PROOF.closeTheComparison}</button>{/if}
      </div>
    {/if}
  </div>
  {#if plan && plan.time.atMachine > 0 && plan.stretches.length > 0}<ScrubBar {session} {desk} />{/if}
</div>
