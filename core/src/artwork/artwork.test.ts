import { describe, expect, it } from 'vitest';
import { charactersOf, FACES, fontOf } from '../reference/fixtures.ts';
import { regionArea, regionsBox, uniteRegions } from '../geometry/index.ts';
import { letterRegions, openFont, setText, type TextSetting } from './text/index.ts';

const setting: TextSetting = { text: 'H', capHeight: 20, lineSpacing: 1.5, letterSpacing: 0, align: 'left' };

describe('text', () => {
  it.each(FACES.map(({ id }) => [id]))('%s: a capital H is exactly as high as asked', (id) => {
    const box = regionsBox(letterRegions(setText(setting, fontOf(id)!), 0.005));
    // Script capitals swing below the line; the height is that of the flat H above it.
    expect(box.maxY).toBeCloseTo(20, 1);
  });
  it('kerns: AV is narrower than A and V apart', () => {
    const font = fontOf('playfair')!;
    const width = (text: string) => setText({ ...setting, text }, font).width;
    expect(width('AV')).toBeLessThan(width('A') + width('V') - 0.5);
  });
  it('adds letter space and sets lines apart', () => {
    const font = fontOf('bebas')!;
    const plain = setText({ ...setting, text: 'HH' }, font);
    const spaced = setText({ ...setting, text: 'HH', letterSpacing: 3 }, font);
    expect(spaced.width - plain.width).toBeCloseTo(3, 6);
    const two = regionsBox(letterRegions(setText({ ...setting, text: 'H\nH' }, font), 0.01));
    expect(two.maxY - two.minY).toBeCloseTo(20 + 30, 1);
  });
  it('aligns lines left, in the middle and right', () => {
    const font = fontOf('bebas')!;
    const left = (align: TextSetting['align']) => {
      const regions = letterRegions(setText({ ...setting, text: 'HHHH\nI', align }, font), 0.01);
      const lower = regions.filter((r) => regionsBox([r]).maxY < -5);
      return regionsBox(lower).minX;
    };
    expect(left('left')).toBeLessThan(left('centre'));
    expect(left('centre')).toBeLessThan(left('right'));
  });
  it('unites the overlaps of a script: no region overlaps another', () => {
    const regions = letterRegions(setText({ ...setting, text: 'willow' }, fontOf('lobster')!), 0.01);
    const sum = regions.reduce((total, region) => total + regionArea(region), 0);
    const united = uniteRegions(regions).reduce((total, region) => total + regionArea(region), 0);
    expect(united).toBeCloseTo(sum, 4);
    expect(regions.length).toBeLessThan(6);
  });
  it('names characters a face lacks, once each, and sets the rest', () => {
    const set = setText({ ...setting, text: 'AЖЖB' }, fontOf('cinzel')!);
    expect(set.missing).toEqual(['Ж']);
    expect(letterRegions(set, 0.01).length).toBe(2);
  });
  it('takes a no-break space as a space, and refuses what is not a font', () => {
    expect(setText({ ...setting, text: 'A\u00a0A' }, fontOf('zilla')!).missing).toEqual([]);
    expect(() => openFont(new Uint8Array([1, 2, 3]))).toThrow(/not a font/);
  });
  it('every shipped face has the plain Latin letters', () => {
    for (const { id } of FACES) expect(charactersOf(fontOf(id)!).join('')).toMatch(/0.*9.*A.*Z.*a.*z/s);
  });
});

