/** What people read: times and lengths in words, and what the server refuses. */
import { afterEach, describe, expect, it, vi } from 'vitest';
import { duration, len, num, place, writeInchesBy } from './format';
import { ask } from './post';

afterEach(() => vi.unstubAllGlobals());

describe('times', () => {
  it.each([
    [0, '0 s'],
    [59.4, '59 s'],
    [59.6, '1 min 00 s'],
    [61, '1 min 01 s'],
    [599, '9 min 59 s'],
    [600, '10 min'],
    [3569, '59 min'],
    [3570, '1 h 00 min'],
    [3900, '1 h 05 min'],
    [90_000, '25 h 00 min'],
    [Infinity, '–'],
    [NaN, '–'],
  ])('%s seconds: %s', (seconds, words) => expect(duration(seconds)).toBe(words));
  it('never says sixty of anything', () => {
    for (let s = 0; s < 8000; s += 0.37) expect(duration(s)).not.toMatch(/\b60 (s|min)/);
  });
});

describe('lengths', () => {
  it('stand with their unit, or alone where the unit is said beside them', () => {
    expect(len(18, 'mm')).toBe('18 mm');
    expect(num(18, 'mm')).toBe('18');
    expect(len(25.4, 'in')).toMatch(/^1 ?(in|")$/);
  });
});

describe('inches as the shop writes them', () => {
  afterEach(() => writeInchesBy(0));
  it('fractions for lengths that are ones, decimals for what was worked out, millimetres as ever', () => {
    writeInchesBy(16);
    expect(len(3.175, 'in')).toBe('1/8 in');
    expect(len(25.4 * 1.5, 'in')).toBe('1 1/2 in');
    expect(len(10.61, 'in')).toBe('0.418 in');
    expect(len(25.4 / 64, 'in')).toBe('0.016 in');
    expect(len(3.175, 'mm')).toBe('3.175 mm');
    writeInchesBy(64);
    expect(len(25.4 / 64, 'in')).toBe('1/64 in');
    writeInchesBy(0);
    expect(len(3.175, 'in')).toBe('0.125 in');
  });
});

describe('asking the server', () => {
  const answering = (status: number, body: unknown) => vi.stubGlobal('fetch', async () => ({ ok: status < 300, status, json: async () => body }));
  it('gives what it answers', async () => {
    answering(200, { id: 'a' });
    expect(await ask('/api/x')).toEqual({ ok: true, value: { id: 'a' } });
  });
  it('says why it refuses, in its words when it has some', async () => {
    answering(403, { why: 'Only the owner may.' });
    expect(await ask('/api/x', 'POST', {})).toEqual({ ok: false, why: 'Only the owner may.' });
    answering(500, {});
    expect(await ask('/api/x')).toEqual({ ok: false, why: 'The server refused it.' });
  });
  it('says that it is away, and throws nothing, even when the answer is cut short', async () => {
    vi.stubGlobal('fetch', async () => {
      throw new TypeError('Failed to fetch');
    });
    expect(await ask('/api/x')).toMatchObject({ ok: false, why: expect.stringMatching(/No connection/) });
    vi.stubGlobal('fetch', async () => ({ ok: true, status: 200, json: async () => JSON.parse('{"id":') as unknown }));
    expect(await ask('/api/x')).toMatchObject({ ok: false });
  });
});

it('the place of a machine stands still: always as many places', () => {
  expect([-170, 100.1, 3.175, -0.001].map((mm) => place(mm, 'mm'))).toEqual(['-170.00', '100.10', '3.17', '0.00']);
  expect(place(25.4, 'in')).toBe('1.000');
});
