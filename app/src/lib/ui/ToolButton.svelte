<script lang="ts">
  /** A button whose title says what it does and with which key. */
  import type { Snippet } from 'svelte';

  interface Props {
    /** Name for everybody; it is not shown when the button has words of its own. */
    label: string;
    /** What its title says of it, when the label is too short for that. */
    tip?: string;
    keys?: string;
    pressed?: boolean;
    disabled?: boolean;
    onclick: () => void;
    children: Snippet;
  }
  let { label, tip, keys, pressed, disabled = false, onclick, children }: Props = $props();
</script>

<button
  type="button"
  class="btn min-h-9.5 px-3 text-sm disabled:opacity-35 aria-pressed:preset-filled"
  title="{tip ?? label}{keys ? ` (${keys})` : ''}"
  aria-label={label}
  aria-pressed={pressed}
  {disabled}
  {onclick}
>
  {@render children()}
</button>
