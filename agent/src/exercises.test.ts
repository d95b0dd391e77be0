/**
 * Every exercise done by a person who knows how, and with the slip it is about: the same agent and
 * the same simulated machine as on the bench, judged by the same judge.
 */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { EXERCISE_BITS, EXERCISES as ALL } from '@kerbe/core/practice/exercises';
import { Learner } from './learner.ts';
import { Shop, wait } from './testing.ts';

const EXERCISES = ALL.filter(({ process }) => process === 'router');

const shop = new Shop(100);
beforeAll(() => shop.open());
afterAll(() => shop.close());

const [V, END] = EXERCISE_BITS;
const CORNER = { x: 320, y: 240 };
const BLOCK = { size: 50, lip: 12, thickness: 20 };

/** One who knows a router. */
class RouterLearner extends Learner {
  plateOn = async (x: number, y: number) => {
    await this.act({ do: 'move-over', x, y });
    await this.bench({ plate: { x, y, thickness: 15 }, probeClip: true });
  };
  clean = () => this.bench({ plate: null, block: null, probeClip: false });
  zeroThere = () => this.act({ do: 'zero-xy', corner: 'lower-left', at: CORNER });
  plateZ = (datum: 'top' | 'spoilboard') => this.act({ do: 'zero-z', method: 'plate', thickness: 15, datum });
  /** Slowly enough that whoever looks sees it turn, also on a busy computer. */
  warmUp = async () => {
    await this.shop.must({ do: 'bench', change: { rate: 5 } });
    const why = await this.act({ do: 'warm-up', speed: 12000, seconds: 10 });
    await this.shop.must({ do: 'bench', change: { rate: 100 } });
    return why;
  };
  measure = (bit: string) => this.act({ do: 'measure', bit, sure: true });
  /** Home, the V measured, zero at the corner by eye and on top by the plate. */
  homeAndZero = async () => {
    await this.act({ do: 'home' });
    await this.measure(V.id);
    await this.zeroThere();
    await this.plateOn(470, 320);
    await this.plateZ('top');
    await this.clean();
  };
  /** Straight down to a work height, wherever it stands. */
  downTo = async (z: number) => this.jog(0, 0, z - (await this.shop.state()).status!.work[2]);
}

