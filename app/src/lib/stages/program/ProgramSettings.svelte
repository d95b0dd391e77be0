<script lang="ts">
  /** How programs are written for the controller: a start by its behaviour, then each setting. */
  import { ProgramSettings as Schema, type ProgramSettings } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { PROGRAM } from '$lib/labels/program';
  import { COMMON } from '$lib/labels/common';

  let { session }: { session: JobSession } = $props();
  const settings = $derived(session.job.program);
  const torch = $derived(session.job.process === 'torch');
  let why = $state<string | null>(null);

  /** Starts by how a controller behaves, never by whose it is. */
  const STARTS: { label: string; set: Partial<ProgramSettings> }[] = [
    { label: PROGRAM.linesStopsForBits, set: { arcs: false, split: 'pauses', change: 'pause', lineNumbers: false, comments: 'brackets' } },
    { label: PROGRAM.arcsStopsForBits, set: { arcs: true, split: 'pauses', change: 'pause', lineNumbers: false, comments: 'brackets' } },
    { label: PROGRAM.changesBitsByItself, set: { arcs: true, split: 'pauses', change: 'M6', lineNumbers: false, comments: 'brackets' } },
    { label: PROGRAM.oneFileForEachBit, set: { arcs: true, split: 'tool', lineNumbers: false, comments: 'brackets' } },
    { label: PROGRAM.numberedLinesNoComments, set: { arcs: true, split: 'tool', lineNumbers: true, comments: 'none', lineEnd: 'crlf' } },
  ];
  const fits = (set: Partial<ProgramSettings>) => Object.entries(set).every(([key, value]) => settings[key as keyof ProgramSettings] === value);
  const start = $derived(STARTS.findIndex(({ set }) => fits(set)));

  function put(label: string, change: Partial<ProgramSettings>) {
    const parsed = Schema.safeParse({ ...settings, ...change });
    why = parsed.success ? null : `${label}: ${parsed.error.issues[0].message}`;
    if (parsed.success) session.edit(label, (d) => void (d.program = parsed.data));
  }
  const linesOf = (text: string) =>
    text
      .split('\n')
      .map((line) => line.trim())
      .filter((line) => line !== '');
</script>

<Choice
  label={PROGRAM.theController}
  value={String(start)}
  options={[...STARTS.map(({ label }, k) => ({ value: String(k), label })), ...(start < 0 ? [{ value: '-1', label: PROGRAM.asSetBelow }] : [])]}
  onchange={(v) => STARTS[Number(v)] && put('The controller', STARTS[Number(v)].set)}
