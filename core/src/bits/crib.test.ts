import { describe, expect, it } from 'vitest';
import { Bit } from '../job/index.ts';
import { cribToCsv, cribToJson, readCrib } from './crib.ts';

const CRIB = [
  { kind: 'v', id: 'v60', name: '60° V, "sharp"', angle: 60, diameter: 12.7 },
  { kind: 'tapered', id: 't', angle: 11, diameter: 6, tipRadius: 0.5 },
  { kind: 'engraving', id: 'g', angle: 20, diameter: 3.175, tipFlat: 0.508 },
  { kind: 'end', id: 'c', diameter: 6, spiral: 'compression', upLength: 4 },
  { kind: 'ball', id: 'b', diameter: 6, measuredWidth: 6.1 },
  { kind: 'surfacing', id: 's', diameter: 25, flutes: 3 },
  { kind: 'drag', id: 'd', diameter: 6, lineWidth: 0.4 },
  { kind: 'drill', id: 'h', diameter: 5 },
].map((bit) => Bit.parse(bit));

describe('the crib', () => {
  it('comes back from CSV and from JSON as it went', () => {
    expect(readCrib(cribToCsv(CRIB))).toEqual({ bits: CRIB, why: [] });
    const feeds = { oak: { feed: 2000, plunge: 600, speed: 16000, source: 'trial board' } };
    const kept = [{ ...CRIB[0], feeds }, ...CRIB.slice(1)];
    expect(readCrib(cribToJson(kept))).toEqual({ bits: kept, why: [] });
  });
  it('reads what a person types: any order of columns, decimal commas, semicolons, no ids', () => {
    const { bits, why } = readCrib('diameter;kind;angle\n12,7;v;60\n6;end;\n6;end;\n');
    expect(why).toEqual([]);
    expect(bits.map(({ id, diameter }) => [id, diameter])).toEqual([
      ['v12-7', 12.7],
      ['end6', 6],
      ['end6-2', 6],
    ]);
  });
  it.each([
    ['', /empty/],
    ['{"bits": 3}', /no list/],
    ['{', /no JSON/],
    ['name,size\nx,3', /columns/],
    ['kind,diameter\nchisel,6', /Bit 1: kind/],
    ['kind,diameter\nv,6', /angle/],
    ['kind,diameter\nend,-2', /diameter/],
    ['id,kind,diameter\na,end,2\na,end,3', /twice/],
  ])('says what is wrong with %j', (text, why) => {
    expect(readCrib(text).why.join('\n')).toMatch(why);
  });
  it('keeps the good rows of a list with a bad one', () => {
    const { bits, why } = readCrib('kind,diameter\nend,6\nend,wide\n');
    expect([bits.length, why.length]).toEqual([1, 1]);
  });
});
