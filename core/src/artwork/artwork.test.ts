import { describe, expect, it } from 'vitest';
import { charactersOf, FACES, fontOf } from '../reference/fixtures.ts';
import { regionArea, regionsBox, uniteRegions } from '../geometry/index.ts';
import { readSvgShapes } from './import/index.ts';
import { drawPath } from './path.ts';
import { openFont, setText, type TextSetting } from './text/index.ts';

const setting: TextSetting = { text: 'H', capHeight: 20, lineSpacing: 1.5, letterSpacing: 0, align: 'left' };

describe('text', () => {
  it.each(FACES.map(({ id }) => [id]))('%s: a capital H is exactly as high as asked', (id) => {
    const box = regionsBox(setText(setting, fontOf(id)!, 0.005).regions);
    // Script capitals swing below the line; the height is that of the flat H above it.
    expect(box.maxY).toBeCloseTo(20, 1);
  });
  it('kerns: AV is narrower than A and V apart', () => {
    const font = fontOf('playfair')!;
    const width = (text: string) => setText({ ...setting, text }, font, 0.01).width;
    expect(width('AV')).toBeLessThan(width('A') + width('V') - 0.5);
  });
  it('adds letter space and sets lines apart', () => {
    const font = fontOf('bebas')!;
    const plain = setText({ ...setting, text: 'HH' }, font, 0.01);
    const spaced = setText({ ...setting, text: 'HH', letterSpacing: 3 }, font, 0.01);
    expect(spaced.width - plain.width).toBeCloseTo(3, 6);
    const two = regionsBox(setText({ ...setting, text: 'H\nH' }, font, 0.01).regions);
    expect(two.maxY - two.minY).toBeCloseTo(20 + 30, 1);
  });
  it('aligns lines left, in the middle and right', () => {
    const font = fontOf('bebas')!;
    const left = (align: TextSetting['align']) => {
      const { regions } = setText({ ...setting, text: 'HHHH\nI', align }, font, 0.01);
      const lower = regions.filter((r) => regionsBox([r]).maxY < -5);
      return regionsBox(lower).minX;
    };
    expect(left('left')).toBeLessThan(left('centre'));
    expect(left('centre')).toBeLessThan(left('right'));
  });
  it('unites the overlaps of a script: no region overlaps another', () => {
    const { regions } = setText({ ...setting, text: 'willow' }, fontOf('lobster')!, 0.01);
    const sum = regions.reduce((total, region) => total + regionArea(region), 0);
    const united = uniteRegions(regions).reduce((total, region) => total + regionArea(region), 0);
    expect(united).toBeCloseTo(sum, 4);
    expect(regions.length).toBeLessThan(6);
  });
  it('names characters a face lacks, once each, and sets the rest', () => {
    const set = setText({ ...setting, text: 'AЖЖB' }, fontOf('cinzel')!, 0.01);
    expect(set.missing).toEqual(['Ж']);
    expect(set.regions.length).toBe(2);
  });
  it('takes a no-break space as a space, and refuses what is not a font', () => {
    expect(setText({ ...setting, text: 'A\u00a0A' }, fontOf('zilla')!, 0.01).missing).toEqual([]);
    expect(() => openFont(new Uint8Array([1, 2, 3]))).toThrow(/not a font/);
  });
  it('every shipped face has the plain Latin letters', () => {
    for (const { id } of FACES) expect(charactersOf(fontOf(id)!).join('')).toMatch(/0.*9.*A.*Z.*a.*z/s);
  });
});

describe('paths and SVG shapes', () => {
  const areaOf = (svg: string) => {
    const { items } = readSvgShapes(`<svg width="100mm" height="50mm" viewBox="0 0 100 50">${svg}</svg>`, 80);
    return items.map(({ d }) => drawPath(d, 0.001).contours.map(({ xy }) => regionsBox([{ outer: { xy, smooth: new Uint8Array(xy.length / 2) }, holes: [] }])));
  };
  it('places things where the file has them, Y turned up', () => {
    expect(areaOf('<rect x="10" y="5" width="20" height="10"/>')[0][0]).toEqual({ minX: 10, minY: 35, maxX: 30, maxY: 45 });
  });
  it('takes circle, ellipse, polygon, rounded rect, arcs, groups and transforms', () => {
    const boxes = areaOf(
      '<circle cx="20" cy="20" r="5"/><g transform="translate(10 0)"><ellipse cx="40" cy="20" rx="8" ry="3"/><polygon points="0,0 10,0 0,10"/></g><rect x="60" y="10" width="20" height="10" rx="3"/><path d="M10 10a5 5 0 0 1 10 0z"/>',
    );
    expect(boxes).toHaveLength(5);
    expect(boxes[0][0].minX).toBeCloseTo(15, 3);
    expect(boxes[1][0].maxX).toBeCloseTo(58, 3);
    expect(boxes[2][0]).toEqual({ minX: 10, minY: 40, maxX: 20, maxY: 50 });
  });
  it('scales by viewBox and units: an inch is 25.4 mm', () => {
    const { items } = readSvgShapes('<svg width="2in" height="1in" viewBox="0 0 200 100"><rect width="100" height="100"/></svg>', 80);
    const [{ xy }] = drawPath(items[0].d, 0.01).contours;
    expect(Math.max(...xy)).toBeCloseTo(25.4, 6);
  });
  it('names what it leaves out and what it cannot read', () => {
    expect(readSvgShapes('<svg><text>hi</text><rect width="5" height="5"/></svg>', 80).skipped).toEqual(['text']);
    expect(readSvgShapes('hello', 80).why).toMatch(/no svg/);
    expect(readSvgShapes('<svg></svg>', 80).why).toMatch(/holds no path/);
    expect(drawPath('M 0 0 L x', 0.01).why).not.toBeNull();
  });
});
