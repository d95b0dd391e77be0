<script lang="ts">
  /** Every command by name, with its keys. */
  import { Command, Dialog } from 'bits-ui';

  export interface Entry {
    id: string;
    label: string;
    keys?: string;
    run: () => void;
  }
  let { open = $bindable(false), entries }: { open: boolean; entries: Entry[] } = $props();
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="palette-shade" />
    <Dialog.Content class="palette">
      <Dialog.Title class="sr-only">Find or do</Dialog.Title>
      <Dialog.Description class="sr-only">Type to find a command, Enter to do it.</Dialog.Description>
      <Command.Root label="Commands">
        <Command.Input class="palette-input" placeholder="What do you want to do?" aria-label="Find a command" />
        <Command.List class="palette-list">
          <Command.Empty class="palette-empty">No command of that name.</Command.Empty>
          {#each entries as entry (entry.id)}
            <Command.Item
              class="palette-item"
              value={entry.label}
              onSelect={() => {
                open = false;
                entry.run();
              }}
              ><span>{entry.label}</span>{#if entry.keys}<kbd>{entry.keys}</kbd>{/if}</Command.Item
            >
          {/each}
        </Command.List>
      </Command.Root>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  :global(.palette-shade) {
    position: fixed;
    inset: 0;
    background: rgb(0 0 0 / 0.35);
    z-index: 40;
  }
  :global(.palette) {
    position: fixed;
    z-index: 41;
    top: 12vh;
    left: 50%;
    transform: translateX(-50%);
    width: min(36rem, 92vw);
    background: var(--sheet);
    color: var(--ink);
    border: 1px solid var(--line-strong);
    padding: 0.5rem;
  }
  :global(.palette-input) {
    width: 100%;
    background: none;
    border: 0;
    border-bottom: 1px solid var(--line-strong);
    padding: 0.6rem;
    font-size: 1.05rem;
    outline: none;
    color: var(--ink);
  }
  :global(.palette-list) {
    max-height: 50vh;
    overflow: auto;
    padding-top: 0.3rem;
  }
  :global(.palette-item) {
    display: flex;
    justify-content: space-between;
    padding: 0.5rem 0.6rem;
    cursor: pointer;
  }
  :global(.palette-item[data-selected]) {
    background: var(--accent);
    color: var(--on-accent);
  }
  :global(.palette-empty) {
    padding: 0.6rem;
    color: var(--quiet);
  }
</style>
