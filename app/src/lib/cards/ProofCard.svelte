<script lang="ts">
  import type { JobSession } from '$lib/job/session.svelte';
  import Findings from './Findings.svelte';
  import { duration, len } from '$lib/ui/format';

  let { session, onview }: { session: JobSession; onview: (view: 'plan' | 'carved' | 'section') => void } = $props();
  const job = $derived(session.job);
  const plan = $derived(session.plan);
  const changes = $derived(plan ? Math.max(0, new Set(plan.cuts.map(({ bit }) => bit.id)).size - 1) : 0);
</script>

<h2>What it will be</h2>
{#if plan}
  <p class="big figure">{duration(plan.seconds)}</p>
  <table>
    <thead><tr><th>Cut</th><th>Deepest</th><th>Lifts</th><th>Time</th></tr></thead>
    <tbody>
      {#each plan.cuts as cut, i (cut.id)}
        <tr
          ><td>{i + 1}. {job.cuts[cut.id]?.name || cut.bit.name}</td><td>{len(cut.facts.deepest, job.units)}</td><td>{cut.lifts}</td><td
            >{duration(cut.seconds)}</td
          ></tr
        >
      {/each}
      <tr><td>Spindle and bit changes</td><td></td><td></td><td>{duration(plan.seconds - plan.cuts.reduce((s, c) => s + c.seconds, 0))}</td></tr>
    </tbody>
  </table>
  <p class="quiet">
    Time is planned with this machine's speed and acceleration{changes ? `, and ${duration(changes * job.machine.bitChangeSeconds)} for changing bits` : ''}.
    The picture is the exact removal on {plan.map.cell.toFixed(2)} mm cells.
  </p>
  <div class="row">
    <button class="press" onclick={() => onview('carved')}>Look at the carved board</button>
    <button class="press" onclick={() => onview('section')}>Look at a section</button>
  </div>
  <h2>Found</h2>
  {#if plan.findings.length === 0}
    <p>Nothing stands against cutting this board.</p>
  {:else}
    <Findings findings={plan.findings} />
  {/if}
{:else}
  <p class="quiet">The proof appears as soon as the cuts are planned.</p>
{/if}

<style>
  .big {
    font-size: 2.4rem;
    line-height: 1.2;
  }
  table {
    width: 100%;
    font-size: 0.88rem;
    font-variant-numeric: tabular-nums;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--quiet);
  }
  td,
  th {
    padding: 0.25rem 0.4rem 0.25rem 0;
    border-bottom: 1px solid var(--line);
  }
  td:not(:first-child),
  th:not(:first-child) {
    text-align: right;
  }
  .row {
    display: flex;
    gap: 0.4rem;
    padding: 0.6rem 0;
    flex-wrap: wrap;
  }
</style>
