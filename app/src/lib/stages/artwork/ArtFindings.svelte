<script lang="ts">
  /** What the artwork check found: each with its place, and a repair of one press. */
  import { wordsOf, type Finding } from '@kerbe/core/findings';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';

  let { editor, onlook }: { editor: ArtEditor; onlook: (at: readonly [number, number]) => void } = $props();
  const RANK = { error: 0, warning: 1, note: 2 };
  const WORD = { error: 'Forbids cutting', warning: 'Check this', note: 'Note' };
  const MARK = { error: '✕', warning: '▲', note: '·' };
  const MOST = 30;
  const found = $derived([...editor.drawing.findings].sort((a, b) => RANK[a.severity] - RANK[b.severity]));
  const open = $derived(found.filter(({ severity }) => severity !== 'note').length);

  function look(f: Finding) {
    editor.shown = editor.shown?.of === f ? null : { what: wordsOf(f, editor.job.units).what, at: f.at, of: f };
    if (f.at) onlook(f.at);
    const ids = f.repair?.items ?? (f.item ? [f.item] : []);
    if (ids.length) editor.select(ids);
  }
</script>

<h2>Artwork check</h2>
{#if found.length === 0}
  <p class="quiet">No problems found: lines are closed, nothing lies double, everything is on the board.</p>
{:else}
  <p class="quiet">{open ? `${open} to look at.` : 'Only notes.'} Each is marked on the drawing; every repair can be undone.</p>
{/if}
{#each found.slice(0, MOST) as f, i (`${f.code} ${f.item ?? ''} ${i}`)}
  {@const words = wordsOf(f, editor.job.units)}
  <div class="finding {f.severity}" class:shown={editor.shown?.of === f}>
    <span class="sign" aria-hidden="true">{MARK[f.severity]}</span>
    <div>
      <strong>{WORD[f.severity]}: {words.what}</strong>
      <p>{words.why} {words.remedy}</p>
      <div class="row">
        {#if f.repair}<button class="press" disabled={editor.busy !== null} onclick={() => editor.repair(f)}>{words.repair}</button>{/if}
        {#if f.at || f.item}<button class="press" aria-pressed={editor.shown?.of === f} onclick={() => look(f)}>Show me</button>{/if}
      </div>
    </div>
  </div>
{/each}
{#if found.length > MOST}<p class="quiet">and {found.length - MOST} more, shown as these are mended.</p>{/if}
<details>
  <summary>What the check goes by</summary>
  <LengthField
    label="Ends are joined across"
    value={editor.job.check.gap}
    unit={editor.job.units}
    min={0.001}
    onchange={(v) => editor.session.edit('Gap to join', (d) => void (d.check.gap = v))}
  />
  <LengthField
    label="Width of a bridge"
    value={editor.job.check.bridgeWidth}
    unit={editor.job.units}
    min={0.1}
    onchange={(v) => editor.session.edit('Width of bridges', (d) => void (d.check.bridgeWidth = v))}
  />
  <NumberField
    label="Bridges to an island"
    value={editor.job.check.bridges}
    min={1}
    max={8}
    onchange={(v) => editor.session.edit('Number of bridges', (d) => void (d.check.bridges = v))}
  />
  <div class="row">
    <button class="press" aria-pressed={editor.hand.tool === 'bridge'} onclick={() => (editor.hand.tool = 'bridge')}>Place a bridge by hand</button>
  </div>
</details>

<style>
  .finding {
    display: flex;
    gap: 0.6rem;
    padding: 0.5rem 0;
    border-top: 1px solid var(--line);
    font-size: 0.88rem;
  }
  .shown {
    box-shadow: inset 3px 0 0 var(--amber);
    padding-left: 0.5rem;
  }
  .sign {
    font-weight: 700;
  }
  .error .sign,
  .error strong {
    color: var(--danger);
  }
  .warning .sign,
  .warning strong {
    color: var(--amber);
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    padding: 0.35rem 0;
  }
  summary {
    cursor: pointer;
    padding: 0.5rem 0;
    font-size: 0.9rem;
    color: var(--quiet);
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
</style>
