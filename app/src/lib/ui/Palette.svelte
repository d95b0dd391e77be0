<script lang="ts">
  /** Every command by name, with its keys. */
  import { Command as List, Dialog } from 'bits-ui';
  import { shownKeys, type Command } from './commands';

  let { open = $bindable(false), commands }: { open: boolean; commands: Command[] } = $props();
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="palette-shade" />
    <Dialog.Content class="palette">
      <Dialog.Title class="sr-only">Find or do</Dialog.Title>
      <Dialog.Description class="sr-only">Type to find a command, Enter to do it.</Dialog.Description>
      <List.Root label="Commands">
        <List.Input class="palette-input" placeholder="What do you want to do?" aria-label="Find a command" />
        <List.List class="palette-list">
          <List.Empty class="palette-empty">No command of that name.</List.Empty>
          {#each commands as command (command.id)}
            {@const keys = shownKeys(command)}
            <List.Item
              class="palette-item"
              value={command.label}
              keywords={[...(command.words ?? [])]}
              onSelect={() => {
                open = false;
                command.run();
              }}
              ><span>{command.label}</span>{#if keys}<kbd>{keys}</kbd>{/if}</List.Item
            >
          {/each}
        </List.List>
      </List.Root>
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
