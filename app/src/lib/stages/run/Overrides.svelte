<script lang="ts">
  /** Feed, and spindle or power, while it runs, as shares of what was planned. */
  import type { MachineLink } from '$lib/machine.svelte';
  import { RUN } from '$lib/labels/run';

  let { machine, onrefused }: { machine: MachineLink; onrefused: (why: string | null) => void } = $props();
  const now = $derived(machine.now.status?.override ?? { feed: 1, spindle: 1 });
  const status = $derived(machine.now.status);
  /** What is turned up and down beside the feed; the current of a torch is set at its own box. */
  const other = $derived(status?.beam ? 'Power' : status?.arc ? null : 'Spindle');
  const rows = $derived([
    { name: 'Feed', value: now.feed, to: (v: number) => set(v, now.spindle) },
    ...(other ? [{ name: other, value: now.spindle, to: (v: number) => set(now.feed, v) }] : []),
  ]);
  const percent = (share: number) => `${Math.round(100 * share)} %`;
  const clamp = (value: number, least: number, most: number) => Math.min(most, Math.max(least, Math.round(100 * value) / 100));
  const set = async (feed: number, spindle: number) =>
    onrefused(await machine.send({ do: 'override', feed: clamp(feed, 0.1, 2), spindle: clamp(spindle, 0.5, 1.5) }));
</script>

<div class="gap-3.5 grid grid-cols-2 max-[1400px]:gap-1.5 max-[1400px]:grid-cols-1 [@media(max-height:480px)]:grid-cols-2">
  {#each rows as one (one.name)}
    <div
      class="gap-1 grid grid-cols-[1fr_3.5rem_4.6rem_3.5rem] items-center [@media(max-height:480px)]:grid-cols-3"
      role="group"
      aria-label={RUN.now(one.name, percent(one.value))}
    >
      <span class="[@media(max-height:480px)]:col-span-full [@media(max-height:480px)]:text-xs [@media(max-height:480px)]:leading-none">{one.name}</span>
      <button
        class="btn preset-outlined-surface-300-700 py-0 px-1.5 m-0 min-h-14 text-lg whitespace-nowrap [@media(max-height:480px)]:min-h-11"
        aria-label={RUN.less(one.name)}
        onclick={() => one.to(one.value - 0.1)}>−</button
      >
      <button
        class={[
          'btn preset-outlined-surface-300-700 figure py-0 px-1.5 m-0 min-h-14 text-lg whitespace-nowrap [@media(max-height:480px)]:min-h-11',
          one.value !== 1 && 'border-warning-600-400 text-warning-600-400',
        ]}
        aria-label={RUN.asPlanned(one.name)}
        onclick={() => one.to(1)}>{percent(one.value)}</button
      >
      <button
        class="btn preset-outlined-surface-300-700 py-0 px-1.5 m-0 min-h-14 text-lg whitespace-nowrap [@media(max-height:480px)]:min-h-11"
        aria-label={RUN.more(one.name)}
        onclick={() => one.to(one.value + 0.1)}>+</button
      >
    </div>
  {/each}
</div>