/>
<details>
  <summary class="py-1.5 cursor-pointer text-sm">{PROGRAM.everySetting}</summary>
  <Choice
    label={PROGRAM.curves}
    value={settings.arcs ? 'arcs' : 'lines'}
    options={[
      { value: 'lines', label: PROGRAM.linesOnlyG1 },
      { value: 'arcs', label: PROGRAM.arcsWhereTheyFitG2 },
    ]}
    onchange={(v) => put('Curves', { arcs: v === 'arcs' })}
  />
  <Choice
    label={PROGRAM.changeOfBit}
    value={settings.change}
    options={[
      { value: 'pause', label: PROGRAM.stopWithWordsM0 },
      { value: 'M6', label: PROGRAM.byTheMachineM6 },
    ]}
    onchange={(v) => put('Change of bit', { change: v })}
  />
  {#if settings.change === 'M6'}
    <Choice
      label={PROGRAM.bitLengths}
      value={settings.lengths}
      options={[
        { value: 'measured', label: PROGRAM.measuredByTheMachine },
        { value: 'G43', label: PROGRAM.fromItsToolTableG43 },
      ]}
      onchange={(v) => put('Bit lengths', { lengths: v })}
    />
  {/if}
  <Choice
    label={PROGRAM.drilledHoles}
    value={settings.drilling}
    options={[
      { value: 'moves', label: PROGRAM.plainMoves },
      { value: 'cycles', label: PROGRAM.cannedCyclesG81G83 },
    ]}
    onchange={(v) => put('Drilled holes', { drilling: v })}
  />
  <NumberField label={PROGRAM.decimals} value={settings.decimals} min={2} max={6} onchange={(v) => put('Decimals', { decimals: v })} />
  <Choice
    label={PROGRAM.lineNumbers}
    value={settings.lineNumbers ? 'yes' : 'no'}
    options={[
      { value: 'no', label: COMMON.none },
      { value: 'yes', label: 'N10, N20, …' },
    ]}
    onchange={(v) => put('Line numbers', { lineNumbers: v === 'yes' })}
  />
  <Choice
    label={PROGRAM.fileNames}
    value={settings.shortNames ? 'short' : 'long'}
    options={[
      { value: 'long', label: PROGRAM.sayBitAndNumber },
      { value: 'short', label: PROGRAM.eightLettersForAStick },
    ]}
    onchange={(v) => put('File names', { shortNames: v === 'short' || undefined })}
  />
  {#if torch}
    <Choice
      label={PROGRAM.waitsWhileTheArcPierces}
      value={settings.pierce ?? 'program'}
      options={[
        { value: 'program', label: PROGRAM.theProgramLower },
        { value: 'machine', label: PROGRAM.theMachineByItsArc },
      ]}
      onchange={(v) => put('Pierce delay', { pierce: v === 'machine' ? v : undefined })}
    />
  {/if}
  <Choice
    label={PROGRAM.comments}
    value={settings.comments}
    options={[
      { value: 'brackets', label: PROGRAM.inBrackets },
      { value: 'semicolon', label: PROGRAM.afterASemicolon },
      { value: 'none', label: COMMON.none },
    ]}
    onchange={(v) => put('Comments', { comments: v })}
  />
  <Choice
    label={PROGRAM.workOffset}
    value={settings.workOffset}
    options={(['G54', 'G55', 'G56', 'G57', 'G58', 'G59'] as const).map((v) => ({ value: v, label: v }))}
    onchange={(v) => put('Work offset', { workOffset: v })}
  />
  <NumberField
    label={PROGRAM.waitForTheSpindle}
    value={settings.spindleDelay ?? session.job.machine.spindleSeconds}
    unit={COMMON.seconds}
    min={0}
    max={600}
    step={0.5}
    onchange={(v) => put('Wait for the spindle', { spindleDelay: v })}
  />
  <Choice
    label={PROGRAM.airOrMist}
    value={settings.air}
    options={[
      { value: 'none', label: COMMON.none },
      { value: 'M7', label: 'M7' },
      { value: 'M8', label: 'M8' },
    ]}
    onchange={(v) => put('Air or mist', { air: v })}
  />
  <Choice
    label={PROGRAM.atTheEnd}
    value={settings.end}
    options={[
      { value: 'park', label: PROGRAM.upThenToThePark },
      { value: 'datum', label: PROGRAM.upThenBackOverThe },
      { value: 'stay', label: PROGRAM.upAndStayThere },
    ]}
    onchange={(v) => put('At the end', { end: v })}
  />
  <Choice
    label={COMMON.lineEndings}
    value={settings.lineEnd}
    options={[
      { value: 'lf', label: 'LF' },
      { value: 'crlf', label: COMMON.crLf },
    ]}
    onchange={(v) => put('Line ends', { lineEnd: v })}
  />
  <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
    >{PROGRAM.fileExtension}
    <input class="input" value={settings.extension} maxlength="5" onchange={(e) => put('File extension', { extension: e.currentTarget.value.trim() })} /></label
  >
  <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
    >{PROGRAM.ownLinesAfterTheSafe}
    <textarea class="textarea font-mono text-xs w-full" rows="2" onchange={(e) => put('Own lines at the start', { startLines: linesOf(e.currentTarget.value) })}
      >{settings.startLines.join('\n')}</textarea
    ></label
  >
  <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
    >{PROGRAM.ownLinesBeforeTheEnd}
    <textarea class="textarea font-mono text-xs w-full" rows="2" onchange={(e) => put('Own lines at the end', { endLines: linesOf(e.currentTarget.value) })}
      >{settings.endLines.join('\n')}</textarea
    ></label
  >
  <p class="text-surface-600-400">
    Own lines go to the machine as they stand. They may wait (G4 P), switch air, outputs and clamps, or call the shop’s own M100 to M199; moves, modes and the
    spindle are the plan’s alone.
  </p>
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
</details>
