<script lang="ts">
  import { goto, invalidateAll } from '$app/navigation';
  import { onMount } from 'svelte';
  import { format } from 'date-fns';
  import { firstJob } from '$lib/job/guide.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { MachineLink, watchMachines } from '$lib/machine.svelte';
  import { tellOfRuns } from '$lib/news.svelte';
  import NewSign from '$lib/shop/NewSign.svelte';
  import { num } from '$lib/ui/format';
  import { toaster } from '$lib/ui/toasts';
  import { ask } from '$lib/ui/post';
  import { SHOP } from '$lib/labels/shop';
  import { COMMON } from '$lib/labels/common';

  let { data, form } = $props();
  const machines = $derived(data.machines.map(({ id, name, kind }) => ({ name, kind, link: new MachineLink(id) })));
  $effect(() => {
    if (machines.length > 0) return watchMachines(machines.map(({ link }) => link));
  });
  $effect(() => machines.forEach((machine) => tellOfRuns(machine, () => true)));
  const COLUMNS = [
    { state: 'drawing', title: SHOP.onTheDrawingTable },
    { state: 'ready', title: SHOP.released },
    { state: 'at-machine', title: SHOP.atTheMachine },
    { state: 'done', title: COMMON.done },
  ] as const;
  const DOING = {
    idle: 'stands ready',
    run: 'is moving',
    hold: 'is holding',
    pause: 'waits for a person',
    home: 'is homing',
    alarm: 'is in alarm',
    estop: 'has its emergency stop pressed',
  };
  /** What a machine does now, in a few words. */
  function doing({ now: { status, run } }: MachineLink): string {
    if (!status) return 'does not answer';
    const state = status.homed || status.state !== 'idle' ? DOING[status.state] : 'has not been homed';
    return run && !run.endedAt ? `${state}, ${run.name}, line ${run.line} of ${run.lines}` : state;
  }
  // What this browser keeps is not known where the page is made.
  let alive = $state(false);
  onMount(() => (alive = true));
  let why = $state('');
  /** Puts a job away or back, or deletes it for good when it was never cut. */
  async function change(id: string, method: 'PATCH' | 'DELETE', body?: unknown) {
    const answer = await ask(`/api/jobs/${id}`, method, body);
    why = answer.ok ? '' : answer.why;
    await invalidateAll();
    return answer.ok;
  }
  /** Off the wall, with a way back in sight for a while. */
  async function putAway(job: { id: string; name: string }) {
    if (!(await change(job.id, 'PATCH', { away: !data.away })) || data.away) return;
    toaster.create({
      title: SHOP.isArchived(job.name),
      duration: 12_000,
      action: { label: COMMON.undo, onClick: () => void change(job.id, 'PATCH', { away: false }) },
    });
  }
  async function copy(id: string, as: 'copy' | 'sign' = 'copy') {
    const answer = await ask<{ id: string }>(`/api/jobs/${id}`, 'POST', { as });
    why = answer.ok ? '' : answer.why;
    if (answer.ok) await goto(`/job/${answer.value.id}`);
  }
  /** What the wall was asked for, for the pages that follow. */
  const asked = $derived(new URLSearchParams({ ...(data.away && { away: '1' }), ...(data.find && { find: data.find }), sort: data.sort }).toString());
  let doomed = $state<{ id: string; name: string } | null>(null);
  let beginning = $state(false);
  let chooser: HTMLInputElement;
  let opener: HTMLFormElement;
</script>

<svelte:head><title>Shop · Kerbe</title></svelte:head>
<svelte:window
  ondragover={(event) => event.preventDefault()}
  ondrop={(event) => {
    event.preventDefault();
    if (!event.dataTransfer?.files.length) return;
    chooser.files = event.dataTransfer.files;
    opener.requestSubmit();
  }}
