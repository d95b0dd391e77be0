/** Text from outside. What is right is written down here by hand, or taken from Node's own encoders. */
import { describe, expect, it } from 'vitest';
import { makeJob } from '../reference/fixtures.ts';
import { readJob } from '../job/index.ts';
import { cleanDeep, cleanText, decodeText } from './index.ts';

const WORDS = 'naam;größe\nHeron Walk;25,4\nChâteau;6 mm\n';
const both = (big: boolean, mark: boolean) => {
  const bytes = Buffer.from((mark ? '\ufeff' : '') + WORDS, 'utf16le');
  return big ? bytes.swap16() : bytes;
};

describe('bytes of a list are read rightly', () => {
  it.each([
    ['UTF-8', Buffer.from(WORDS)],
    ['UTF-8 with a mark', Buffer.from('\ufeff' + WORDS)],
    ['UTF-16, little end first, with a mark', both(false, true)],
    ['UTF-16, big end first, with a mark', both(true, true)],
    ['UTF-16, little end first, no mark', both(false, false)],
    ['UTF-16, big end first, no mark', both(true, false)],
    ['Latin-1', Buffer.from(WORDS, 'latin1')],
  ])('%s', (_, bytes) => expect(decodeText(new Uint8Array(bytes))).toBe(WORDS));
  it('none, one byte, and a mark alone', () => {
    expect(decodeText(new Uint8Array())).toBe('');
    expect(decodeText(Uint8Array.of(65))).toBe('A');
    expect(decodeText(Uint8Array.of(0xff, 0xfe))).toBe('');
  });
});

describe('what no database takes', () => {
  it('becomes the sign for it; all else stays', () => {
    expect(cleanText('a\0b')).toBe('a\ufffdb');
    expect(cleanText('a\ud800b\udc00')).toBe('a\ufffdb\ufffd');
    expect(cleanText('Heron 🪶 \u{1F9F0}')).toBe('Heron 🪶 \u{1F9F0}');
  });
  it('also deep in data and in the names of fields', () => {
    expect(cleanDeep({ 'k\0': [{ a: '\udfff' }, 1, null], b: 'ok' })).toEqual({ 'k\ufffd': [{ a: '\ufffd' }, 1, null], b: 'ok' });
  });
  it('is never in a job that was read', () => {
    const job = makeJob() as unknown as { name: string; notes: string };
    const reading = readJob({ ...job, name: '\0', notes: 'x\ud83dy' });
    expect(reading).toMatchObject({ ok: true, job: { name: '\ufffd', notes: 'x\ufffdy' } });
  });
});
