<script lang="ts">
  import { decodeText } from '@kerbe/core/text';
  import { onDestroy, onMount, untrack } from 'svelte';
  import { tinykeys } from 'tinykeys';
  import { invalidate } from '$app/navigation';
  import { page } from '$app/state';
  import { ArtEditor, type Place } from '$lib/art/editor.svelte';
  import { Incoming } from '$lib/art/incoming.svelte';
  import BoardTools from '$lib/board/BoardTools.svelte';
  import CarvedStage from '$lib/proof/CarvedStage.svelte';
  import { ProofDesk } from '$lib/proof/desk.svelte';
  import DepthLegend from '$lib/board/DepthLegend.svelte';
  import PlanBoard from '$lib/board/PlanBoard.svelte';
  import SectionBoard from '$lib/board/SectionBoard.svelte';
  import ArtworkCard from '$lib/cards/ArtworkCard.svelte';
  import BoardCard from '$lib/cards/BoardCard.svelte';
  import CutsCard from '$lib/cards/CutsCard.svelte';
  import { marksOf } from '$lib/cards/cuts/marks';
  import ProofCard from '$lib/cards/ProofCard.svelte';
  import RecordCard from '$lib/cards/RecordCard.svelte';
  import RunScreen from '$lib/run/RunScreen.svelte';
  import SetUpCard from '$lib/setup/SetUpCard.svelte';
  import BedBoard from '$lib/setup/BedBoard.svelte';
  import { shallowestOf } from '@kerbe/core/job';
  import { datumFindings } from '@kerbe/core/preflight/datum';
  import JobFacts from '$lib/job/JobFacts.svelte';
  import JobHeader from '$lib/job/JobHeader.svelte';
  import { JobSession, today } from '$lib/job/session.svelte';
  import { STAGES, STATE_WORD, stageStates, type Stage } from '$lib/job/stages';
  import WorkUnderWay from '$lib/job/WorkUnderWay.svelte';
  import { MachineLink } from '$lib/machine.svelte';
  import { RunDesk } from '$lib/run/desk.svelte';
  import Palette from '$lib/ui/Palette.svelte';
  import { bindingsOf, type Command } from '$lib/ui/commands';
  import { prefs } from '$lib/ui/prefs.svelte';
  import StageMark from '$lib/ui/StageMark.svelte';
  import { saveFile } from '$lib/ui/files';
  import { ask } from '$lib/ui/post';

  let { data } = $props();
  const cribIds = () => data.crib.map(({ id }) => id);
  const session = untrack(() => new JobSession(data.id, data.revision, data.doc, cribIds()));
  const editor = new ArtEditor(session);
  const machine = new MachineLink();
  const desk = new ProofDesk(session);
  const job = $derived(session.job);

  const asked = page.url.searchParams.get('stage');
  let stage = $state<Stage>(STAGES.find(({ id }) => id === asked)?.id ?? 'artwork');
  let view = $state<'plan' | 'carved' | 'section'>('plan');
  let plan = $state<PlanBoard>();
  let openCut = $state<string | null>(null);
  let incoming = $state.raw<Incoming | null>(null);
  let plates = $state<string | null>(null);
  let dropping = $state(false);
  let chooser: HTMLInputElement;
  let palette = $state(false);

  let sheet = $state<'finder' | 'trial' | null>(null);
  $effect(() => session.useCrib(cribIds()));
  $effect(() => {
    void session.plan;
    untrack(() => desk.renewed());
  });
  const atMachine = $derived(datumFindings(job, { corner: machine.now.setup.zeroXY?.corner ?? null, z: machine.now.setup.zeroZ?.datum ?? null }));
  /** Goes to where a finding is on the board. */
  function showWhere(found: Place) {
    if (!found.at) {
      openCut = found.cut ?? null;
      return go('cuts');
    }
    view = 'plan';
    editor.shown = found;
    requestAnimationFrame(() => plan?.lookAt(found.at!));
  }
  const release = $derived(data.releases[0] ?? null);
  const current = $derived(release && release.revision === session.revision && session.save.kind === 'saved' ? release : null);
  $effect(() => session.useDate(current?.report.date ?? today()));
  $effect(() => void editor.redraw(session.job));
  const runDesk = new RunDesk(
    machine,
    () => current,
    () => job.program.split,
  );
  // Set-up and run go by what was released; elsewhere it is not needed.
  $effect(() => {
    if (stage === 'setup' || stage === 'run') runDesk.fetchText();
  });
  const run = $derived(runDesk.run);
  let late = $state(false);
  /** Reads job and record anew. While the database is away what is on the screen stays, and it is tried again. */
  async function renew(tries = 0) {
    const answer = await ask(`/api/jobs/${session.id}`);
    late = !answer.ok;
    if (answer.ok) await invalidate('kerbe:job');
    else if (tries < 400) setTimeout(() => void renew(tries + 1), 1500);
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

  function go(next: Stage) {
    stage = next;
    editor.shown = null;
    if (next === 'proof') view = 'carved';
    if (next === 'artwork' || next === 'board' || next === 'setup') view = 'plan';
    if (next === 'record') void renew();
  }
  /** A file dropped or chosen: read here, kept with the job, and put on the board when the person says so. */
  async function bringIn(file: File) {
    go('artwork');
    const next = new Incoming(editor, file.name, new Uint8Array(await file.arrayBuffer()));
    if (next.kind === 'list') {
      plates = decodeText(new Uint8Array(await file.arrayBuffer()));
      return;
    }
    if (next.kind === 'face') {
      await next.send();
      if (next.kept.state === 'kept') {
        await invalidate('kerbe:job');
        const words = job.itemOrder
          .map((id) => job.items[id])
          .find((item) => item.kind === 'text' && (editor.selection.size === 0 || editor.selection.has(item.id)));
        const { id } = next.kept;
        if (words?.kind === 'text') editor.set<typeof words>('Face', words.id, (d) => void (d.face = id));
        editor.note = { text: `${next.name} is one of the shop’s faces now. Mind its licence.`, bad: false };
      } else if (next.kept.state === 'refused') editor.note = { text: next.kept.why, bad: true };
      return;
    }
    incoming = next;
    // First what the person waits for; the server reads the file after that.
    await next.read();
    void next.send();
  }
  function leaveFile() {
    incoming?.close();
    incoming = null;
    plan?.fit();
  }
  function drop(event: DragEvent) {
    event.preventDefault();
    dropping = false;
    const [file] = event.dataTransfer?.files ?? [];
    if (file) void bringIn(file);
  }
  async function doRelease(accepted: string[]): Promise<string | null> {
    for (let i = 0; i < 40 && !(await session.saveNow()); i++) await new Promise((done) => setTimeout(done, 100));
    if (session.save.kind !== 'saved') return 'The job is not saved yet, so it cannot be released.';
    try {
      const response = await fetch(`/api/jobs/${session.id}/release`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ revision: session.revision, accepted }),
      });
      const answer = (await response.json()) as { why?: string };
      if (!response.ok) return answer.why ?? 'The server refused the release.';
      await renew();
      return null;
    } catch {
      return 'No connection to Kerbe. Try again when it is back.';
    }
  }
  const units = () => session.edit(job.units === 'mm' ? 'Show inches' : 'Show millimetres', (d) => void (d.units = d.units === 'mm' ? 'in' : 'mm'));

  function tool(name: typeof editor.tool) {
    go('artwork');
    if (name !== 'nodes' || editor.only?.kind === 'path') editor.tool = name;
    else editor.note = { text: 'Nodes are those of one free path: select one, or make free paths of what is selected first.', bad: true };
  }
  const copy = () => editor.selection.size && void editor.edit('Copy', { do: 'rows', ids: editor.ids, columns: 2, rows: 1, dx: 10, dy: 0 });
  async function centreAll() {
    for (const edge of ['middle', 'centre'] as const) await editor.edit('Centre on the board', { do: 'align', ids: editor.ids, edge, to: 'board' });
  }
  /** Goes through the things by keyboard. */
  function step(by: number) {
    const things = job.itemOrder.filter((id) => !editor.isLocked(id));
    if (things.length === 0) return;
    const now = things.findIndex((id) => editor.selection.has(id));
    editor.select([things[(now + by + things.length) % things.length]]);
  }

  const commands = $derived<Command[]>([
    ...STAGES.map(({ id, title }, i) => ({ id, label: `Go to ${title}`, bind: `Alt+Digit${i + 1}`, always: true, run: () => go(id) })),
    { id: 'v-plan', label: 'Show the plan', bind: 'p', run: () => (view = 'plan') },
    { id: 'v-carved', label: 'Show the carved board', bind: 'c', run: () => (view = 'carved') },
    { id: 'v-section', label: 'Show a section', bind: 's', run: () => (view = 'section') },
    { id: 'undo', label: session.undoLabel ? `Undo: ${session.undoLabel}` : 'Undo', bind: '$mod+z', settled: true, run: () => session.undo() },
    {
      id: 'redo',
      label: session.redoLabel ? `Redo: ${session.redoLabel}` : 'Redo',
      bind: '$mod+Shift+z',
      also: ['$mod+y'],
      settled: true,
      run: () => session.redo(),
    },
    { id: 'save', label: 'Save now', bind: '$mod+s', always: true, run: () => void session.saveNow() },
    { id: 'units', label: job.units === 'mm' ? 'Show inches' : 'Show millimetres', bind: 'u', run: units },
    { id: 'theme', label: prefs.mode === 'light' ? 'Dark screen' : 'Light screen', run: () => prefs.toggleMode() },
    { id: 'plan', label: 'Plan again', run: () => session.replan() },
    { id: 'finder', label: 'Find the right bit', run: () => (sheet = 'finder') },
    { id: 'trial', label: 'Trial board', run: () => (sheet = 'trial') },
    { id: 'difference', label: 'Compare with the drawing', run: () => (go('proof'), void desk.showDifference(true)) },
    { id: 'measure', label: 'Measure on the carved board', run: () => ((view = 'carved'), (desk.measuring = true)) },
    { id: 'export', label: 'Save the job as a file', run: exportJob },
    { id: 'file', label: 'Bring in a drawing, a picture or a face', bind: '$mod+o', always: true, run: () => chooser.click() },
    { id: 'list', label: 'Plates from a list', run: () => (plates = '') },
    { id: 't-select', label: 'Tool: select and move', bind: 'v', run: () => tool('select') },
    { id: 't-nodes', label: 'Tool: nodes of a path', bind: 'n', run: () => tool('nodes') },
    { id: 't-line', label: 'Tool: draw a line', bind: 'l', run: () => tool('line') },
    { id: 't-measure', label: 'Tool: measure', bind: 'm', run: () => tool('measure') },
    { id: 't-bit', label: 'Tool: try a bit', bind: 'b', run: () => tool('bit') },
    { id: 'a-all', label: 'Select everything', bind: '$mod+a', run: () => editor.selectAll() },
    { id: 'a-copy', label: 'Copy what is selected', bind: '$mod+d', run: copy },
    { id: 'a-delete', label: 'Delete what is selected', bind: 'Delete', also: ['Backspace'], run: () => editor.remove() },
    { id: 'a-group', label: 'Group', bind: '$mod+g', run: () => editor.group() },
    { id: 'a-ungroup', label: 'Ungroup', bind: '$mod+Shift+g', run: () => editor.ungroup() },
    { id: 'a-unite', label: 'Unite what is selected', run: () => void editor.edit('Unite', { do: 'unite', ids: editor.ids }) },
    { id: 'a-middle', label: 'Centre what is selected on the board', run: centreAll },
    { id: 'a-order', label: editor.showOrder ? 'Hide the order' : 'Show the order', run: () => (editor.showOrder = !editor.showOrder) },
    { id: 'a-next', label: 'Select the next thing', bind: ']', run: () => step(1) },
    { id: 'a-before', label: 'Select the thing before', bind: '[', run: () => step(-1) },
    { id: 'hold', label: 'Hold the machine', hint: 'Space, on Run', run: () => void machine.send({ do: 'hold' }) },
    { id: 'keys', label: 'Show every command and its keys', bind: 'Shift+?', run: () => (palette = true) },
  ]);

  function exportJob() {
    saveFile(`${job.name.replace(/[^\w -]/g, '')}.json`, JSON.stringify(job, null, 2), 'application/json');
  }

  onMount(() => {
    machine.open();
    const find: Command = { id: 'find', label: 'Find or do', bind: '$mod+k', always: true, run: () => (palette = !palette) };
    return tinykeys(window, bindingsOf([find, ...commands]));
  });
  onDestroy(() => {
    session.close();
    editor.close();
    machine.close();
  });

  // A finished run belongs on the record at once.
  const ended = $derived(run?.endedAt ?? null);
  $effect(() => {
    if (ended) setTimeout(() => void renew(), 800);
  });
