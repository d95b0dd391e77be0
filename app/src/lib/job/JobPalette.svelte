<script lang="ts">
  /** The commands of a job, and the sums of the shop: “depth for 12 mm with 60°” is asked where it is needed. */
  import type { Sum } from '@kerbe/core/sums';
  import type { Command } from '$lib/ui/commands';
  import Palette from '$lib/ui/Palette.svelte';
  import { JOB } from '$lib/labels/job';

  let { open = $bindable(false), commands, onsum }: { open: boolean; commands: Command[]; onsum: (id: string) => void } = $props();
  let known = $state.raw<readonly Sum[]>([]);
  // The list itself is there at once: what is typed into it meanwhile is not lost.
  $effect(() => {
    if (open && known.length === 0) void import('@kerbe/core/sums').then(({ SUMS }) => (known = SUMS));
  });
  const sums = $derived(
    known.map(({ id, title, asks, words }): Command => ({
      id: `sum ${id}`,
      label: JOB.sumCalled(title.toLowerCase()),
      words: [asks, ...words],
      run: () => onsum(id),
    })),
  );
</script>

<Palette bind:open commands={[...commands, ...sums]} />
