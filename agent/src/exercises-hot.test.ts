/** The exercises of torch and laser, done right and with the slip each is about, on the same agent and machines as on the bench. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { EXERCISES, PRACTICE_NOZZLE } from '@kerbe/core/practice/exercises';
import { practiceProgram } from '@kerbe/core/practice/programs';
import { Learner } from './learner.ts';
import { Shop } from './testing.ts';

/** One who knows torch and laser. */
class Hot extends Learner {
  ended = () => this.until(({ run }) => run?.endedAt);
  done = async (program: string, from?: number) => {
    expect(await this.run(program, from)).toBe(null);
    const { run } = await this.ended();
    expect(run).toMatchObject({ state: 'done' });
  };
  /** A laser waits for its own Start button. */
  burned = async (program: string) => {
    expect(await this.run(program)).toBe(null);
    await this.start();
    expect((await this.ended()).run).toMatchObject({ state: 'done' });
  };
  start = async () => {
    await this.until(({ status }) => status?.state === 'pause');
    await this.bench({ start: true });
  };
  surface = (method: 'torch' | 'focus') => this.act({ do: 'zero-z', method, thickness: 0, datum: 'top' });
  newNozzle = () => this.bench({ bit: { shape: PRACTICE_NOZZLE, stickOut: 58.5, worn: 0 } });
}
interface Done {
  right(one: Hot): Promise<unknown>;
  wrong(one: Hot): Promise<unknown>;
  slip: RegExp;
}

const TORCH: Record<string, Done> = {
  'torch-ground': {
    right: async (one) => {
      await one.bench({ ground: true });
      await one.done('part.nc');
    },
    wrong: (one) => one.run('part.nc'),
    slip: /work lead off/,
  },
  'torch-kerf': {
    right: (one) => one.done('part-on-line.nc'),
    wrong: (one) => one.done('part.nc'),
    slip: /another size/,
  },
  'torch-height': {
    right: async (one) => {
      await one.surface('torch');
      await one.done('part-no-touch.nc');
    },
    wrong: async (one) => {
      await one.run('part-no-touch.nc');
      await one.until(({ status }) => status?.world?.crash);
      await one.act({ do: 'stop' });
    },
    slip: /too high/,
  },
  'torch-nozzle': {
    right: async (one) => {
      await one.newNozzle();
      await one.until(({ setup }) => setup.bitFitted === PRACTICE_NOZZLE.id);
      await one.surface('torch');
      await one.done('part.nc');
    },
    wrong: async (one) => {
      await one.run('part.nc');
      await one.ended();
    },
    slip: /worn nozzle/,
  },
  'torch-tipped': {
    right: async (one) => {
      await one.done('tag.nc');
      expect(one.trace.at(-1)!.machine.status!.world!.table!.tipped).toBe(1);
      await one.bench({ take: 'pieces' });
      await one.done('two-holes.nc');
    },
    wrong: async (one) => {
      await one.done('tag.nc');
      await one.run('two-holes.nc');
      await one.until(({ status }) => status?.world?.crash);
      await one.act({ do: 'stop' });
    },
    slip: /tipped up/,
  },
  'torch-lost': {
    right: async (one) => {
      const { places } = (await practiceProgram('torch', 'part.nc'))!;
      await one.bench({ rate: 5 });
      await one.run('part.nc');
      await one.until(({ status }) => status?.world?.crash);
      await one.act({ do: 'stop' });
      await one.bench({ ground: true });
      await one.act({ do: 'clear' });
      await one.until(({ run }) => run?.endedAt);
      await one.bench({ rate: 25 });
      await one.done('part.nc', places[1].line);
    },
    wrong: async (one) => {
      await one.bench({ rate: 5 });
      await one.run('part.nc');
      await one.until(({ status }) => status?.world?.crash);
      await one.bench({ rate: 25 });
      await one.act({ do: 'stop' });
      await one.bench({ ground: true });
      await one.act({ do: 'clear' });
      await one.until(({ run }) => run?.endedAt);
      await one.run('part.nc');
      await one.act({ do: 'stop' });
    },
    slip: /from its first line again/,
  },
  'torch-double': {
    right: (one) => one.done('file-b.nc'),
    wrong: async (one) => {
      await one.run('file-a.nc');
      await one.act({ do: 'stop' });
    },
    slip: /double line/,
  },
};

