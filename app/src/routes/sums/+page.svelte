<script lang="ts">
  /** The shop's own sums: looked for by what is wanted, worked out while one types. */
  import { replaceState } from '$app/navigation';
  import { page } from '$app/state';
  import { findSums, GROUPS, SUMS } from '@kerbe/core/sums';
  import SumCard from '$lib/shop/SumCard.svelte';
  import Segments from '$lib/ui/Segments.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { COMMON } from '$lib/labels/common';
  import { SHOP } from '$lib/labels/shop';

  let { data } = $props();
  // svelte-ignore state_referenced_locally
  let unit = $state(data.units);
  let text = $state('');
  let shown = $state(page.url.searchParams.get('sum') ?? SUMS[0].id);
  const found = $derived(findSums(text));
  const sum = $derived(SUMS.find(({ id }) => id === shown) ?? SUMS[0]);
  function choose(id: string) {
    shown = id;
    replaceState(`?sum=${id}`, {});
  }
</script>

<svelte:head><title>{sum.title} · Sums · Kerbe</title></svelte:head>
<div class="print:hidden"><ShopBar user={data.user} here="sums" /></div>
<main class="grid grid-cols-[20rem_minmax(0,40rem)] gap-10 px-6.5 py-5 print:block">
  <nav aria-label={COMMON.sums} class="print:hidden">
    <h1 class="pb-3 text-3xl">{COMMON.sums}</h1>
    <form
      onsubmit={(event) => {
        event.preventDefault();
        if (found.length > 0) choose(found[0].id);
      }}
    >
      <input class="input" type="search" aria-label={SHOP.findASum} placeholder={SHOP.depthChipDpiBoardFeet} bind:value={text} />
    </form>
    {#each GROUPS as group (group)}
      {@const those = found.filter((one) => one.group === group)}
      {#if those.length > 0}
        <h2 class="pt-3.5 pb-1 text-sm text-surface-600-400">{group}</h2>
        <ul>
          {#each those as { id, title } (id)}
            <li>
              <button
                class="w-full rounded-base px-2.5 py-1.5 text-left aria-[current]:bg-surface-200-800 aria-[current]:font-semibold"
                aria-current={id === sum.id ? 'true' : undefined}
                onclick={() => choose(id)}>{title}</button
              >
            </li>
          {/each}
        </ul>
      {/if}
    {/each}
    {#if found.length === 0}<p class="pt-3 text-surface-600-400" role="status">No sum has those words. Fewer of them find more.</p>{/if}
  </nav>
  <div>
    <div class="flex items-center justify-between pb-4 print:hidden">
      <Segments
        label={COMMON.units}
        value={unit}
        options={[
          { value: 'mm', label: 'mm' },
          { value: 'in', label: 'in' },
        ]}
        onchange={(next) => (unit = next)}
      />
      <button class="btn preset-outlined-surface-300-700" onclick={() => print()}>{COMMON.printIt}</button>
    </div>
    {#key sum.id}<SumCard {sum} {unit} />{/key}
  </div>
</main>
