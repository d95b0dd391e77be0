<script lang="ts">
  /** A button whose tooltip says what it does and with which key. */
  import type { Snippet } from 'svelte';
  import { Portal, Tooltip } from '@skeletonlabs/skeleton-svelte';

  interface Props {
    /** Name for everybody; it is not shown when the button has words of its own. */
    label: string;
    /** What the tooltip says of it, when the label is too short for that. */
    tip?: string;
    keys?: string;
    pressed?: boolean;
    disabled?: boolean;
    onclick: () => void;
    children: Snippet;
  }
  let { label, tip, keys, pressed, disabled = false, onclick, children }: Props = $props();
</script>

<Tooltip openDelay={400} positioning={{ placement: 'top' }}>
  <Tooltip.Trigger
    class="btn min-h-9.5 px-3 text-sm disabled:opacity-35 aria-pressed:preset-filled"
    aria-label={label}
    aria-pressed={pressed}
    {disabled}
    {onclick}
  >
    {@render children()}
  </Tooltip.Trigger>
  <Portal>
    <Tooltip.Positioner class="z-20!">
      <Tooltip.Content class="flex gap-2.5 preset-filled px-2 py-1 text-xs"
        >{tip ?? label}{#if keys}<kbd>{keys}</kbd>{/if}</Tooltip.Content
      >
    </Tooltip.Positioner>
  </Portal>
</Tooltip>
