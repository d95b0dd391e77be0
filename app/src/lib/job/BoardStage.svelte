<script lang="ts">
  import { processOf } from '@kerbe/core/process';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import BoardTools from '$lib/board/BoardTools.svelte';
  import DepthLegend from '$lib/board/DepthLegend.svelte';
  import PlanBoard from '$lib/board/PlanBoard.svelte';
  import SectionBoard from '$lib/board/SectionBoard.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import { marksOf } from '$lib/stages/cuts/marks';
  import BurnedStage from '$lib/stages/proof/BurnedStage.svelte';
  import CarvedStage from '$lib/stages/proof/CarvedStage.svelte';
  import type { ProofDesk } from '$lib/stages/proof/desk.svelte';
  import type { RunDesk } from '$lib/stages/run/desk.svelte';
  import BedBoard from '$lib/stages/setup/BedBoard.svelte';
  import type { MachineView } from '$lib/stages/types';
  import type { JobSession } from './session.svelte';
  import type { JobView } from './view.svelte';
  import WorkUnderWay from './WorkUnderWay.svelte';
  import Segments from '$lib/ui/Segments.svelte';
  import { JOB } from '$lib/labels/job';

  let {
    session,
    editor,
    view,
    proof,
    run,
    machine,
    shop,
  }: { session: JobSession; editor: ArtEditor; view: JobView; proof: ProofDesk; run: RunDesk; machine: MachineLink; shop: MachineView } = $props();

  const { stage, board } = $derived(view);
  const job = $derived(session.job);
  const process = $derived(processOf(job));
  /** Nothing is planned yet where the drawing is made. */
  const drawn = $derived(stage === 'artwork' || stage === 'board');
  let plan = $state<PlanBoard>();
  $effect(() => {
    view.plan = plan;
    return () => (view.plan = undefined);
  });
</script>

<div class="relative overflow-clip">
  {#if stage === 'setup' && board === 'plan'}
    <BedBoard {session} {machine} {shop} desk={run} />
  {:else if board === 'plan'}
    <PlanBoard
      bind:this={plan}
      {job}
      {editor}
      plan={session.plan}
      showPaths={!drawn}
      working={stage === 'artwork'}
      marks={stage === 'cuts' ? marksOf(session, editor, view.cut) : null}
    />
    {#if stage === 'artwork'}<BoardTools {editor} onzoom={(factor) => plan?.zoom(factor)} onfit={() => plan?.fit()} />{/if}
  {:else if board === 'carved'}
    {#if process.burns}<BurnedStage {session} desk={proof} />{:else}<CarvedStage {session} desk={proof} />{/if}
  {:else}
    <SectionBoard
      {job}
      plan={session.plan}
      map={proof.map}
      line={proof.line}
      online={(line) => (proof.line = line)}
      kerfs={(line) => session.ask('kerfs', line)}
    />
  {/if}
  <Segments
    class="absolute! top-3.5 left-9"
    label={JOB.viewOfTheBoard}
    value={board}
    options={[
      { value: 'plan', label: stage === 'setup' ? JOB.bed : JOB.plan },
      { value: 'carved', label: process.burns ? JOB.burned : JOB.carved },
      ...(process.burns ? [] : [{ value: 'section' as const, label: JOB.section }]),
    ]}
    onchange={(name) => (view.board = name)}
  />
  <WorkUnderWay {session} {editor} />
  {#if board === 'plan' && session.plan && !drawn && stage !== 'setup' && !process.burns}
    <DepthLegend deepest={session.plan.deepest} unit={job.units} />
  {/if}
</div>
