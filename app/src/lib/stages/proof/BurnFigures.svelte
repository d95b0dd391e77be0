<script lang="ts">
  /** What the burn comes to: shares of the sheet by how it looks, the energy of it, and what was asked against it. */
  import { cutName } from '@kerbe/core/cuts';
  import type { Job } from '@kerbe/core/job';
  import type { AsBurned, BurnFigures } from '@kerbe/core/proof';
  import { each } from '$lib/ui/format';
  import { PROOF } from '$lib/labels/proof';
  import { COMMON } from '$lib/labels/common';

  let { figures, asked, job }: { figures: BurnFigures; asked: AsBurned | null; job: Job } = $props();
  const share = (part: number) => (part > 0 && part < 0.0005 ? '< 0.1 %' : `${(100 * part).toFixed(1)} %`);
  const rows = $derived([
    ['Marked at all', figures.marked],
    ['As dark as it gets', figures.full],
    ['Charred', figures.charred],
    ['Cut through', figures.through],
  ] as const);
  const whole = (part: number) => `${Math.round(100 * part)} %`;
</script>

<h2>{PROOF.whatTheBeamLeaves}</h2>
<table class="table tabular-nums [&_td]:text-right">
  <tbody>
    {#each rows as [says, part] (says)}<tr><th class="text-left font-normal">{says}</th><td>{share(part)} of the sheet</td></tr>{/each}
    <tr><th class="text-left font-normal">{PROOF.highestInOnePlace}</th><td>{each(figures.most, 'J', 'area', job.units)}</td></tr>
    <tr
      ><th class="text-left font-normal">{PROOF.totalEnergy}</th><td
        >{figures.joules < 1000 ? `${figures.joules.toFixed(0)} J` : `${(figures.joules / 1000).toFixed(1)} kJ`}</td
      ></tr
    >
  </tbody>
</table>
{#if asked && asked.pictures.length + asked.cuts.length > 0}
  <h3>{PROOF.askedAgainstBurned}</h3>
  <table class="table tabular-nums [&_td]:text-right">
    <tbody>
      {#each asked.pictures as { cut, item, asked: tone, burned, close } (cut + item)}
        <tr>
          <th class="text-left font-normal">{job.items[item]?.name || COMMON.picture}</th>
          <td>{whole(tone)} dark asked, {whole(burned)} burned;<br />{whole(close)} of it as asked</td>
        </tr>
      {/each}
      {#each asked.cuts as { cut, energy } (cut)}
        <tr>
          <th class="text-left font-normal">{job.cuts[cut] ? cutName(job.cuts[cut]) : cut}</th>
          <td>{energy >= 1 ? 'goes through' : `not through: ${whole(energy)} of the energy`}</td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
<p class="text-surface-600-400">How {job.board.material} takes it is from memory: a test card on a piece of the same sheet decides.</p>
