<script lang="ts">
  /** The carved board in the round: drag to turn, wheel or + and − to come nearer, arrows to turn by keyboard. */
  import type { Job } from '@kerbe/core/job';
  import type { PlanView } from '$lib/job/planner';
  import { prefs } from '$lib/ui/prefs.svelte';
  import { onMount } from 'svelte';
  import type { CarvedAnswer, CarvedOrder } from './carved.worker';
  import type { View } from './raymarch';

  interface Props {
    job: Job;
    plan: PlanView | null;
  }
  let { job, plan }: Props = $props();

  const CORNER: View = { yaw: -0.35, pitch: 0.85, distance: 1.12 };
  const ABOVE: View = { yaw: 0, pitch: Math.PI / 2 - 1e-3, distance: 1.08 };
  let canvas: HTMLCanvasElement;
  let worker = $state.raw<Worker | null>(null);
  let why = $state<string | null>(null);
  let view = $state.raw<View>(CORNER);
  let size = $state({ width: 0, height: 0 });
  let moving = $state(false);
  let settle: ReturnType<typeof setTimeout>;
  let drawn = $state(false);

  function ground(): [number, number, number] {
    const hex = getComputedStyle(document.documentElement).getPropertyValue('--bed').trim();
    const n = parseInt(hex.slice(1), 16);
    return [(n >> 16) / 255, ((n >> 8) & 255) / 255, (n & 255) / 255];
  }

  const order = (what: CarvedOrder, transfer: Transferable[] = []) => worker?.postMessage(what, transfer);

  function turn(change: Partial<View>) {
    const next = { ...view, ...change };
    view = { yaw: next.yaw, pitch: Math.min(Math.PI / 2 - 1e-3, Math.max(0.12, next.pitch)), distance: Math.min(4, Math.max(0.08, next.distance)) };
    moving = true;
    clearTimeout(settle);
    settle = setTimeout(() => (moving = false), 160);
  }

  onMount(() => {
    const drawer = new Worker(new URL('./carved.worker.ts', import.meta.url), { type: 'module' });
    drawer.onmessage = ({ data }: MessageEvent<CarvedAnswer>) => {
      if (data.kind === 'ready') {
        worker = drawer;
        const off = canvas.transferControlToOffscreen();
        order({ kind: 'canvas', canvas: off }, [off]);
      } else if (data.kind === 'drawn') drawn = true;
      else why = data.why;
    };
    drawer.onerror = () => (why = 'The carved view could not be drawn here. The plan and the section show the same figures.');
    const observer = new ResizeObserver(([entry]) => (size = { width: Math.floor(entry.contentRect.width), height: Math.floor(entry.contentRect.height) }));
    observer.observe(canvas.parentElement!);
    return () => {
      observer.disconnect();
      drawer.terminate();
    };
  });
  $effect(() => {
    if (!worker || !plan) return;
    order({ kind: 'load', map: plan.map, board: { width: job.board.width, height: job.board.height, thickness: job.board.thickness }, deepest: plan.deepest });
  });
  $effect(() => {
    void plan;
    const dark = prefs.mode === 'dark';
    if (!worker || size.width === 0) return;
    // Half the size while it moves; every pixel when it rests.
    const scale = moving ? 0.5 : 1;
    order({ kind: 'draw', view, width: Math.round(size.width * scale), height: Math.round(size.height * scale), ground: ground(), dark });
  });

  let drag: { x: number; y: number } | null = null;
  const keys: Record<string, () => void> = {
    ArrowLeft: () => turn({ yaw: view.yaw - 0.1 }),
    ArrowRight: () => turn({ yaw: view.yaw + 0.1 }),
    ArrowUp: () => turn({ pitch: view.pitch + 0.1 }),
    ArrowDown: () => turn({ pitch: view.pitch - 0.1 }),
    '+': () => turn({ distance: view.distance / 1.15 }),
    '-': () => turn({ distance: view.distance * 1.15 }),
  };
</script>

<div class="carved">
  <!-- svelte-ignore a11y_no_interactive_element_to_noninteractive_role -->
  <canvas
    bind:this={canvas}
    tabindex="0"
    role="application"
    aria-label="The carved board. Arrow keys turn it, plus and minus change the distance."
    data-drawn={drawn}
    onpointerdown={(event) => {
      drag = { x: event.clientX, y: event.clientY };
      canvas.setPointerCapture(event.pointerId);
    }}
    onpointermove={(event) => {
      if (!drag) return;
      turn({ yaw: view.yaw - (event.clientX - drag.x) * 0.008, pitch: view.pitch + (event.clientY - drag.y) * 0.008 });
      drag = { x: event.clientX, y: event.clientY };
    }}
    onpointerup={() => (drag = null)}
    onwheel={(event) => {
      event.preventDefault();
      turn({ distance: view.distance * (event.deltaY > 0 ? 1.12 : 1 / 1.12) });
    }}
    onkeydown={(event) => {
      const act = keys[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    }}
  ></canvas>
  {#if why}<p class="caution note">{why}</p>{/if}
  <div class="looks">
    <button class="press" onclick={() => turn(CORNER)}>From the front</button>
    <button class="press" onclick={() => turn(ABOVE)}>From above</button>
    <button class="press" onclick={() => turn({ ...CORNER, distance: 0.35 })}>Nearer</button>
  </div>
</div>

<style>
  .carved {
    position: absolute;
    inset: 0;
    background: var(--bed);
  }
  canvas {
    width: 100%;
    height: 100%;
    touch-action: none;
  }
  .looks {
    position: absolute;
    right: 0.8rem;
    bottom: 0.8rem;
    display: flex;
    gap: 0.4rem;
    font-size: 0.85rem;
  }
  .note {
    position: absolute;
    top: 1rem;
    left: 1rem;
    right: 1rem;
  }
</style>
