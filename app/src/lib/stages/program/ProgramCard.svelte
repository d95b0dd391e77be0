<script lang="ts">
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Findings from '../Findings.svelte';
  import ProgramSettings from './ProgramSettings.svelte';
  import ProgramText from './ProgramText.svelte';
  import type { ReleaseView } from '../types';
  import { duration } from '$lib/ui/format';
  import { PROGRAM } from '$lib/labels/program';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    session: JobSession;
    release: ReleaseView | null;
    /** Only the owner releases. */
    mayRelease: boolean;
    onrelease: (accepted: string[]) => Promise<string | null>;
    onnext: () => void;
  }
  let { session, release, mayRelease, onrelease, onnext }: Props = $props();
  const job = $derived(session.job);
  const plan = $derived(session.plan);
  const current = $derived(release && release.revision === session.revision && session.save.kind === 'saved' ? release : null);
  let accepted = $state<string[]>([]);
  let busy = $state(false);
  let why = $state<string | null>(null);
  let shown = $state(0);
  const warnings = $derived((plan?.findings ?? []).filter(({ severity }) => severity === 'warning'));
  const errors = $derived((plan?.findings ?? []).filter(({ severity }) => severity === 'error'));
  const unticked = $derived(warnings.filter(({ code }) => !accepted.includes(code)).length);

  // The release against what this browser planned: same job, same bytes.
  let same = $state<boolean | null>(null);
  $effect(() => {
    const files = plan && !session.stale ? plan.files : [];
    const wanted = current?.programs ?? [];
    same = null;
    if (files.length === 0 || wanted.length === 0) return;
    let meant = true;
    const alike = (sums: { name: string; sha256: string }[]) =>
      sums.every(({ name, sha256 }) => wanted.some((one) => one.name === name && one.sha256 === sha256));
    session.ask('sums', {}).then(
      ({ sums }) => meant && (same = sums.length === files.length ? alike(sums) : null),
      // A newer plan is on its way: it asks again.
      () => {},
    );
    return () => (meant = false);
  });

  async function go() {
    busy = true;
    why = await onrelease(accepted);
    busy = false;
  }
</script>

<h2>{PROGRAM.theProgram}</h2>
{#if job.process === 'router'}<Choice
    label={COMMON.bitChanges}
    value={job.program.split}
    options={[
      { value: 'pauses', label: PROGRAM.oneProgramThatPauses },
      { value: 'tool', label: PROGRAM.oneProgramForEachBit },
    ]}
    onchange={(v) => session.edit(COMMON.bitChanges, (d) => void (d.program.split = v))}
  />{/if}
<Choice
  label={PROGRAM.writtenIn}
  value={job.program.units}
  options={[
    { value: 'mm', label: PROGRAM.millimetresG21 },
    { value: 'in', label: PROGRAM.inchesG20 },
  ]}
  onchange={(v) => session.edit(PROGRAM.programUnits, (d) => void (d.program.units = v))}
/>
<LengthField
  label={job.process === 'router' ? PROGRAM.travelHeightAboveTheBoard : PROGRAM.travelHeightAboveThePlate}
  value={job.program.clearance}
  unit={job.units}
  min={1}
  onchange={(v) => session.edit(PROGRAM.clearance, (d) => void (d.program.clearance = v))}
/>
{#if job.process === 'router'}<LengthField
    label={PROGRAM.plungesFromAboveTheBoard}
    value={job.program.approach}
    unit={job.units}
    min={0.1}
    onchange={(v) => session.edit(PROGRAM.heightItPlungesFrom, (d) => void (d.program.approach = v))}
  />{/if}
<ProgramSettings {session} />

{#if current}
  <div class="border-t border-surface-200-800 mt-2.5 pt-1.5">
    <p><strong>Released</strong> by {current.author}, revision {current.revision}</p>
    <p class="font-mono text-xs text-surface-600-400" title={current.sha256}>{current.sha256.slice(0, 16)}…</p>
    {#if same === true}<p class="text-surface-600-400" data-same="true">The server wrote the same bytes as were planned here.</p>
    {:else if same === false}<p class="caution" role="alert">
        The server wrote another program than was planned here. Plan again and compare before you run it.
      </p>{/if}
    {#each current.programs as program, i (i)}
      {#if i === 0}<p class="text-surface-600-400">One program:</p>{:else if i === 1}<p class="text-surface-600-400">Or one for each bit:</p>{/if}
      <a
        class="btn preset-outlined-surface-300-700 file my-1 mx-0 gap-2 flex justify-between text-xs flex-wrap"
        href="/api/releases/{current.id}/{encodeURIComponent(program.name)}"
        download
        >{program.name}<span class="text-surface-600-400"
          >{PROGRAM.linesRunning(program.lines, duration(program.seconds), program.changes ? `, ${duration(program.changes)} for changing bits` : '')}</span
        ></a
      >
    {/each}
    <div class="gap-1.5 flex flex-wrap pt-1.5 text-sm">
      <a class="btn preset-outlined-surface-300-700" href="/api/releases/{current.id}/sheet" download>{PROGRAM.setUpSheetPdf}</a>
      <a class="btn preset-outlined-surface-300-700" href="/api/jobs/{session.id}/template" download>{PROGRAM.fullSizeTemplatePdf}</a>
    </div>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold mt-2.5" onclick={onnext}>{PROGRAM.goToTheMachine}</button>
  </div>
{:else}
  {#if errors.length}
    <p>These must be mended first:</p>
    <Findings findings={errors} unit={session.job.units} />
  {:else if warnings.length}
    <p>Tick what you know about:</p>
    <Findings
      findings={warnings}
      unit={session.job.units}
      {accepted}
      onaccept={(code, on) => (accepted = on ? [...accepted, code] : accepted.filter((c) => c !== code))}
    />
  {/if}
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
  <button
    class="btn preset-filled-brand px-4 py-2.5 font-semibold mt-2.5"
    disabled={!mayRelease || busy || session.stale || errors.length > 0 || unticked > 0 || !plan}
    onclick={go}
  >
    {busy ? PROGRAM.planningAgainOnTheServer : PROGRAM.releaseForCutting}
  </button>
  <p class="text-surface-600-400">
    A release is planned again on the server from the saved job. Only a release can be run.{mayRelease
      ? ''
      : ' Releasing is for the owner: ask them to look at it.'}
  </p>
{/if}

{#if plan && plan.files.length > 0}
  <h2>{PROGRAM.asItWillBeWritten}</h2>
  {#if plan.files.length > 1}
    <div class="gap-1.5 flex flex-wrap text-xs" role="group" aria-label={PROGRAM.programShown}>
      {#each plan.files as file, i (i)}<button class="btn preset-outlined-surface-300-700" aria-pressed={i === shown} onclick={() => (shown = i)}
          >{file.name}</button
        >{/each}
    </div>
  {/if}
  <ProgramText text={plan.files[Math.min(shown, plan.files.length - 1)].text} />
{/if}
