<script lang="ts">
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Findings from '../Findings.svelte';
  import ProgramSettings from './ProgramSettings.svelte';
  import ProgramText from './ProgramText.svelte';
  import type { ReleaseView } from '../types';
  import { duration } from '$lib/ui/format';

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

<h2>The program</h2>
{#if job.process === 'router'}<Choice
    label="Bit changes"
    value={job.program.split}
    options={[
      { value: 'pauses', label: 'one program that pauses' },
      { value: 'tool', label: 'one program for each bit' },
    ]}
    onchange={(v) => session.edit('Bit changes', (d) => void (d.program.split = v))}
  />{/if}
<Choice
  label="Written in"
  value={job.program.units}
  options={[
    { value: 'mm', label: 'millimetres (G21)' },
    { value: 'in', label: 'inches (G20)' },
  ]}
  onchange={(v) => session.edit('Program units', (d) => void (d.program.units = v))}
/>
<LengthField
  label={job.process === 'router' ? 'Travel height above the board' : 'Travel height above the plate'}
  value={job.program.clearance}
  unit={job.units}
  min={1}
  onchange={(v) => session.edit('Clearance', (d) => void (d.program.clearance = v))}
/>
{#if job.process === 'router'}<LengthField
    label="Plunges from, above the board"
    value={job.program.approach}
    unit={job.units}
    min={0.1}
    onchange={(v) => session.edit('Height it plunges from', (d) => void (d.program.approach = v))}
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
          >{program.lines} lines · {duration(program.seconds)} running{program.changes ? `, ${duration(program.changes)} for changing bits` : ''}</span
        ></a
      >
    {/each}
    <div class="gap-1.5 flex flex-wrap pt-1.5 text-sm">
      <a class="btn preset-outlined-surface-300-700" href="/api/releases/{current.id}/sheet" download>Set-up sheet (PDF)</a>
      <a class="btn preset-outlined-surface-300-700" href="/api/jobs/{session.id}/template" download>Full-size template (PDF)</a>
    </div>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold mt-2.5" onclick={onnext}>Go to the machine</button>
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
    {busy ? 'Planning again on the server…' : 'Release for cutting'}
  </button>
  <p class="text-surface-600-400">
    A release is planned again on the server from the saved job. Only a release can be run.{mayRelease
      ? ''
      : ' Releasing is for the owner: ask them to look at it.'}
  </p>
{/if}

{#if plan && plan.files.length > 0}
  <h2>As it will be written</h2>
  {#if plan.files.length > 1}
    <div class="gap-1.5 flex flex-wrap text-xs" role="group" aria-label="Program shown">
      {#each plan.files as file, i (i)}<button class="btn preset-outlined-surface-300-700" aria-pressed={i === shown} onclick={() => (shown = i)}
          >{file.name}</button
        >{/each}
    </div>
  {/if}
  <ProgramText text={plan.files[Math.min(shown, plan.files.length - 1)].text} />
{/if}
