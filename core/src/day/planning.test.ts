/** What may be said of a job for the day. */
import { describe, expect, it } from 'vitest';
import { Planning } from './planning.ts';

describe('what is said of a job', () => {
  it('nothing said is a board, due at no time', () =>
    expect(Planning.parse({})).toMatchObject({ since: null, due: null, quantity: 1, urgent: false, boardHere: true }));
  it.each([
    [{ quantity: 0 }, 'At least one board.'],
    [{ quantity: 1.5 }, 'A quantity is a whole number.'],
    [{ due: '4 May' }, 'A day and a time'],
    [{ finishing: [{ name: ' ', hands: 1, waits: 1 }] }, 'A step needs a name.'],
  ])('a slip is said: %o', (wrong, why) => expect(Planning.safeParse(wrong).error?.issues[0].message).toContain(why));
});
