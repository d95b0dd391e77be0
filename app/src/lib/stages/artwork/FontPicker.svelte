<script lang="ts">
  /** Every face drawn in its own letters with the words of the sign. The arrow keys try one after the other on the board; Escape goes back. */
  import { untrack } from 'svelte';
  import Star from '@lucide/svelte/icons/star';
  import { FACES, SINGLE_LINE } from '@kerbe/core/artwork/faces';
  import type { Item } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { prefs } from '$lib/ui/prefs.svelte';
  import { ARTWORK } from '$lib/labels/artwork';

  type Text = Extract<Item, { kind: 'text' }>;
  interface Props {
    editor: ArtEditor;
    item: Text;
    /** Faces the shop brought itself. */
    own: readonly { id: string; name: string }[];
  }
  let { editor, item, own }: Props = $props();
  const STYLES = { serif: 'serif', slab: 'slab', script: 'script', condensed: 'condensed', sans: 'sans', stencil: 'stencil, no islands' };
  const all = $derived([
    ...FACES.map(({ id, name, style }) => ({ id, name, says: STYLES[style] })),
    { id: SINGLE_LINE, name: 'Single line', says: 'for engraving' },
    ...own.map(({ id, name }) => ({ id, name, says: 'your own' })),
  ]);
  const nameOf = (id: string) => all.find((face) => face.id === id)?.name ?? id;

  let open = $state(false);
  let find = $state('');
  /** The face it began with, and the one step all tries of an opening are. */
  let before = $state('');
  let step = '';
  let drawn = $state.raw<Record<string, { d: string; box: { minX: number; minY: number; maxX: number; maxY: number } }>>({});
  const sample = $derived(item.text.split('\n')[0].trim().slice(0, 22) || 'Sign');
  /** What is liked first, then what was used last, then the rest as they are listed. */
  const shown = $derived.by(() => {
    const wanted = find.trim().toLowerCase();
    const rank = (id: string) => (prefs.likedFaces.includes(id) ? 0 : prefs.lastFaces.includes(id) ? 1 : 2);
    const last = (id: string) => prefs.lastFaces.indexOf(id);
    return all
      .filter(({ name, says }) => wanted === '' || `${name} ${says}`.toLowerCase().includes(wanted))
      .sort((a, b) => rank(a.id) - rank(b.id) || (rank(a.id) === 1 ? last(a.id) - last(b.id) : 0));
  });

  // Face by face, those in sight first: the board is drawn in between.
  $effect(() => {
    if (!open) return;
    const text = sample;
    let wanted = true;
    void (async () => {
      for (const { id } of untrack(() => shown)) {
        // Its name alone will do when the server is away; the card says that it is.
        const [face] = await editor.inFaces(text, [id]).catch(() => []);
        if (!wanted) return;
        if (face) drawn = { ...drawn, [id]: face };
      }
    })();
    return () => (wanted = false);
  });

  function unfold() {
    open = !open;
    if (!open) return;
    before = item.face;
    step = `face ${item.id} ${crypto.randomUUID()}`;
  }
  const tryOn = (face: string) => editor.session.edit(ARTWORK.font, (d) => void ((d.items[item.id] as Text).face = face), step, Infinity);
  function take() {
    prefs.useFace(item.face);
    open = false;
  }
  function back() {
    if (item.face !== before) editor.session.undo();
    open = false;
  }
  function key(event: KeyboardEvent) {
    const at = shown.findIndex(({ id }) => id === item.face);
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: shown.length - 1 }[event.key];
    if (event.key === 'Enter') take();
    else if (event.key === 'Escape') back();
    else if (to !== undefined && shown.length > 0) {
      const next = shown[Math.max(0, Math.min(shown.length - 1, to))];
      tryOn(next.id);
      document.getElementById(`face-${next.id}`)?.scrollIntoView({ block: 'nearest' });
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

{#snippet letters(id: string)}
  {@const face = drawn[id]}
  {#if face && face.box.maxX > face.box.minX}
    {@const { minX, minY, maxX, maxY } = face.box}
    <svg class="h-7 max-w-full" viewBox="{minX} {-maxY} {maxX - minX} {maxY - minY}" preserveAspectRatio="xMinYMid meet" aria-hidden="true">
      <path
        d={face.d}
        transform="scale(1 -1)"
        class={id === SINGLE_LINE ? 'fill-none stroke-surface-950-50 stroke-1' : 'fill-surface-950-50'}
        fill-rule="nonzero"
      />
    </svg>
  {:else}<span class="h-7">{sample}</span>{/if}
{/snippet}

<div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
  <span class="text-sm" id="font-of-{item.id}">Font</span>
  <button
    class="btn justify-between preset-outlined-surface-300-700"
    aria-expanded={open}
    aria-labelledby="font-of-{item.id} font-name-{item.id}"
    onclick={unfold}><span id="font-name-{item.id}">{nameOf(item.face)}</span> <span aria-hidden="true">{open ? '▴' : '▾'}</span></button
  >
</div>
{#if open}
  <!-- svelte-ignore a11y_no_static_element_interactions -->
  <div class="mb-2 border border-surface-300-700" onkeydown={key}>
    <input
      class="input rounded-none"
      type="search"
      bind:value={find}
      placeholder={ARTWORK.findAFontNameScript}
      aria-label={ARTWORK.findAFont}
      role="combobox"
      aria-expanded="true"
      aria-controls="fonts-of-{item.id}"
      aria-activedescendant="face-{item.face}"
      {@attach (field: HTMLInputElement) => field.focus()}
    />
    <ul class="max-h-72 overflow-y-auto" role="listbox" id="fonts-of-{item.id}" aria-label={ARTWORK.fonts}>
      {#each shown as { id, name, says } (id)}
        <li class={['flex items-center', id === item.face && 'bg-surface-100-900']} id="face-{id}" role="option" aria-selected={id === item.face}>
          <button class="min-w-0 flex-1 px-2.5 py-1.5 text-left" tabindex="-1" onclick={() => tryOn(id)} ondblclick={take}>
            {@render letters(id)}
            <small class="block text-surface-600-400">{name}, {says}</small>
          </button>
          <button
            class="p-2.5"
            tabindex="-1"
            aria-pressed={prefs.likedFaces.includes(id)}
            aria-label={ARTWORK.keepAtTheTop(name)}
            onclick={() => prefs.likeFace(id)}
            ><Star size={16} class={prefs.likedFaces.includes(id) ? 'fill-primary-600-400 text-primary-600-400' : ''} /></button
          >
        </li>
      {:else}
        <li class="px-2.5 py-2 text-surface-600-400">No font is called that.</li>
      {/each}
    </ul>
    <p class="flex gap-2 border-t border-surface-200-800 p-2">
      <button class="btn preset-outlined-surface-300-700" onclick={take}>{ARTWORK.takeFont(nameOf(item.face))}</button>
      <button class="btn preset-outlined-surface-300-700" onclick={back}>{ARTWORK.backTo(nameOf(before))}</button>
    </p>
  </div>
{/if}
