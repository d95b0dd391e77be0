<script lang="ts">
  /** Everything drawn, by layer: picked by name, layers hidden and locked. */
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import Lock from '@lucide/svelte/icons/lock';
  import LockOpen from '@lucide/svelte/icons/lock-open';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { KIND_NAMES, nameOf } from '$lib/art/fields';

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
    editor.session.edit('Add a layer', (d) => {
      if (d.layers.length === 0) d.layers = [{ id: 'first', name: 'First', hidden: false, locked: false }];
      d.layers = [...d.layers, { id: `layer${n}`, name: `Layer ${n}`, hidden: false, locked: false }];
    });
  }
  const flip = (id: string, what: 'hidden' | 'locked') =>
    editor.session.edit(what === 'hidden' ? 'Hide or show a layer' : 'Lock or free a layer', (d) => {
      const layer = d.layers.find((one) => one.id === id);
      if (layer) layer[what] = !layer[what];
    });
  const rename = (id: string, name: string) =>
    name.trim() &&
    editor.session.edit('Name a layer', (d) => {
      const layer = d.layers.find((one) => one.id === id);
      if (layer) layer.name = name.trim().slice(0, 80);
    });
  const moveTo = (id: string) => editor.session.edit('Move to a layer', (d) => editor.ids.forEach((item) => (d.items[item].layer = id)));
  function pick(event: MouseEvent, id: string) {
    editor.select(event.shiftKey || event.ctrlKey ? [...editor.selection, id] : [id]);
  }
</script>

<details>
  <summary>Things and layers <span class="quiet figure">{job.itemOrder.length}</span></summary>
  {#if job.itemOrder.length > 12}<input
      class="seek"
      type="search"
      placeholder="find a thing by name"
      aria-label="Find a thing by name"
      bind:value={seek}
    />{/if}
  {#each layers as layer (layer.id)}
    {@const items = inLayer(layer.id)}
    {#if job.layers.length}
      <div class="layer">
        <input aria-label="Name of the layer" value={layer.name} onchange={(e) => rename(layer.id, e.currentTarget.value)} />
        {#if editor.selection.size}<button class="press small" onclick={() => moveTo(layer.id)}>Put selected here</button>{/if}
        <button class="icon" aria-label={layer.hidden ? `Show ${layer.name}` : `Hide ${layer.name}`} onclick={() => flip(layer.id, 'hidden')}
          >{#if layer.hidden}<EyeOff size={16} />{:else}<Eye size={16} />{/if}</button
        >
        <button class="icon" aria-label={layer.locked ? `Free ${layer.name}` : `Lock ${layer.name}`} onclick={() => flip(layer.id, 'locked')}
          >{#if layer.locked}<Lock size={16} />{:else}<LockOpen size={16} />{/if}</button
        >
      </div>
    {/if}
    <ul>
      {#each items.slice(0, MOST) as item (item.id)}
        <li>
          <button class="thing" class:picked={editor.selection.has(item.id)} aria-pressed={editor.selection.has(item.id)} onclick={(e) => pick(e, item.id)}>
            <span class:gone={item.hidden}>{nameOf(item)}</span>
            <span class="quiet"
              >{item.id === job.outline ? 'outline of the sign' : nameOf(item) === KIND_NAMES[item.kind] ? '' : KIND_NAMES[item.kind].toLowerCase()}{item.locked
                ? ', locked'
                : ''}{item.hidden ? ', hidden' : ''}</span
            >
          </button>
          {#if item.hidden}<button class="press small" onclick={() => editor.set('Show', item.id, (d) => void (d.hidden = false))}>Show</button>{/if}
        </li>
      {:else}
        <li class="quiet none">Nothing here.</li>
      {/each}
    </ul>
    {#if items.length > MOST}<p class="quiet">and {items.length - MOST} more: pick them on the board, or find them by name.</p>{/if}
  {/each}
  <button class="press" onclick={addLayer}>Add a layer</button>
</details>

<style>
  details {
    border-top: 1px solid var(--line);
  }
  summary {
    cursor: pointer;
    padding: 0.55rem 0;
    font-weight: 600;
    font-size: 1.05rem;
  }
  .layer {
    display: flex;
    gap: 0.4rem;
    align-items: center;
    padding: 0.3rem 0;
  }
  .layer input,
  .seek {
    flex: 1;
    min-width: 0;
    width: 100%;
    background: none;
    border: 0;
    border-bottom: 1px solid var(--line-strong);
    color: var(--ink);
    padding: 0.25rem;
  }
  .icon {
    padding: 0.35rem;
  }
  .small {
    padding: 0.15rem 0.5rem;
    font-size: 0.82rem;
  }
  li {
    display: flex;
    align-items: center;
    gap: 0.4rem;
  }
  .thing {
    flex: 1;
    display: flex;
    justify-content: space-between;
    gap: 0.6rem;
    text-align: left;
    padding: 0.28rem 0.4rem;
    font-size: 0.9rem;
  }
  .thing .quiet {
    font-size: 0.82rem;
  }
  .picked {
    box-shadow: inset 3px 0 0 var(--accent);
    background: var(--paper);
  }
  .gone {
    text-decoration: line-through;
  }
  .none {
    padding: 0.3rem 0.4rem;
    font-size: 0.88rem;
  }
</style>
