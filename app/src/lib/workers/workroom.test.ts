/** Calls of workers: asked once more of a new one when the first dies, told so when that dies too; cancelled, named, in order. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FakeWorker } from '../testing';
import { Superseded } from './superseded';
import { Workroom } from './workroom';

interface Questions {
  double: [number, number];
  say: [string, string];
}
let room: Workroom<Questions>;
const settle = () => new Promise((done) => setTimeout(done, 0));
const worker = () => FakeWorker.all.at(-1)!;

beforeEach(() => {
  FakeWorker.all = [];
  vi.stubGlobal('Worker', FakeWorker);
  room = new Workroom<Questions>('The counting worker', () => new Worker('x'));
});
afterEach(() => {
  room.close();
  vi.unstubAllGlobals();
});

describe('a worker that is asked', () => {
  it('hears nothing before it is ready, then everything in order, and answers each by itself', async () => {
    const answers = [room.ask('double', 1), room.ask('say', 'a')];
    await settle();
    expect(worker().asked).toEqual([]);
    worker().ready();
    await settle();
    expect(worker().asked.map(({ name, what }) => [name, what])).toEqual([['double', 1], ['say', 'a']]); // prettier-ignore
    worker().reply(worker().asked[1], 'b');
    worker().reply(worker().asked[0], 2);
    expect(await Promise.all(answers)).toEqual([2, 'b']);
  });
  it('tells how far it is', async () => {
    const heard: unknown[] = [];
    const answer = room.ask('double', 4, (done, what) => heard.push([done, what]));
    worker().ready();
    await settle();
    await worker().asked[0].progress!(0.5, 'half');
    worker().reply(worker().asked[0], 8);
    await answer;
    expect(heard).toEqual([[0.5, 'half']]);
  });
  it('dead, it is started again and asked once more; nobody has to press anything', async () => {
    const answer = room.ask('double', 3);
    worker().ready();
    await settle();
    const [first] = FakeWorker.all;
    first.die('out of memory');
    expect([first.ended, FakeWorker.all.length]).toEqual([true, 2]);
    worker().ready();
    await settle();
    // What the dead one still says is not heard.
    first.reply(first.asked[0], 7);
    worker().reply(worker().asked[0], 6);
    expect(await answer).toBe(6);
  });
  it('dead of the same question twice, whoever asked is told, and the next question gets another worker', async () => {
    const answer = room.ask('double', 3);
    for (let k = 0; k < 2; k++) {
      worker().ready();
      await settle();
      worker().die('out of memory');
    }
    await expect(answer).rejects.toThrow('The counting worker stopped over this (out of memory). Change something, and it is tried again.');
    expect(FakeWorker.all).toHaveLength(2);
    const next = room.ask('double', 5);
    expect(FakeWorker.all).toHaveLength(3);
    worker().ready();
    await settle();
    worker().reply(worker().asked[0], 10);
    expect(await next).toBe(10);
  });
  it('that cannot even be loaded is not started over and over', async () => {
    const answer = room.ask('say', 'x');
    worker().die('');
    worker().die('');
    await expect(answer).rejects.toThrow(/stopped over this\./);
    await settle();
    expect(FakeWorker.all).toHaveLength(2);
  });
  it('cancelled, it ends in the middle of a step, and whoever asked knows that it was meant', async () => {
    const answer = room.ask('double', 3);
    worker().ready();
    await settle();
    room.cancel();
    await expect(answer).rejects.toBeInstanceOf(Superseded);
    expect(FakeWorker.all.map(({ ended }) => ended)).toEqual([true, false]);
  });
  it('refusals keep their words, and what is superseded its name', async () => {
    const [refused, old] = [room.ask('double', 1), room.ask('double', 2)];
    worker().ready();
    await settle();
    worker().fail(worker().asked[0], 'That is no number.');
    worker().fail(worker().asked[1], 'Something newer is wanted.', 'Superseded');
    await expect(refused).rejects.toThrow('That is no number.');
    await expect(old).rejects.toBeInstanceOf(Superseded);
  });
});