/>
<ShopBar user={data.user} here="shop" />
<main class="py-5 px-6.5">
  <div class="gap-4 flex items-center flex-wrap pb-5">
    <h1 class="text-3xl">{data.shop.name}</h1>
    <ul aria-label={COMMON.machines}>
      {#each machines as { name, link } (link.id)}<li><b>{name}</b> {doing(link)}</li>{:else}<li><a href="/machines">{SHOP.noMachineIsLinked}</a></li>{/each}
    </ul>
    <span class="flex-1"></span>
    <form method="POST" action="?/open" enctype="multipart/form-data" bind:this={opener}>
      <input bind:this={chooser} type="file" name="job" accept=".json,application/json" hidden onchange={() => opener.requestSubmit()} />
      <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => chooser.click()}>{SHOP.openAJobFile}</button>
    </form>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => (beginning = true)}>{SHOP.newSign}</button>
  </div>
  {#if form?.why || why}<p class="caution" role="alert">{form?.why ?? why}</p>{/if}
  {#if alive && firstJob.state !== 'over' && data.user?.role !== 'watcher' && !data.away}
    <section class="mb-4 flex max-w-240 items-center gap-4 border-l-4 border-primary-600-400 bg-surface-50-950 px-4 py-3" aria-label={COMMON.yourFirstJob}>
      <p class="flex-1">
        <b class="block">{firstJob.state === 'new' ? 'New here? Cut a first sign on the simulated machine.' : 'Your first job waits for you.'}</b>
        Seven short steps, from a word to a carved board. Nothing real moves, and you can leave it at any time.
      </p>
      {#if firstJob.job}<a class="btn preset-outlined-surface-300-700" href="/job/{firstJob.job}">{SHOP.goOnWithIt}</a>{:else}
        <form method="POST" action="?/new" onsubmit={() => firstJob.begin()}>
          {#each Object.entries( { piece: 'sign', units: data.shop.units, width: 300, height: 120, thickness: 18, material: 'pine' } ) as [name, value] (name)}<input
              type="hidden"
              {name}
              {value}
            />{/each}
          <button class="btn preset-outlined-surface-300-700">{SHOP.begin}</button>
        </form>
      {/if}
      <button class="p-1.5 text-surface-600-400" onclick={() => firstJob.leave()}>{firstJob.state === 'new' ? SHOP.noThankYou : COMMON.leaveIt}</button>
    </section>
  {/if}
  <form method="GET" class="flex max-w-160 gap-2 pb-4">
    {#if data.away}<input type="hidden" name="away" value="1" />{/if}
    <input class="input" type="search" name="find" value={data.find} aria-label={SHOP.findAJob} placeholder={SHOP.nameWoodWhatItSays} />
    <select
      class="select w-auto"
      name="sort"
      value={data.sort}
      aria-label={SHOP.orderOfTheJobs}
      onchange={(event) => event.currentTarget.form!.requestSubmit()}
    >
      <option value="newest">{SHOP.newestFirst}</option>
      <option value="name">{SHOP.byName}</option>
    </select>
    <button class="btn preset-outlined-surface-300-700">{COMMON.find}</button>
    {#if data.find}<a class="btn preset-outlined-surface-300-700 whitespace-nowrap" href={data.away ? '/?away' : '/'}>{COMMON.showAll}</a>{/if}
  </form>
  {#if data.find && data.jobs.length === 0}<p class="pb-4 text-surface-600-400" role="status">No job has that. Fewer letters find more.</p>{/if}
  {#if data.away}<h2 class="text-base pb-2.5">{SHOP.archivedJobs}</h2>{/if}
  <div class="gap-5.5 grid grid-cols-4">
    {#each COLUMNS as column (column.state)}
      {@const jobs = data.jobs.filter((job) => job.state === column.state)}
      <section aria-label={column.title}>
        <h2 class="text-base pb-2.5">{column.title} <span class="text-surface-600-400 figure">{jobs.length || ''}</span></h2>
        {#each jobs as job (job.id)}
          <article class="relative mb-3.5" aria-label={job.name}>
            <a class="p-3 pb-9 gap-0.5 border border-surface-200-800 grid bg-surface-50-950 hover:border-primary-600-400" href="/job/{job.id}">
              {#if job.picture}<img class="w-full mb-1.5" src={job.picture} alt={SHOP.carved(job.name)} />{:else}<div
                  class="bg-tertiary-200-800 mb-1.5"
                  style="aspect-ratio: {job.board.width} / {job.board.height}"
                ></div>{/if}
              <strong>{job.name}</strong>
              <span class="text-surface-600-400 text-sm"
                >{job.board.material}, {num(job.board.width, job.units)} × {num(job.board.height, job.units)} × {num(job.board.thickness, job.units)}
                {job.units}</span
              >
              <span class="text-surface-600-400 text-sm">{SHOP.revisionOf(format(job.updated_at, 'd MMM, HH:mm'), job.revision)}</span>
            </a>
            {#if data.user?.role !== 'watcher'}
              <p class="gap-2.5 flex absolute right-3 bottom-2">
                {#if !data.away}<button class="py-1 text-sm text-surface-600-400" onclick={() => copy(job.id)}>{COMMON.copy}</button>{/if}
                <button class="py-1 text-sm text-surface-600-400" onclick={() => putAway(job)}>{data.away ? SHOP.putItBackOnThe : SHOP.archive}</button>
                {#if data.away && data.user?.role === 'owner'}<button class="py-1 text-sm text-surface-600-400" onclick={() => (doomed = job)}
                    >{SHOP.delete}</button
                  >{/if}
              </p>
            {/if}
          </article>
        {:else}
          <p class="text-surface-600-400 text-sm">{column.state === 'drawing' && !data.find ? 'Nothing is being drawn. “New sign” begins one.' : 'None.'}</p>
        {/each}
      </section>
    {/each}
  </div>
  <p class="gap-2.5 flex">
    {#if data.after}<a class="btn preset-outlined-surface-300-700" href="/?{asked}">{SHOP.newest}</a>{/if}
    {#if data.older}<a class="btn preset-outlined-surface-300-700" href="/?{asked}&after={data.older}">{SHOP.olderJobs}</a>{/if}
    {#if data.away}<a class="btn preset-outlined-surface-300-700" href="/">{SHOP.backToTheWall}</a>{:else if data.anyAway}<a
        class="btn preset-outlined-surface-300-700"
        href="/?away">{SHOP.archivedJobs}</a
      >{/if}
  </p>
</main>
{#if beginning}<NewSign
    shop={data.shop}
    jobs={data.jobs}
    templates={data.templates}
    onbegin={(id) => copy(id, 'sign')}
    onaway={(template) => putAway(template)}
    onclose={() => (beginning = false)}
  />{/if}
{#if doomed}
  {@const { id, name } = doomed}
  <Sheet title={SHOP.deleteForGood(name)} onclose={() => (doomed = null)}>
    <p class="text-surface-600-400">
      Its drawing, its files and every saved revision are gone then. A job that was ever cut cannot be deleted: it is part of the record.
    </p>
    <p class="gap-2.5 flex">
      <button
        class="btn preset-outlined-surface-300-700"
        onclick={() => {
          // First: with the question gone nobody knows which it was.
          void change(id, 'DELETE');
          doomed = null;
        }}>{SHOP.deleteIt}</button
      >
      <button class="btn preset-outlined-surface-300-700" onclick={() => (doomed = null)}>{COMMON.save}</button>
    </p>
  </Sheet>
{/if}
