/** A torch table and its agent as real processes: from power-on to a cut, held, taken up, and with nobody there. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { STARTING_CHART } from '@kerbe/core/bits/chart';
import { resumeProgram } from '@kerbe/core/program';
import { orderOf, Shop } from './testing.ts';

const shop = new Shop(5, 'torch');
beforeAll(() => shop.open(), 60_000);
afterAll(() => shop.close());

/** Two slots, each felt for, pierced and cut, and up again. */
const SLOT = (y: number) => [
  `(slot ${y})`,
  'G0 Z15',
  `G0 X20 Y${y}`,
  'G38.2 Z-20 F500',
  'G10 L20 P0 Z0',
  'G0 Z3.8',
  'S1 M3',
  'G4 P0.4',
  'G1 Z1.5 F2500',
  'X120 F2400',
  'M5',
];
const PROGRAM = ['G21 G90 G17', 'G53 G0 Z0', 'T1', 'M5', ...SLOT(20), ...SLOT(60), 'G0 Z15', 'M30'].join('\n');
const order = (id: string, program = PROGRAM, over: object = {}) =>
  orderOf(id, program, { process: 'torch', bits: ['nozzle1'], extents: { min: [20, 20, -20], max: [120, 60, 15] }, ...over });
const nozzle = { kind: 'nozzle', id: 'nozzle1', diameter: 1.5, chart: STARTING_CHART };

/** Everything a set-up does, with nothing seeded. */
async function ready() {
  await shop.must({ do: 'clear' });
  await shop.must({ do: 'home' });
  await shop.must({ do: 'bench', change: { board: { x: 200, y: 150, width: 200, height: 100, thickness: 3 }, ground: true, air: true, water: true } });
  await shop.must({ do: 'bench', change: { bit: { shape: nozzle, stickOut: 60 } } });
  // Without a sensor what the machine shows is what is fitted.
  await shop.until(({ setup }) => setup.bitFitted === 'nozzle1');
  await shop.must({ do: 'move-over', x: 200, y: 150 });
  await shop.must({ do: 'zero-xy', corner: 'lower-left' });
  await shop.must({ do: 'move-over', x: 300, y: 200 });
  await shop.must({ do: 'zero-z', method: 'torch', thickness: 0, datum: 'top' });
}

describe('a torch table', () => {
  it('is set up without a sensor, and cuts', async () => {
    await shop.until(({ link }) => link);
    expect(await shop.command(order('early'))).toMatch(/does not know where it is|has not been/);
    await ready();
    const { setup } = await shop.state();
    expect(setup.zeroZ).toMatchObject({ datum: 'top', with: 'torch', bit: 'nozzle1' });
    await shop.must(order('first'));
    const { run, status } = await shop.until(({ run: one }) => one?.endedAt, 60);
    expect(run).toMatchObject({ state: 'done' });
    expect(status!.arc).toMatchObject({ burns: false, wanted: false, pierces: 2 });
    // Taken as they were written, each once.
    expect(shop.taken('first')).toEqual(PROGRAM.split('\n'));
  });
  it.each([
    ['the work lead', { ground: false }, /work lead/],
    ['the air', { air: false }, /no air/],
  ])('does not start without %s', async (_, change, why) => {
    await shop.must({ do: 'bench', change });
    await shop.until(({ status }) => status?.world?.table?.ground === !('ground' in change) && status.world.table.air === !('air' in change));
    expect(await shop.command(order('without'))).toMatch(why);
    await shop.must({ do: 'bench', change: { ground: true, air: true } });
    await shop.until(({ status }) => status?.world?.table?.ground && status.world.table.air);
  });
  it('held in its cut the arc is out at once; it does not simply go on, and is taken up at its contour', async () => {
    await ready();
    await shop.must({ do: 'bench', change: { rate: 1 } });
    await shop.must(order('held'));
    await shop.until(({ status }) => status?.arc?.burns, 60);
    await shop.must({ do: 'hold' });
    const { run, status } = await shop.until(({ run: one }) => one?.state === 'held');
    expect(run!.message).toMatch(/arc went out/);
    expect(status!.arc!.burns).toBe(false);
    expect(await shop.command({ do: 'resume' })).toMatch(/going on it would cut nothing/);
    await shop.must({ do: 'stop' });
    const stopped = await shop.until(({ run: one }) => one?.state === 'stopped');
    const line = PROGRAM.split('\n').indexOf('X120 F2400') + 1;
    expect(stopped.run!.line).toBeLessThanOrEqual(line);
    const resumed = resumeProgram(PROGRAM, line, 1, 'pierce again');
    if ('why' in resumed) throw new Error(resumed.why);
    await shop.must({ do: 'bench', change: { rate: 5 } });
    const before = stopped.status!.arc!.pierces;
    await shop.must(order('again', resumed.text, { source: resumed.source, lines: PROGRAM.split('\n').length }));
    const end = await shop.until(({ run: one }) => one?.endedAt, 60);
    expect(end.run).toMatchObject({ state: 'done' });
    expect(end.status!.arc!.pierces).toBe(before + 2);
  });
  it('asks whether somebody is there, by the clock on the wall, and holds when nobody says so', async () => {
    await ready();
    await shop.must({ do: 'bench', change: { rate: 0.2 } });
    await shop.must(order('alone', PROGRAM, { presence: 6 }));
    await shop.until(({ run }) => run?.presence && run.presence.left < 4.5);
    await shop.must({ do: 'present' });
    expect((await shop.state()).run!.presence!.left).toBeGreaterThan(4.5);
    const { run } = await shop.until(({ run: one }) => one?.state === 'held', 30);
    expect(run!.message).toMatch(/Nobody said that they are there/);
    await shop.until(({ status }) => status?.state === 'hold' && !status.arc!.burns);
    await shop.must({ do: 'stop' });
    await shop.until(({ run: one }) => one?.state === 'stopped');
    expect(await shop.command({ do: 'present' })).toMatch(/Nothing runs/);
    await shop.must({ do: 'bench', change: { rate: 5 } });
  });
  it('an arc that goes out ends the run, and says why', async () => {
    await ready();
    await shop.must({ do: 'bench', change: { rate: 1 } });
    await shop.must(order('lost'));
    await shop.until(({ status }) => status?.arc?.burns, 60);
    await shop.must({ do: 'bench', change: { fault: { kind: 'arc-lost', on: true } } });
    const { run } = await shop.until(({ run: one }) => one?.endedAt);
    expect(run!.state).toBe('failed');
    expect(run!.message).toMatch(/arc went out/i);
    await shop.must({ do: 'bench', change: { fault: { kind: 'arc-lost', on: false } } });
  });
});
