/** Jogging from a screen: a held key moves, a key let go stops, whatever the network does in between. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { MachineLink } from '$lib/machine.svelte';
import { Act } from './act.svelte';
import { simulatedBoard, stickOut } from './hands';
import { Jog, SPEEDS } from './jog.svelte';

/** A machine whose answers wait until the test lets them through. */
function slowMachine() {
  const sent: Record<string, unknown>[] = [];
  const open: ((why: string | null) => void)[] = [];
  const link = {
    now: { busy: null as string | null },
    send: (command: Record<string, unknown>) => {
      sent.push(command);
      return new Promise<string | null>((answer) => open.push(answer));
    },
  };
  return {
    sent,
    link: link as unknown as MachineLink,
    answer: (why: string | null = null) => open.shift()!(why),
    words: () => sent.map(({ do: what }) => what),
  };
}
const settle = () => vi.advanceTimersByTimeAsync(0);

beforeEach(() => void vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

describe('jogging', () => {
  it('by steps: one move a press, at the chosen speed, slower in Z', async () => {
    const machine = slowMachine();
    const jog = new Jog(machine.link);
    jog.step = 0.1;
    void jog.press([-1, 0, 0]);
    void jog.press([0, 0, 1]);
    expect(machine.sent).toEqual([
      { do: 'jog', x: -0.1, y: -0 + 0, z: 0, feed: SPEEDS[1].xy },
      { do: 'jog', x: 0, y: 0, z: 0.1, feed: SPEEDS[1].z },
    ]);
    jog.release();
    await vi.advanceTimersByTimeAsync(1000);
    expect(machine.words()).toEqual(['jog', 'jog']);
  });
  it('while held: begins, tells ten times a second that it is held still, ends when let go', async () => {
    const machine = slowMachine();
    const jog = new Jog(machine.link);
    jog.step = null;
    void jog.press([0, 1, 0]);
    machine.answer();
    await settle();
    await vi.advanceTimersByTimeAsync(1000);
    expect(machine.words()).toEqual(['jog-start', ...Array.from({ length: 10 }, () => 'jog-on')]);
    jog.release();
    expect(machine.words().at(-1)).toBe('jog-end');
    const told = machine.sent.length;
    await vi.advanceTimersByTimeAsync(2000);
    expect(machine.sent).toHaveLength(told);
  });
  it('let go before the machine had answered: it is stopped as soon as it has, and never told to go on', async () => {
    const machine = slowMachine();
    const jog = new Jog(machine.link);
    jog.step = null;
    void jog.press([1, 0, 0]);
    jog.release();
    expect(machine.words()).toEqual(['jog-start']);
    machine.answer();
    await settle();
    await vi.advanceTimersByTimeAsync(1000);
    expect(machine.words()).toEqual(['jog-start', 'jog-end']);
  });
  it('let go and pressed the other way while the answer was on its way: the first is ended', async () => {
    const machine = slowMachine();
    const jog = new Jog(machine.link);
    jog.step = null;
    void jog.press([1, 0, 0]);
    jog.release();
    void jog.press([-1, 0, 0]);
    machine.answer();
    await settle();
    expect(machine.words()).toEqual(['jog-start', 'jog-start', 'jog-end']);
  });
  it('a second key does nothing while one is held; a refusal is said and nothing goes on', async () => {
    const machine = slowMachine();
    const jog = new Jog(machine.link);
    jog.step = null;
    void jog.press([1, 0, 0]);
    void jog.press([0, 1, 0]);
    machine.answer('Home the machine first.');
    await settle();
    await vi.advanceTimersByTimeAsync(1000);
    expect(machine.words()).toEqual(['jog-start']);
    expect([jog.why, jog.going]).toEqual(['Home the machine first.', null]);
  });
});

describe('commands of a card', () => {
  it('are under way until they are answered; the last refusal stays until the next press', async () => {
    const machine = slowMachine();
    const act = new Act(machine.link);
    const done = act.send({ do: 'home' });
    expect(act.busy).toBe('home');
    machine.answer('The emergency stop is pressed.');
    expect(await done).toBe(false);
    expect([act.busy, act.why]).toEqual([null, 'The emergency stop is pressed.']);
    const again = act.bench({ estop: false });
    machine.answer();
    expect(await again).toBe(true);
    expect(act.why).toBeNull();
    expect(machine.sent.at(-1)).toEqual({ do: 'bench', change: { estop: false } });
    machine.link.now.busy = 'measuring';
    expect(act.busy).toBe('measuring');
  });
});

describe('hands on the simulated machine', () => {
  it('lay the board where it is to lie, holders standing on the bed beside it', () => {
    const job = {
      process: 'router',
      board: { width: 300, height: 100, thickness: 18, holdDown: 'vacuum', holders: [{ kind: 'clamp', x: -10, y: 50, width: 30, depth: 60, height: 22 }] },
    } as never;
    expect(simulatedBoard(job, { x: 100, y: 200 })).toEqual({
      board: { x: 100, y: 200, width: 300, height: 100, thickness: 18 },
      vacuumHeld: true,
      clamps: [{ x: 90, y: 250, width: 30, depth: 60, height: 40 }],
    });
  });
  it('put bits in at lengths of their own, never too short to hold', () => {
    expect(stickOut('v60')).not.toBe(stickOut('end6'));
    for (const id of ['v60', 'end-6.35', 'drill5', 'x']) expect(stickOut(id)).toBeGreaterThanOrEqual(30);
  });
});
