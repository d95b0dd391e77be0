/**
 * The shop's day: which board is cut when and on which machine. Lateness counts first, then changes of bit,
 * board and zero, then how early everything is done. Times are whole minutes from midnight of the first day.
 */
import type { Day, DayPlan, DayTask, Slot } from './day.ts';
import { place, type Placing } from './place.ts';

export { costOf, wearCost, type Cost, type Rates, type Renewal, type Worn } from './cost.ts';
export * from './day.ts';

/** A board that is urgent counts so much more when it is late. */
const URGENT = 4;

/** Lower is better, the first figure that differs decides. */
type Cost = readonly [late: number, changes: number, ends: number];
const isLess = (a: Cost, b: Cost): boolean => {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i] < b[i];
  return false;
};
const lateness = ({ late, task }: Slot): number => late * (task.urgent ? URGENT : 1);
const costOf = (slots: readonly Slot[]): Cost => [
  slots.reduce((sum, slot) => sum + lateness(slot), 0),
  slots.reduce((sum, { changes }) => sum + changes.length, 0),
  slots.reduce((sum, { to }) => sum + to, 0),
];

/** The plan that comes of taking boards in that order, each as early as machine, people and bits allow. */
export function inOrder(day: Day, order: readonly DayTask[]): DayPlan {
  let placing: Placing = place.begin(day);
  const slots: Slot[] = [];
  for (const task of order) {
    const next = place.next(day, placing, task);
    placing = next.placing;
    slots.push(next.slot);
  }
  const [late, changes] = costOf(slots);
  return { slots, late, changes };
}

/** Up to so many boards every order is weighed. */
const EXACT = 7;
/** Orders looked at for more. */
const TRIES = 4000;

/**
 * The best plan found: of up to seven boards the best there is, of more one that no exchange of two boards and no
 * board put elsewhere betters - never worse than taking them as they came. The same day gives the same plan.
 */
export function planDay(day: Day): DayPlan {
  return inOrder(day, day.tasks.length <= EXACT ? bestOrder(day) : goodOrder(day));
}

/** Every order, but those left out that are worse already. */
function bestOrder(day: Day): readonly DayTask[] {
  let best = startOrders(day)
    .map((order) => ({ order, cost: costOf(inOrder(day, order).slots) }))
    .reduce((a, b) => (isLess(b.cost, a.cost) ? b : a));
  const go = (order: readonly DayTask[], placing: Placing, slots: readonly Slot[]): void => {
    const cost = costOf(slots);
    if (!isLess(cost, best.cost)) return;
    if (order.length === day.tasks.length) {
      best = { order, cost };
      return;
    }
    for (const task of day.tasks) {
      if (order.includes(task)) continue;
      const next = place.next(day, placing, task);
      go([...order, task], next.placing, [...slots, next.slot]);
    }
  };
  go([], place.begin(day), []);
  return best.order;
}

/** From the better of some starts, as long as one move of a board makes it better. */
function goodOrder(day: Day): readonly DayTask[] {
  let tries = 0;
  const weigh = (order: readonly DayTask[]) => ({ order, cost: (tries++, costOf(inOrder(day, order).slots)) });
  let best = startOrders(day)
    .map(weigh)
    .reduce((a, b) => (isLess(b.cost, a.cost) ? b : a));
  for (let better = true; better && tries < TRIES;) {
    better = false;
    for (let i = 0; i < best.order.length && tries < TRIES; i++)
      for (let k = 0; k < best.order.length && tries < TRIES; k++) {
        if (k === i) continue;
        const moved = best.order.filter((_, at) => at !== i);
        moved.splice(k, 0, best.order[i]);
        const other = weigh(moved);
        if (!isLess(other.cost, best.cost)) continue;
        best = other;
        better = true;
      }
  }
  return best.order;
}

/** As they came; by when they are due; and by that with boards of one bit, zero and kind beside each other. */
function startOrders({ tasks }: Day): (readonly DayTask[])[] {
  const dueOf = ({ due, urgent }: DayTask) => (due ?? 1e9) - (urgent ? 1e6 : 0);
  const byDue = [...tasks].sort((a, b) => dueOf(a) - dueOf(b));
  const keyOf = ({ machine, bits, zero, board }: DayTask) => [machine, bits[0], zero, board].join('|');
  const grouped = [...new Set(byDue.map(keyOf))].flatMap((key) => byDue.filter((task) => keyOf(task) === key));
  return [tasks, byDue, grouped];
}

/** Somebody is needed then. */
export interface Call {
  at: number;
  machine: string;
  task: DayTask;
  what: 'board' | 'bit' | 'off';
}

/** When somebody is needed, from a minute on: a board to be put on, a bit to be changed, a board that is done - said once where the next follows at once. */
export const callsOf = ({ slots }: DayPlan, from: number): Call[] =>
  slots
    .flatMap(({ task, from: begins, runs, to }): Call[] => [
      { at: begins, machine: task.machine, task, what: 'board' },
      ...task.calls.map((call) => ({ at: runs + call, machine: task.machine, task, what: 'bit' as const })),
      ...(slots.some((next) => next.task.machine === task.machine && next.from === to) ? [] : [{ at: to, machine: task.machine, task, what: 'off' as const }]),
    ])
    .filter(({ at }) => at >= from)
    .sort((a, b) => a.at - b.at || a.machine.localeCompare(b.machine));

/** Bits of the day in the order they are wanted, with the boards they are for. */
export function bitsOfDay({ slots }: DayPlan): { bit: string; first: number; tasks: DayTask[] }[] {
  const bits = new Map<string, { bit: string; first: number; tasks: DayTask[] }>();
  for (const { task, from } of [...slots].sort((a, b) => a.from - b.from))
    for (const bit of new Set(task.bits)) {
      const one = bits.get(bit) ?? { bit, first: from, tasks: [] };
      one.tasks.push(task);
      bits.set(bit, one);
    }
  return [...bits.values()];
}
