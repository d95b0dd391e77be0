<script lang="ts">
  /** In what order a cut goes from piece to piece; by hand, its things as a list to pull about. */
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import type { Cut } from '@kerbe/core/job';
  import { worksOn } from '@kerbe/core/job/target';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { nameOf } from '$lib/art/fields';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  let { session, editor, cut }: { session: JobSession; editor: ArtEditor; cut: Cut } = $props();
  const job = $derived(session.job);
  const things = $derived.by(() => {
    const all = job.itemOrder.filter((id) => worksOn(job, cut, job.items[id]));
    const at = (id: string) => (cut.sequence.includes(id) ? cut.sequence.indexOf(id) : Infinity);
    return all.sort((a, b) => at(a) - at(b) || 0);
  });
  let dragged = $state.raw<{ id: string }[] | null>(null);
  const rows = $derived(dragged ?? things.map((id) => ({ id })));
  const put = (sequence: string[]) => session.edit(CUTS.orderOfPieces, (d) => void (d.cuts[cut.id].sequence = sequence));
</script>

<Choice
  label={CUTS.fromPieceToPiece}
  value={cut.order}
  options={[
    { value: 'shortest', label: CUTS.theShortestWay },
    { value: 'across', label: COMMON.leftToRight },
    { value: 'rows', label: CUTS.rowByRow },
    { value: 'inside-out', label: CUTS.insideOut },
    { value: 'drawn', label: CUTS.asDrawn },
    { value: 'hand', label: COMMON.byHand },
  ]}
  onchange={(order) =>
    session.edit(CUTS.orderOfPieces, (d) => {
      d.cuts[cut.id].order = order;
      if (order === 'hand' && cut.sequence.length === 0) d.cuts[cut.id].sequence = things;
    })}
/>
{#if cut.order === 'hand'}
  <ol
    aria-label={CUTS.orderByHand}
    use:dragHandleZone={{ items: rows, flipDurationMs: 120, dropTargetStyle: {}, type: `pieces of ${cut.id}` }}
    onconsider={(e) => (dragged = e.detail.items as { id: string }[])}
    onfinalize={(e) => {
      dragged = null;
      put((e.detail.items as { id: string }[]).map(({ id }) => id));
    }}
  >
    {#each rows as { id }, k (id)}
      <li class="flex items-center gap-2.5 py-0.5 bg-surface-50-950">
        <span
          class="figure grid h-6 w-6 flex-none place-items-center rounded border border-surface-300-700 text-sm"
          use:dragHandle
          aria-label={CUTS.pieceToDrag(k + 1)}>{k + 1}</span
        >
        <button class="flex-1 text-left text-sm" onclick={() => editor.select([id])}>{nameOf(job.items[id])}</button>
      </li>
    {/each}
  </ol>
{/if}