const LASER: Record<string, Done> = {
  'laser-lid': {
    right: async (one) => {
      await one.bench({ lidOpen: false });
      await one.run('tag.nc');
      await one.start();
      await one.until(({ status }) => status!.beam!.power > 0);
      // While lines of it are still to be sent: they wait, and are no fault.
      await one.bench({ lidOpen: true });
      await one.until(({ run }) => run?.state === 'held');
      await one.bench({ lidOpen: false });
      await one.act({ do: 'resume', handsOff: true });
      expect((await one.ended()).run).toMatchObject({ state: 'done' });
    },
    wrong: (one) => one.run('tag.nc'),
    slip: /lid open/,
  },
  'laser-focus': {
    right: async (one) => {
      await one.surface('focus');
      await one.burned('tag.nc');
    },
    wrong: (one) => one.burned('tag.nc'),
    slip: /out of focus/,
  },
  'laser-scale': {
    right: (one) => one.burned('tag-s10000.nc'),
    wrong: (one) => one.burned('tag.nc'),
    slip: /another scale/,
  },
  'laser-order': {
    right: (one) => one.burned('file-a.nc'),
    wrong: (one) => one.burned('file-b.nc'),
    slip: /free when it was marked/,
  },
  'laser-frame': {
    right: (one) => one.burned('frame-1.nc'),
    wrong: (one) => one.burned('frame-20.nc'),
    slip: /burned into the sheet/,
  },
  'laser-dpi': {
    right: (one) => one.burned('picture-b.nc'),
    wrong: async (one) => {
      await one.run('picture-a.nc');
      await one.act({ do: 'stop' });
    },
    slip: /twice as large/,
  },
  'laser-forbidden': {
    right: async (one) => {
      await one.bench({ board: null });
      await one.bench({ board: { x: 100, y: 100, width: 120, height: 80, thickness: 3, material: 'birch ply' } });
      // Another sheet: it is zeroed anew.
      await one.act({ do: 'move-over', x: 100, y: 100 });
      await one.act({ do: 'zero-xy', corner: 'lower-left' });
      await one.act({ do: 'move-over', x: 110, y: 110 });
      await one.surface('focus');
      await one.burned('tag.nc');
    },
    wrong: (one) => one.burned('tag.nc'),
    slip: /PVC was burned/,
  },
};

describe.each([
  ['torch', TORCH],
  ['laser', LASER],
] as const)('%s', (kind, known) => {
  const shop = new Shop(25, kind);
  beforeAll(() => shop.open(), 60_000);
  afterAll(() => shop.close());
  const exercises = EXERCISES.filter(({ process }) => process === kind);

  it('each of its exercises is done here, and asks for programs that there are', async () => {
    expect(exercises.map(({ id }) => id).sort()).toEqual(Object.keys(known).sort());
    for (const name of new Set(exercises.flatMap(({ programs = [] }) => programs))) expect(practiceProgram(kind, name), name).not.toBe(null);
  });
  describe.each(exercises.map(({ title, id }) => [title, id] as const))('%s', (_, id) => {
    it('is passed by doing it right', async () => {
      const one = await Hot.begin(shop, id);
      expect(one.verdict.finished).toBe(false);
      await known[id].right(one);
      await one.look();
      expect(one.verdict.slips).toEqual([]);
      expect(one.verdict).toMatchObject({ finished: true, passed: true });
    });
    it('sees the slip it is about', async () => {
      const one = await Hot.begin(shop, id);
      await known[id].wrong(one);
      await one.look();
      expect(one.verdict.slips.join('\n')).toMatch(known[id].slip);
      expect(one.verdict.passed).toBe(false);
    });
  });
});
