/** Guessing is slow; a person who mistypes twice does not notice. */
import { describe, expect, it } from 'vitest';
import { passwordFault } from './passwords';
import { Tries } from './tries';

describe('wrong sign-ins', () => {
  it('five are forgiven, then it takes longer each time, a quarter of an hour at most', () => {
    let now = 0;
    const tries = new Tries(() => now);
    const again = () => tries.begin('reed@x.example', `address ${now}`);
    for (let k = 0; k < 5; k++) expect(again()).toBe(0);
    const waits: number[] = [];
    for (let k = 0; k < 9; k++) {
      const wait = again();
      waits.push(wait);
      now += wait * 1000;
      expect(again()).toBe(0);
    }
    expect(waits).toEqual([15, 30, 60, 120, 240, 480, 900, 900, 900]);
  });
  it('a hundred at once: no more are let through than are forgiven', () => {
    const tries = new Tries(() => 0);
    expect(Array.from({ length: 100 }, (_, k) => tries.begin('reed@x.example', `address ${k}`)).filter((wait) => wait === 0)).toHaveLength(5);
  });
  it('counted by address too, over many accounts', () => {
    const tries = new Tries(() => 0);
    expect(Array.from({ length: 100 }, (_, k) => tries.begin(`p${k}@x.example`, 'one')).filter((wait) => wait === 0)).toHaveLength(20);
    expect(tries.begin('p@x.example', 'another')).toBe(0);
  });
  it('however the address is written', () => {
    const tries = new Tries(() => 0);
    for (let k = 0; k < 5; k++) tries.begin(k % 2 ? ' Reed@X.example' : 'reed@x.example', `a${k}`);
    expect(tries.begin('REED@x.example ', 'b')).toBeGreaterThan(0);
  });
  it('the right one is forgiven all, and half an hour forgets', () => {
    let now = 0;
    const tries = new Tries(() => now);
    for (let k = 0; k < 4; k++) tries.begin('a', 'x');
    tries.begin('a', 'x');
    tries.right('a', 'x');
    expect(tries.begin('a', 'x')).toBe(0);
    for (let k = 0; k < 10; k++) tries.begin('b', 'y');
    expect(tries.begin('b', 'y')).toBeGreaterThan(0);
    now = 31 * 60_000;
    expect(tries.begin('b', 'y')).toBe(0);
  });
  it('people who come in all day do not use up their address', () => {
    const tries = new Tries(() => 0);
    for (let k = 0; k < 200; k++) {
      expect(tries.begin(`p${k}`, 'shop')).toBe(0);
      tries.right(`p${k}`, 'shop');
    }
  });
});

describe('passwords', () => {
  it.each([
    ['too short', 'Heron-12', /ten characters/],
    ['too long', 'x1y2z'.repeat(30), /too long/],
    ['a pattern', 'abababababab', /few different/],
    ['a common one', 'password123456', /first that are tried/],
    ['a common one, dressed up', '2024Password!!', /first that are tried/],
    ['their own name', 'bunting1234567', /first that are tried/],
    ['their address', 'Reedwork!!!2026', /first that are tried/],
    ['ours', 'Kerbe12345678', /first that are tried/],
  ])('%s', (_, password, why) => expect(passwordFault(password, ['Reed Bunting', 'reedwork@x.example'])).toMatch(why));
  it('a few words will do', () => {
    for (const good of ['willow kettle nine', 'Zaun-Pfahl-Moor', '四月の雨は静かに降り続く']) expect(passwordFault(good, ['Reed'])).toBeNull();
  });
});
