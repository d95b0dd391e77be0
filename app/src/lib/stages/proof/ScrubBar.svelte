<script lang="ts">
  /** The job along its time: pull to any second, go from cut to cut, or let it run. */
  import { cutName } from '@kerbe/core/cuts';
  import { bitName } from '@kerbe/core/bits';
  import Play from '@lucide/svelte/icons/play';
  import Pause from '@lucide/svelte/icons/pause';
  import Back from '@lucide/svelte/icons/skip-back';
  import On from '@lucide/svelte/icons/skip-forward';
  import type { JobSession } from '$lib/job/session.svelte';
  import { duration } from '$lib/ui/format';
  import { onDestroy } from 'svelte';
  import type { ProofDesk } from './desk.svelte';
  import { PROOF } from '$lib/labels/proof';

  let { session, desk }: { session: JobSession; desk: ProofDesk } = $props();
  /** The whole job passes in about so many seconds. */
  const SHOW = 24;
  const STEP = 120;

  const plan = $derived(session.plan!);
  const total = $derived(plan.time.atMachine);
  const now = $derived(desk.time ?? total);
  const cutStarts = $derived(plan.stretches.filter(({ kind }) => kind === 'cut'));
  const stretch = $derived(plan.stretches.find(({ end }) => now < end) ?? plan.stretches.at(-1));
  const doing = $derived.by(() => {
    if (desk.time === null || !stretch) return 'done';
    const cut = plan.cuts[stretch.cut];
    const name = session.job.cuts[cut.id] ? cutName(session.job.cuts[cut.id]) : cut.id;
    if (stretch.kind === 'change') return `changing to ${bitName(cut.bit, session.job.units)}`;
    return stretch.kind === 'spindle' ? 'spindle coming to speed' : `${stretch.cut + 1}. ${name}`;
  });
  let timer = $state<ReturnType<typeof setInterval> | null>(null);
  function stop() {
    if (timer) clearInterval(timer);
    timer = null;
  }
  function play() {
    if (timer) return stop();
    if (desk.time === null) void desk.scrub(0);
    timer = setInterval(() => {
      const next = (desk.time ?? 0) + (total * STEP) / (SHOW * 1000);
      if (next >= total) {
        stop();
        void desk.scrub(null);
      } else void desk.scrub(next);
    }, STEP);
  }
  function jump(by: 1 | -1) {
    stop();
    const edges = [0, ...cutStarts.map(({ end }) => end)];
    const next = by > 0 ? edges.find((edge) => edge > now + 1e-6) : edges.findLast((edge) => edge < now - 1e-6);
    void desk.scrub(next === undefined || next >= total - 1e-6 ? (by > 0 ? null : 0) : next);
  }
  onDestroy(stop);
</script>

<div
  class="py-1.5 px-3.5 gap-1.5 border-t border-surface-200-800 grid grid-cols-[auto_auto_auto_minmax(6rem,1fr)_5.6rem_minmax(0,11rem)] items-center bg-surface-50-950 text-sm"
>
  <button class="p-1.5 min-w-8.5" aria-label={PROOF.backToTheCutBefore} onclick={() => jump(-1)}><Back size={18} /></button>
  <button class="p-1.5 min-w-8.5" aria-label={timer ? PROOF.pause : PROOF.showTheJobRun} onclick={play}
    >{#if timer}<Pause size={18} />{:else}<Play size={18} />{/if}</button
  >
  <button class="p-1.5 min-w-8.5" aria-label={PROOF.skipToTheEndOf} onclick={() => jump(1)}><On size={18} /></button>
  <div class="relative pb-1.5">
    <input
      class="input w-full"
      type="range"
      aria-label={PROOF.timeInTheJob}
      aria-valuetext="{duration(now)} of {duration(total)}, {doing}"
      min="0"
      max={total}
      step={Math.max(0.05, total / 2000)}
      value={now}
      oninput={(event) => {
        stop();
        const t = Number(event.currentTarget.value);
        void desk.scrub(t >= total - total / 4000 ? null : t);
      }}
    />
    <div class="absolute left-2 right-2 bottom-0 h-1" aria-hidden="true">
      {#each cutStarts as one (one.cut)}<i
          class="border-l-2 border-surface-50-950 absolute h-1 bg-surface-600-400"
          style="left: {(100 * one.start) / total}%; width: {(100 * (one.end - one.start)) / total}%"
        ></i>{/each}
    </div>
  </div>
  <span class="figure text-right tabular-nums">{duration(now)}</span>
  <span class="truncate text-surface-600-400">{doing}</span>
</div>
