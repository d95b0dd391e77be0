<script lang="ts">
  /** What preflight found: told apart by mark and word as well as colour. */
  import { SEVERITY } from './severity';
  import { wordsOf, type Finding } from '@kerbe/core/findings';
  import type { LengthUnit } from '@kerbe/core/length';
  import type { Place } from '$lib/art/editor.svelte';
  import { JOB } from '$lib/labels/job';

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
</script>

{#each findings as f, i (i)}
  {@const words = wordsOf(f, unit)}
  <div class="finding py-2 gap-2.5 border-t border-surface-200-800 flex text-sm">
    <span class={['font-bold', SEVERITY[f.severity].tone]} aria-hidden="true">{SEVERITY[f.severity].mark}</span>
    <div>
      <strong class={SEVERITY[f.severity].tone}>{SEVERITY[f.severity].word}: {words.what}</strong>
      <p class="my-0.5">{words.why} {words.remedy}</p>
      {#if (onshow && (f.at || f.cut)) || (onrepair && f.repair)}
        <div class="py-1 gap-1.5 flex flex-wrap">
          {#if onshow && (f.at || f.cut)}<button
              class="btn preset-outlined-surface-300-700"
              onclick={() => onshow({ what: words.what, at: f.at, cut: f.cut, of: f })}>{JOB.showWhere}</button
            >{/if}
          {#if onrepair && f.repair}<button class="btn preset-outlined-surface-300-700" disabled={busy} onclick={() => onrepair(f)}>{words.repair}</button>{/if}
        </div>
      {/if}
      {#if f.severity === 'warning' && accepted && onaccept}
        <label class="py-1 gap-1.5 flex items-center"
          ><input class="checkbox" type="checkbox" checked={accepted.includes(f.code)} onchange={(e) => onaccept(f.code, e.currentTarget.checked)} />
          {JOB.acceptAndGoOn}</label
        >
      {/if}
    </div>
  </div>
{/each}
