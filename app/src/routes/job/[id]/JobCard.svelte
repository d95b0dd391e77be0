<script lang="ts">
  import { turnFeeds } from '@kerbe/core/artwork/begin-cut';
  import type { Finding } from '@kerbe/core/findings';
  import { shallowestOf } from '@kerbe/core/job';
  import { processOf } from '@kerbe/core/process';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { JobView } from '$lib/job/view.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import ArtworkCard from '$lib/stages/artwork/ArtworkCard.svelte';
  import BoardCard from '$lib/stages/board/BoardCard.svelte';
  import CardFoot from '$lib/job/CardFoot.svelte';
  import GuideStrip from '$lib/job/GuideStrip.svelte';
  import type { ProofDesk } from '$lib/stages/proof/desk.svelte';
  import type { RunDesk } from '$lib/stages/run/desk.svelte';
  import type { MachineView, ReleaseView } from '$lib/stages/types';
  import { cards } from './cards';
  import type { PageData } from './$types';
  import { JOB } from '$lib/labels/job';

  interface Props {
    data: PageData;
    session: JobSession;
    editor: ArtEditor;
    view: JobView;
    proof: ProofDesk;
    run: RunDesk;
    machine: MachineLink;
    shop: MachineView;
    /** The release of the job as it stands. */
    current: ReleaseView | null;
    /** Where the zero that is set at the machine is not this job's. */
    atMachine: readonly Finding[];
    onfile: () => void;
    onlist: () => void;
    onrelease: (accepted: string[]) => Promise<string | null>;
  }
  let { data, session, editor, view, proof, run, machine, shop, current, atMachine, onfile, onlist, onrelease }: Props = $props();

  const stage = $derived(view.stage);
  const job = $derived(session.job);
</script>

<aside class="grid min-h-0 grid-rows-[minmax(0,1fr)_auto] border-l border-surface-200-800 bg-surface-50-950" aria-label={JOB.card(view.title)}>
  <div class="min-h-0 overflow-y-auto px-5 pt-4 pb-6">
    <GuideStrip job={session.id} {stage} ongo={view.go} />
    {#if stage === 'board'}<BoardCard
        {session}
        last={data.lastHolders}
        {shop}
        machines={data.machines}
        materials={data.materials}
        currency={data.currency}
        leftovers={data.leftovers}
      />
    {:else if stage === 'artwork'}<ArtworkCard
        {editor}
        faces={data.faces}
        {onfile}
        {onlist}
        onlayout={() => (view.sheet = 'layout')}
        onlook={(at) => view.plan?.lookAt(at)}
      />
    {:else if stage === 'cuts'}{#await cards.cuts() then { default: CutsCard }}<CutsCard
          {session}
          {editor}
          crib={data.crib}
          bind:open={view.cut}
          onsheet={(sheet, cut) => ([view.cut, view.sheet] = [cut, sheet])}
        />{/await}
    {:else if stage === 'proof'}{#await cards.proof() then { default: ProofCard }}<ProofCard
          {session}
          {editor}
          desk={proof}
          {atMachine}
          crib={data.crib}
          past={data.past}
          bind:faster={view.faster}
          onview={(board) => (view.board = board)}
          onshow={view.showWhere}
          onsheet={(sheet) => (view.sheet = sheet)}
        />{/await}
    {:else if stage === 'program'}{#await cards.program() then { default: ProgramCard }}<ProgramCard
          {session}
          release={current}
          mayRelease={data.user?.role === 'owner'}
          {onrelease}
          onnext={() => view.go('setup')}
        />{/await}
    {:else if stage === 'setup'}{#await cards.setup() then { default: SetUpCard }}<SetUpCard
          {session}
          {machine}
          {shop}
          desk={run}
          shallowest={shallowestOf(job)}
          onrun={() => view.go('run')}
          onprogram={() => view.go('program')}
        />{/await}
    {:else}{#await cards.record() then { default: RecordCard }}<RecordCard
          id={data.id}
          crib={data.crib}
          currency={data.currency}
          runs={data.runs}
          bits={job.tools}
          items={job.items}
          process={processOf(job)}
          unit={job.units}
          turned={data.turned}
          onfeed={(share) => session.edit(JOB.feedsAsTheyWereRun, (d) => turnFeeds(d, share))}
          more={data.moreRuns ? `/logbook?find=${encodeURIComponent(job.name)}` : null}
        />{/await}{/if}
  </div>
  <CardFoot {session} {view} />
</aside>
