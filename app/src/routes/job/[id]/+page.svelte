<script lang="ts">
  import { datumFindings } from '@kerbe/core/preflight/datum';
  import { wearFindings } from '@kerbe/core/preflight/wear';
  import { onDestroy, onMount, untrack } from 'svelte';
  import { tinykeys } from 'tinykeys';
  import { goto, invalidate } from '$app/navigation';
  import { page } from '$app/state';
  import { Arrivals } from '$lib/art/arrivals.svelte';
  import { ArtEditor } from '$lib/art/editor.svelte';
  import BoardStage from '$lib/job/BoardStage.svelte';
  import { commandsOf, switchUnits } from '$lib/job/commands';
  import { firstJob } from '$lib/job/guide.svelte';
  import GuideStrip from '$lib/job/GuideStrip.svelte';
  import JobFacts from '$lib/job/JobFacts.svelte';
  import JobHeader from '$lib/job/JobHeader.svelte';
  import JobPalette from '$lib/job/JobPalette.svelte';
  import { releaseJob } from '$lib/job/release';
  import { JobSession, today } from '$lib/job/session.svelte';
  import StageList from '$lib/job/StageList.svelte';
  import { stageStates } from '$lib/job/stages';
  import { JobView } from '$lib/job/view.svelte';
  import { meantOf } from '$lib/machine';
  import { MachineLink } from '$lib/machine.svelte';
  import { ProofDesk } from '$lib/stages/proof/desk.svelte';
  import { RunDesk } from '$lib/stages/run/desk.svelte';
  import { bindingsOf, type Command } from '$lib/ui/commands';
  import { ask } from '$lib/ui/post';
  import { tellOfRuns } from '$lib/news.svelte';
  import { cards, fetchCards } from './cards';
  import JobCard from './JobCard.svelte';
  import JobSheets from './JobSheets.svelte';
  import { COMMON } from '$lib/labels/common';

  let { data } = $props();
  const cribIds = () => data.crib.map(({ id }) => id);
  const session = untrack(() => new JobSession(data.id, data.revision, data.doc, cribIds()));
  const editor = new ArtEditor(session);
  const view = new JobView(editor, page.url.searchParams.get('stage'), () => void renew());
  const arrivals = new Arrivals(editor, () => invalidate('kerbe:job'));
  const proof = new ProofDesk(session);
  const job = $derived(session.job);
  /** The machine of the shop this job is for. A shop always has a simulated one of every kind a job can be of. */
  const shop = $derived(meantOf(data.machines, job)!);
  const machine = untrack(() => new MachineLink(shop.id));
  $effect(() => machine.use(shop.id));

  /** The last release, and the same when it is of the job as it stands. */
  const release = $derived(data.releases[0] ?? null);
  const current = $derived(release && release.revision === session.revision && session.save.kind === 'saved' ? release : null);
  const runDesk = new RunDesk(
    machine,
    () => current,
    () => job.program.split,
  );
  const run = $derived(runDesk.run);
  const atMachine = $derived([
    ...datumFindings(job, { corner: machine.now.setup.zeroXY?.corner ?? null, z: machine.now.setup.zeroZ?.datum ?? null }),
    ...wearFindings(job, data.wear),
  ]);

  $effect(() => session.useCrib(cribIds()));
  $effect(() => session.useDate(current?.report.date ?? today()));
  $effect(() => void editor.redraw(session.job));
  $effect(() => {
    void session.plan;
    untrack(() => proof.renewed());
  });
  $effect(() =>
    tellOfRuns(
      { name: shop.name, kind: shop.profile.kind, link: machine },
      () => view.stage !== 'run',
      () => view.go('run'),
    ),
  );
  // Set-up and run go by what was released; elsewhere it is not needed.
  $effect(() => {
    if (view.stage === 'setup' || view.stage === 'run') runDesk.fetchText();
  });

  let late = $state(false);
  /** Reads job and record anew. While the database is away what is on the screen stays, and it is tried again. */
  async function renew(tries = 0) {
    const answer = await ask(`/api/jobs/${session.id}`);
    late = !answer.ok;
    if (answer.ok) await invalidate('kerbe:job');
    else if (tries < 400) setTimeout(() => void renew(tries + 1), 1500);
  }
  // A finished run belongs on the record at once.
  const ended = $derived(run?.endedAt ?? null);
  $effect(() => {
    if (ended) setTimeout(() => void renew(), 800);
  });
  async function doRelease(accepted: string[]): Promise<string | null> {
    const why = await releaseJob(session, accepted);
    if (why === null) await renew();
    return why;
  }

  const states = $derived(
    stageStates({
      job,
      findings: session.plan?.findings ?? [],
      stale: session.stale,
      released: current ? 'yes' : release ? 'of an older job' : 'no',
      setup: machine.now.setup,
      homed: machine.now.status?.homed ?? false,
      run,
      recorded: data.runs.some(({ ended_at }) => ended_at),
    }),
  );

  // The first plan is what is waited for; the rest of the page comes after it.
  let fetched = false;
  $effect(() => {
    if (!session.plan || fetched) return;
    fetched = true;
    void fetchCards();
  });
  $effect(() => firstJob.opened(session.id));
  $effect(() => firstJob.look(session.id, { stage: view.stage, carved: view.board === 'carved', states }));

  let chooser: HTMLInputElement;
  let dropping = $state(false);
  const choose = () => chooser.click();
  const list = () => (arrivals.plates = '');
  function bringIn(files: FileList | null | undefined) {
    if (!files?.length) return;
    view.go('artwork');
    void arrivals.take(files[0]);
  }

  const commands = $derived(commandsOf({ session, editor, view, proof, machine, choose, list, open: (page) => void goto(page) }));
  onMount(() => {
    if (data.kept) void renew();
    machine.open();
    const find: Command = { id: 'find', label: COMMON.searchCommands, bind: '$mod+k', always: true, run: () => (view.palette = !view.palette) };
    return tinykeys(window, bindingsOf([find, ...commands]));
  });
  onDestroy(() => {
    session.close();
    editor.close();
    machine.close();
  });
