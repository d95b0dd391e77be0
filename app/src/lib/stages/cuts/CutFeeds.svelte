<script lang="ts">
  /** Feeds: what is entered beside what is suggested, with what each means for the chip. */
  import { suggestFeeds, workingDiameter } from '@kerbe/core/feeds';
  import { bitName, chipLoad, surfaceSpeed } from '@kerbe/core/bits';
  import { kindOf } from '@kerbe/core/cuts';
  import type { Cut } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import { feedNumber, formatChip, formatFeed, formatSurface } from '@kerbe/core/length';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ask } from '$lib/ui/post';
  import { num } from '$lib/ui/format';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    session: JobSession;
    cut: Cut;
    /** Feeds are to be tried on a board of their own. */
    ontrial: () => void;
  }
  let { session, cut, ontrial }: Props = $props();
  const job = $derived(session.job);
  const bit = $derived(job.tools[cut.tool]);
  const advice = $derived(suggestFeeds(bit, job.board.material, job.machine, kindOf(cut).clearingStep?.(cut, bit)));
  const deep = $derived('depthPerPass' in cut ? cut.depthPerPass : undefined);
  const chip = $derived(chipLoad(cut.feed, cut.speed, bit.flutes));
  const limit = $derived(Math.min(job.machine.maxSpeed[0], job.machine.maxSpeed[1]));
  let note = $state<string | null>(null);
  const set = (key: 'feed' | 'plunge' | 'speed', label: string) => (value: number) =>
    session.edit(label, (d) => void ((d.cuts[cut.id] as Record<string, unknown>)[key] = value));

  function take() {
    session.edit(CUTS.suggestedFeeds, (d) => {
      const draft = d.cuts[cut.id];
      draft.feed = advice.feed;
      draft.plunge = advice.plunge;
      if (draft.speed > 0) draft.speed = advice.speed;
      if ('depthPerPass' in draft && draft.depthPerPass !== undefined) draft.depthPerPass = advice.depthPerPass;
    });
  }
  /** These feeds become the bit's preset for this material, in the job and in the crib. */
  async function keep() {
    const preset = {
      feed: cut.feed,
      plunge: cut.plunge,
      speed: cut.speed,
      ...(deep ? { depthPerPass: deep } : {}),
      source: `from “${job.name}”`.slice(0, 200),
    };
    session.edit(CUTS.saveTheFeedsAsA, (d) => {
      const draft = d.tools[cut.tool];
      draft.feeds = { ...draft.feeds, [job.board.material]: preset };
    });
    note = `Kept with the bit, for ${job.board.material}.`;
    const kept = session.job.tools[cut.tool];
    if (!kept.crib) return;
    const answer = await ask('/api/bits', 'POST', { bits: [{ ...kept, id: kept.crib, crib: undefined }] });
    if (!answer.ok) note = answer.why;
  }
</script>

<LengthField feed label={COMMON.feed} value={cut.feed} unit={job.units} min={10} max={50000} onchange={set('feed', 'Feed')} />
<LengthField feed label={CUTS.plunge} value={cut.plunge} unit={job.units} min={10} max={50000} onchange={set('plunge', 'Plunge')} />
{#if cut.speed > 0}
  <NumberField label={COMMON.spindle} value={cut.speed} unit={COMMON.revMin} min={500} max={60000} onchange={set('speed', 'Spindle speed')} />
{:else}
  <p class="text-surface-600-400">The spindle stays off: it is not started by the program, and must not be by hand.</p>
{/if}
<details>
  <summary class="py-1.5 cursor-pointer text-sm"
    >{CUTS.chipLoadWith(
      formatChip(chip, job.units),
      formatSurface(surfaceSpeed(workingDiameter(bit), cut.speed), job.units),
    )}{#if cut.speed > 0 && (chip < 0.9 * advice.load[0] || chip > 1.1 * advice.load[1])}<strong class="text-warning-600-400">
        {CUTS.usualIs(formatChip(advice.load[0], job.units), formatChip(advice.load[1], job.units))}</strong
      >{/if}</summary
  >
  <table class="table tabular-nums">
    <thead><tr><th></th><th>{CUTS.entered}</th><th>{CUTS.suggested}</th></tr></thead>
    <tbody>
      <tr
        ><th>{COMMON.feed}</th><td>{formatFeed(cut.feed, job.units)}{cut.feed > limit ? ` (machine: ${feedNumber(limit, job.units)})` : ''}</td><td
          >{formatFeed(advice.feed, job.units)}</td
        ></tr
      >
      <tr><th>{CUTS.plunge}</th><td>{formatFeed(cut.plunge, job.units)}</td><td>{formatFeed(advice.plunge, job.units)}</td></tr>
      <tr><th>{COMMON.spindle}</th><td>{cut.speed} rev/min</td><td>{advice.speed} rev/min</td></tr>
      <tr><th>{CUTS.chipLoad}</th><td>{formatChip(chip, job.units)}</td><td>{formatChip(chipLoad(advice.feed, advice.speed, bit.flutes), job.units)}</td></tr>
      <tr
        ><th>{CUTS.surfaceSpeed}</th><td>{formatSurface(surfaceSpeed(workingDiameter(bit), cut.speed), job.units)}</td><td
          >{formatSurface(advice.surface, job.units)}</td
        ></tr
      >
      {#if deep !== undefined}<tr><th>{CUTS.depthPerPass}</th><td>{num(deep, job.units)}</td><td>{num(advice.depthPerPass, job.units)}</td></tr>{/if}
    </tbody>
  </table>
  <p class="text-surface-600-400">
    For {bitName(bit, job.units)} in {job.board.material}{advice.known ? '' : ' (not known here: reckoned as hard wood)'}, from {advice.source}.{advice.limited
      ? ' The machine is the limit: the chip stays thin.'
      : ''} The bit’s maker and a trial cut have the last word.
  </p>
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button class="btn preset-outlined-surface-300-700" onclick={take}>{CUTS.useTheSuggestedFeeds}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={keep}>{CUTS.saveMineAsThePreset}</button>
    {#if !kindOf(cut).wholeBoard}<button class="btn preset-outlined-surface-300-700" onclick={ontrial}>{CUTS.tryFeedsOnATrial}</button>{/if}
  </div>
  {#if note}<p role="status">{note}</p>{/if}
</details>
