<script module lang="ts">
  /** A line over the board, mm. */
  export interface Line {
    from: [number, number];
    to: [number, number];
  }
</script>

<script lang="ts">
  /** The board from above with the line a section is taken along: pull its ends, or move them with the arrow keys. */
  import type { Job } from '@kerbe/core/job';
  import type { PlanView } from '$lib/job/planner';
  import { DRAWING } from '$lib/labels/drawing';

  let { job, plan, line, online }: { job: Job; plan: PlanView; line: Line; online: (line: Line) => void } = $props();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state<SVGSVGElement>();
  let pulled = $state<'from' | 'to' | null>(null);
  const NUDGE = 1;

  $effect(() => {
    const { width, height, data } = plan.thumbnail;
    const context = canvas?.getContext('2d');
    if (!canvas || !context) return;
    canvas.width = width;
    canvas.height = height;
    const image = context.createImageData(width, height);
    image.data.set(data);
    context.putImageData(image, 0, 0);
  });
  const within = (x: number, y: number): [number, number] => [Math.min(job.board.width, Math.max(0, x)), Math.min(job.board.height, Math.max(0, y))];
  function pull(event: PointerEvent) {
    if (!pulled || !box) return;
    const area = box.getBoundingClientRect();
    const at = within(((event.clientX - area.left) / area.width) * job.board.width, (1 - (event.clientY - area.top) / area.height) * job.board.height);
    online({ ...line, [pulled]: at });
  }
  function nudge(end: 'from' | 'to', event: KeyboardEvent) {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    online({ ...line, [end]: within(line[end][0] + by[0] * NUDGE, line[end][1] + by[1] * NUDGE) });
  }
</script>

<div
  class="plan border border-surface-300-700 relative self-center w-[min(44%,26rem)] max-h-[30%] mb-3.5"
  style="aspect-ratio: {job.board.width} / {job.board.height}"
>
  <canvas class="inset-0 absolute w-full h-full" bind:this={canvas} aria-hidden="true"></canvas>
  <svg
    class="inset-0 overflow-visible absolute w-full h-full touch-none"
    bind:this={box}
    viewBox="0 0 {job.board.width} {job.board.height}"
    role="group"
    aria-label={DRAWING.lineOfTheSection}
    onpointermove={pull}
    onpointerup={() => (pulled = null)}
    onpointercancel={() => (pulled = null)}
  >
    <line
      class="stroke-primary-600-400 stroke-[2px] [vector-effect:non-scaling-stroke]"
      x1={line.from[0]}
      y1={job.board.height - line.from[1]}
      x2={line.to[0]}
      y2={job.board.height - line.to[1]}
    />
    {#each ['from', 'to'] as const as end (end)}
      <circle
        class="fill-surface-50-950 stroke-primary-600-400 stroke-[2px] [vector-effect:non-scaling-stroke] cursor-grab"
        cx={line[end][0]}
        cy={job.board.height - line[end][1]}
        r={Math.max(job.board.width, job.board.height) * 0.018}
        tabindex="0"
        role="button"
        aria-label={end === 'from' ? DRAWING.startOfTheLine : DRAWING.endOfTheLine}
        onpointerdown={(event) => {
          pulled = end;
          box?.setPointerCapture(event.pointerId);
        }}
        onkeydown={(event) => nudge(end, event)}
      />
    {/each}
  </svg>
</div>
