<script lang="ts" generics="T extends string">
  /** One of a few, all in sight: Skeleton's segmented control. */
  import { SegmentedControl } from '@skeletonlabs/skeleton-svelte';

  interface Props {
    label: string;
    value: T | null;
    options: readonly { value: T; label: string }[];
    onchange: (value: T) => void;
    class?: string;
  }
  let { label, value, options, onchange, class: place = '' }: Props = $props();
</script>

<SegmentedControl class={['w-fit', place]} aria-label={label} {value} onValueChange={(details) => details.value !== null && onchange(details.value as T)}>
  <SegmentedControl.Control class="flex w-fit gap-0 rounded-base preset-outlined-surface-300-700 bg-surface-50-950 p-0">
    {#each options as option (option.value)}
      <SegmentedControl.Item
        value={option.value}
        class="relative btn cursor-pointer rounded-none px-3.5 whitespace-nowrap data-[focus-visible]:outline-2 data-[state=checked]:preset-filled data-[state=checked]:hover:brightness-100"
      >
        <SegmentedControl.ItemText>{option.label}</SegmentedControl.ItemText>
        <SegmentedControl.ItemHiddenInput />
      </SegmentedControl.Item>
    {/each}
  </SegmentedControl.Control>
</SegmentedControl>
