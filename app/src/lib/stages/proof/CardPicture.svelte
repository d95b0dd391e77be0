<script lang="ts">
  /** A test card as it is laid out, its squares to be pressed. */
  import type { Job } from '@kerbe/core/job';
  import { PROOF } from '$lib/labels/proof';

  let { job, best, onchoose }: { job: Job; best: string; onchoose: (cell: string) => void } = $props();
  /** A square and how dark it is drawn: by its power. */
  const cells = $derived(
    (job.trial?.cells ?? []).map(({ label, cut, x, y }, k) => {
      const { on, ...rest } = job.cuts[cut] ?? {};
      const item = Array.isArray(on) ? job.items[on[0]] : undefined;
      const size = item?.kind === 'rectangle' ? item.width : 8;
      const { power = 50, feed } = rest as { power?: number; feed?: number };
      return { k: String(k), label, x, y, size, dark: Math.min(1, (power / 100) * Math.sqrt(3000 / (feed ?? 3000))) };
    }),
  );
  /** Arrow keys go from square to square, as in any group of choices. */
  function steps(event: KeyboardEvent, k: number) {
    const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    onchoose(String((k + by + cells.length) % cells.length));
  }
  const texts = $derived(Object.values(job.items).flatMap((item) => (item.kind === 'text' ? [item] : [])));
</script>

<svg
  viewBox="0 0 {job.board.width} {job.board.height}"
  class="max-h-72 w-full border border-surface-300-700 bg-tertiary-100-900"
  role="radiogroup"
  aria-label={PROOF.squaresOfTheCard}
>
  <g transform="matrix(1 0 0 -1 0 {job.board.height})">
    {#each cells as { k, label, x, y, size, dark } (k)}
      <rect
        x={x - size / 2}
        y={y - size / 2}
        width={size}
        height={size}
        fill-opacity={0.15 + 0.85 * dark}
        class={['cursor-pointer fill-surface-950-50', k === best && 'stroke-primary-600-400 stroke-2']}
        role="radio"
        tabindex={k === best ? 0 : -1}
        aria-checked={k === best}
        aria-label={label}
        onclick={() => onchoose(k)}
        onkeydown={(event) => steps(event, Number(k))}
      />
    {/each}
  </g>
  {#each texts as { id, text, x, y, capHeight } (id)}
    <text {x} y={job.board.height - y} font-size={capHeight * 1.4} class="fill-surface-950-50" aria-hidden="true">{text}</text>
  {/each}
</svg>
