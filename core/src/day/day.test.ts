/** The plan of the day: what it keeps to, and how good it is - against every order there is, weighed by a plain minute-by-minute reckoning of its own. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bitsOfDay, callsOf, costOf as boardCost, HANDS, inOrder, planDay, wearCost, type Day, type DayTask, type Slot } from './index.ts';
import { afterRun } from './place.ts';

const H = 60;
const machine = (id: string, more: object = {}) => ({ id, name: id, watched: false, free: 0, fitted: null, board: null, zero: null, morning: [], ...more });
const task = (id: string, more: Partial<DayTask> = {}): DayTask => ({
  ...{ id, job: id, name: id, machine: 'router', minutes: 30, bits: ['v60'], calls: [], board: 'oak 18', zero: 'top', due: null, urgent: false },
  ...{ finishing: [], notBefore: 0, boardHere: true },
  ...more,
});
const week = Array.from({ length: 6 }, (_, k) => ({ from: k * 24 * H + 8 * H, to: k * 24 * H + 17 * H }));
const day = (tasks: DayTask[], more: Partial<Day> = {}): Day => ({ now: 8 * H, open: week, people: 1, machines: [machine('router')], tasks, ...more });

/** Days of up to so many boards on two machines, some of one bit, some due, one person or two. */
const days = (most: number) =>
  fc
    .record({
      people: fc.constantFrom(1, 2),
      watched: fc.boolean(),
      tasks: fc.array(
        fc.record({
          machine: fc.constantFrom('router', 'other'),
          minutes: fc.integer({ min: 5, max: 200 }),
          bits: fc.subarray(['v60', 'end6', 'end3'], { minLength: 1, maxLength: 2 }),
          board: fc.constantFrom('oak 18', 'pine 18'),
          zero: fc.constantFrom('top', 'spoilboard'),
          due: fc.option(fc.integer({ min: 9 * H, max: 40 * H })),
          urgent: fc.boolean(),
        }),
        { minLength: 1, maxLength: most },
      ),
    })
    .map(({ people, watched, tasks }) =>
      day(
        tasks.map((one, i) => task(`t${i}`, { ...one, calls: one.bits.length > 1 ? [Math.floor(one.minutes / 2)] : [] })),
        {
          people,
          machines: [machine('router', { fitted: 'v60', board: 'oak 18' }), machine('other', { watched, morning: [{ name: 'warm-up', minutes: 10 }] })],
        },
      ),
    );

const cost = (slots: readonly { late: number; urgent: boolean; changes: number; to: number }[]) => [
  slots.reduce((sum, { late, urgent }) => sum + late * (urgent ? 4 : 1), 0),
  slots.reduce((sum, { changes }) => sum + changes, 0),
  slots.reduce((sum, { to }) => sum + to, 0),
];
const told = (slots: readonly Slot[]) => cost(slots.map(({ late, task: { urgent }, changes, to }) => ({ late, urgent, changes: changes.length, to })));
const less = (a: number[], b: number[]): boolean => {
  const at = a.findIndex((v, i) => v !== b[i]);
  return at >= 0 && a[at] < b[at];
};

/** The same rules once more, plainly: every minute is tried, and every minute of a board is looked at. */
function minuteByMinute({ machines, open, people, now }: Day, order: readonly DayTask[]) {
  const hands = new Map<number, number>();
  const held = new Map<string, Map<number, string>>();
  const state = Object.fromEntries(machines.map((m) => [m.id, { at: now, fitted: m.fitted, board: m.board, zero: m.zero, warm: -1 }]));
  return order.map(({ machine: where, minutes, bits, calls, board, zero, due, urgent }) => {
    const m = machines.find(({ id }) => id === where)!;
    const s = state[where];
    const changes = [bits[0] !== s.fitted, board !== s.board, zero !== s.zero];
    for (let at = s.at; ; at++) {
      const morning = s.warm === Math.floor(at / 1440) ? 0 : m.morning.reduce((sum, one) => sum + one.minutes, 0);
      const runs = at + 5 + (changes[0] ? 2 : 0) + (changes[2] ? 3 : 0) + morning;
      const to = runs + minutes;
      if (!open.some((one) => one.from <= at && to <= one.to)) continue;
      const stands = (t: number) => m.watched || t < runs || calls.some((call) => t >= runs + call && t < runs + call + 2);
      const minutesOf = Array.from({ length: to - at }, (_, i) => at + i);
      // A bit changed at the very end of a run keeps somebody a little longer than the machine.
      const all = m.watched ? minutesOf : [...minutesOf, to, to + 1];
      if (all.some((t) => stands(t) && (hands.get(t) ?? 0) >= people)) continue;
      if (minutesOf.some((t) => bits.some((bit) => ![undefined, where].includes(held.get(bit)?.get(t))))) continue;
      for (const t of all) if (stands(t)) hands.set(t, (hands.get(t) ?? 0) + 1);
      for (const bit of bits) {
        if (!held.has(bit)) held.set(bit, new Map());
        for (const t of minutesOf) held.get(bit)!.set(t, where);
      }
      state[where] = { at: to, fitted: bits.at(-1)!, board, zero, warm: Math.floor(at / 1440) };
      return { from: at, to, late: due === null ? 0 : Math.max(0, to - due), urgent, changes: changes.filter(Boolean).length };
    }
  });
}
const permutations = <T>(list: readonly T[]): T[][] =>
  list.length === 0 ? [[]] : list.flatMap((one, i) => permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [one, ...rest]));

