<script lang="ts">
  import { kerbeLink, MachineProfile } from '@kerbe/core/machine';
  import { invalidate } from '$app/navigation';
  import Care from '$lib/machines/Care.svelte';
  import LinkTest from '$lib/machines/LinkTest.svelte';
  import ProfileForm from '$lib/machines/ProfileForm.svelte';
  import Spoilboard from '$lib/machines/Spoilboard.svelte';
  import { MachineLink, watchMachines } from '$lib/machine.svelte';
  import Holds from '$lib/stages/setup/Holds.svelte';
  import { len, num } from '$lib/ui/format';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { ask } from '$lib/ui/post';
  import { COMMON } from '$lib/labels/common';
  import { MACHINES } from '$lib/labels/machines';

  let { data } = $props();
  const owner = $derived(data.user?.role === 'owner');
  let chosen = $state<string | null>(null);
  const NEW = 'new';
  const open = $derived(chosen ?? data.machines.find(({ connected }) => connected)?.id ?? data.machines[0]?.id);
  const row = $derived(data.machines.find(({ id }) => id === open) ?? null);
  const links = $derived(data.machines.filter(({ connected }) => connected).map(({ id }) => new MachineLink(id)));
  $effect(() => {
    if (links.length > 0) return watchMachines(links);
  });
  const machine = $derived(links.find(({ id }) => id === open) ?? null);
  let why = $state<string | null>(null);
  const renew = async () => invalidate('kerbe:machines');
  function doing(id: string): string {
    const now = links.find((one) => one.id === id)?.now;
    if (!now?.agent) return 'the agent is away';
    if (!now.link) return 'does not answer';
    if (now.run && !now.run.endedAt) return `${now.run.name}, line ${now.run.line} of ${now.run.lines}`;
    return now.busy ?? now.status?.state ?? '';
  }
  async function change(id: string, method: 'PATCH' | 'DELETE', body?: unknown) {
    const answer = await ask(`/api/machines/${id}`, method, body);
    why = answer.ok ? null : answer.why;
    if (answer.ok && method === 'DELETE') chosen = null;
    await renew();
  }
</script>

<svelte:head><title>Machines · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="machines" />
<main class="py-5 px-6.5 gap-7.5 grid grid-cols-[16rem_minmax(0,1fr)_minmax(0,1fr)] items-start max-[1100px]:grid-cols-[14rem_minmax(0,1fr)]">
  <section class="gap-2 grid">
    <h1 class="text-3xl">{COMMON.machines}</h1>
    {#each data.machines as one (one.id)}
      <button
        class="btn preset-outlined-surface-300-700 gap-0.5 grid justify-items-start justify-start text-left text-sm"
        aria-pressed={one.id === open}
        onclick={() => (chosen = one.id)}
      >
        <b>{one.name}</b>
        <span class="text-surface-600-400">{num(one.profile.limits.travel[0], data.units)} × {len(one.profile.limits.travel[1], data.units)}</span>
        {#if one.connected}<span>{MACHINES.linked(doing(one.id))}</span>{:else}<span class="text-surface-600-400">{MACHINES.notLinked}</span>{/if}
      </button>
    {/each}
    {#if owner}<button
        class="btn preset-outlined-surface-300-700 gap-0.5 grid justify-items-start justify-start text-left text-sm"
        aria-pressed={open === NEW}
        onclick={() => (chosen = NEW)}>{MACHINES.aNewMachineMore}</button
      >{/if}
    {#if row && owner && !row.simulated}
      {#if row.connected}<button
          class="btn preset-outlined-surface-300-700 gap-0.5 grid justify-items-start justify-start text-left text-sm"
          onclick={() => change(row.id, 'PATCH', { linked: false })}>{MACHINES.unlink(row.name)}</button
        >
      {:else}
        <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => change(row.id, 'PATCH', { linked: true })}
          >{MACHINES.linkKerbeTo(row.name)}</button
        >
        <button
          class="btn preset-outlined-surface-300-700 gap-0.5 grid justify-items-start justify-start text-left text-sm"
          onclick={() => change(row.id, 'DELETE')}>{MACHINES.removeItFromTheShop}</button
        >
      {/if}
    {/if}
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
    {#if machine}<Holds {machine} />{/if}
  </section>
  <section class="card">
    {#if open === NEW}
      <h2 class="text-lg pt-1.5">{MACHINES.aNewMachine}</h2>
      <ProfileForm
        id={null}
        profile={MachineProfile.parse({ limits: { name: 'New machine' }, link: kerbeLink('127.0.0.1', 4001) })}
        unit={data.units}
        mayEdit={owner}
        fixedLink={false}
        onsaved={async () => {
          await renew();
          chosen = data.machines.at(-1)?.id ?? null;
        }}
      />
    {:else if row}
      <h2 class="text-lg pt-1.5">{row.name}</h2>
      {#key row.id}<ProfileForm id={row.id} profile={row.profile} unit={data.units} mayEdit={owner} fixedLink={row.simulated} onsaved={renew} />{/key}
    {/if}
  </section>
  {#if row}
    <section class="card">
      {#key row.id}<Care machine={row.id} cares={data.cares[row.id] ?? []} mayEdit={owner} onchange={renew} />{/key}
      {#if row.profile.kind === 'router'}
        {#key row.id}<Spoilboard
            machine={row}
            state={data.spoilboards[row.id] ?? { heights: [], job: null, through: 0, measure: false, due: [] }}
            bits={data.bits}
            unit={data.units}
            onchange={renew}
          />{/key}
      {/if}
      {#if machine}
        <h2 class="text-lg pt-1.5">{MACHINES.connectionLog}</h2>
        <LinkTest {machine} mayTry={owner} />
      {/if}
    </section>
  {/if}
</main>
