<script lang="ts">
  import { onMount } from 'svelte';
  import { format } from 'date-fns';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { MachineLink } from '$lib/machine.svelte';
  import { num } from '$lib/ui/format';

  let { data, form } = $props();
  const machine = new MachineLink();
  onMount(() => {
    machine.open();
    return () => machine.close();
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
  const status = $derived(machine.now.status);
  const run = $derived(machine.now.run);
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
    <p class="machine">
      <b>Router</b>
      {#if status}{status.homed || status.state !== 'idle' ? DOING[status.state] : 'has not been homed'}{run && !run.endedAt
          ? `, ${run.name}, line ${run.line} of ${run.lines}`
          : ''}{:else}does not answer{/if}
    </p>
    <span class="grow"></span>
    <form method="POST" action="?/open" enctype="multipart/form-data" bind:this={opener}>
      <input bind:this={chooser} type="file" name="job" accept=".json,application/json" hidden onchange={() => opener.requestSubmit()} />
      <button type="button" class="press" onclick={() => chooser.click()}>Open a job file</button>
    </form>
    <form method="POST" action="?/new"><button class="next">New sign</button></form>
  </div>
  {#if form?.why}<p class="caution" role="alert">{form.why}</p>{/if}
  <div class="wall">
    {#each COLUMNS as column (column.state)}
      {@const jobs = data.jobs.filter((job) => job.state === column.state)}
      <section aria-label={column.title}>
        <h2>{column.title} <span class="quiet figure">{jobs.length || ''}</span></h2>
        {#each jobs as job (job.id)}
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
        {:else}
          <p class="quiet none">{column.state === 'drawing' ? 'Nothing is being drawn. “New sign” begins one.' : 'None.'}</p>
        {/each}
      </section>
    {/each}
  </div>
</main>

<style>
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
    margin-bottom: 0.8rem;
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