describe('boards in a given order', () => {
  it('are placed as a plain reckoning places them, minute by minute', () =>
    fc.assert(
      fc.property(days(6), (some) => {
        const plain = minuteByMinute(some, some.tasks);
        const { slots } = inOrder(some, some.tasks);
        expect(slots.map(({ from, to, late }) => ({ from, to, late }))).toEqual(plain.map(({ from, to, late }) => ({ from, to, late })));
        expect(told(slots)).toEqual(cost(plain));
      }),
      { numRuns: 60 },
    ));
  it('the first of the day pays for its bit and its zero; a second of the same sort only for being put on', () => {
    const { slots } = inOrder(day([task('a'), task('b')]), [task('a'), task('b')]);
    expect(slots.map(({ from, runs, to }) => [from, runs, to])).toEqual([
      [8 * H, 8 * H + HANDS.load + HANDS.bit + HANDS.zero, 8 * H + 40],
      [8 * H + 40, 8 * H + 45, 8 * H + 75],
    ]);
    expect(slots[0].changes).toEqual(['bit', 'board', 'zero']);
    expect(slots[1].changes).toEqual([]);
  });
  it('what does not fit before closing waits for the morning, and the machine is warmed up then', () => {
    const some = day([task('a', { minutes: 400 }), task('b', { minutes: 300 })], {
      machines: [machine('router', { morning: [{ name: 'warm-up', minutes: 10 }] })],
    });
    const [a, b] = inOrder(some, some.tasks).slots;
    expect(a.morning).toHaveLength(1);
    expect(b).toMatchObject({ from: 32 * H, morning: [{ name: 'warm-up', minutes: 10 }], waits: { for: 'morning', until: 32 * H } });
  });
  it('longer than the shop is ever open: it begins with a morning, and that is said', () => {
    const some = day([task('a', { minutes: 60 }), task('b', { minutes: 700 })]);
    const [, b] = inOrder(some, some.tasks).slots;
    expect(b).toMatchObject({ from: 32 * H, tooLong: true });
  });
  it('a bit two machines want is in one of them at a time, and the other says what it waits for', () => {
    const some = day([task('a'), task('b', { machine: 'other' })], { people: 2, machines: [machine('router'), machine('other')] });
    const [a, b] = inOrder(some, some.tasks).slots;
    expect(b.from).toBe(a.to);
    expect(b.waits).toEqual({ for: 'bit', bit: 'v60', until: a.to });
  });
  it('one person stands by a torch to its end; a router runs beside it once it is under way', () => {
    const machines = [machine('router'), machine('torch', { watched: true })];
    const some = day([task('a', { minutes: 120 }), task('b', { machine: 'torch', minutes: 60, bits: ['n1'] })], { machines });
    const [a, b] = inOrder(some, some.tasks).slots;
    expect(b.from).toBe(a.runs);
    const turned = inOrder(some, [...some.tasks].reverse()).slots;
    expect(turned[1].from).toBe(turned[0].to);
  });
  it('paint dries by night too, hands work while somebody is in', () => {
    const finishing = [
      { name: 'paint', hands: 20, waits: 6 * H },
      { name: 'wash', hands: 30, waits: 0 },
    ];
    expect(afterRun(day([]), 16 * H + 50, { finishing })).toBe(32 * H + 10 + 6 * H + 30);
    expect(afterRun(day([]), 9 * H, { finishing })).toBe(9 * H + 20 + 6 * H + 30);
  });
  it('a person’s place is kept: not before it', () => {
    const some = day([task('a', { notBefore: 13 * H })]);
    expect(inOrder(some, some.tasks).slots[0].from).toBe(13 * H);
  });
  it('what a machine runs now is waited for', () => {
    const some = day([task('a')], { machines: [machine('router', { free: 10 * H })] });
    expect(inOrder(some, some.tasks).slots[0].from).toBe(10 * H);
  });
});

