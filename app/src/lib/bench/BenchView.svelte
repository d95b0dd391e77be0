<script lang="ts">
  /** The simulated machine from above: its bed, what lies on it, and the board as it is carved. */
  import { depthColour, DEPTH_STEPS } from '$lib/board/depth';
  import { machineMap } from '$lib/machine-map';
  import type { MachineLink } from '$lib/machine.svelte';
  import type { MachineView } from '$lib/stages/types';
  import { BENCH } from '$lib/labels/bench';

  let { machine, shop }: { machine: MachineLink; shop: MachineView } = $props();
  const status = $derived(machine.now.status);
  const [w, h] = $derived([shop.profile.limits.travel[0], shop.profile.limits.travel[1]]);
  let picture = $state<string | null>(null);
  let shown = -1;
  let drawing = false;

  /** The carved surface as a picture: untouched wood is left as it is. */
  async function draw(revision: number) {
    if (drawing || revision === shown) return;
    drawing = true;
    try {
      const map = await machineMap(machine.id);
      shown = revision;
      if (!map) return void (picture = null);
      const heights = map.height;
      const step = Math.max(1, Math.ceil(map.columns / 1200));
      const [columns, rows] = [Math.floor(map.columns / step), Math.floor(map.rows / step)];
      const canvas = document.createElement('canvas');
      [canvas.width, canvas.height] = [columns, rows];
      const context = canvas.getContext('2d')!;
      const image = context.createImageData(columns, rows);
      const lowest = Math.min(
        -1,
        heights.reduce((least, v) => (v > -1000 && v < least ? v : least), 0),
      );
      const shades = Array.from({ length: DEPTH_STEPS }, (_, k) => depthColour(k).match(/\d+/g)!.map(Number));
      for (let j = 0; j < rows; j++)
        for (let i = 0; i < columns; i++) {
          const z = heights[j * step * map.columns + i * step];
          if (z >= -1e-3) continue;
          const shade = shades[Math.min(DEPTH_STEPS - 1, Math.floor((z / lowest) * DEPTH_STEPS))];
          const at = 4 * ((rows - 1 - j) * columns + i);
          image.data.set([shade[0], shade[1], shade[2], 255], at);
        }
      context.putImageData(image, 0, 0);
      picture = canvas.toDataURL();
    } catch {
      // No picture now; the next revision brings another.
    } finally {
      drawing = false;
    }
  }
  $effect(() => {
    const revision = status?.world?.revision ?? -1;
    if (revision < 0) return;
    void draw(revision);
    const timer = setInterval(() => void draw(machine.now.status?.world?.revision ?? -1), 1000);
    return () => clearInterval(timer);
  });
</script>

<svg class="w-full h-full min-h-0" viewBox="-40 {-h - 40} {w + 80} {h + 80}" role="img" aria-label={BENCH.theSimulatedMachineFromAbove}>
  <rect class="fill-surface-100-900 stroke-surface-300-700" x="0" y={-h} width={w} height={h} stroke-width="3" />
  {#if status?.world}
    {@const world = status.world!}
    {#if world.board}
      {@const b = world.board}
      <rect class="fill-tertiary-200-800 stroke-surface-950-50" x={b.x} y={-b.y - b.height} width={b.width} height={b.height} stroke-width="2" />
      {#if picture}<image href={picture} x={b.x} y={-b.y - b.height} width={b.width} height={b.height} preserveAspectRatio="none" />{/if}
      {#if world.pinsUp}
        {#each [[b.x - 4, b.y + b.height / 2], [b.x + b.width / 4, b.y - 4], [b.x + (3 * b.width) / 4, b.y - 4]] as [x, y] (`${x} ${y}`)}<circle
            cx={x}
            cy={-y}
            r="7"
            class="fill-warning-600-400 stroke-surface-950-50"
          />{/each}
      {/if}
    {/if}
    {#each world.clamps as clamp (clamp)}<rect
        x={clamp.x - clamp.width / 2}
        y={-clamp.y - clamp.depth / 2}
        width={clamp.width}
        height={clamp.depth}
        class="fill-surface-950-50 [fill-opacity:0.8]"
      />{/each}
    {#if world.plate}<rect x={world.plate.x - 15} y={-world.plate.y - 15} width="30" height="30" class="fill-surface-600-400" /><text
        class="text-2xl fill-surface-600-400"
        x={world.plate.x + 20}
        y={-world.plate.y}>plate</text
      >{/if}
    {#if world.block && world.board}
      {@const { corner, size, lip } = world.block}
      {@const b = world.board}
      <rect
        x={corner.endsWith('left') ? b.x - lip : b.x + b.width - size}
        y={corner.startsWith('lower') ? -b.y - size : -b.y - b.height - lip}
        width={size + lip}
        height={size + lip}
        class="fill-surface-600-400"
      />
    {/if}
    {#if status.sensor}<circle cx={status.sensor.x} cy={-status.sensor.y} r="13" class="fill-surface-600-400" /><text
        class="text-2xl fill-surface-600-400"
        x={status.sensor.x + 22}
        y={-status.sensor.y + 8}>sensor</text
      >{/if}
    <g>
      <circle
        class={['fill-none stroke-primary-600-400 stroke-5', (status.spindle?.actual ?? 0) > 100 && '[stroke-dasharray:12_8]']}
        cx={status.machine[0]}
        cy={-status.machine[1]}
        r="26"
      />
      <path
        class="stroke-primary-600-400 stroke-4 fill-none"
        d="M{status.machine[0] - 40} {-status.machine[1]}h80M{status.machine[0]} {-status.machine[1] - 40}v80"
      />
      {#if world.probeClip}<path class="stroke-4 fill-none stroke-error-600-400" d="M{status.machine[0] + 18} {-status.machine[1] - 18}q60 -60 120 -20" />{/if}
    </g>
  {/if}
</svg>
