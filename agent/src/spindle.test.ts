/** The watch over the spindle: what holds a run, and what does not. */
import { describe, expect, it } from 'vitest';
import { SpindleWatch } from './spindle.ts';

/** Seconds after which it is too slow, of a speed told every `step` seconds; null if never. */
function heldAfter(speed: (seconds: number) => number, { target = 18000, step = 0.5, watch = new SpindleWatch() } = {}): number | null {
  for (let t = 0; t <= 120; t += step) if (watch.slow({ target, actual: speed(t) }, step)) return t;
  return null;
}

describe('the spindle in a run', () => {
  it('that stays at a part of its speed is too slow after twelve seconds', () => {
    expect(heldAfter(() => 10800)).toBe(12);
    expect(heldAfter(() => 0)).toBe(12);
    // Twelve seconds after it stopped getting faster.
    expect(heldAfter((t) => Math.min(10800, t * 3000))).toBe(15.5);
  });
  it('that trembles at a part of its speed is none that gets faster', () => {
    expect(heldAfter((t) => 10800 + 150 * Math.sin(t * 7))).toBe(12);
  });
  it('at its speed, or nearly, is left alone; one that drops later is not', () => {
    expect(heldAfter(() => 18000)).toBeNull();
    expect(heldAfter(() => 15400)).toBeNull();
    expect(heldAfter((t) => (t < 40 ? 18000 : 9000))).not.toBeNull();
  });
  it('that takes its time and gets there is left alone', () => {
    expect(heldAfter((t) => Math.min(18000, t * 600))).toBeNull();
  });
  it('is not judged by a computer that heard of it late', () => {
    const watch = new SpindleWatch();
    for (const actual of [0, 5236, 9000]) expect(watch.slow({ target: 9000, actual }, 60)).toBe(false);
  });
  it('standing still is asked for', () => {
    expect(heldAfter(() => 0, { target: 0 })).toBeNull();
  });
  it('is spoken of once, and again when another speed is asked for', () => {
    const watch = new SpindleWatch();
    expect(heldAfter(() => 10800, { watch })).toBe(12);
    expect(heldAfter(() => 10800, { watch })).toBeNull();
    expect(heldAfter(() => 7200, { watch, target: 12000 })).not.toBeNull();
    watch.forget();
    watch.slow({ target: 18000, actual: 10800 }, 0.5);
    watch.accept();
    expect(heldAfter(() => 10800, { watch })).toBeNull();
  });
});
