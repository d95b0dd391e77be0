<script lang="ts">
  /** The bed from above: board, datum, tool sensor, and where the bit is. */
  import { datumPoint, type Job } from '@kerbe/core/job';
  import type { MachineStatus } from '@kerbe/core/link';

  let { status, job }: { status: MachineStatus; job: Job } = $props();
  const [w, h] = $derived([status.travel[0], status.travel[1]]);
  const board = $derived(status.world.board);
  const usable = $derived(job.machine.usable);
  const datum = $derived(datumPoint(job));
</script>

<figure>
  <svg viewBox="-20 {-h - 20} {w + 40} {h + 40}" role="img" aria-label="The bed from above, with the board and the bit">
    <rect x="0" y={-h} width={w} height={h} fill="var(--bed)" stroke="var(--line-strong)" stroke-width="3" />
    <rect
      x={usable.x}
      y={-usable.y - usable.height}
      width={usable.width}
      height={usable.height}
      fill="none"
      stroke="var(--line-strong)"
      stroke-width="2"
      stroke-dasharray="12 10"
    />
    {#if board}
      <rect x={board.x} y={-board.y - board.height} width={board.width} height={board.height} fill="var(--wood)" stroke="var(--ink)" stroke-width="2" />
      <circle cx={board.x + datum[0]} cy={-board.y - datum[1]} r="14" fill="none" stroke="var(--ink)" stroke-width="4" />
    {/if}
    {#if status.world.plate}<rect x={status.world.plate.x - 15} y={-status.world.plate.y - 15} width="30" height="30" fill="var(--quiet)" />{/if}
    <circle cx={status.sensor.x} cy={-status.sensor.y} r="14" fill="var(--quiet)" />
    {#if status.homed}
      <path d="M{status.machine[0] - 28} {-status.machine[1]}h56M{status.machine[0]} {-status.machine[1] - 28}v56" stroke="var(--accent)" stroke-width="7" />
    {/if}
  </svg>
  <figcaption class="quiet">
    {#if status.homed}Work X <b class="figure">{status.work[0].toFixed(2)}</b> Y <b class="figure">{status.work[1].toFixed(2)}</b> Z
      <b class="figure">{status.work[2].toFixed(2)}</b> mm{:else}It does not know where it is yet.{/if}
  </figcaption>
</figure>

<style>
  svg {
    width: 100%;
    max-height: 190px;
  }
  figcaption {
    font-size: 0.85rem;
    text-align: center;
  }
</style>
