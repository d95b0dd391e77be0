<script lang="ts">
  /** What a simulated machine cut, against the proof: asked for by a press, when the run is over. */
  import type { AsCut } from '@kerbe/core/proof';
  import type { JobSession } from '$lib/job/session.svelte';
  import { machineMap } from '$lib/machine-map';
  import { len } from '$lib/ui/format';
  import { RUN } from '$lib/labels/run';

  let { session, machine, lies }: { session: JobSession; machine: string; lies: string } = $props();
  let seen = $state.raw<AsCut | null>(null);
  let why = $state<string | null>(null);
  let busy = $state(false);
  const unit = $derived(session.job.units);
  const area = (mm2: number) => (unit === 'in' ? `${(mm2 / 645.16).toFixed(2)} in²` : `${(mm2 / 100).toFixed(1)} cm²`);
  const where = ([x, y]: [number, number]) => `${len(x, unit)} from the left, ${len(y, unit)} from the front`;

  async function compare() {
    busy = true;
    [seen, why] = [null, null];
    try {
      const map = await machineMap(machine);
      const { width, height } = session.job.board;
      if (!map) why = `There is no ${lies} on it.`;
      else if (Math.abs(map.columns * map.cell - width) > 2 * map.cell || Math.abs(map.rows * map.cell - height) > 2 * map.cell)
        why = `Another ${lies} lies there than the one of this job.`;
      else seen = await session.ask('asCut', map);
    } catch (error) {
      why = (error as Error).message;
    }
    busy = false;
  }
</script>

<button class="btn preset-outlined-surface-300-700" disabled={busy} onclick={() => void compare()}>{busy ? RUN.comparing : RUN.compareWhatItCutWith}</button>
{#if why}<p class="caution" role="alert">{why}</p>{/if}
{#if seen}
  <p role="status">
    {#if seen.deeper.area + seen.shallower.area <= 0.01 * seen.asked}As it was proved, over {area(seen.asked)}.
    {:else}
      {#if seen.deeper.area > 0}Deeper than proved on {area(seen.deeper.area)}, by {len(seen.deeper.worst, unit)} at the most, {where(seen.deeper.at)}.{/if}
      {#if seen.shallower.area > 0}Less deep on {area(seen.shallower.area)}, by {len(seen.shallower.worst, unit)} at the most, {where(seen.shallower.at)}.{/if}
    {/if}
  </p>
{/if}
