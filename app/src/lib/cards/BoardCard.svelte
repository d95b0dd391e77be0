<script lang="ts">
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { len } from '$lib/ui/format';

  let { session }: { session: JobSession } = $props();
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const board = $derived(job.board);
  const corners = ['Front left', 'Front right', 'Back right', 'Back left'];
  const spread = $derived(board.measured ? Math.max(...board.measured) - Math.min(...board.measured) : null);

  function measure(index: number, mm: number) {
    session.edit('Measured thickness', (d) => {
      d.board.measured ??= [d.board.thickness, d.board.thickness, d.board.thickness, d.board.thickness];
      d.board.measured[index] = mm;
    });
  }
</script>

<h2>The board</h2>
<Choice
  label="Wood or other material"
  value={board.material}
  options={['pine', 'cedar', 'oak', 'walnut', 'birch ply', 'MDF', 'slate board', 'acrylic'].map((m) => ({ value: m, label: m }))}
  onchange={(m) => session.edit('Material', (d) => void (d.board.material = m))}
/>
<LengthField label="Width, left to right" value={board.width} {unit} min={1} onchange={(v) => session.edit('Board width', (d) => void (d.board.width = v))} />
<LengthField label="Depth, front to back" value={board.height} {unit} min={1} onchange={(v) => session.edit('Board depth', (d) => void (d.board.height = v))} />
<LengthField label="Thickness" value={board.thickness} {unit} min={0.5} onchange={(v) => session.edit('Thickness', (d) => void (d.board.thickness = v))} />

<h3>Thickness at the four corners</h3>
{#if board.measured}
  {#each corners as corner, i (corner)}
    <LengthField label={corner} value={board.measured[i]} {unit} min={0.5} onchange={(v) => measure(i, v)} />
  {/each}
  <p class="quiet">
    Spread {len(spread!, unit)}. Zero Z on the highest corner; through cuts reckon with the thickest reading, {len(Math.max(...board.measured), unit)}.
  </p>
  <button class="press" onclick={() => session.edit('No measured thickness', (d) => void delete d.board.measured)}>Forget the readings</button>
{:else}
  <p class="quiet">Four readings with the calliper show whether a shallow carve will fade where the board is low.</p>
  <button class="press" onclick={() => measure(0, board.thickness)}>Enter four readings</button>
{/if}

<h3>How it is held and where zero is</h3>
<Choice
  label="Held down by"
  value={board.holdDown}
  options={[
    { value: 'screws', label: 'screws outside the sign' },
    { value: 'clamps', label: 'clamps' },
    { value: 'tape', label: 'tape and glue (no tabs needed)' },
    { value: 'vacuum', label: 'vacuum' },
  ]}
  onchange={(v) => session.edit('Hold-down', (d) => void (d.board.holdDown = v))}
/>
<Choice
  label="X and Y zero at"
  value={job.datum.corner}
  options={[
    { value: 'lower-left', label: 'front left corner' },
    { value: 'lower-right', label: 'front right corner' },
    { value: 'upper-left', label: 'back left corner' },
    { value: 'upper-right', label: 'back right corner' },
    { value: 'centre', label: 'middle of the board' },
  ]}
  onchange={(v) => session.edit('Datum', (d) => void (d.datum.corner = v))}
/>
<Choice
  label="Z zero on"
  value={job.datum.z}
  options={[
    { value: 'top', label: 'top of the board' },
    { value: 'spoilboard', label: 'the spoilboard' },
  ]}
  onchange={(v) => session.edit('Z datum', (d) => void (d.datum.z = v))}
/>
<p class="quiet">
  {job.datum.z === 'top'
    ? 'From the top, carving depth is true even when the thickness is a guess.'
    : 'From the spoilboard, through cuts leave it hardly marked; the measured thickness must be right.'}
</p>
