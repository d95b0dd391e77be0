<script lang="ts">
  /** A sheet laid over the board for one decision, closed by Escape or its button. */
  import type { Snippet } from 'svelte';
  import { Dialog } from 'bits-ui';

  interface Props {
    title: string;
    wide?: boolean;
    onclose: () => void;
    children: Snippet;
  }
  let { title, wide = false, onclose, children }: Props = $props();
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="sheet-shade" />
    <Dialog.Content class={wide ? 'sheet sheet-wide' : 'sheet'} onOpenAutoFocus={(e) => e.preventDefault()}>
      <Dialog.Title class="sheet-title">{title}</Dialog.Title>
      {@render children()}
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  :global(.sheet-shade) {
    position: fixed;
    inset: 0;
    background: rgb(0 0 0 / 0.35);
    z-index: 30;
  }
  :global(.sheet) {
    position: fixed;
    z-index: 31;
    top: 50%;
    left: 50%;
    transform: translate(-50%, -50%);
    width: min(34rem, 94vw);
    max-height: 92vh;
    overflow-y: auto;
    background: var(--sheet);
    color: var(--ink);
    border: 1px solid var(--line-strong);
    padding: 1.1rem 1.3rem;
  }
  :global(.sheet-wide) {
    width: min(60rem, 94vw);
  }
  :global(.sheet-title) {
    font-size: 1.2rem;
    font-weight: 600;
    padding-bottom: 0.5rem;
  }
</style>
