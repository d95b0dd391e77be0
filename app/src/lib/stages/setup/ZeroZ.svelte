<script lang="ts">
  /** The ways to find Z zero, on either face; and a nudge when a carve came out shallow. */
  import { zeroZWords } from '@kerbe/core/setup/defects';
  import { topHeight, type Job } from '@kerbe/core/job';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { len } from '$lib/ui/format';
  import type { MachineView } from '$lib/stages/types';
  import JogPad from './JogPad.svelte';
  import type { Act } from './act.svelte';
  import { SETUP } from '$lib/labels/setup';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    job: Job;
    /** The job it is set for; none on the bench. */
    jobId: string | null;
    machine: MachineView;
    act: Act;
    /** At a change of bit: tools are away and hands are off. */
    handsOff?: boolean;
  }
  let { job, jobId, machine: shop, act, handsOff = false }: Props = $props();
  const unit = $derived(job.units);
  const now = $derived(act.machine.now);
  const status = $derived(now.status);
  /** A controller whose answer to a touch nobody can read does not probe. */
  const probes = $derived(shop.profile.link.talk === 'kerbe' || shop.profile.link.probe !== undefined);
  let wanted = $state<'plate' | 'paper'>('plate');
  const by = $derived(probes ? wanted : 'paper');
  let on = $state<'top' | 'spoilboard' | null>(null);
  const face = $derived(on ?? job.datum.z);
  let typed = $state<number | null>(null);
  const plate = $derived(typed ?? shop.profile.plates[0]?.thickness ?? 15);
  let paper = $state(0.1);
  let nudge = $state(0.1);
  const wood = $derived(topHeight(job.board));
  const NAME = { top: 'top of the board', spoilboard: 'spoilboard' };
  const set = (method: 'plate' | 'paper', thickness: number) =>
    act.send({ do: 'zero-z', method, thickness, datum: job.datum.z, on: face, board: wood, job: jobId, handsOff });
  /** Set for this very job: what was touched for another says nothing. */
  const isSet = $derived(now.setup.zeroZ?.datum === job.datum.z && now.setup.zeroZ.job === jobId);
  async function layPlate() {
    const b = status?.world?.board;
    if (!b) return;
    const [x, y] = face === 'top' ? [b.x + b.width / 2, b.y + b.height / 2] : [b.x + b.width / 2, b.y - 45];
    if (await act.send({ do: 'move-over', x, y })) await act.bench({ plate: { x, y, thickness: plate }, probeClip: true });
  }
</script>

<div role="group" aria-label={SETUP.howZIsSet} class="gap-1.5 flex flex-wrap items-center">
  {#if probes}<button class="btn preset-outlined-surface-300-700" aria-pressed={by === 'plate'} onclick={() => (wanted = 'plate')}>{SETUP.touchPlate}</button
    >{/if}
  <button class="btn preset-outlined-surface-300-700" aria-pressed={by === 'paper'} onclick={() => (wanted = 'paper')}>{COMMON.paper}</button>
</div>
<div role="group" aria-label={SETUP.faceThatIsTouched} class="gap-1.5 flex flex-wrap items-center">
  <button class="btn preset-outlined-surface-300-700" aria-pressed={face === 'top'} onclick={() => (on = 'top')}>{SETUP.onTopOfTheBoard}</button>
  <button class="btn preset-outlined-surface-300-700" aria-pressed={face === 'spoilboard'} onclick={() => (on = 'spoilboard')}>{SETUP.onTheSpoilboard}</button>
</div>
{#if face !== job.datum.z}
  <p>
    The program counts from the {NAME[job.datum.z]}: {job.board.carrier ? 'board and carrier together, ' : 'the board’s '}{len(wood, unit)} are {job.datum.z ===
    'top'
      ? 'added'
      : 'taken off'}. Is it that thick?
  </p>
{/if}
{#if by === 'plate'}
  <LengthField label={COMMON.plateThickness} value={plate} {unit} min={0} onchange={(mm) => (typed = mm)} />
  {#if shop.profile.shows && status?.world?.board && !status.world?.plate && !isSet}
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={layPlate}>{SETUP.plateUnderTheBitClip}</button>
  {/if}
  <p class="caution">Hands away before it probes. The clip must be on the bit.</p>
  <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={() => set('plate', plate)}
    >{act.busy === 'zero-z' ? SETUP.probing : SETUP.probeThePlate}</button
  >
{:else}
  <LengthField label={SETUP.paperThickness} value={paper} {unit} min={0} onchange={(mm) => (paper = mm)} />
  <p>Lower the bit until it just grips the paper.</p>
  <JogPad machine={act.machine} {unit} />
  <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={() => set('paper', paper)}
    >{SETUP.thePaperIsGripped}</button
  >
{/if}
{#if isSet}
  <p>Z0 is set: {now.setup.zeroZ && zeroZWords(now.setup.zeroZ, unit)}.</p>
  <LengthField label={SETUP.moveZ0By} value={nudge} {unit} min={0.001} onchange={(mm) => (nudge = mm)} />
  <div class="gap-1.5 flex flex-wrap items-center">
    <button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={() => act.send({ do: 'nudge', deeper: nudge })}
      >{SETUP.deeper}</button
    >
    <button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={() => act.send({ do: 'nudge', deeper: -nudge })}
      >{SETUP.shallower}</button
    >
  </div>
{/if}
