<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { format } from 'date-fns';
  import Sheet from '$lib/ui/Sheet.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { MachineLink, watchMachines } from '$lib/machine.svelte';
  import { num } from '$lib/ui/format';
  import { ask } from '$lib/ui/post';

  let { data, form } = $props();
  const machines = $derived(data.machines.map(({ id, name }) => ({ name, link: new MachineLink(id) })));
  $effect(() => {
    if (machines.length > 0) return watchMachines(machines.map(({ link }) => link));
  });
  const COLUMNS = [
    { state: 'drawing', title: 'On the drawing table' },
    { state: 'ready', title: 'Released' },
    { state: 'at-machine', title: 'At the machine' },
    { state: 'done', title: 'Done' },
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
  let why = $state('');
  /** Puts a job away or back, or deletes it for good when it was never cut. */
  async function change(id: string, method: 'PATCH' | 'DELETE', body?: unknown) {
    const answer = await ask(`/api/jobs/${id}`, method, body);
    why = answer.ok ? '' : answer.why;
    await invalidateAll();
  }
  let doomed = $state<{ id: string; name: string } | null>(null);
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
<main>
  <div class="top">
    <h1>Saltgrass Sign Shed</h1>
    <ul class="machines" aria-label="Machines">
      {#each machines as { name, link } (link.id)}<li><b>{name}</b> {doing(link)}</li>{:else}<li><a href="/machines">No machine is linked</a></li>{/each}
    </ul>
    <span class="grow"></span>
    <form method="POST" action="?/open" enctype="multipart/form-data" bind:this={opener}>
      <input bind:this={chooser} type="file" name="job" accept=".json,application/json" hidden onchange={() => opener.requestSubmit()} />
      <button type="button" class="press" onclick={() => chooser.click()}>Open a job file</button>
    </form>
    <form method="POST" action="?/new"><button class="next">New sign</button></form>
  </div>
  {#if form?.why || why}<p class="caution" role="alert">{form?.why ?? why}</p>{/if}
  {#if data.away}<h2>Jobs put away</h2>{/if}
  <div class="wall">
    {#each COLUMNS as column (column.state)}
      {@const jobs = data.jobs.filter((job) => job.state === column.state)}
      <section aria-label={column.title}>
        <h2>{column.title} <span class="quiet figure">{jobs.length || ''}</span></h2>
        {#each jobs as job (job.id)}
          <article aria-label={job.name}>
            <a class="card-job" href="/job/{job.id}">
              {#if job.picture}<img src={job.picture} alt="{job.name}, carved" />{:else}<div
                  class="blank"
                  style="aspect-ratio: {job.board.width} / {job.board.height}"
                ></div>{/if}
              <strong>{job.name}</strong>
              <span class="quiet"
                >{job.board.material}, {num(job.board.width, job.units)} × {num(job.board.height, job.units)} × {num(job.board.thickness, job.units)}
                {job.units}</span
              >
              <span class="quiet">{format(job.updated_at, 'd MMM, HH:mm')} · rev {job.revision}</span>
            </a>
            {#if data.user?.role !== 'watcher'}
              <p class="does">
                <button class="plain" onclick={() => change(job.id, 'PATCH', { away: !data.away })}>{data.away ? 'Hang it up again' : 'Put away'}</button>
                {#if data.away && data.user?.role === 'owner'}<button class="plain" onclick={() => (doomed = job)}>Delete…</button>{/if}
              </p>
            {/if}
          </article>
        {:else}
          <p class="quiet none">{column.state === 'drawing' ? 'Nothing is being drawn. “New sign” begins one.' : 'None.'}</p>
        {/each}
      </section>
    {/each}
  </div>
  <p class="pages">
    {#if data.after}<a class="press" href={data.away ? '/?away' : '/'}>Newest</a>{/if}
    {#if data.older}<a class="press" href="/?{data.away ? 'away&' : ''}after={data.older}">Older jobs</a>{/if}
    {#if data.away}<a class="press" href="/">Back to the wall</a>{:else if data.anyAway}<a class="press" href="/?away">Jobs put away</a>{/if}
  </p>
</main>
{#if doomed}
  {@const { id, name } = doomed}
  <Sheet title="Delete “{name}” for good?" onclose={() => (doomed = null)}>
    <p class="quiet">Its drawing, its files and every saved revision are gone then. A job that was ever cut cannot be deleted: it is part of the record.</p>
    <p class="does">
      <button
        class="press"
        onclick={() => {
          // First: with the question gone nobody knows which it was.
          void change(id, 'DELETE');
          doomed = null;
        }}>Delete it</button
      >
      <button class="press" onclick={() => (doomed = null)}>Keep it</button>
    </p>
  </Sheet>
{/if}

<style>
  .does,
  .pages {
    display: flex;
    gap: 0.6rem;
  }
  article {
    position: relative;
    margin-bottom: 0.8rem;
  }
  /* In the corner of its card, beside the date. */
  article .does {
    position: absolute;
    right: 0.7rem;
    bottom: 0.45rem;
  }
  article .plain {
    font-size: 0.85rem;
    color: var(--quiet);
    padding: 0.25rem 0;
  }
  main {
    padding: 1.2rem 1.6rem;
  }
  .top {
    display: flex;
    align-items: center;
    gap: 1rem;
    flex-wrap: wrap;
    padding-bottom: 1.2rem;
  }
  h1 {
    font-size: 1.7rem;
  }
  h2 {
    font-size: 1rem;
    padding-bottom: 0.6rem;
  }
  .grow {
    flex: 1;
  }
  .wall {
    display: grid;
    grid-template-columns: repeat(4, minmax(0, 1fr));
    gap: 1.4rem;
  }
  .card-job {
    display: grid;
    gap: 0.15rem;
    background: var(--sheet);
    border: 1px solid var(--line);
    padding: 0.7rem;
  }
  .card-job:hover {
    border-color: var(--accent);
  }
  .card-job img {
    width: 100%;
    margin-bottom: 0.4rem;
  }
  .blank {
    background: var(--wood);
    margin-bottom: 0.4rem;
  }
  .card-job .quiet {
    font-size: 0.85rem;
  }
  .none {
    font-size: 0.9rem;
  }
</style>
