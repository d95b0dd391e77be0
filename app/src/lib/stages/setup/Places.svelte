<script lang="ts">
  /** Places with names: the machine's own, and those saved here. Gone to with Z at the top. */
  import type { MachineView } from '$lib/stages/types';
  import type { Act } from './act.svelte';
  import { COMMON } from '$lib/labels/common';
  import { SETUP } from '$lib/labels/setup';

  let { act, shop, board }: { act: Act; shop: MachineView; board: { x: number; y: number; width: number; height: number } } = $props();
  const now = $derived(act.machine.now);
  let name = $state('');
  const own = $derived([
    { name: 'Park', at: shop.profile.limits.park },
    ...(shop.profile.sensor ? [{ name: 'Tool sensor', at: [shop.profile.sensor.x, shop.profile.sensor.y] as [number, number] }] : []),
    { name: 'Front left of the board', at: [board.x, board.y] as [number, number] },
    { name: 'Middle of the board', at: [board.x + board.width / 2, board.y + board.height / 2] as [number, number] },
  ]);
  const go = (at: readonly number[]) => act.send({ do: 'move-over', x: at[0], y: at[1] });
</script>

<div class="py-1 gap-1.5 flex flex-wrap items-center">
  {#each own as place (place.name)}<button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={() => go(place.at)}
      >{place.name}</button
    >{/each}
  {#each now.setup.places as place (place.name)}
    <span class="inline-flex"
      ><button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={() => go(place.at)}>{place.name}</button><button
        class="btn preset-outlined-surface-300-700"
        aria-label={COMMON.deleteNamed(place.name)}
        onclick={() => act.send({ do: 'forget-place', name: place.name })}>×</button
      ></span
    >
  {/each}
</div>
<form
  class="py-1 gap-1.5 flex flex-wrap items-center"
  onsubmit={async (event) => {
    event.preventDefault();
    if (name.trim() && (await act.send({ do: 'save-place', name: name.trim() }))) name = '';
  }}
>
  <input class="input max-w-44" aria-label={SETUP.nameOfThisPlace} placeholder={SETUP.nameOfThisPlace} maxlength="80" bind:value={name} />
  <button class="btn preset-outlined-surface-300-700" disabled={!name.trim() || !now.status?.homed || act.busy !== null}>{SETUP.saveWhereTheBitStands}</button>
</form>
