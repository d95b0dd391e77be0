<script lang="ts">
  /** What a thing does and by which key, shown after a moment to whoever points at it or reaches it by Tab. */
  import { Portal, Tooltip } from '@skeletonlabs/skeleton-svelte';
  import type { Snippet } from 'svelte';
  import type { HTMLAttributes } from 'svelte/elements';

  interface Props {
    tip: string;
    keys?: string;
    /** The thing itself; it takes what it is given. */
    children: Snippet<[HTMLAttributes<HTMLElement>]>;
  }
  let { tip, keys, children }: Props = $props();
  let open = $state(false);
</script>

<Tooltip openDelay={350} closeDelay={60} {open} onOpenChange={(details) => (open = details.open)}>
  <Tooltip.Trigger>
    {#snippet element(attributes)}{@render children(attributes as HTMLAttributes<HTMLElement>)}{/snippet}
  </Tooltip.Trigger>
  {#if open}
    <Portal>
      <Tooltip.Positioner class="z-50!">
        <Tooltip.Content class="card max-w-72 preset-filled px-2.5 py-1 text-sm"
          >{tip}{#if keys}
            <kbd class="ml-1.5 kbd">{keys}</kbd>{/if}</Tooltip.Content
        >
      </Tooltip.Positioner>
    </Portal>
  {/if}
</Tooltip>
