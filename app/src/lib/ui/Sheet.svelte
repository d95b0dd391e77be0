<script lang="ts">
  /** A sheet laid over the board for one decision, closed by Escape or its button. */
  import type { Snippet } from 'svelte';
  import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';

  interface Props {
    title: string;
    wide?: boolean;
    /** What has the keyboard once it is closed; what had it before, when left out. */
    then?: () => HTMLElement | null;
    onclose: () => void;
    children: Snippet;
  }
  let { title, wide = false, then, onclose, children }: Props = $props();
</script>

<Dialog open finalFocusEl={then} onOpenChange={(details) => !details.open && onclose()}>
  <Portal>
    <Dialog.Backdrop class="fixed inset-0 z-30 bg-surface-950/40" />
    <Dialog.Positioner class="fixed inset-0 z-31 flex items-center justify-center">
      <Dialog.Content
        class={[
          'card max-h-[92vh] overflow-y-auto preset-outlined-surface-300-700 bg-surface-50-950 px-5 py-4',
          wide ? 'w-[min(60rem,94vw)]' : 'w-[min(34rem,94vw)]',
        ]}
      >
        <Dialog.Title class="pb-2 text-xl font-semibold">{title}</Dialog.Title>
        {@render children()}
      </Dialog.Content>
    </Dialog.Positioner>
  </Portal>
</Dialog>
