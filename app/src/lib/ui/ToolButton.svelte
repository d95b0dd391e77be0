<script lang="ts">
  /** A button that says what it does and with which key. */
  import type { Snippet } from 'svelte';
  import Tip from './Tip.svelte';

  interface Props {
    /** Name for everybody; it is not shown when the button has words of its own. */
    label: string;
    /** What is said of it, when the label is too short for that. */
    tip?: string;
    keys?: string;
    pressed?: boolean;
    disabled?: boolean;
    onclick: () => void;
    children: Snippet;
  }
  let { label, tip, keys, pressed, disabled = false, onclick, children: face }: Props = $props();
</script>

<Tip tip={tip ?? label} {keys}>
  {#snippet children(attributes)}
    <button
      {...attributes}
      type="button"
      class="btn min-h-9.5 px-3 text-sm disabled:opacity-35 aria-pressed:preset-filled"
      aria-label={label}
      aria-pressed={pressed}
      {disabled}
      {onclick}
    >
      {@render face()}
    </button>
  {/snippet}
</Tip>
