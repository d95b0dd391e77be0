<script lang="ts">
  /** The thickness map: readings at a few places, what they say, and whether programs follow the surface. */
  import { datumPoint, type Job } from '@kerbe/core/job';
  import { probeGrid, thicknessFacts } from '@kerbe/core/board/thickness';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { len } from '$lib/ui/format';
  import type { MachineView } from '$lib/stages/types';
  import type { Act } from './act.svelte';
  import { SETUP } from '$lib/labels/setup';
  import { COMMON } from '$lib/labels/common';

  let { job, machine: shop, act }: { job: Job; machine: MachineView; act: Act } = $props();
  const unit = $derived(job.units);
  const now = $derived(act.machine.now);
  let columns = $state(2);
  let rows = $state(2);
  const points = $derived.by(() => {
    const [dx, dy] = datumPoint(job);
    return probeGrid([-dx, -dy], [job.board.width - dx, job.board.height - dy], columns, rows, 20);
  });
  const readingAt = (x: number, y: number) => now.setup.readings.find((r) => Math.hypot(r.x - x, r.y - y) < 5);
  const next = $derived(points.findIndex(([x, y]) => !readingAt(x, y)));
  const facts = $derived(thicknessFacts(now.setup.readings));
  const plate = $derived(shop.profile.plates[0]?.thickness ?? 15);
  async function read([x, y]: [number, number]) {
    const { status } = now;
    if (!status) return;
    const [mx, my] = [status.offset[0] + x, status.offset[1] + y];
    if (!(await act.send({ do: 'move-over', x: mx, y: my }))) return;
    if (shop.profile.shows && !(await act.bench({ plate: { x: mx, y: my, thickness: plate }, probeClip: true }))) return;
    if (!shop.profile.shows) return;
    if (await act.send({ do: 'reading', thickness: plate })) await act.bench({ plate: null, probeClip: false });
  }
</script>

<p>Heights of the board’s top above Z0, at four places or more. Probe them, or type what you measured with calipers.</p>
<div class="gap-1.5 flex flex-wrap">
  <NumberField label={SETUP.across} value={columns} min={1} max={12} onchange={(n) => (columns = n)} />
  <NumberField label={SETUP.deep} value={rows} min={1} max={12} onchange={(n) => (rows = n)} />
</div>
<ol class="my-1.5">
  {#each points as point, k (k)}
    {@const reading = readingAt(point[0], point[1])}
    <li>
      <span class="figure hidden">X {point[0].toFixed(0)} Y {point[1].toFixed(0)}</span>
      <LengthField
        label={SETUP.heightAt(point[0].toFixed(0), point[1].toFixed(0))}
        value={reading?.height}
        {unit}
        onchange={(height) => act.send({ do: 'reading', thickness: 0, at: { x: point[0], y: point[1], height } })}
      />
    </li>
  {/each}
</ol>
<div class="gap-1.5 flex flex-wrap">
  {#if next >= 0}
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={() => read(points[next])}
      >{act.busy ? SETUP.probing : shop.profile.shows ? SETUP.probePlace(next + 1, points.length) : SETUP.bringTheBitOver(next + 1, points.length)}</button
    >
    {#if !shop.profile.shows}<button
        class="btn preset-outlined-surface-300-700"
        disabled={act.busy !== null}
        onclick={() => act.send({ do: 'reading', thickness: plate })}>{SETUP.probeThePlateHere}</button
      >{/if}
  {/if}
  {#if now.setup.readings.length > 0}<button class="btn preset-outlined-surface-300-700" onclick={() => act.send({ do: 'forget-readings' })}
      >{COMMON.clearReadings}</button
    >{/if}
</div>
{#if facts}
  <dl>
    <div class="flex justify-between">
      <dt>{SETUP.spread}</dt>
      <dd class="figure">{len(facts.spread, unit)}</dd>
    </div>
    <div class="flex justify-between">
      <dt>{SETUP.highest}</dt>
      <dd class="figure">X {facts.at.x.toFixed(0)} Y {facts.at.y.toFixed(0)}: set Z there</dd>
    </div>
    <div class="flex justify-between">
      <dt>{SETUP.shallowestEngravingThatShows}</dt>
      <dd class="figure">{len(facts.shallowest, unit)}</dd>
    </div>
  </dl>
  <label class="py-1.5 gap-2 flex items-center"
    ><input class="checkbox" type="checkbox" checked={now.setup.follow} onchange={(event) => act.send({ do: 'follow', on: event.currentTarget.checked })} />
    {SETUP.theProgramFollowsThisSurface}</label
  >
{/if}