</script>

<svelte:head><title>{job.name} · Kerbe</title></svelte:head>
<svelte:window
  ononline={() => data.kept && void renew()}
  onbeforeunload={(event) => {
    if (session.save.kind === 'clash') event.preventDefault();
  }}
  ondragover={(event) => {
    event.preventDefault();
    dropping = true;
  }}
  ondragleave={(event) => event.relatedTarget === null && (dropping = false)}
  ondrop={(event) => {
    event.preventDefault();
    dropping = false;
    bringIn(event.dataTransfer?.files);
  }}
/>
<input
  bind:this={chooser}
  type="file"
  hidden
  aria-hidden="true"
  tabindex="-1"
  accept=".svg,.dxf,.png,.jpg,.jpeg,.bmp,.webp,.csv,.tsv,.ttf,.otf,.woff,.woff2"
  onchange={(event) => {
    bringIn(event.currentTarget.files);
    event.currentTarget.value = '';
  }}
/>

<div class="h-[100dvh] grid grid-rows-[auto_auto_minmax(0,1fr)_auto]">
  <JobHeader
    {session}
    user={data.user?.name}
    onunits={() => switchUnits(session)}
    onfind={() => (view.palette = true)}
    onhistory={() => (view.sheet = 'history')}
  />
  <div
    class="row-start-3 grid min-h-0 grid-cols-[7.4rem_minmax(0,1fr)_27rem] tablet:grid-cols-[6.6rem_minmax(0,1fr)_24.5rem] phone:grid-cols-[3.2rem_minmax(0,1fr)_minmax(0,24rem)]"
  >
    <StageList stage={view.stage} {states} ongo={view.go} />
    {#if view.stage === 'run'}
      <div class="col-[2_/_4] grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
        <div class="px-4"><GuideStrip job={session.id} stage={view.stage} ongo={view.go} /></div>
        {#await cards.run() then { default: RunScreen }}<RunScreen
            {session}
            {editor}
            {machine}
            {shop}
            desk={runDesk}
            {late}
            onprogram={() => view.go('program')}
            onsetup={() => view.go('setup')}
            onrecord={() => view.go('record')}
          />{/await}
      </div>
    {:else}
      <BoardStage {session} {editor} {view} {proof} run={runDesk} {machine} {shop} />
      <JobCard
        {data}
        {session}
        {editor}
        {view}
        {proof}
        run={runDesk}
        {machine}
        {shop}
        {current}
        {atMachine}
        onfile={choose}
        onlist={list}
        onrelease={doRelease}
      />
    {/if}
  </div>
  {#if data.kept}
    <p class="caution row-start-2 mx-4 my-2" role="status">
      There is no network: this is the job as it was heard last. What you change is kept in this browser, and saved when the network is back.
    </p>
  {/if}
  <JobFacts {session} onfaster={view.showFaster} />
</div>
<JobPalette bind:open={view.palette} {commands} onsum={view.showSum} />
<JobSheets {session} {editor} {view} {arrivals} crib={data.crib} mayWrite={data.user?.role !== 'watcher'} />
{#if dropping}<div
    class="inset-3.5 border-2 border-primary-600-400 border-dashed fixed z-50 grid place-items-center bg-[color-mix(in_srgb,var(--color-surface-50-950)_80%,transparent)] text-xl pointer-events-none"
    aria-hidden="true"
  >
    Let go to bring it in: a drawing, a picture, a font or a list
  </div>{/if}
