<script lang="ts">
  /** A material the shop has not had yet, named where it is needed: what it is worked like, and it is the shop's from now on. */
  import { allMaterials, nameInJob, ShopMaterial } from '@kerbe/core/board/materials';
  import type { ProcessName } from '@kerbe/core/process';
  import { invalidateAll } from '$app/navigation';
  import Choice from '$lib/ui/Choice.svelte';
  import { ask } from '$lib/ui/post';
  import { BOARD } from '$lib/labels/board';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    process: ProcessName;
    /** What the board is of now: a new one is mostly much like it. */
    own: string;
    thickness: number;
    materials: readonly ShopMaterial[];
    /** Hears its name as jobs write it, once the shop has it. */
    onadded: (name: string) => void;
    oncancel: () => void;
  }
  let { process, own, thickness, materials, onadded, oncancel }: Props = $props();
  const known = $derived(allMaterials(materials).filter(({ on, like }) => on.includes(process) && like === null));
  // svelte-ignore state_referenced_locally
  let like = $state(known.find((one) => nameInJob(one) === own)?.name ?? known[0].name);
  let name = $state('');
  let why = $state<string | null>(null);
  let busy = $state(false);

  async function add() {
    const { density = null, care = '' } = known.find((one) => one.name === like) ?? {};
    const made = ShopMaterial.safeParse({ name, like, on: [process], density, care, thicknesses: [thickness] });
    if (!made.success) return void (why = made.error.issues[0].message);
    if (allMaterials(materials).some((one) => one.name.toLowerCase() === made.data.name.toLowerCase()))
      return void (why = `The shop has ${made.data.name} already: choose it from the list, or change it under Materials.`);
    busy = true;
    const answer = await ask('/api/materials', 'PUT', { materials: [...materials, made.data] });
    busy = false;
    why = answer.ok ? null : answer.why;
    if (!answer.ok) return;
    onadded(nameInJob(made.data));
    await invalidateAll();
  }
</script>

<form
  class="my-1.5 border-l-3 border-primary-600-400 pl-3 text-sm"
  onsubmit={(event) => {
    event.preventDefault();
    void add();
  }}
>
  <label class="flex items-center justify-between gap-2.5 py-0.5"
    >{BOARD.nameOfTheMaterial} <input class="input w-46" maxlength="40" placeholder={BOARD.ash2MmSheet} bind:value={name} /></label
  >
  <Choice label={COMMON.cutsLike} value={like} options={known.map((one) => ({ value: one.name, label: one.name }))} onchange={(to) => (like = to)} />
  <p class="text-surface-600-400">Feeds and looks are suggested as for that. Weight, price and what to beware of: under Materials.</p>
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
  <p class="flex gap-2 py-1">
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={busy}>{BOARD.addItToTheShop}</button>
    <button type="button" class="btn preset-outlined-surface-300-700" onclick={oncancel}>{COMMON.cancel}</button>
  </p>
</form>
