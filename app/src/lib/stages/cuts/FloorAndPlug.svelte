<script lang="ts">
  /** A V-carve with a floor: the bit that clears it first, and the plug that may go into it. */
  import { bitName } from '@kerbe/core/bits';
  import { bitsFor, namedBy } from '@kerbe/core/cuts';
  import { Cut as CutSchema, type CutOf } from '@kerbe/core/job';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import type { ExtraProps } from './extra';
  import MakeHalf from './MakeHalf.svelte';
  import { CUTS } from '$lib/labels/cuts';

  const { session, editor, cut, view, onopen }: ExtraProps<CutOf<'vcarve'>> = $props();
  const job = $derived(session.job);
  /** What a V-carved plug leaves for glue below it, and for the saw above the surface, mm. */
  const room = $state({ glue: 0.5, saw: 1 });

  function freeId(): string {
    let n = 1;
    while (job.cuts[`clear${n}`]) n++;
    return `clear${n}`;
  }
  /** A straight bit for the floor: a pocket of its own before it. */
  function clearFirst(bit: string) {
    const clearing = Object.values(job.cuts).find((other) => namedBy(other).cuts.includes(cut.id));
    const id = clearing?.id ?? freeId();
    onopen(cut.id);
    session.edit(bit ? CUTS.clearTheFloorFirst : CUTS.theVBitClearsThe, (d) => {
      const draft = d.cuts[cut.id] as typeof cut;
      if (!bit) {
        delete draft.after;
        delete d.cuts[id];
        d.cutOrder = d.cutOrder.filter((other) => other !== id);
        return;
      }
      draft.after = bit;
      if (clearing) {
        d.cuts[id].tool = bit;
        return;
      }
      d.cuts[id] = CutSchema.parse({ kind: 'pocket', id, name: 'Clear the floor', on: cut.on, tool: bit, floorOf: cut.id });
      d.cutOrder.splice(d.cutOrder.indexOf(cut.id), 0, id);
    });
  }
</script>

{#if cut.floorDepth !== undefined}
  <Choice
    label={CUTS.floorClearedFirstBy}
    value={cut.after ?? ''}
    options={[{ value: '', label: CUTS.nothingTheVBitClears }, ...bitsFor('pocket', job.tools).map((b) => ({ value: b.id, label: bitName(b, job.units) }))]}
    onchange={clearFirst}
  />
  {#if !cut.plug}
    <details class="py-0.5 border-t border-surface-200-800">
      <summary class="py-1.5 cursor-pointer text-sm">{CUTS.aPlugToGoInto}</summary>
      <LengthField label={CUTS.glueGapBelowIt} value={room.glue} unit={job.units} min={0} onchange={(v) => (room.glue = v)} />
      <LengthField
        label={CUTS.sawAllowanceAboveIt}
        value={room.saw}
        unit={job.units}
        min={0.1}
        hint={CUTS.thePlugIsCarvedFrom}
        onchange={(v) => (room.saw = v)}
      />
      <MakeHalf {session} {editor} {cut} {view} {onopen} {room} label={CUTS.makeTheJobOfThe} />
    </details>
  {/if}
{/if}
