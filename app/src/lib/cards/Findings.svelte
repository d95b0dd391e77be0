<script lang="ts">
  /** What preflight found: told apart by mark and word as well as colour. */
  import type { Finding } from '@kerbe/core/preflight';

  interface Props {
    findings: readonly Finding[];
    /** Warnings already ticked, by code; leave out to hide the ticks. */
    accepted?: readonly string[];
    onaccept?: (code: string, on: boolean) => void;
  }
  let { findings, accepted, onaccept }: Props = $props();
  const WORD = { error: 'Forbids cutting', warning: 'Needs you', note: 'Note' };
  const MARK = { error: '✕', warning: '▲', note: '·' };
</script>

{#each findings as f, i (i)}
  <div class="finding {f.severity}">
    <span class="sign" aria-hidden="true">{MARK[f.severity]}</span>
    <div>
      <strong>{WORD[f.severity]}: {f.what}</strong>
      <p>{f.why} {f.remedy}</p>
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
  label {
    display: flex;
    gap: 0.4rem;
    align-items: center;
    padding: 0.2rem 0;
  }
</style>