describe('the plan of a day', () => {
  it('of up to five boards is as good as the best of every order', () =>
    fc.assert(
      fc.property(days(5), (some) => {
        const best = permutations(some.tasks)
          .map((order) => cost(minuteByMinute(some, order)))
          .reduce((a, b) => (less(b, a) ? b : a));
        expect(told(planDay(some).slots)).toEqual(best);
      }),
      { numRuns: 25 },
    ));
  it('of seven boards too (one day, every one of 5,040 orders)', () => {
    const [some] = fc.sample(
      days(7).filter(({ tasks }) => tasks.length === 7),
      { numRuns: 1, seed: 20261130 },
    );
    const best = permutations(some.tasks)
      .map((order) => told(inOrder(some, order).slots))
      .reduce((a, b) => (less(b, a) ? b : a));
    expect(told(planDay(some).slots)).toEqual(best);
  });
  it('of many boards is never worse than as they came, and the same every time', () =>
    fc.assert(
      fc.property(days(14), (some) => {
        const plan = planDay(some);
        expect(less(told(inOrder(some, some.tasks).slots), told(plan.slots))).toBe(false);
        expect(plan.slots.map((slot) => slot.task.id).sort()).toEqual(some.tasks.map(({ id }) => id).sort());
        expect(planDay(some)).toEqual(plan);
      }),
      { numRuns: 12 },
    ));
  it('one bit after another instead of to and fro, when nothing is due', () => {
    const tasks = ['v60', 'end6', 'v60', 'end6', 'v60', 'end6', 'v60', 'end6', 'v60'].map((bit, i) => task(`t${i}`, { bits: [bit] }));
    const plan = planDay(day(tasks));
    expect(plan.slots.filter(({ changes }) => changes.includes('bit'))).toHaveLength(2);
  });
  it('what is due comes first, whatever it costs in changes', () => {
    const plan = planDay(day([task('a'), task('b', { bits: ['end6'] }), task('c'), task('d', { bits: ['end6'], due: 8 * H + 45 })]));
    expect(plan.slots[0].task.id).toBe('d');
    expect(plan.late).toBe(0);
  });
  it('none and one', () => {
    expect(planDay(day([]))).toEqual({ slots: [], late: 0, changes: 0 });
    expect(planDay(day([task('a')])).slots).toHaveLength(1);
  });
});

describe('what comes of a plan', () => {
  it('says when somebody is needed: the board, each bit, and when it is done', () => {
    const plan = planDay(day([task('a', { bits: ['v60', 'end6'], calls: [12] })]));
    expect(callsOf(plan, 0).map(({ at, what }) => [at, what])).toEqual([
      [480, 'board'],
      [502, 'bit'],
      [520, 'off'],
    ]);
    expect(callsOf(plan, 510).map(({ what }) => what)).toEqual(['off']);
  });
  it('a board that makes room for the next is said once', () => {
    expect(callsOf(planDay(day([task('a'), task('b')])), 0).map(({ what }) => what)).toEqual(['board', 'board', 'off']);
  });
  it('lists the bits of the day as they are wanted', () => {
    const plan = inOrder(day([]), [task('a', { bits: ['v60', 'end6'] }), task('b', { bits: ['end6'] })]);
    expect(bitsOfDay(plan).map(({ bit, tasks }) => [bit, tasks.length])).toEqual([
      ['v60', 1],
      ['end6', 2],
    ]);
  });
});

describe('what a board costs', () => {
  const work = { seconds: 1800, changes: 1, finishing: [{ name: 'paint', hands: 30, waits: 600 }], bits: null };
  it('material by its area, the machine by its time, hands by what they do', () => {
    const cost = boardCost({ width: 1000, height: 500 }, { price: 90 }, work, { machine: 20, hands: 60 });
    // Half a square metre; half an hour; 5 + 3 + 2 x 2 minutes at the machine and 30 of paint.
    expect(cost).toEqual({ material: 45, machine: 10, bits: null, hands: 42, all: 97 });
    expect(boardCost({ width: 1000, height: 500 }, { price: 90 }, { ...work, bits: 3 }, { machine: 20, hands: 60 })).toMatchObject({ bits: 3, all: 100 });
  });
  it('without a price the rest is told, and the material is not taken for free', () => {
    expect(boardCost({ width: 1000, height: 500 }, { price: null }, work, { machine: 20, hands: 60 })).toMatchObject({ material: null, all: 52 });
    expect(boardCost({ width: 1000, height: 500 }, null, work, { machine: 0, hands: 0 })).toEqual({ material: null, machine: 0, bits: null, hands: 0, all: 0 });
  });
  it('the wear of a tool by hours or by pierces, whichever takes more of its life; unknown is not nothing', () => {
    const renewals = {
      v60: { price: 12, life: 6, strikesLife: null },
      nozzle: { price: 9, life: 3, strikesLife: 300 },
      drill: { price: 5, life: null, strikesLife: null },
    };
    // Half an hour of six, in two parts.
    expect(wearCost([{ bit: 'v60', seconds: 900 }, { bit: 'v60', seconds: 900 }], renewals)).toBeCloseTo(1, 9); // prettier-ignore
    // A tenth of its hours, a third of its pierces.
    expect(wearCost([{ bit: 'nozzle', seconds: 1080, strikes: 100 }], renewals)).toBeCloseTo(3, 9);
    expect(wearCost([{ bit: 'nozzle', seconds: 5400, strikes: 100 }, { bit: 'v60', seconds: 0 }], renewals)).toBeCloseTo(4.5, 9); // prettier-ignore
    expect(wearCost([{ bit: 'drill', seconds: 900 }, { bit: 'lost', seconds: 900 }], renewals)).toBeNull(); // prettier-ignore
    expect(wearCost([], renewals)).toBeNull();
  });
});
