<script lang="ts" generics="T extends string">
  /** A choice of a few, by a drop-down. */
  interface Props {
    label: string;
    value: T;
    options: readonly { value: T; label: string }[];
    onchange: (value: T) => void;
  }
  let { label, value, options, onchange }: Props = $props();
  const id = $props.id();
</script>

<div class="choice">
  <label for={id}>{label}</label>
  <select {id} {value} onchange={(event) => onchange(event.currentTarget.value as T)}>
    {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
  </select>
</div>

<style>
  .choice {
    display: grid;
    grid-template-columns: 1fr 14.3rem;
    align-items: center;
    gap: 0.6rem;
    padding: 0.22rem 0;
  }
  label {
    font-size: 0.9rem;
  }
  select {
    background: var(--sheet);
    color: var(--ink);
    border: 0;
    border-bottom: 1px solid var(--line-strong);
    padding: 0.32rem 0.2rem;
    width: 100%;
  }
  select:focus-visible {
    outline: 2px solid var(--accent);
  }
</style>
