<script lang="ts" generics="T extends string">
  /** A choice of a few, by a drop-down. */
  interface Props {
    label: string;
    value: T;
    options: readonly { value: T; label: string }[];
    /** More of them, under a heading of their own. */
    more?: { heading: string; options: readonly { value: T; label: string }[] };
    onchange: (value: T) => void;
  }
  let { label, value, options, more, onchange }: Props = $props();
  const id = $props.id();
</script>

<div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
  <label class="text-sm" for={id}>{label}</label>
  <select {id} class="select" {value} onchange={(event) => onchange(event.currentTarget.value as T)}>
    {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
    {#if more?.options.length}
      <optgroup label={more.heading}>
        {#each more.options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
      </optgroup>
    {/if}
  </select>
</div>
