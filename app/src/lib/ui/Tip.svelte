<script lang="ts">
  /** What a thing does and by which key, shown after a moment to whoever points at it or reaches it by Tab. */
  import { Portal, Tooltip } from '@skeletonlabs/skeleton-svelte';
  import type { Snippet } from 'svelte';
  import type { HTMLAttributes } from 'svelte/elements';

  interface Props {
    tip: string;
    keys?: string;
    /** At which side of it, when below something else stands that is pressed next. */
    side?: 'bottom' | 'right';
    /** The thing itself; it takes what it is given. */
    children: Snippet<[HTMLAttributes<HTMLElement>]>;
  }
  let { tip, keys, side = 'bottom', children }: Props = $props();
  let open = $state(false);
</script>

<Tooltip openDelay={500} closeDelay={60} positioning={{ placement: side }} {open} onOpenChange={(details) => (open = details.open)}>
  <Tooltip.Trigger>
    {#snippet element(attributes)}{@render children(attributes as HTMLAttributes<HTMLElement>)}{/snippet}
  </Tooltip.Trigger>
  {#if open}
    <Portal>
      <!-- It never stands in the way of what is below it. -->
      <Tooltip.Positioner class="pointer-events-none! z-50!">
        <Tooltip.Content class="card pointer-events-none max-w-72 preset-filled px-2.5 py-1 text-sm"
          >{tip}{#if keys}
            <kbd class="ml-1.5 kbd">{keys}</kbd>{/if}</Tooltip.Content
        >
      </Tooltip.Positioner>
    </Portal>
  {/if}
</Tooltip>
