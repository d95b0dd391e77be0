<script lang="ts">
  /** What the colours and lines over the plan mean. */
  import { DEPTH_STEPS, depthColour } from '$lib/board/depth';
  import { len } from '$lib/ui/format';
  import type { LengthUnit } from '@kerbe/core/length';

  let { deepest, unit }: { deepest: number; unit: LengthUnit } = $props();
</script>

<div class="legend quiet">
  <span>0</span><span class="ramp" aria-hidden="true"
    >{#each { length: DEPTH_STEPS } as _, i (i)}<b style="background: {depthColour(i)}"></b>{/each}</span
  ><span>{len(deepest, unit)} deep</span> <i class="travel"></i> travel above the board <i class="datum"></i> zero
</div>

<style>
  .legend {
    position: absolute;
    right: 0.8rem;
    bottom: 0.8rem;
    font-size: 0.82rem;
    display: flex;
    gap: 0.5rem;
    align-items: center;
    background: var(--bed);
    padding: 0.2rem 0.5rem;
  }
  .legend i {
    width: 1.6rem;
    border-top: 2px solid var(--accent);
  }
  .ramp {
    display: flex;
    border: 1px solid var(--line-strong);
  }
  .ramp b {
    width: 0.8rem;
    height: 0.7rem;
  }
  .legend .travel {
    border-top: 2px dashed var(--quiet);
  }
  .legend .datum {
    width: 0.7rem;
    height: 0.7rem;
    border: 2px solid var(--ink);
    border-radius: 50%;
  }
</style>
