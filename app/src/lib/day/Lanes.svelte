<script lang="ts">
  /** A day on each machine: boards along the hours. One is pulled to another time, or moved by the arrow keys. */
  import type { Slot } from '@kerbe/core/day';
  import { clock, span, type DayView } from './view';
  import { DAY } from '$lib/labels/day';

  interface Props {
    day: DayView;
    /** Which of the days is shown, from today. */
    at: number;
    mayWrite: boolean;
    /** A board is put at a minute; null lets it go where it fits. */
    onput: (task: string, minute: number | null) => void;
  }
  let { day, at, mayWrite, onput }: Props = $props();
  const MINUTES = 1440;
  const STEP = 15;
  const from = $derived(at * MINUTES);
  const shown = $derived(day.slots.filter((slot) => slot.to > from && slot.from < from + MINUTES));
  const open = $derived(day.open.filter((one) => one.from >= from && one.from < from + MINUTES));
  const running = $derived(at === 0 ? day.machines.flatMap(({ now }) => (now ? [now] : [])) : []);
  /** The hours that are shown, whole ones. */
  const begins = $derived(
    Math.floor(Math.min(...open.map((one) => one.from), ...shown.map((slot) => slot.from), ...running.map((run) => run.from), from + 8 * 60) / 60) * 60,
  );
  /** An hour past the last board, four hours at the least: short boards are still to be read. */
  const ends = $derived(
    Math.max(begins + 4 * 60, Math.ceil((Math.max(...shown.map((slot) => slot.to), ...running.map((run) => run.to), begins) + 60) / 60) * 60),
  );
  const hours = $derived(Array.from({ length: (ends - begins) / 60 + 1 }, (_, k) => begins + 60 * k));
  const share = (minute: number) => `${(100 * (minute - begins)) / (ends - begins)}%`;

  let pulled = $state<{ id: string; grab: number; minute: number } | null>(null);
  const minuteAt = (event: PointerEvent & { currentTarget: HTMLElement }) => {
    const lane = event.currentTarget.closest<HTMLElement>('[data-lane]')!.getBoundingClientRect();
    return begins + ((event.clientX - lane.left) / lane.width) * (ends - begins);
  };
  const neat = (minute: number) => Math.max(from, Math.round(minute / 5) * 5);
  function grab(event: PointerEvent & { currentTarget: HTMLElement }, slot: Slot) {
    if (!mayWrite || event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    pulled = { id: slot.task.id, grab: minuteAt(event) - slot.from, minute: slot.from };
  }
  function pull(event: PointerEvent & { currentTarget: HTMLElement }) {
    if (pulled) pulled.minute = neat(minuteAt(event) - pulled.grab);
  }
  function drop(slot: Slot) {
    const put = pulled;
    pulled = null;
    if (put && put.minute !== slot.from) onput(put.id, put.minute);
  }
  function key(event: KeyboardEvent, slot: Slot) {
    if (!mayWrite) return;
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (by !== undefined) onput(slot.task.id, neat(slot.from + by));
    else if (event.key === 'Delete' || event.key === 'Backspace') onput(slot.task.id, null);
    else return;
    event.preventDefault();
  }
  const CHANGE = { bit: 'bit', board: 'board', zero: 'zero' };
  function says(slot: Slot): string {
    const { task, waits } = slot;
    return [
      slot.changes.length ? `change of ${slot.changes.map((what) => CHANGE[what]).join(', ')} before it` : '',
      ...slot.morning.map(({ name, minutes }) => `${name} ${span(minutes)} before it`),
      waits?.for === 'bit' ? `waits for ${day.names[waits.bit] ?? 'its bit'} until ${clock(waits.until)}` : '',
      waits?.for === 'people' ? `waits until somebody is free, ${clock(waits.until)}` : '',
      waits?.for === 'morning' ? 'does not fit before closing' : '',
      slot.late > 0 ? `${span(slot.late)} late` : '',
      task.boardHere ? '' : 'its board is not here',
      slot.tooLong ? 'longer than the shop is open: somebody has to stay' : '',
      day.pins[task.id] ? 'put here by hand' : '',
    ]
      .filter(Boolean)
      .join('. ');
  }
</script>

<div class="grid grid-cols-[9rem_1fr]">
  <span></span>
  <div class="relative h-6 text-xs text-surface-600-400" aria-hidden="true">
    {#each hours as hour, k (hour)}{#if k % (hours.length > 14 ? 2 : 1) === 0}<span class="figure absolute -translate-x-1/2" style:left={share(hour)}
          >{clock(hour)}</span
        >{/if}{/each}
  </div>
  {#each day.machines as machine (machine.id)}
    <h3 class="self-center pr-2 text-sm font-semibold">
      {machine.name}
      {#if machine.watched}<small class="block font-normal text-surface-600-400">only while watched</small>{/if}
    </h3>
    <ul class="relative h-20 border-t border-surface-200-800" data-lane aria-label={DAY.boardsOn(machine.name)}>
      {#each hours as hour (hour)}<li class="absolute inset-y-0 border-l border-surface-200-800" style:left={share(hour)} aria-hidden="true"></li>{/each}
      {#if at === 0 && day.now >= begins && day.now <= ends}
        <li class="absolute inset-y-0 z-1 border-l-2 border-primary-600-400" style:left={share(day.now)} aria-label={DAY.now(clock(day.now))}></li>
      {/if}
      {#if at === 0 && machine.now}
        <li
          class="absolute inset-y-1.5 overflow-hidden rounded-base preset-filled-primary-500 px-1.5 py-1 text-xs"
          style:left={share(Math.max(machine.now.from, begins))}
          style:width="calc({share(machine.now.to)} - {share(Math.max(machine.now.from, begins))})"
        >
          <b class="block truncate">{machine.now.name}</b>runs, to about {clock(machine.now.to)}
        </li>
      {/if}
      {#each open.filter(({ to }) => to < ends) as { to } (to)}
        <li class="absolute inset-y-0 right-0 bg-surface-200-800/60" style:left={share(to)} title={DAY.closedFrom(clock(to))}></li>
      {/each}
      {#each shown.filter((slot) => slot.task.machine === machine.id) as slot (slot.task.id)}
        {@const starts = pulled?.id === slot.task.id ? pulled.minute : slot.from}
        <li class="absolute inset-y-1.5" style:left={share(starts)} style:width="calc({share(starts + slot.to - slot.from)} - {share(starts)})">
          <button
            type="button"
            class={[
              'h-full w-full touch-none overflow-hidden rounded-base border bg-surface-100-900 px-1.5 py-1 text-left text-xs',
              slot.late > 0
                ? 'border-2 border-error-600-400'
                : !slot.task.boardHere || slot.tooLong
                  ? 'border-2 border-warning-600-400'
                  : 'border-surface-400-600',
              day.pins[slot.task.id] && 'border-l-4 border-l-primary-600-400',
              mayWrite && 'cursor-grab',
            ]}
            title={says(slot)}
            onpointerdown={(event) => grab(event, slot)}
            onpointermove={pull}
            onpointerup={() => drop(slot)}
            onpointercancel={() => (pulled = null)}
            onkeydown={(event) => key(event, slot)}
          >
            <b class="block truncate">{slot.task.name}</b>
            <span class="figure block truncate">{clock(starts)} – {clock(starts + slot.to - slot.from)}</span>
            <span class="block truncate"
              >{slot.late > 0 ? DAY.late(span(slot.late)) : slot.changes.length ? DAY.newOnes(slot.changes.map((what) => CHANGE[what]).join(', ')) : ''}</span
            >
            <span class="sr-only">{says(slot)}</span>
          </button>
        </li>
      {/each}
    </ul>
  {/each}
</div>
