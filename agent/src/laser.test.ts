/** A laser and its agent as real processes: from power-on to a burn that begins by its own button; lid, hold, link and nobody there. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { marksFrom } from '@kerbe/core/feeds/beam';
import { orderOf, Shop, wait } from './testing.ts';

const shop = new Shop(5, 'laser');
beforeAll(() => shop.open(), 60_000);
afterAll(() => shop.close());

/** Lines of a fill, and an outline after it. */
const PROGRAM = [
  'G21 G90 G17',
  'G53 G0 Z0',
  'T1',
  'M5',
  'M8',
  'S0 M4',
  'G0 Z0',
  ...Array.from({ length: 12 }, (_, k) => [`G0 X10 Y${10 + k}`, 'G1 X12 F3000', 'X58 S300', 'X60 S0']).flat(),
  'M5',
  'S0 M3',
  'G0 X5 Y5',
  ...['X65', 'Y40', 'X5', 'Y5'].map((to) => `G1 ${to} F1500 S800`),
  'M5',
  'M9',
  'G53 G0 Z0',
  'M30',
].join('\n');
const order = (id: string, over: object = {}) =>
  orderOf(id, PROGRAM, { process: 'laser', bits: ['head1'], extents: { min: [5, 5, 0], max: [65, 40, 0] }, ...over });
const head = { kind: 'head', id: 'head1', watts: 10, diameter: 0.12 };

/** Everything a set-up does, with nothing seeded. */
async function ready() {
  await shop.must({ do: 'clear' });
  await shop.must({ do: 'home' });
  await shop.must({ do: 'bench', change: { lidOpen: false, key: true, air: true, extraction: true, rate: 5 } });
  await shop.must({ do: 'bench', change: { board: { x: 200, y: 150, width: 80, height: 60, thickness: 3, material: 'birch ply' } } });
  await shop.must({ do: 'bench', change: { bit: { shape: head, stickOut: 20 } } });
  await shop.until(({ setup }) => setup.bitFitted === 'head1');
  await shop.must({ do: 'move-over', x: 200, y: 150 });
  await shop.must({ do: 'zero-xy', corner: 'lower-left' });
  await shop.must({ do: 'zero-z', method: 'focus', thickness: 0, datum: 'top' });
}
const pressStart = async () => {
  await shop.until(({ run }) => run?.state === 'paused' && run.pause?.reason === 'start');
  await shop.must({ do: 'bench', change: { start: true } });
};

