<script lang="ts">
  /** What preflight found: told apart by mark and word as well as colour. */
  import { wordsOf, type Finding } from '@kerbe/core/findings';
  import type { LengthUnit } from '@kerbe/core/length';
  import type { Place } from '$lib/art/editor.svelte';

  interface Props {
    findings: readonly Finding[];
    unit: LengthUnit;
    /** Warnings already ticked, by code; leave out to hide the ticks. */
    accepted?: readonly string[];
    onaccept?: (code: string, on: boolean) => void;
    /** Goes to the place of a finding; and carries out the repair it offers. */
    onshow?: (place: Place) => void;
    onrepair?: (found: Finding) => void;
    busy?: boolean;
  }
  let { findings, unit, accepted, onaccept, onshow, onrepair, busy = false }: Props = $props();
  const WORD = { error: 'Forbids cutting', warning: 'Check this', note: 'Note' };
  const MARK = { error: '✕', warning: '▲', note: '·' };
</script>

{#each findings as f, i (i)}
  {@const words = wordsOf(f, unit)}
  <div class="finding {f.severity}">
    <span class="sign" aria-hidden="true">{MARK[f.severity]}</span>
    <div>
      <strong>{WORD[f.severity]}: {words.what}</strong>
      <p>{words.why} {words.remedy}</p>
      {#if (onshow && (f.at || f.cut)) || (onrepair && f.repair)}
        <div class="acts">
          {#if onshow && (f.at || f.cut)}<button class="press" onclick={() => onshow({ what: words.what, at: f.at, cut: f.cut, of: f })}>Show where</button
            >{/if}
          {#if onrepair && f.repair}<button class="press" disabled={busy} onclick={() => onrepair(f)}>{words.repair}</button>{/if}
        </div>
      {/if}
      {#if f.severity === 'warning' && accepted && onaccept}
        <label
          ><input type="checkbox" checked={accepted.includes(f.code)} onchange={(e) => onaccept(f.code, e.currentTarget.checked)} /> I know, and go on with it</label
        >
      {/if}
    </div>
  </div>
{/each}

<style>
  .finding {
    display: flex;
    gap: 0.6rem;
    padding: 0.5rem 0;
    border-top: 1px solid var(--line);
    font-size: 0.88rem;
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
  p {
    margin: 0.1rem 0;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    padding: 0.2rem 0;
  }
  label {
    display: flex;
    gap: 0.4rem;
    align-items: center;
    padding: 0.2rem 0;
  }
</style>
