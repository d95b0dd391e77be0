<script lang="ts">
  /** Every command by name, with its keys. */
  import { Command as List, Dialog } from 'bits-ui';
  import { shownKeys, type Command } from './commands';
  import { COMMON } from '$lib/labels/common';

  let { open = $bindable(false), commands }: { open: boolean; commands: Command[] } = $props();
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-surface-950/40" />
    <Dialog.Content class="card fixed top-[12vh] left-1/2 z-41 w-[min(36rem,92vw)] -translate-x-1/2 preset-outlined-surface-300-700 bg-surface-50-950 p-2">
      <Dialog.Title class="sr-only">{COMMON.searchCommands}</Dialog.Title>
      <Dialog.Description class="sr-only">Type to find a command, Enter to do it.</Dialog.Description>
      <List.Root label={COMMON.commands}>
        <List.Input
          class="input border-b border-surface-300-700 text-lg shadow-none outline-none"
          placeholder={COMMON.whatDoYouWantTo}
          aria-label={COMMON.findACommand}
        />
        <List.List class="max-h-[50vh] overflow-auto pt-1">
          <List.Empty class="p-2.5 text-surface-600-400">No command of that name.</List.Empty>
          {#each commands as command (command.id)}
            {@const keys = shownKeys(command)}
            <List.Item
              class="flex cursor-pointer justify-between px-2.5 py-2 data-[selected]:preset-filled-brand"
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
