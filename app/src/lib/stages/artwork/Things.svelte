<script lang="ts">
  /** Everything drawn, by layer: picked by name, layers hidden and locked. */
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import Lock from '@lucide/svelte/icons/lock';
  import LockOpen from '@lucide/svelte/icons/lock-open';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { kindName, nameOf } from '$lib/art/fields';
  import { ARTWORK } from '$lib/labels/artwork';

  let { editor }: { editor: ArtEditor } = $props();
  const job = $derived(editor.job);
  const MOST = 150;
  let seek = $state('');
  const layers = $derived(job.layers.length ? job.layers : [{ id: '', name: 'Everything', hidden: false, locked: false }]);
  const inLayer = (layer: string) => {
    const first = layers[0].id;
    const wanted = seek.trim().toLowerCase();
    return job.itemOrder
      .map((id) => job.items[id])
      .filter((item) => (item.layer ?? first) === layer && (wanted === '' || nameOf(item).toLowerCase().includes(wanted)));
  };

  function addLayer() {
    let n = job.layers.length + 1;
    while (job.layers.some(({ id }) => id === `layer${n}`)) n++;
    editor.session.edit(ARTWORK.addALayer, (d) => {
      if (d.layers.length === 0) d.layers = [{ id: 'first', name: 'First', hidden: false, locked: false }];
      d.layers = [...d.layers, { id: `layer${n}`, name: `Layer ${n}`, hidden: false, locked: false }];
    });
  }
  const flip = (id: string, what: 'hidden' | 'locked') =>
    editor.session.edit(what === 'hidden' ? ARTWORK.hideOrShowALayer : ARTWORK.lockOrUnlockALayer, (d) => {
      const layer = d.layers.find((one) => one.id === id);
      if (layer) layer[what] = !layer[what];
    });
  const rename = (id: string, name: string) =>
    name.trim() &&
    editor.session.edit(ARTWORK.nameALayer, (d) => {
      const layer = d.layers.find((one) => one.id === id);
      if (layer) layer.name = name.trim().slice(0, 80);
    });
  const moveTo = (id: string) => editor.session.edit(ARTWORK.moveToALayer, (d) => editor.ids.forEach((item) => (d.items[item].layer = id)));
  function pick(event: MouseEvent, id: string) {
    editor.select(event.shiftKey || event.ctrlKey ? [...editor.selection, id] : [id]);
  }
</script>

<details class="border-t border-surface-200-800">
  <summary class="py-2.5 cursor-pointer font-semibold text-lg"
    >{ARTWORK.thingsAndLayers} <span class="text-surface-600-400 figure">{job.itemOrder.length}</span></summary
  >
  {#if job.itemOrder.length > 12}<input
      class="input flex-1 min-w-0 w-full"
      type="search"
      placeholder={ARTWORK.findAThingByName}
      aria-label={ARTWORK.findAShapeByName}
      bind:value={seek}
    />{/if}
  {#each layers as layer (layer.id)}
    {@const items = inLayer(layer.id)}
    {#if job.layers.length}
      <div class="py-1.5 gap-1.5 flex items-center">
        <input
          class="input flex-1 min-w-0 w-full"
          aria-label={ARTWORK.nameOfTheLayer}
          value={layer.name}
          onchange={(e) => rename(layer.id, e.currentTarget.value)}
        />
        {#if editor.selection.size}<button class="btn preset-outlined-surface-300-700 py-0.5 px-2 text-xs" onclick={() => moveTo(layer.id)}
            >{ARTWORK.putSelectedHere}</button
          >{/if}
        <button class="p-1.5" aria-label={layer.hidden ? ARTWORK.showLayer(layer.name) : ARTWORK.hideLayer(layer.name)} onclick={() => flip(layer.id, 'hidden')}
          >{#if layer.hidden}<EyeOff size={16} />{:else}<Eye size={16} />{/if}</button
        >
        <button
          class="p-1.5"
          aria-label={layer.locked ? ARTWORK.unlockLayer(layer.name) : ARTWORK.lockLayer(layer.name)}
          onclick={() => flip(layer.id, 'locked')}
          >{#if layer.locked}<Lock size={16} />{:else}<LockOpen size={16} />{/if}</button
        >
      </div>
    {/if}
    <ul>
      {#each items.slice(0, MOST) as item (item.id)}
        <li class="gap-1.5 flex items-center">
          <button
            class={[
              'thing py-1 px-1.5 gap-2.5 flex-1 flex justify-between text-left text-sm',
              editor.selection.has(item.id) && 'shadow-[inset_3px_0_0_var(--color-primary-600-400)] bg-surface-100-900',
            ]}
            aria-pressed={editor.selection.has(item.id)}
            onclick={(e) => pick(e, item.id)}
          >
            <span class={[item.hidden && 'line-through']}>{nameOf(item)}</span>
            <span class="text-surface-600-400 text-xs"
              >{item.id === job.outline ? ARTWORK.outlineOfTheSignLower : nameOf(item) === kindName(item) ? '' : kindName(item).toLowerCase()}{item.locked
                ? ARTWORK.locked
                : ''}{item.hidden ? ARTWORK.hidden : ''}</span
            >
          </button>
          {#if item.hidden}<button
              class="btn preset-outlined-surface-300-700 py-0.5 px-2 text-xs"
              onclick={() => editor.set('Show', item.id, (d) => void (d.hidden = false))}>{ARTWORK.show}</button
            >{/if}
        </li>
      {:else}
        <li class="text-surface-600-400 py-1.5 px-1.5 gap-1.5 flex items-center text-sm">Nothing here.</li>
      {/each}
    </ul>
    {#if items.length > MOST}<p class="text-surface-600-400">and {items.length - MOST} more: pick them on the board, or find them by name.</p>{/if}
  {/each}
  <button class="btn preset-outlined-surface-300-700" onclick={addLayer}>{ARTWORK.addALayer}</button>
</details>
