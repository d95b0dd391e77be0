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

<div class="stage" class:two={desk.kept}>
  <div class="boards">
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
        label="{desk.kept.label}: {duration(desk.kept.seconds)}, {len(desk.kept.deepest, job.units)} deep"
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
      label={desk.kept && plan ? `Now: ${duration(plan.time.atMachine)}, ${len(plan.deepest, job.units)} deep` : ''}
    />
    <div class="looks">
      <button class="press" aria-pressed={desk.measuring} onclick={() => (desk.measuring = !desk.measuring)}>Measure</button>
      <button class="press" onclick={() => setView(CORNER)}>From the front</button>
      <button class="press" onclick={() => setView(ABOVE)}>From above</button>
      <button class="press" aria-expanded={menu} onclick={() => (menu = !menu)}>Looks and files</button>
    </div>
    {#if menu}
      <div class="menu">
        <label
          >Material
          <select value={desk.look} onchange={(event) => desk.dress(event.currentTarget.value as LookName, desk.paint)}>
            <option value="material">as the board: {LOOKS[desk.lookName].name}</option>
            {#each Object.entries(LOOKS) as [name, { name: said }] (name)}<option value={name}>{said}</option>{/each}
          </select></label
        >
        <div role="group" aria-label="Paint in the carving" class="paints">
          <span>Paint in the carving</span>
          <button class="press" aria-pressed={desk.paint === null} onclick={() => desk.dress(desk.look, null)}>none</button>
          {#each PAINTS as [hex, name] (hex)}<button
              class="swatch"
              aria-label={name}
              title={name}
              aria-pressed={desk.paint === hex}
              style="background: {hex}"
              onclick={() => desk.dress(desk.look, hex)}
            ></button>{/each}
        </div>
        <button class="press" disabled={atFinest} onclick={() => void desk.refine(FINE)}
          >{atFinest ? 'As fine as it goes:' : 'Finer cells than'} {cellSaid}</button
        >
        <button class="press" onclick={() => carved?.savePicture(`${job.name.replace(/[^\w -]/g, '')}.png`)}>Save a picture (PNG)</button>
        <button class="press" onclick={saveSolid}>Save the solid (STL)</button>
        {#if desk.kept}<button class="press" onclick={() => (desk.kept = null)}>Put the other version away</button>{/if}
      </div>
    {/if}
  </div>
  {#if plan && plan.time.atMachine > 0 && plan.stretches.length > 0}<ScrubBar {session} {desk} />{/if}
</div>

<style>
  .stage {
    position: absolute;
    inset: 0;
    display: grid;
    grid-template-rows: minmax(0, 1fr) auto;
  }
  .boards {
    position: relative;
    display: grid;
    min-height: 0;
  }
  .two .boards {
    grid-template-columns: 1fr 1fr;
    gap: 1px;
    background: var(--line-strong);
  }
  .looks {
    position: absolute;
    right: 0.8rem;
    bottom: 0.8rem;
    display: flex;
    flex-wrap: wrap;
    justify-content: flex-end;
    gap: 0.4rem;
    font-size: 0.85rem;
  }
  .two .looks {
    bottom: auto;
    top: 0.8rem;
  }
  .looks :global(.press),
  .menu :global(.press) {
    background: var(--sheet);
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
  .menu {
    position: absolute;
    right: 0.8rem;
    bottom: 3.4rem;
    display: grid;
    gap: 0.5rem;
    background: var(--sheet);
    border: 1px solid var(--line-strong);
    padding: 0.8rem 1rem;
    font-size: 0.88rem;
    max-width: 19rem;
  }
  .two .menu {
    bottom: auto;
    top: 3.4rem;
  }
  .menu label {
    display: grid;
    gap: 0.2rem;
  }
  .paints {
    display: flex;
    flex-wrap: wrap;
    gap: 0.35rem;
    align-items: center;
  }
  .paints span {
    flex-basis: 100%;
  }
  .swatch {
    width: 1.8rem;
    height: 1.8rem;
    border: 1px solid var(--line-strong);
  }
  .swatch[aria-pressed='true'] {
    outline: 2px solid var(--accent);
    outline-offset: 2px;
  }
  select {
    background: var(--sheet);
    color: var(--ink);
    border: 1px solid var(--line-strong);
    padding: 0.3rem;
  }
</style>
