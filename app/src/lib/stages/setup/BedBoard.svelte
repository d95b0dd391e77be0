<script lang="ts">
  /** The bed from above: where the board lies and what stands on it; pulled to where it really is, snapped to the slots. */
  import { processOf } from '@kerbe/core/process';
  import { datumPoint, type Job } from '@kerbe/core/job';
  import { bedFaults, snapToSlots } from '@kerbe/core/setup/bed';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import type { MachineView } from '$lib/stages/types';
  import type { RunDesk } from '$lib/stages/run/desk.svelte';
  import { num, place as placeOf } from '$lib/ui/format';
  import { SETUP } from '$lib/labels/setup';

  interface Props {
    session: JobSession;
    machine: MachineLink;
    shop: MachineView;
    desk: RunDesk;
  }
  let { session, machine, shop, desk }: Props = $props();
  const job = $derived<Job>(session.job);
  const profile = $derived(shop.profile);
  const now = $derived(machine.now);
  const status = $derived(now.status);
  const [w, h] = $derived([profile.limits.travel[0], profile.limits.travel[1]]);
  const usable = $derived(profile.limits.usable);
  const datum = $derived(datumPoint(job));
  let svg: SVGSVGElement;
  let pulled = $state<{ x: number; y: number } | null>(null);
  let grip: { dx: number; dy: number; holder: number | null } | null = null;
  let holderAt = $state<{ k: number; x: number; y: number } | null>(null);
  let why = $state<string | null>(null);
  const bed = $derived(pulled ?? now.setup.bed);
  /** Where it is drawn: pushed on for a tile that is not the first. */
  const laid = $derived.by(() => {
    const tile = desk.program?.tile;
    return { x: bed.x - (tile?.axis === 'x' ? tile.from : 0), y: bed.y - (tile?.axis === 'y' ? tile.from : 0) };
  });
  const faults = $derived(bedFaults(job, profile, bed));
  const box = $derived(desk.program?.extents ?? null);
  /** Where work zero is: as it was set, or as it will be. */
  const zero = $derived(status?.homed && now.setup.zeroXY ? [status.offset[0], status.offset[1]] : [bed.x + datum[0], bed.y + datum[1]]);
  const turn = $derived(((now.setup.zeroXY?.angle ?? 0) * 180) / Math.PI);
  const slotsAlong = $derived(profile.slots ? Array.from({ length: profile.slots.count }, (_, k) => profile.slots!.first + k * profile.slots!.pitch) : []);

  function place(event: PointerEvent): [number, number] {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM()!.inverse());
    return [point.x, -point.y];
  }
  function down(event: PointerEvent, holder: number | null) {
    const [x, y] = place(event);
    const from = holder === null ? bed : { x: bed.x + job.board.holders[holder].x, y: bed.y + job.board.holders[holder].y };
    grip = { dx: x - from.x, dy: y - from.y, holder };
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function snap(x: number, y: number): { x: number; y: number } {
    const round = (v: number) => Math.round(v * 2) / 2;
    const along = profile.slots?.axis;
    return { x: round(along === 'x' ? snapToSlots(x, profile.slots) : x), y: round(along === 'y' ? snapToSlots(y, profile.slots) : y) };
  }
  function move(event: PointerEvent) {
    if (!grip) return;
    const [x, y] = place(event);
    const to = snap(x - grip.dx, y - grip.dy);
    if (grip.holder === null) pulled = to;
    else holderAt = { k: grip.holder, x: to.x - bed.x, y: to.y - bed.y };
  }
  let settling: ReturnType<typeof setTimeout> | undefined;
  /** Tells the machine where the board was put, after a moment without another move; shown there until its own word of it is here. */
  function settle(after: number) {
    clearTimeout(settling);
    settling = setTimeout(async () => {
      if (pulled) why = await machine.send({ do: 'place-board', ...pulled });
      settling = setTimeout(() => (pulled = null), 400);
    }, after);
  }
  function up() {
    if (!grip) return;
    const { holder } = grip;
    grip = null;
    if (holder === null && pulled) settle(0);
    else if (holder !== null && holderAt) {
      const to = holderAt;
      session.edit(SETUP.moveA(job.board.holders[holder].kind), (d) => {
        d.board.holders[holder].x = to.x;
        d.board.holders[holder].y = to.y;
      });
      holderAt = null;
    }
  }
  function nudge(event: KeyboardEvent, holder: number | null) {
    const step = event.shiftKey ? 10 : 1;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    if (!by) return;
    event.preventDefault();
    if (holder === null) {
      pulled = { x: bed.x + by[0], y: bed.y + by[1] };
      settle(200);
    } else
      session.edit(SETUP.moveA(job.board.holders[holder].kind), (d) => {
        d.board.holders[holder].x += by[0];
        d.board.holders[holder].y += by[1];
      });
  }
  function add(device: (typeof profile.devices)[number]) {
    const { kind, width, depth, height } = device;
    session.edit(SETUP.putAOnTheBed(kind), (d) => {
      d.board.holders.push({ kind, x: -width / 2 - 5, y: d.board.height / 2, width, depth, height });
    });
  }
</script>

<figure class="py-2.5 px-3.5 h-full grid grid-rows-[minmax(0,1fr)_auto] relative">
  <div class="relative min-h-0">
    <svg
      class="absolute inset-0 w-full h-full touch-none"
      bind:this={svg}
      viewBox="-30 {-h - 30} {w + 60} {h + 60}"
      role="group"
      aria-label={SETUP.theBedFromAboveWith}
      onpointermove={move}
      onpointerup={up}
      onpointercancel={up}
    >
      <rect class="fill-surface-100-900 stroke-surface-300-700" x="0" y={-h} width={w} height={h} stroke-width="3" />
      {#each slotsAlong as at (at)}
        {#if profile.slots?.axis === 'y'}<line x1="0" x2={w} y1={-at} y2={-at} class="stroke-surface-300-700 stroke-5 opacity-45" />{:else}<line
            x1={at}
            x2={at}
            y1={-h}
            y2="0"
            class="stroke-surface-300-700 stroke-5 opacity-45"
          />{/if}
      {/each}
      <rect
        x={usable.x}
        y={-usable.y - usable.height}
        width={usable.width}
        height={usable.height}
        class="fill-none stroke-surface-300-700 stroke-2 [stroke-dasharray:12_10]"
      />
      {#each profile.vacuum as zone (zone)}<rect
          x={zone.x}
          y={-zone.y - zone.height}
          width={zone.width}
          height={zone.height}
          class="fill-none stroke-primary-600-400 [stroke-dasharray:4_8] stroke-2"
        />{/each}
      {#if status?.world?.board}
        {@const b = status.world?.board}
        <rect x={b.x} y={-b.y - b.height} width={b.width} height={b.height} class="fill-tertiary-200-800 stroke-[none] opacity-90" />
      {/if}
      <rect
        x={laid.x}
        y={-laid.y - job.board.height}
        width={job.board.width}
        height={job.board.height}
        class={[
          'board fill-tertiary-200-800 [fill-opacity:0.45] stroke-[2.5] cursor-move focus-visible:outline-none focus-visible:stroke-primary-600-400 focus-visible:stroke-6',
          faults.length > 0 ? 'stroke-error-600-400 [stroke-dasharray:14_6]' : 'stroke-surface-950-50',
        ]}
        role="button"
        tabindex="0"
        aria-label={SETUP.boardToPull(processOf(job).header.lies.toLowerCase(), bed.x, bed.y)}
        onpointerdown={(event) => down(event, null)}
        onkeydown={(event) => nudge(event, null)}
      />
      {#if box}
        <g transform="translate({zero[0]} {-zero[1]}) rotate({-turn})">
          <rect
            x={box.min[0]}
            y={-box.max[1]}
            width={box.max[0] - box.min[0]}
            height={box.max[1] - box.min[1]}
            class="fill-none stroke-surface-950-50 stroke-2 [stroke-dasharray:6_6] pointer-events-none"
          />
        </g>
      {/if}
      {#if desk.marking}
        {@const { points, origin, angle } = desk.marking}
        {#if origin && box}
          <g transform="translate({origin[0]} {-origin[1]}) rotate({(-angle * 180) / Math.PI})">
            <rect
              x={box.min[0]}
              y={-box.max[1]}
              width={box.max[0] - box.min[0]}
              height={box.max[1] - box.min[1]}
              class="fill-none stroke-primary-600-400 stroke-3 pointer-events-none"
            />
          </g>
        {/if}
        {#each points as [x, y], k (k)}
          <g transform="translate({x} {-y})" class="stroke-primary-600-400 stroke-3 pointer-events-none">
            <line x1="-14" x2="14" y1="0" y2="0" />
            <line x1="0" x2="0" y1="-14" y2="14" />
          </g>
        {/each}
      {/if}
      {#each job.board.holders as holder, k (k)}
        {@const at = holderAt?.k === k ? holderAt : holder}
        <rect
          x={laid.x + at.x - holder.width / 2}
          y={-laid.y - at.y - holder.depth / 2}
          width={holder.width}
          height={holder.depth}
          class="fill-surface-950-50 [fill-opacity:0.75] cursor-move focus-visible:outline-none focus-visible:stroke-primary-600-400 focus-visible:stroke-6"
          role="button"
          tabindex="0"
          aria-label={SETUP.holderToPull(holder.kind, at.x.toFixed(0), at.y.toFixed(0))}
          onpointerdown={(event) => down(event, k)}
          onkeydown={(event) => nudge(event, k)}
        />
      {/each}
      {#if status?.world?.plate}<rect x={status.world?.plate.x - 15} y={-status.world?.plate.y - 15} width="30" height="30" class="fill-surface-600-400" />{/if}
      {#if status?.world?.block && status.world?.board}
        {@const { corner, size, lip } = status.world.block}
        {@const b = status.world?.board}
        <rect
          x={corner.endsWith('left') ? b.x - lip : b.x + b.width - size}
          y={corner.startsWith('lower') ? -b.y - size : -b.y - b.height - lip}
          width={size + lip}
          height={size + lip}
          class="fill-surface-600-400"
        />
      {/if}
      {#if profile.sensor}<circle cx={profile.sensor.x} cy={-profile.sensor.y} r={profile.sensor.radius + 3} class="fill-surface-600-400" />
        <text class="text-2xl fill-surface-600-400" x={profile.sensor.x + 22} y={-profile.sensor.y + 8}>sensor</text>{/if}
      <path d="M{profile.limits.park[0] - 9} {-profile.limits.park[1]}h18m-9 -9v18" class="stroke-surface-600-400 stroke-3 fill-none" />
      <circle cx={zero[0]} cy={-zero[1]} r="15" class="fill-none stroke-surface-950-50 stroke-4 pointer-events-none" />
      {#if status?.homed}
        <path
          d="M{status.machine[0] - 30} {-status.machine[1]}h60M{status.machine[0]} {-status.machine[1] - 30}v60"
          class="bit stroke-primary-600-400 stroke-7 pointer-events-none"
        />
      {/if}
    </svg>
  </div>
  <!-- Over the drawing, so that nothing below moves away under a finger. -->
  <div class="absolute left-5 bottom-28 bg-surface-50-950" aria-live="polite">
    {#each faults as fault (fault)}<p class="caution">{fault}</p>{/each}
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
  </div>
  <figcaption>
    <p class="figure">
      {#if status?.homed}{now.setup.zeroXY ? 'Work' : 'Machine'} X <b>{placeOf(status.work[0], job.units)}</b> Y <b>{placeOf(status.work[1], job.units)}</b> Z
        <b>{placeOf(status.work[2], job.units)}</b>
        {job.units} · {status.workOffset}{:else}The machine does not know where it is yet.{/if}
      <span>· {processOf(job).header.lies.toLowerCase()} at X {num(bed.x, job.units)} Y {num(bed.y, job.units)} of the bed</span>
    </p>
    <p class="gap-1.5 flex flex-wrap items-center text-xs">
      {#each profile.devices as device (device.name)}<button class="btn" onclick={() => add(device)}>+ {device.name}</button>{/each}
      {#if job.board.holders.length > 0}<button class="btn" onclick={() => session.edit(SETUP.removeTheLastOneFrom, (d) => void d.board.holders.pop())}
          >{SETUP.removeTheLastOne}</button
        >{/if}
      <span>What is put here is looked at in every cut, travel move and frame: release again afterwards.</span>
    </p>
  </figcaption>
</figure>