</script>

<svelte:head><title>{job.name} · Kerbe</title></svelte:head>
<svelte:window
  onbeforeunload={(event) => {
    if (session.save.kind === 'clash') event.preventDefault();
  }}
  ondragover={(event) => {
    event.preventDefault();
    dropping = true;
  }}
  ondragleave={(event) => event.relatedTarget === null && (dropping = false)}
  ondrop={drop}
/>
<input
  bind:this={chooser}
  type="file"
  hidden
  aria-hidden="true"
  tabindex="-1"
  accept=".svg,.dxf,.png,.jpg,.jpeg,.bmp,.webp,.csv,.tsv,.ttf,.otf,.woff,.woff2"
  onchange={(event) => {
    const [file] = event.currentTarget.files ?? [];
    event.currentTarget.value = '';
    if (file) void bringIn(file);
  }}
/>

<div class="traveller">
  <JobHeader {session} user={data.user?.name} onunits={units} onfind={() => (palette = true)} />

  <div class="middle">
    <nav aria-label="Stages of the job">
      {#each STAGES as { id, title }, i (id)}
        <button class:here={stage === id} aria-current={stage === id ? 'step' : undefined} onclick={() => go(id)} title="Alt {i + 1}">
          <StageMark state={states[id]} />
          <span>{title}</span>
          <span class="sr-only">, {STATE_WORD[states[id]]}</span>
        </button>
      {/each}
    </nav>
    {#if stage === 'run'}
      <div class="running">
        <RunScreen
          {session}
          {editor}
          {machine}
          shop={data.machine}
          desk={runDesk}
          {late}
          onprogram={() => go('program')}
          onsetup={() => go('setup')}
          onrecord={() => go('record')}
        />
      </div>
    {:else}
      <div class="board">
        {#if stage === 'setup' && view === 'plan'}
          <BedBoard {session} {machine} shop={data.machine} desk={runDesk} />
        {:else if view === 'plan'}
          <PlanBoard
            bind:this={plan}
            {job}
            {editor}
            plan={session.plan}
            showPaths={stage !== 'artwork' && stage !== 'board'}
            working={stage === 'artwork'}
            marks={stage === 'cuts' ? marksOf(session, editor, openCut) : null}
          />
          {#if stage === 'artwork'}<BoardTools {editor} onzoom={(factor) => plan?.zoom(factor)} onfit={() => plan?.fit()} />{/if}
        {:else if view === 'carved'}
          <CarvedStage {session} {desk} />
        {:else}
          <SectionBoard {job} plan={session.plan} map={desk.map} line={desk.line} online={(line) => (desk.line = line)} />
        {/if}
        <div class="views" role="group" aria-label="View of the board">
          {#each ['plan', 'carved', 'section'] as const as name (name)}<button aria-pressed={view === name} onclick={() => (view = name)}
              >{name === 'plan' && stage === 'setup' ? 'bed' : name}</button
            >{/each}
        </div>
        <WorkUnderWay {session} {editor} />
        {#if view === 'plan' && session.plan && stage !== 'artwork' && stage !== 'board' && stage !== 'setup'}
          <DepthLegend deepest={session.plan.deepest} unit={job.units} />
        {/if}
      </div>
      <aside aria-label="Card: {STAGES.find(({ id }) => id === stage)?.title}">
        {#if stage === 'board'}<BoardCard {session} last={data.lastHolders} shop={data.machine} />
        {:else if stage === 'artwork'}<ArtworkCard
            {editor}
            faces={data.faces}
            onfile={() => chooser.click()}
            onlist={() => (plates = '')}
            onlook={(at) => plan?.lookAt(at)}
          />
        {:else if stage === 'cuts'}<CutsCard {session} {editor} bind:open={openCut} />
        {:else if stage === 'proof'}<ProofCard
            {session}
            {editor}
            {desk}
            {atMachine}
            crib={data.crib}
            past={data.past}
            onview={(v) => (view = v)}
            onshow={showWhere}
            onsheet={(which) => (sheet = which)}
          />
        {:else if stage === 'program'}{#await import('$lib/cards/ProgramCard.svelte') then { default: ProgramCard }}<ProgramCard
              {session}
              release={current}
              mayRelease={data.user?.role === 'owner'}
              onrelease={doRelease}
              onnext={() => go('setup')}
            />{/await}
        {:else if stage === 'setup'}<SetUpCard
            {session}
            {machine}
            shop={data.machine}
            desk={runDesk}
            shallowest={shallowestOf(job)}
            onrun={() => go('run')}
            onprogram={() => go('program')}
          />
        {:else}<RecordCard runs={data.runs} bits={job.bits} more={data.moreRuns ? `/logbook?find=${encodeURIComponent(job.name)}` : null} />{/if}
        {#if stage === 'board' || stage === 'artwork' || stage === 'cuts' || stage === 'proof'}
          {@const following = STAGES[STAGES.findIndex(({ id }) => id === stage) + 1]}
          <p class="onward"><button class="next" onclick={() => go(following.id)}>Next: {following.title}</button></p>
        {/if}
      </aside>
    {/if}
  </div>

  <JobFacts {session} />
</div>
<Palette bind:open={palette} {commands} />
<!-- What is seldom needed is fetched when it is. -->
{#if incoming}{#await import('$lib/cards/art/BringIn.svelte') then { default: BringIn }}{#if incoming}<BringIn
        {incoming}
        onclose={leaveFile}
      />{/if}{/await}{/if}
{#if plates !== null}{#await import('$lib/cards/art/PlateList.svelte') then { default: PlateList }}{#if plates !== null}<PlateList
        {editor}
        text={plates}
        onclose={() => (plates = null)}
      />{/if}{/await}{/if}
{#if sheet === 'finder'}{#await import('$lib/proof/BitFinder.svelte') then { default: BitFinder }}{#if sheet === 'finder'}<BitFinder
        {session}
        crib={data.crib}
        onclose={() => (sheet = null)}
      />{/if}{/await}{/if}
{#if sheet === 'trial'}{#await import('$lib/proof/TrialSheet.svelte') then { default: TrialSheet }}{#if sheet === 'trial'}<TrialSheet
        {session}
        {editor}
        crib={data.crib}
        today={today()}
        onclose={() => (sheet = null)}
      />{/if}{/await}{/if}
{#if dropping}<div class="dropping" aria-hidden="true">Let go to bring it in: a drawing, a picture, a face or a list</div>{/if}

<style>
  .traveller {
    height: 100dvh;
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr) auto;
  }
  .middle {
    grid-row: 3;
    display: grid;
    grid-template-columns: 7.4rem minmax(0, 1fr) 27rem;
    min-height: 0;
  }
  nav {
    display: flex;
    flex-direction: column;
    border-right: 1px solid var(--line);
    padding: 0.6rem 0;
    gap: 0.1rem;
  }
  nav button {
    display: flex;
    gap: 0.55rem;
    align-items: center;
    padding: 0.65rem 0.8rem;
    text-align: left;
    font-size: 0.92rem;
    border-left: 3px solid transparent;
  }
  nav .here {
    border-left-color: var(--accent);
    background: var(--sheet);
    font-weight: 600;
  }
  .board {
    position: relative;
    overflow: hidden;
  }
  .running {
    grid-column: 2 / 4;
    min-height: 0;
  }
  .views {
    position: absolute;
    top: 0.8rem;
    left: 2.2rem;
    display: flex;
    background: var(--sheet);
    border: 1px solid var(--line-strong);
  }
  .views button {
    padding: 0.35rem 0.9rem;
  }
  .views [aria-pressed='true'] {
    background: var(--ink);
    color: var(--paper);
  }
  aside {
    border-left: 1px solid var(--line);
    background: var(--sheet);
    padding: 1rem 1.2rem 2rem;
    overflow-y: auto;
    min-height: 0;
  }
  aside :global(h2) {
    font-size: 1.15rem;
    padding: 0.5rem 0 0.4rem;
  }
  aside :global(h3) {
    font-size: 0.95rem;
    padding: 0.8rem 0 0.2rem;
  }
  aside :global(p) {
    font-size: 0.9rem;
    padding: 0.15rem 0;
  }
  .onward {
    padding-top: 1.2rem;
  }
  .dropping {
    position: fixed;
    inset: 0.8rem;
    z-index: 50;
    display: grid;
    place-items: center;
    border: 2px dashed var(--accent);
    background: color-mix(in srgb, var(--sheet) 80%, transparent);
    font-size: 1.3rem;
    pointer-events: none;
  }
  /* A phone: the stage marks stay, words and facts make room for the run. */
  @media (max-height: 480px), (max-width: 600px) {
    .middle {
      grid-template-columns: 3.2rem minmax(0, 1fr) minmax(0, 24rem);
    }
    nav {
      overflow-y: auto;
      padding: 0;
    }
    nav button {
      min-height: 44px;
      padding: 0.4rem 0.6rem;
    }
    nav button span:not(.sr-only) {
      position: absolute;
      width: 1px;
      height: 1px;
      overflow: hidden;
      clip-path: inset(50%);
    }
  }
  @media (min-width: 601px) and (max-width: 1100px) and (min-height: 481px) {
    .middle {
      grid-template-columns: 6.6rem minmax(0, 1fr) 24.5rem;
    }
  }
</style>