describe('a laser', () => {
  it('is set up, waits for its own button, and burns', async () => {
    await shop.until(({ link }) => link);
    expect(await shop.command(order('early'))).toMatch(/does not know where it is|has not been/);
    await ready();
    const { setup, status: before } = await shop.state();
    expect(setup.zeroZ).toMatchObject({ datum: 'top', with: 'focus', bit: 'head1' });
    expect(before!.beam).toMatchObject({ wanted: false, power: 0 });
    await shop.must(order('first'));
    const { run: waiting } = await shop.until(({ run }) => run?.state === 'paused');
    expect(waiting).toMatchObject({ pause: { reason: 'start' }, message: 'The program is in the machine. Press Start there.', line: 0 });
    expect(await shop.command({ do: 'resume', handsOff: true })).toMatch(/Start at the machine/);
    await shop.must({ do: 'bench', change: { start: true } });
    await shop.until(({ run, status }) => run?.state === 'running' && status!.beam!.wanted);
    const { run, status } = await shop.until(({ run: one }) => one?.endedAt, 90);
    expect(run).toMatchObject({ state: 'done' });
    expect(status!.beam).toMatchObject({ wanted: false, power: 0 });
    expect(status!.world!.cabinet).toMatchObject({ late: false });
    expect(shop.taken('first')).toEqual(PROGRAM.split('\n'));
    // And once more, as a finished run can be.
    await shop.must(order('second'));
    await pressStart();
    expect((await shop.until(({ run: one }) => one?.id === 'second' && one.endedAt, 90)).run).toMatchObject({ state: 'done' });
  });
  it('its focus is set by sensor, by gauge or by what was measured: the surface is in focus at Z0 each time', async () => {
    await ready();
    const inFocus = async () => {
      await shop.must({ do: 'go-to-zero', clearance: 1 });
      await shop.rest();
      return (await shop.state()).status!.beam!.out! - 1;
    };
    expect(await inFocus()).toBeCloseTo(0, 1);
    // It stands so high above the focus as the machine itself shows: measured, and typed.
    await shop.must({ do: 'jog', x: 10, y: 10, z: 12, feed: 3000 });
    await shop.rest();
    const { out } = (await shop.state()).status!.beam!;
    await shop.must({ do: 'zero-z', method: 'gauge', thickness: out, datum: 'top' });
    expect((await shop.state()).setup.zeroZ).toMatchObject({ method: 'focus typed', with: 'gauge' });
    expect(await inFocus()).toBeCloseTo(0, 1);
    await shop.must({ do: 'jog', x: 10, y: 10, z: -1, feed: 3000 });
    await shop.rest();
    await shop.must({ do: 'zero-z', method: 'gauge', thickness: 0, datum: 'top' });
    expect((await shop.state()).setup.zeroZ).toMatchObject({ method: 'focus gauge' });
    expect(await inFocus()).toBeCloseTo(0, 1);
  });
  it('is framed with a beam too weak to mark: dark before and after, dark for who would open the lid; a strong one would have marked', async () => {
    await ready();
    const way: [number, number][] = [
      [5, 5],
      [65, 5],
      [65, 40],
      [5, 40],
      [5, 5],
    ];
    const frame = (level?: number) => ({ do: 'frame', way, height: 5, sha256: 'frame', ...(level ? { beam: { level, feed: 6000 } } : {}) });
    await shop.must({ do: 'bench', change: { lidOpen: true } });
    await shop.until(({ status }) => status?.world?.lidOpen);
    expect(await shop.command(frame(10))).toMatch(/lid is open/);
    // With the pointer it may be open.
    await shop.must(frame());
    await shop.must({ do: 'bench', change: { lidOpen: false } });
    await shop.until(({ status }) => status?.world?.lidOpen === false);
    const weak = (1000 * marksFrom({ watts: 10, diameter: 0.12 }, 'birch ply')) / 100;
    let shone = false;
    let going = true;
    const done = shop.command(frame(weak)).finally(() => (going = false));
    while (going) {
      shone ||= (await shop.state()).status!.beam!.power > 0;
      await wait(10);
    }
    expect(await done).toBe(null);
    expect(shone).toBe(true);
    const { status, setup } = await shop.state();
    expect(status!.beam).toMatchObject({ wanted: false, power: 0 });
    expect(status!.world!.cabinet!.marked).toBe(false);
    expect(setup.framed).toBe('frame');
    await shop.must(frame(300));
    await shop.until(({ status: now }) => now?.world?.cabinet?.marked);
  });
  it('a pointer beside the beam is led round the job: the head goes beside it, also of a sheet that lies crooked', async () => {
    await ready();
    const { status, setup } = await shop.state();
    const [x, y] = [status!.offset[0], status!.offset[1]];
    const goes = async (pointer?: [number, number]) => {
      const way = [[5, 5], [65, 5], [65, 40], [5, 40], [5, 5]]; // prettier-ignore
      const seen = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };
      let going = true;
      const done = shop.command({ do: 'frame', way, height: 5, sha256: 'frame', pointer }).finally(() => (going = false));
      while (going) {
        const { machine, work } = (await shop.state()).status!;
        // On its way there it is higher.
        if (work[2] < 5.5) {
          [seen.minX, seen.minY] = [Math.min(seen.minX, machine[0]), Math.min(seen.minY, machine[1])];
          [seen.maxX, seen.maxY] = [Math.max(seen.maxX, machine[0]), Math.max(seen.maxY, machine[1])];
        }
        await wait(5);
      }
      expect(await done).toBe(null);
      return [seen.minX - x, seen.minY - y, seen.maxX - x, seen.maxY - y];
    };
    const near = (found: number[], asked: number[]) => found.forEach((v, k) => expect(Math.abs(v - asked[k]), `${found.join(' ')}`).toBeLessThan(1.5));
    near(await goes(), [5, 5, 65, 40]);
    near(await goes([-18, 6]), [23, -1, 83, 34]);
    // A quarter turn: the way is turned, the pointer is where it is on the machine.
    await shop.must({ do: 'zero-xy', corner: setup.zeroXY!.corner, by: 'marks', at: { x: x + 100, y }, angle: Math.PI / 2, job: null });
    near(await goes([-18, 6]), [100 - 40 + 18, -1, 100 - 5 + 18, 59]);
  });
  it.each([
    ['the lid shut', { lidOpen: true }, { lidOpen: false }, /lid is open/],
    ['its key', { key: false }, { key: true }, /key/],
    ['extraction', { extraction: false }, { extraction: true }, /Extraction is off/],
  ])('does not start without %s', async (_, change, back, why) => {
    await shop.must({ do: 'bench', change });
    await shop.until(({ status }) => status!.world!.lidOpen === 'lidOpen' in change && status!.world!.cabinet!.extraction === !('extraction' in change));
    await shop.until(({ status }) => status!.world!.cabinet!.key === !('key' in change));
    expect(await shop.command(order('without'))).toMatch(why);
    await shop.must({ do: 'bench', change: back });
    await shop.until(({ status: s }) => !s!.world!.lidOpen && s!.world!.cabinet!.key && s!.world!.cabinet!.extraction);
  });
  it('lid opened in a run: dark and held by itself; it does not go on before it is shut; then to the end', async () => {
    await ready();
    await shop.must({ do: 'bench', change: { rate: 1 } });
    await shop.must(order('lid'));
    await pressStart();
    await shop.until(({ status }) => status!.beam!.wanted, 60);
    await shop.must({ do: 'bench', change: { lidOpen: true } });
    const { run, status } = await shop.until(({ run: one }) => one?.state === 'held');
    expect(run!.message).toMatch(/its lid/);
    expect(status!.beam!.power).toBe(0);
    expect(await shop.command({ do: 'resume' })).toMatch(/lid is open/);
    await shop.must({ do: 'bench', change: { lidOpen: false, rate: 5 } });
    await shop.until(({ status: s }) => !s!.world!.lidOpen && s!.speed === 0);
    await shop.must({ do: 'resume' });
    expect((await shop.until(({ run: one }) => one?.endedAt, 90)).run).toMatchObject({ state: 'done' });
  });
  it('the link lost while it waits for its button: said, and found again as it was', async () => {
    await ready();
    await shop.must(order('cable'));
    await shop.until(({ run }) => run?.pause?.reason === 'start');
    shop.tap.cut(800);
    await shop.until(({ link }) => !link);
    await shop.until(({ link }) => link, 30);
    const { run } = await shop.until(({ run: one }) => one?.state === 'paused');
    expect(run!.message).toMatch(/press Start there/);
    await shop.must({ do: 'bench', change: { start: true } });
    expect((await shop.until(({ run: one }) => one?.endedAt, 90)).run).toMatchObject({ state: 'done' });
    expect(shop.taken('cable')).toEqual(PROGRAM.split('\n'));
  });
  it('stopped while it waits it burns nothing, and another can be started', async () => {
    await ready();
    await shop.must(order('never'));
    await shop.until(({ run }) => run?.pause?.reason === 'start');
    await shop.must({ do: 'stop' });
    expect((await shop.until(({ run }) => run?.endedAt)).run).toMatchObject({ state: 'stopped', line: 0 });
    expect(await shop.command({ do: 'bench', change: { start: true } })).toMatch(/nothing waits/i);
    await shop.must(order('then'));
    await pressStart();
    expect((await shop.until(({ run }) => run?.id === 'then' && run.endedAt, 90)).run).toMatchObject({ state: 'done' });
  });
  it('asks whether somebody is there, and holds in the dark when nobody says so', async () => {
    await ready();
    await shop.must({ do: 'bench', change: { rate: 0.2 } });
    await shop.must(order('alone', { presence: 5 }));
    // Who waits for the button is there: the time does not run yet.
    await shop.until(({ run }) => run?.pause?.reason === 'start');
    await pressStart();
    const { run } = await shop.until(({ run: one }) => one?.state === 'held', 30);
    expect(run!.message).toMatch(/Nobody said that they are there/);
    await shop.until(({ status }) => status?.state === 'hold' && status.speed === 0 && !status.beam!.wanted && status.beam!.power === 0);
    await shop.must({ do: 'present' });
    await shop.must({ do: 'bench', change: { rate: 40 } });
    await shop.must({ do: 'resume' });
    expect((await shop.until(({ run: one }) => one?.endedAt, 90)).run).toMatchObject({ state: 'done' });
  });
});
