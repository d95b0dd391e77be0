<script lang="ts">
  /** The sheet as the beam leaves it: bare, marked, charred and cut through, to scale, at any second of the job. */
  import Plus from '@lucide/svelte/icons/plus';
  import Minus from '@lucide/svelte/icons/minus';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { ProofDesk } from './desk.svelte';
  import ScrubBar from './ScrubBar.svelte';
  import { PROOF } from '$lib/labels/proof';
  import { COMMON } from '$lib/labels/common';

  let { session, desk }: { session: JobSession; desk: ProofDesk } = $props();
  const job = $derived(session.job);
  const plan = $derived(session.plan);
  /** Screen pixels to a millimetre at true size, as browsers reckon. */
  const TRUE_SIZE = 96 / 25.4;
  const room = $state({ width: 0, height: 0 });
  const fit = $derived(Math.max(0.05, Math.min((room.width - 56) / job.board.width, (room.height - 88) / job.board.height)));
  /** Pixels to a mm that somebody chose; nothing: it fits. */
  let chosen = $state<number | null>(null);
  const scale = $derived(chosen ?? fit);
  let canvas = $state<HTMLCanvasElement>();
  $effect(() => {
    void plan;
    void desk.time;
    void desk.showBurn();
  });
  $effect(() => {
    const { burn } = desk;
    if (!canvas || !burn) return;
    const { width, height, data } = burn.image;
    canvas.width = width;
    canvas.height = height;
    canvas.getContext('2d')!.putImageData(new ImageData(new Uint8ClampedArray(data), width, height), 0, 0);
  });
  const zoom = (factor: number) => (chosen = Math.min(60, Math.max(fit / 2, scale * factor)));
</script>

<div class="absolute inset-0 grid grid-rows-[minmax(0,1fr)_auto]">
  <div class="relative min-h-0 overflow-auto" bind:clientWidth={room.width} bind:clientHeight={room.height}>
    <div class="grid min-h-full min-w-full place-items-center p-7 pt-15" style="width: max-content">
      <div class="relative" style="width: {scale * job.board.width}px; height: {scale * job.board.height}px">
        {#if desk.burn}
          <canvas bind:this={canvas} class="h-full w-full border border-surface-300-700" aria-label={PROOF.theBurnedSheet}></canvas>
          {#if desk.burn.at}
            <i
              class="absolute h-3 w-3 -translate-1/2 rounded-full border-2 border-error-600-400"
              style="left: {scale * desk.burn.at.x}px; top: {scale * (job.board.height - desk.burn.at.y)}px"
              aria-hidden="true"
            ></i>
          {/if}
        {:else}<p class="text-surface-600-400" role="status">The burn is being worked out…</p>{/if}
      </div>
    </div>
  </div>
  {#if plan && plan.time.atMachine > 0 && plan.stretches.length > 0}<ScrubBar {session} {desk} />{/if}
  <div class="absolute right-3.5 bottom-15 flex gap-1.5 text-sm [&_.btn]:bg-surface-50-950">
    <button class="btn preset-outlined-surface-300-700" aria-label={COMMON.zoomOut} onclick={() => zoom(1 / 1.5)}><Minus size={16} /></button>
    <button class="btn preset-outlined-surface-300-700" aria-label={COMMON.zoomIn} onclick={() => zoom(1.5)}><Plus size={16} /></button>
    <button class="btn preset-outlined-surface-300-700" aria-pressed={chosen === null} onclick={() => (chosen = null)}>{PROOF.showAllOfIt}</button>
    <button class="btn preset-outlined-surface-300-700" aria-pressed={chosen === TRUE_SIZE} onclick={() => (chosen = TRUE_SIZE)}>{PROOF.trueSize}</button>
  </div>
</div>
