/** One board after another laid into the day, each as early as its machine, the people and the bits allow. */
import { HANDS, type Day, type DayTask, type Slot, type Span, type Waits } from './day.ts';

const DAY = 24 * 60;

/** What is taken so far. */
export interface Placing {
  machines: Readonly<Record<string, { at: number; fitted: string | null; board: string | null; zero: string | null; warmed: number }>>;
  /** When somebody has their hands full. */
  hands: readonly Span[];
  /** When a bit is in a machine. */
  bits: readonly (Span & { bit: string; machine: string })[];
}

const begin = ({ machines, now }: Day): Placing => ({
  machines: Object.fromEntries(
    machines.map(({ id, free, fitted, board, zero }) => [
      id,
      { at: Math.max(free, now), fitted, board, zero, warmed: free > now ? Math.floor(now / DAY) : -1 },
    ]),
  ),
  hands: [],
  bits: [],
});

/** The first minute at which as many have their hands full as there are people, within a span; with when the first of them is free again. */
function full(hands: readonly Span[], people: number, { from, to }: Span): number | null {
  const near = hands.filter((one) => one.from < to && one.to > from);
  if (near.length < people) return null;
  for (const at of [from, ...near.map((one) => one.from)].filter((t) => t >= from && t < to).sort((a, b) => a - b)) {
    const busy = near.filter((one) => one.from <= at && one.to > at);
    if (busy.length >= people) return Math.min(...busy.map((one) => one.to));
  }
  return null;
}

/** Where a board goes next, and what is taken then. */
function next(day: Day, placing: Placing, task: DayTask): { slot: Slot; placing: Placing } {
  const machine = day.machines.find(({ id }) => id === task.machine)!;
  const state = placing.machines[machine.id];
  const first = task.bits[0] ?? null;
  const changes: Slot['changes'] = [
    ...(first !== null && first !== state.fitted ? ['bit' as const] : []),
    ...(task.board !== state.board ? ['board' as const] : []),
    ...(task.zero !== state.zero ? ['zero' as const] : []),
  ];
  const hands = HANDS.load + (changes.includes('bit') ? HANDS.bit : 0) + (changes.includes('zero') ? HANDS.zero : 0);
  const others = placing.bits.filter(({ bit, machine: where }) => where !== machine.id && task.bits.includes(bit));
  const longest = Math.max(...day.open.map(({ from, to }) => to - from));

  let waits: Waits = null;
  const soonest = Math.max(state.at, task.notBefore);
  let at = soonest;
  // Each turn moves it on to where what stood in the way is over: it ends at the latest after everything that is placed.
  for (;;) {
    const morning = state.warmed === Math.floor(at / DAY) ? [] : machine.morning;
    const runs = at + hands + morning.reduce((sum, { minutes }) => sum + minutes, 0);
    const to = runs + task.minutes;
    const tooLong = to - at > longest;
    const window = day.open.find((one) => one.to > at);
    if (window && at < window.from) {
      at = window.from;
      continue;
    }
    if (window && to > window.to && !(tooLong && at === window.from)) {
      const later = day.open.find((one) => one.from > window.from);
      if (later) {
        waits = { for: 'morning', until: later.from };
        at = later.from;
        continue;
      }
    }
    const attended: Span[] = machine.watched
      ? [{ from: at, to }]
      : [{ from: at, to: runs }, ...task.calls.map((call) => ({ from: runs + call, to: runs + call + HANDS.bit }))];
    const busy = attended.map((span) => ({ span, until: full(placing.hands, day.people, span) })).find(({ until }) => until !== null);
    if (busy) {
      waits = { for: 'people', until: busy.until! };
      at += busy.until! - busy.span.from;
      continue;
    }
    const taken = others.find((one) => one.from < to && one.to > at);
    if (taken) {
      waits = { for: 'bit', bit: taken.bit, until: taken.to };
      at = taken.to;
      continue;
    }
    const ready = afterRun(day, to, task);
    const last = task.bits.at(-1) ?? state.fitted;
    return {
      slot: {
        task,
        from: at,
        runs,
        to,
        ready,
        late: task.due === null ? 0 : Math.max(0, ready - task.due),
        changes,
        morning,
        waits: at > soonest ? waits : null,
        tooLong,
      },
      placing: {
        machines: {
          ...placing.machines,
          [machine.id]: { at: to, fitted: last, board: task.board, zero: task.zero, warmed: Math.floor(at / DAY) },
        },
        hands: [...placing.hands, ...attended],
        bits: [...placing.bits, ...[...new Set(task.bits)].map((bit) => ({ bit, machine: machine.id, from: at, to }))],
      },
    };
  }
}

/** When a board that is cut at a minute is ready: hands work while somebody is in, paint dries by night too. */
export function afterRun({ open }: Pick<Day, 'open'>, cut: number, { finishing }: Pick<DayTask, 'finishing'>): number {
  let at = cut;
  for (const { hands, waits } of finishing) {
    let left = hands;
    for (const { from, to } of open) {
      if (left <= 0) break;
      const begins = Math.max(at, from);
      if (begins >= to) continue;
      const does = Math.min(left, to - begins);
      left -= does;
      at = begins + does;
    }
    at += left + waits;
  }
  return at;
}

export const place = { begin, next };
