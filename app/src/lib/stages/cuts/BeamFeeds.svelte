<script lang="ts">
  /** Feed of a beam, what its preset or the material suggests beside it, and what it comes to in energy. */
  import { beamPresetOf } from '@kerbe/core/advise/preset';
  import { suggestBeam, withPreset } from '@kerbe/core/feeds/beam';
  import { kindOf } from '@kerbe/core/cuts';
  import { boardThickness, type Bit, type Cut } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import { formatFeed } from '@kerbe/core/length';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { each } from '$lib/ui/format';
  import { ask } from '$lib/ui/post';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  let { session, cut }: { session: JobSession; cut: Cut } = $props();
  const job = $derived(session.job);
  const head = $derived(job.tools[cut.tool]);
  const thickness = $derived(boardThickness(job.board));
  const { material } = $derived(job.board);
  type Beam = { power?: number; passes?: number; interval?: number; linesPerMm?: number; focus?: number; kerf?: number };
  const own = $derived(cut as Beam);
  const pitch = $derived(own.interval ?? (own.linesPerMm ? 1 / own.linesPerMm : undefined));
  const advice = $derived(suggestBeam(head, material, thickness, kindOf(cut), pitch));
  const KEYS = ['feed', 'power', 'passes', 'interval', 'linesPerMm', 'focus', 'kerf'] as const;
  /** What of the cut is not as suggested. */
  const apart = $derived(KEYS.filter((key) => advice?.[key] !== undefined && key in cut && (cut as Beam & { feed: number })[key] !== advice[key]));
  const watts = $derived(head.kind === 'head' ? (head.watts * (own.power ?? 0)) / 100 : 0);
  /** J for each mm, and for each mm² of what is filled. (Derived: P/v, and P/(v·pitch).) */
  const perMm = $derived((60 * watts * (own.passes ?? 1)) / cut.feed);
  let note = $state<string | null>(null);
  let care = $state('');
  const take = () =>
    session.edit(CUTS.suggestedFigures, (d) => void Object.assign(d.cuts[cut.id], Object.fromEntries(apart.map((key) => [key, advice![key]]))));
  /** These figures become the head’s preset for this material and thickness, in the job and in the crib. */
  async function keep() {
    const preset = beamPresetOf(job, $state.snapshot(cut) as Cut, `from “${job.name}”`, new Date().toISOString().slice(0, 10), care.trim());
    if (!preset) return;
    session.edit(CUTS.saveTheFiguresAsA, (d) => void (d.tools[cut.tool] = withPreset($state.snapshot(d.tools[cut.tool]) as Bit, preset)));
    note = `Kept with the head, for ${material}.`;
    const kept = session.job.tools[cut.tool];
    const answer = await ask('/api/bits', 'POST', { bits: [{ ...kept, id: kept.crib ?? kept.id, crib: undefined }] });
    if (!answer.ok) note = answer.why;
  }
</script>

<LengthField
  feed
  label={COMMON.feed}
  value={cut.feed}
  unit={job.units}
  min={10}
  max={60000}
  onchange={(value) => session.edit(COMMON.feed, (d) => void (d.cuts[cut.id].feed = value))}
/>
<p class="text-surface-600-400">
  {watts.toFixed(1)} W: {each(perMm, 'J', 'length', job.units)}{pitch ? `, ${each(perMm / pitch, 'J', 'area', job.units)} of what is burned` : ''}.
</p>
{#if advice}
  <p>
    Suggested: {advice.power} % at {formatFeed(advice.feed, job.units)}{advice.passes > 1 ? `, ${advice.passes} passes` : ''} - {advice.why}.
    {#if advice.care}<b>{advice.care}</b>{/if}
  </p>
  <div class="flex flex-wrap items-end gap-1.5">
    {#if apart.length > 0}
      <button class="btn preset-outlined-surface-300-700" onclick={take}>{CUTS.useTheSuggestedFigures}</button>
      <button class="btn preset-outlined-surface-300-700" onclick={keep}>{CUTS.saveMineAsThePreset}</button>
    {:else}<span>As suggested.</span>{/if}
  </div>
  {#if apart.length > 0}
    <label class="grid gap-1 py-1.5 text-sm">{CUTS.whatGoesWithItAs} <input class="input" maxlength="300" bind:value={care} /></label>
  {/if}
  {#if note}<p class="text-surface-600-400" role="status">{note}</p>{/if}
{:else}<p class="caution">This is no laser head: choose one.</p>{/if}
