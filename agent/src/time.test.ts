/** A machine's time: by its own clock where it tells one, by the wall's where not. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { MachineTime } from './time.ts';

beforeEach(() => void vi.useFakeTimers({ toFake: ['performance'] }));
afterEach(() => void vi.useRealTimers());

describe('the time of a machine', () => {
  it('is the wall’s, times its rate, where it has no clock; what was slept through is not made up for', () => {
    const time = new MachineTime();
    vi.advanceTimersByTime(200);
    expect(time.since({ rate: 10, boot: 1 })).toBeCloseTo(2, 9);
    vi.advanceTimersByTime(60_000);
    expect(time.since({ rate: 1, boot: 1 })).toBe(1);
  });
  it('is its own clock’s, however the wall’s runs', () => {
    const time = new MachineTime();
    time.since({ rate: 60, boot: 1, clock: 100 });
    vi.advanceTimersByTime(900);
    // The computer was busy: the machine got through no more than three seconds.
    expect(time.since({ rate: 60, boot: 1, clock: 103 })).toBeCloseTo(3, 9);
    vi.advanceTimersByTime(100);
    expect(time.since({ rate: 60, boot: 1, clock: 109 })).toBeCloseTo(6, 9);
  });
  it('of a machine that was switched on again begins with the wall’s', () => {
    const time = new MachineTime();
    time.since({ rate: 1, boot: 1, clock: 500 });
    vi.advanceTimersByTime(100);
    expect(time.since({ rate: 1, boot: 2, clock: 0.1 })).toBeCloseTo(0.1, 9);
    vi.advanceTimersByTime(100);
    expect(time.since({ rate: 1, boot: 2, clock: 0.2 })).toBeCloseTo(0.1, 9);
  });
  it('never runs backwards', () => {
    const time = new MachineTime();
    time.since({ rate: 1, boot: 1, clock: 5 });
    expect(time.since({ rate: 1, boot: 1, clock: 4 })).toBe(0);
  });
});