/** How each is done right, and done with its slip. */
const DONE: Record<string, { right: (one: RouterLearner) => Promise<unknown>; wrong: (one: RouterLearner) => Promise<unknown>; slip: RegExp }> = {
  'home-and-zero': {
    right: async (one) => {
      await one.homeAndZero();
      await one.act({ do: 'go-to-zero', clearance: 5 });
    },
    wrong: async (one) => {
      await one.homeAndZero();
      // Straight down, beside zero.
      await one.downTo(1);
    },
    slip: /before the bit stood over zero/,
  },
  'corner-block': {
    right: async (one) => {
      await one.measure(END.id);
      await one.bench({ block: { corner: 'lower-left', ...BLOCK }, probeClip: true });
      await one.act({ do: 'move-over', x: CORNER.x + 20, y: CORNER.y + 20 });
      for (const axis of ['z', 'x', 'y'])
        expect(await one.act({ do: 'probe-block', axis, corner: 'lower-left', block: BLOCK, radius: END.diameter / 2, datum: 'top' })).toBeNull();
      await one.clean();
    },
    wrong: async (one) => {
      await one.measure(END.id);
      await one.bench({ block: { corner: 'lower-left', ...BLOCK }, probeClip: true });
      await one.act({ do: 'move-over', x: CORNER.x + 20, y: CORNER.y + 20 });
      // The radius of the bit is forgotten.
      for (const axis of ['z', 'x', 'y']) await one.act({ do: 'probe-block', axis, corner: 'lower-left', block: BLOCK, radius: 0, datum: 'top' });
    },
    slip: /radius of the bit and the lip/,
  },
  'bit-change': {
    right: async (one) => {
      await one.measure(V.id);
      await one.plateOn(470, 320);
      await one.plateZ('top');
      await one.clean();
      await one.bench({ bit: { shape: END, stickOut: 33, seating: 'good' } });
      await one.measure(END.id);
    },
    wrong: async (one) => {
      await one.measure(V.id);
      await one.bench({ bit: { shape: END, stickOut: 33, seating: 'bottomed' } });
      await one.act({ do: 'warm-up', speed: 12000, seconds: 1 });
      await one.measure(V.id);
    },
    slip: /bottom of the collet[^]*before the new bit was measured[^]*under the name of another/,
  },
  'why-not': {
    right: async (one) => {
      expect(await one.act({ do: 'home' })).toMatch(/emergency stop is pressed/i);
      await one.bench({ estop: false });
      expect(await one.act({ do: 'home' })).toMatch(/Clear the alarm/);
      await one.act({ do: 'clear' });
      await one.act({ do: 'home' });
    },
    wrong: async (one) => {
      for (let i = 0; i < 3; i++) await one.act({ do: 'home' });
    },
    slip: /without looking at what holds it/,
  },
  clip: {
    right: async (one) => {
      await one.clean();
      await one.measure(V.id);
      await one.warmUp();
    },
    wrong: async (one) => {
      await one.measure(V.id);
      expect(await one.warmUp()).toMatch(/clip/);
    },
    slip: /clip on the bit/,
  },
  'which-face': {
    right: async (one) => {
      await one.measure(V.id);
      await one.plateOn(470, 190);
      await one.plateZ('spoilboard');
    },
    wrong: async (one) => {
      await one.measure(V.id);
      // Called the spoilboard's, and probed on the board.
      await one.plateOn(470, 320);
      await one.plateZ('spoilboard');
    },
    slip: /lay on the board/,
  },
  clamp: {
    right: async (one) => {
      await one.act({ do: 'move-over', x: 400, y: 250 });
      await one.jog(0, 0, -80);
      await one.jog(0, 0, 75);
      await one.jog(180, 0, 0);
      await one.jog(0, 0, -75);
    },
    wrong: async (one) => {
      await one.act({ do: 'move-over', x: 400, y: 250 });
      await one.jog(0, 0, -80);
      await one.jog(180, 0, 0);
    },
    slip: /ran into the clamp/,
  },
  'before-the-start': {
    right: async (one) => {
      await one.bench({ vacuum: true });
      await one.bench({ pinsUp: false });
      await one.bench({ dust: true });
      await one.bench({ spindlePower: true });
      await one.measure(V.id);
      await one.warmUp();
    },
    wrong: async (one) => {
      await one.bench({ spindlePower: true });
      await one.measure(V.id);
      await one.warmUp();
    },
    slip: /vacuum held[^]*pins still up[^]*dust extraction/,
  },
  recover: {
    right: async (one) => {
      expect(await one.act({ do: 'home' })).toMatch(/alarm/);
      await one.act({ do: 'clear' });
      await one.homeAndZero();
      await one.act({ do: 'go-to-zero', clearance: 5 });
    },
    wrong: async (one) => {
      await one.act({ do: 'clear' });
      await one.homeAndZero();
      await one.downTo(1);
    },
    slip: /before the bit stood over zero/,
  },
  lid: {
    right: async (one) => {
      await one.measure(V.id);
      await shop.must({ do: 'bench', change: { rate: 1 } });
      const turning = one.act({ do: 'warm-up', speed: 12000, seconds: 60 });
      for (let i = 0; i < 200 && (await shop.state()).status!.spindle!.actual < 1500; i++) await wait(50);
      await one.look();
      await one.bench({ lidOpen: true });
      await one.bench({ lidOpen: false });
      await one.act({ do: 'stop' });
      await turning;
      await shop.must({ do: 'bench', change: { rate: 100 } });
      await one.look();
    },
    wrong: async (one) => {
      await one.measure(V.id);
      await shop.must({ do: 'bench', change: { rate: 1 } });
      const turning = one.act({ do: 'warm-up', speed: 12000, seconds: 60 });
      for (let i = 0; i < 200 && (await shop.state()).status!.spindle!.actual < 1500; i++) await wait(50);
      expect(await one.bench({ bit: null })).toMatch(/spindle is turning/i);
      await shop.must({ do: 'stop' });
      await turning;
      await shop.must({ do: 'bench', change: { rate: 100 } });
    },
    slip: /reached for while the spindle turned/,
  },
};

describe.each(EXERCISES.map((exercise) => [exercise.title, exercise.id] as const))('%s', (_, id) => {
  it('is passed by who does it right', async () => {
    const one = await RouterLearner.begin(shop, id);
    expect(one.verdict.finished).toBe(false);
    await DONE[id].right(one);
    await one.look();
    // Its tasks stand in the order in which they can be done.
    expect(one.order).toEqual([...one.order].sort((a, b) => a - b));
    expect(one.verdict.slips).toEqual([]);
    expect(one.verdict.tasks).toEqual(one.verdict.tasks.map(() => true));
    expect(one.verdict.passed).toBe(true);
  }, 60_000);
  it('sees the slip it is about', async () => {
    const one = await RouterLearner.begin(shop, id);
    await DONE[id].wrong(one);
    await one.look();
    expect(one.verdict.slips.join('\n')).toMatch(DONE[id].slip);
    expect(one.verdict.passed).toBe(false);
  }, 60_000);
});

it('every mistake that is to be practised has an exercise (the laser’s aside)', () => {
  const practised = new Set(EXERCISES.flatMap(({ mistakes }) => mistakes));
  expect([1, 2, 3, 5, 6, 7, 8, 9, 13, 30].filter((mistake) => !practised.has(mistake))).toEqual([]);
});
