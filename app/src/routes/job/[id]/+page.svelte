<script lang="ts">
  import { onDestroy, onMount, untrack } from 'svelte';
  import { tinykeys } from 'tinykeys';
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import Undo from '@lucide/svelte/icons/undo-2';
  import Redo from '@lucide/svelte/icons/redo-2';
  import { invalidate } from '$app/navigation';
  import { page } from '$app/state';
  import { DEPTH_STEPS, depthColour } from '$lib/board/depth';
  import { ArtEditor } from '$lib/art/editor.svelte';
  import { Incoming } from '$lib/art/incoming.svelte';
  import BoardTools from '$lib/board/BoardTools.svelte';
  import CarvedBoard from '$lib/board/CarvedBoard.svelte';
  import PlanBoard from '$lib/board/PlanBoard.svelte';
  import SectionBoard from '$lib/board/SectionBoard.svelte';
  import ArtworkCard from '$lib/cards/ArtworkCard.svelte';
  import BoardCard from '$lib/cards/BoardCard.svelte';
  import CutsCard from '$lib/cards/CutsCard.svelte';
  import ProofCard from '$lib/cards/ProofCard.svelte';
  import RecordCard from '$lib/cards/RecordCard.svelte';
  import RunScreen from '$lib/cards/RunScreen.svelte';
  import SetUpCard from '$lib/cards/SetUpCard.svelte';
  import { JobSession, today } from '$lib/job/session.svelte';
  import { MachineLink } from '$lib/machine.svelte';
  import Palette, { type Entry } from '$lib/ui/Palette.svelte';
  import { prefs } from '$lib/ui/prefs.svelte';
  import StageMark from '$lib/ui/StageMark.svelte';
  import { saveFile } from '$lib/ui/files';
  import { duration, num, len } from '$lib/ui/format';

  let { data } = $props();
  const session = untrack(() => new JobSession(data.id, data.revision, data.doc));
  const editor = new ArtEditor(session);
  const machine = new MachineLink();
  const job = $derived(session.job);

  const STAGES = [
    { id: 'board', title: 'Board' },
    { id: 'artwork', title: 'Artwork' },
    { id: 'cuts', title: 'Cuts' },
    { id: 'proof', title: 'Proof' },
    { id: 'program', title: 'Program' },
    { id: 'setup', title: 'Set up' },
    { id: 'run', title: 'Run' },
    { id: 'record', title: 'Record' },
  ] as const;
  type Stage = (typeof STAGES)[number]['id'];
  const asked = page.url.searchParams.get('stage');
  let stage = $state<Stage>(STAGES.find(({ id }) => id === asked)?.id ?? 'artwork');
  let view = $state<'plan' | 'carved' | 'section'>('plan');
  let plan = $state<PlanBoard>();
  let incoming = $state.raw<Incoming | null>(null);
  let plates = $state<string | null>(null);
  let dropping = $state(false);
  let chooser: HTMLInputElement;
  let palette = $state(false);
  let naming = $state(false);

  const release = $derived(data.releases[0] ?? null);
  const current = $derived(release && release.revision === session.revision && session.save.kind === 'saved' ? release : null);
  $effect(() => session.useDate(current?.report.date ?? today()));
  $effect(() => void editor.redraw(session.job));
  const findings = $derived(session.plan?.findings ?? []);
  const errors = $derived(findings.filter(({ severity }) => severity === 'error').length);
  const warnings = $derived(findings.filter(({ severity }) => severity === 'warning').length);
  const bits = $derived(new Set((session.plan?.cuts ?? []).filter(({ facts }) => facts.moves > 0).map(({ bit }) => bit.id)).size);
  const run = $derived(machine.now.run && current && machine.now.run.sha256 === current.programs[0]?.sha256 ? machine.now.run : null);

  type Mark = 'not-started' | 'in-hand' | 'ready' | 'needs-you';
  const marks = $derived.by((): Record<Stage, Mark> => {
    const about = (codes: RegExp) => findings.some(({ code, severity }) => severity !== 'note' && codes.test(code));
    const words = Object.values(job.items).some((item) => item.id !== job.outline && (item.kind !== 'text' || item.text.trim() !== ''));
    const setup = machine.now.setup;
    const zeroed = setup.zeroXY?.corner === job.datum.corner && setup.zeroZ?.datum === job.datum.z && setup.bitReading !== null;
    return {
      board: about(/^board|^through|^deeper/) ? 'needs-you' : 'ready',
      artwork: about(/^text|^art/) ? 'needs-you' : words ? 'ready' : 'not-started',
      cuts:
        job.cutOrder.length === 0
          ? 'not-started'
          : findings.some(({ cut, severity }) => cut && severity === 'error')
            ? 'needs-you'
            : words
              ? 'ready'
              : 'in-hand',
      proof: !words ? 'not-started' : session.stale ? 'in-hand' : errors ? 'needs-you' : 'ready',
      program: current ? 'ready' : release ? 'needs-you' : 'not-started',
      setup: !current ? 'not-started' : zeroed ? 'ready' : machine.now.status?.homed ? 'in-hand' : 'not-started',
      run: run ? (run.endedAt ? (run.state === 'done' ? 'ready' : 'needs-you') : run.state === 'running' ? 'in-hand' : 'needs-you') : 'not-started',
      record: data.runs.some(({ ended_at }) => ended_at) ? 'ready' : 'not-started',
    };
  });
  const STATE = { 'not-started': 'not started', 'in-hand': 'in hand', ready: 'ready', 'needs-you': 'needs you' };

  function go(next: Stage) {
    stage = next;
    if (next === 'proof') view = 'carved';
    if (next === 'artwork' || next === 'board') view = 'plan';
    if (next === 'record') void invalidate('kerbe:job');
  }
  /** A file dropped or chosen: read here, kept with the job, and put on the board when the person says so. */
  async function bringIn(file: File) {
    go('artwork');
    const next = new Incoming(editor, file.name, new Uint8Array(await file.arrayBuffer()));
    if (next.kind === 'list') {
      plates = await file.text();
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
      await invalidate('kerbe:job');
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

  const entries = $derived<Entry[]>([
    ...STAGES.map(({ id, title }, i) => ({ id, label: `Go to ${title}`, keys: `Alt ${i + 1}`, run: () => go(id) })),
    { id: 'v-plan', label: 'Show the plan', keys: 'P', run: () => (view = 'plan') },
    { id: 'v-carved', label: 'Show the carved board', keys: 'C', run: () => (view = 'carved') },
    { id: 'v-section', label: 'Show a section', keys: 'S', run: () => (view = 'section') },
    { id: 'undo', label: session.undoLabel ? `Undo: ${session.undoLabel}` : 'Undo', keys: 'Ctrl Z', run: () => session.undo() },
    { id: 'redo', label: session.redoLabel ? `Redo: ${session.redoLabel}` : 'Redo', keys: 'Ctrl Shift Z', run: () => session.redo() },
    { id: 'save', label: 'Save now', keys: 'Ctrl S', run: () => void session.saveNow() },
    { id: 'units', label: job.units === 'mm' ? 'Show inches' : 'Show millimetres', keys: 'U', run: units },
    { id: 'theme', label: prefs.mode === 'light' ? 'Dark screen' : 'Light screen', run: () => prefs.toggleMode() },
    { id: 'plan', label: 'Plan again', run: () => session.replan() },
    { id: 'export', label: 'Save the job as a file', run: exportJob },
    { id: 'file', label: 'Bring in a drawing, a picture or a face', keys: 'Ctrl O', run: () => chooser.click() },
    { id: 'list', label: 'Plates from a list', run: () => (plates = '') },
    { id: 't-select', label: 'Tool: select and move', keys: 'V', run: () => tool('select') },
    { id: 't-nodes', label: 'Tool: nodes of a path', keys: 'N', run: () => tool('nodes') },
    { id: 't-line', label: 'Tool: draw a line', keys: 'L', run: () => tool('line') },
    { id: 't-measure', label: 'Tool: measure', keys: 'M', run: () => tool('measure') },
    { id: 't-bit', label: 'Tool: try a bit', keys: 'B', run: () => tool('bit') },
    { id: 'a-all', label: 'Select everything', keys: 'Ctrl A', run: () => editor.selectAll() },
    { id: 'a-copy', label: 'Copy what is selected', keys: 'Ctrl D', run: copy },
    { id: 'a-delete', label: 'Delete what is selected', keys: 'Delete', run: () => editor.remove() },
    { id: 'a-group', label: 'Group', keys: 'Ctrl G', run: () => editor.group() },
    { id: 'a-ungroup', label: 'Ungroup', keys: 'Ctrl Shift G', run: () => editor.ungroup() },
    { id: 'a-unite', label: 'Unite what is selected', run: () => void editor.edit('Unite', { do: 'unite', ids: editor.ids }) },
    { id: 'a-middle', label: 'Centre what is selected on the board', run: centreAll },
    { id: 'a-order', label: editor.showOrder ? 'Hide the order' : 'Show the order', run: () => (editor.showOrder = !editor.showOrder) },
    { id: 'a-next', label: 'Select the next thing', keys: ']', run: () => step(1) },
    { id: 'a-before', label: 'Select the thing before', keys: '[', run: () => step(-1) },
    { id: 'hold', label: 'Hold the machine', keys: 'Space, on Run', run: () => void machine.send({ do: 'hold' }) },
    { id: 'keys', label: 'Show every command and its keys', keys: '?', run: () => (palette = true) },
  ]);

  function exportJob() {
    saveFile(`${job.name.replace(/[^\w -]/g, '')}.json`, JSON.stringify(job, null, 2), 'application/json');
  }

  const typing = (event: KeyboardEvent) => (event.target as HTMLElement).closest('input, textarea, select, [contenteditable=true]') !== null;
  onMount(() => {
    machine.open();
    const plain = (act: () => void) => (event: KeyboardEvent) => {
      if (typing(event)) return;
      event.preventDefault();
      act();
    };
    const always = (act: () => void) => (event: KeyboardEvent) => {
      event.preventDefault();
      act();
    };
    return tinykeys(window, {
      '$mod+k': always(() => (palette = !palette)),
      '$mod+s': always(() => void session.saveNow()),
      '$mod+z': plain(() => session.undo()),
      '$mod+Shift+z': plain(() => session.redo()),
      '$mod+y': plain(() => session.redo()),
      'Shift+?': plain(() => (palette = true)),
      p: plain(() => (view = 'plan')),
      c: plain(() => (view = 'carved')),
      s: plain(() => (view = 'section')),
      u: plain(units),
      v: plain(() => tool('select')),
      n: plain(() => tool('nodes')),
      l: plain(() => tool('line')),
      m: plain(() => tool('measure')),
      b: plain(() => tool('bit')),
      ']': plain(() => step(1)),
      '[': plain(() => step(-1)),
      '$mod+o': always(() => chooser.click()),
      '$mod+a': plain(() => editor.selectAll()),
      '$mod+d': plain(copy),
      '$mod+g': plain(() => editor.group()),
      '$mod+Shift+g': plain(() => editor.ungroup()),
      Delete: plain(() => editor.remove()),
      Backspace: plain(() => editor.remove()),
      ...Object.fromEntries(STAGES.map(({ id }, i) => [`Alt+Digit${i + 1}`, always(() => go(id))])),
    });
  });
  onDestroy(() => {
    session.close();
    editor.close();
    machine.close();
  });

  const SAVE = $derived.by(() => {
    switch (session.save.kind) {
      case 'saved':
        return `rev ${session.revision} saved`;
      case 'saving':
        return 'saving…';
      case 'waiting':
        return 'changed';
      case 'offline':
        return 'not saved: kept here';
      case 'clash':
        return 'changed elsewhere';
    }
  });
  // A finished run belongs on the record at once.
  const ended = $derived(run?.endedAt ?? null);
  $effect(() => {
    if (ended) setTimeout(() => void invalidate('kerbe:job'), 800);
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
  <header>
    <a href="/" aria-label="To the shop"><img src="/notch.svg" alt="" width="26" height="26" /></a>
    {#if naming}
      <!-- svelte-ignore a11y_autofocus -->
      <input
        class="name"
        aria-label="Name of the job"
        value={job.name}
        autofocus
        maxlength="120"
        onblur={(e) => {
          const text = e.currentTarget.value.trim();
          if (text) session.edit('Rename', (d) => void (d.name = text));
          naming = false;
        }}
        onkeydown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
    {:else}
      <h1><button title="Rename" onclick={() => (naming = true)}>{job.name}</button></h1>
    {/if}
    <span class="quiet" aria-live="polite" data-save={session.save.kind}>{SAVE}</span>
    <button
      class="icon"
      disabled={!session.undoLabel}
      onclick={() => session.undo()}
      aria-label={session.undoLabel ? `Undo: ${session.undoLabel}` : 'Nothing to undo'}><Undo size={18} /></button
    >
    <button
      class="icon"
      disabled={!session.redoLabel}
      onclick={() => session.redo()}
      aria-label={session.redoLabel ? `Redo: ${session.redoLabel}` : 'Nothing to redo'}><Redo size={18} /></button
    >
    <button class="press find" onclick={() => (palette = true)}>find or do… <kbd>Ctrl K</kbd></button>
    <button class="icon wide" onclick={units} aria-label="mm | in, now {job.units === 'mm' ? 'millimetres' : 'inches'}"
      ><b class:quiet={job.units !== 'mm'}>mm</b> | <b class:quiet={job.units !== 'in'}>in</b></button
    >
    <button class="icon" onclick={() => prefs.toggleMode()} aria-label={prefs.mode === 'light' ? 'Dark screen' : 'Light screen'}
      >{#if prefs.mode === 'light'}<Moon size={18} />{:else}<Sun size={18} />{/if}</button
    >
    <span class="quiet">{data.user?.name}</span>
  </header>

  {#if session.save.kind === 'clash'}
    <div class="banner" role="alert">
      {session.save.why}
      <button class="press" onclick={() => session.resolveClash(true)}>Go on with mine</button>
      <button class="press" onclick={() => session.resolveClash(false)}>Take the other</button>
    </div>
  {:else if session.save.kind === 'offline'}
    <div class="banner" role="alert">{session.save.why}</div>
  {/if}

  <div class="middle">
    <nav aria-label="Stages of the job">
      {#each STAGES as { id, title }, i (id)}
        <button class:here={stage === id} aria-current={stage === id ? 'step' : undefined} onclick={() => go(id)} title="Alt {i + 1}">
          <StageMark state={marks[id]} />
          <span>{title}</span>
          <span class="sr-only">, {STATE[marks[id]]}</span>
        </button>
      {/each}
    </nav>
    {#if stage === 'run'}
      <div class="running">
        <RunScreen {session} {editor} {machine} release={current} onprogram={() => go('program')} onsetup={() => go('setup')} onrecord={() => go('record')} />
      </div>
    {:else}
      <div class="board">
        {#if view === 'plan'}
          <PlanBoard bind:this={plan} {job} {editor} plan={session.plan} showPaths={stage !== 'artwork' && stage !== 'board'} working={stage === 'artwork'} />
          {#if stage === 'artwork'}<BoardTools {editor} onzoom={(factor) => plan?.zoom(factor)} onfit={() => plan?.fit()} />{/if}
        {:else if view === 'carved'}
          <CarvedBoard {job} plan={session.plan} />
        {:else}
          <SectionBoard {job} plan={session.plan} />
        {/if}
        <div class="views" role="group" aria-label="View of the board">
          {#each ['plan', 'carved', 'section'] as const as name (name)}<button aria-pressed={view === name} onclick={() => (view = name)}>{name}</button>{/each}
        </div>
        {#if editor.busy || editor.drawing !== null}
          <div class="doing" role="status">
            <progress max="1" value={editor.drawing ?? undefined}></progress>
            {editor.busy ?? 'Drawing'}…
            <button
              class="press"
              onclick={() => {
                editor.desk.cancel();
                if (editor.busy) void editor.redraw(job);
              }}>Cancel</button
            >
          </div>
        {:else if session.progress}
          <div class="doing" role="status">
            <progress max="1" value={session.progress.done}></progress>
            {session.progress.what}
            <button class="press" onclick={() => session.cancelPlan()}>Cancel</button>
          </div>
        {:else if session.planFailed}
          <div class="doing" role="alert">{session.planFailed} <button class="press" onclick={() => session.replan()}>Plan again</button></div>
        {/if}
        {#if view === 'plan' && session.plan && stage !== 'artwork' && stage !== 'board'}
          <div class="legend quiet">
            <span>0</span><span class="ramp" aria-hidden="true"
              >{#each { length: DEPTH_STEPS } as _, i (i)}<b style="background: {depthColour(i)}"></b>{/each}</span
            ><span>{len(session.plan.deepest, job.units)} deep</span> <i class="travel"></i> travel above the board <i class="datum"></i> zero
          </div>
        {/if}
      </div>
      <aside aria-label="Card: {STAGES.find(({ id }) => id === stage)?.title}">
        {#if stage === 'board'}<BoardCard {session} />
        {:else if stage === 'artwork'}<ArtworkCard
            {editor}
            faces={data.faces}
            onfile={() => chooser.click()}
            onlist={() => (plates = '')}
            onlook={(at) => plan?.lookAt(at)}
          />
        {:else if stage === 'cuts'}<CutsCard {session} {editor} />
        {:else if stage === 'proof'}<ProofCard {session} onview={(v) => (view = v)} />
        {:else if stage === 'program'}{#await import('$lib/cards/ProgramCard.svelte') then { default: ProgramCard }}<ProgramCard
              {session}
              release={current}
              mayRelease={data.user?.role === 'owner'}
              onrelease={doRelease}
              onnext={() => go('setup')}
            />{/await}
        {:else if stage === 'setup'}<SetUpCard {session} {machine} release={current} onrun={() => go('run')} onprogram={() => go('program')} />
        {:else}<RecordCard runs={data.runs} />{/if}
        {#if stage === 'board' || stage === 'artwork' || stage === 'cuts' || stage === 'proof'}
          {@const following = STAGES[STAGES.findIndex(({ id }) => id === stage) + 1]}
          <p class="onward"><button class="next" onclick={() => go(following.id)}>Next: {following.title}</button></p>
        {/if}
      </aside>
    {/if}
  </div>

  <footer aria-label="Facts">
    <span
      ><b class="figure">{num(job.board.width, job.units)} × {num(job.board.height, job.units)} × {len(job.board.thickness, job.units)}</b>
      {job.board.material}</span
    >
    {#if session.plan}
      <span>deepest <b class="figure">{len(session.plan.deepest, job.units)}</b></span>
      <span><b class="figure">{bits}</b> {bits === 1 ? 'bit' : 'bits'}</span>
      <span><b class="figure">{duration(session.plan.seconds)}</b></span>
      <span class:bad={errors > 0} class:warn={errors === 0 && warnings > 0}
        >{errors ? `✕ ${errors} to mend` : warnings ? `▲ ${warnings} ${warnings === 1 ? 'warning' : 'warnings'}` : 'nothing found'}</span
      >
      {#if session.stale}<span class="quiet">planning…</span>{/if}
    {/if}
  </footer>
</div>
<Palette bind:open={palette} {entries} />
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
{#if dropping}<div class="dropping" aria-hidden="true">Let go to bring it in: a drawing, a picture, a face or a list</div>{/if}

<style>
  .traveller {
    height: 100dvh;
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr) auto;
  }
  header {
    grid-row: 1;
    display: flex;
    align-items: center;
    gap: 0.8rem;
    padding: 0.45rem 1rem;
    border-bottom: 1px solid var(--line);
  }
  h1 {
    font-size: 1.2rem;
  }
  .name {
    font-size: 1.2rem;
    font-weight: 600;
    border: 0;
    border-bottom: 1px solid var(--accent);
    background: none;
    color: var(--ink);
  }
  .find {
    margin-left: auto;
    color: var(--quiet);
    min-width: 14rem;
    text-align: left;
    display: flex;
    justify-content: space-between;
  }
  .icon {
    padding: 0.45rem;
    min-width: 2.2rem;
  }
  .icon:disabled {
    opacity: 0.35;
  }
  .banner {
    grid-row: 2;
    background: var(--amber);
    color: var(--paper);
    padding: 0.45rem 1rem;
    display: flex;
    gap: 0.8rem;
    align-items: center;
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
  .doing {
    position: absolute;
    bottom: 7.6rem;
    left: 2.2rem;
    display: flex;
    gap: 0.7rem;
    align-items: center;
    background: var(--sheet);
    border: 1px solid var(--line);
    padding: 0.4rem 0.7rem;
    font-size: 0.88rem;
  }
  .legend {
    position: absolute;
    right: 0.8rem;
    bottom: 0.8rem;
    font-size: 0.82rem;
    display: flex;
    gap: 0.5rem;
    align-items: center;
    background: var(--bed);
    padding: 0.2rem 0.5rem;
  }
  .legend i {
    width: 1.6rem;
    border-top: 2px solid var(--accent);
  }
  .ramp {
    display: flex;
    border: 1px solid var(--line-strong);
  }
  .ramp b {
    width: 0.8rem;
    height: 0.7rem;
  }
  .legend .travel {
    border-top: 2px dashed var(--quiet);
  }
  .legend .datum {
    width: 0.7rem;
    height: 0.7rem;
    border: 2px solid var(--ink);
    border-radius: 50%;
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
  footer {
    grid-row: 4;
    display: flex;
    gap: 1.8rem;
    padding: 0.55rem 1.2rem;
    border-top: 1px solid var(--line);
    font-size: 1.02rem;
  }
  .bad {
    color: var(--danger);
    font-weight: 600;
  }
  .warn {
    color: var(--amber);
    font-weight: 600;
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
  /* A phone held sideways: the stage marks stay, words and facts make room for the run. */
  @media (max-height: 480px) {
    header,
    footer {
      display: none;
    }
    .middle {
      grid-template-columns: 3.2rem minmax(0, 1fr) 24rem;
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
  @media (max-width: 1100px) and (min-height: 481px) {
    .middle {
      grid-template-columns: 6.6rem minmax(0, 1fr) 24.5rem;
    }
    .find {
      min-width: 0;
    }
  }
</style>
