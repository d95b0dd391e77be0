<script lang="ts">
  import { Toast } from '@skeletonlabs/skeleton-svelte';
  import { toaster } from './toasts';
  import { COMMON } from '$lib/labels/common';
</script>

<Toast.Group {toaster}>
  {#snippet children(toast)}
    <Toast {toast} class="card flex max-w-96 items-center gap-3 preset-outlined-surface-300-700 bg-surface-50-950 px-4 py-3">
      <Toast.Message class="grid gap-0.5">
        <Toast.Title class="font-semibold">{toast.title}</Toast.Title>
        {#if toast.description}<Toast.Description class="text-sm">{toast.description}</Toast.Description>{/if}
      </Toast.Message>
      {#if toast.action}<Toast.ActionTrigger class="btn preset-filled-brand">{toast.action.label}</Toast.ActionTrigger>{/if}
      <Toast.CloseTrigger class="btn preset-outlined-surface-300-700" aria-label={COMMON.close}>×</Toast.CloseTrigger>
    </Toast>
  {/snippet}
</Toast.Group>
