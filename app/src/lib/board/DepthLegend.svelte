<script lang="ts">
  /** What the colours and lines over the plan mean. */
  import { DEPTH_STEPS, depthColour } from '$lib/board/depth';
  import { len } from '$lib/ui/format';
  import type { LengthUnit } from '@kerbe/core/length';

  let { deepest, unit }: { deepest: number; unit: LengthUnit } = $props();
</script>

<div class="py-1 px-2 gap-2 absolute right-3.5 bottom-3.5 text-xs flex items-center bg-surface-100-900">
  <span>0</span><span class="border border-surface-300-700 flex" aria-hidden="true"
    >{#each { length: DEPTH_STEPS } as _, i (i)}<b class="w-3.5 h-3" style="background: {depthColour(i)}"></b>{/each}</span
  ><span>{len(deepest, unit)} deep</span> <i class="border-t-2 border-surface-600-400 border-dashed w-6.5"></i> travel above the board
  <i class="border-2 border-surface-950-50 w-3 h-3 rounded-full"></i> zero
</div>
