import { wordsOf } from '../../findings/index.ts';
import { describe, expect, it } from 'vitest';
import { regionArea, regionsBox, signedArea, unite, type Region } from '../../geometry/index.ts';
import { drawSubpaths, parsePath } from '../path.ts';
import { MAX_THINGS } from './imported.ts';
import { readSvg, type ImportedPath, type ImportedText } from './index.ts';

const page = (inside: string, attributes = 'width="100mm" height="50mm" viewBox="0 0 100 50"') =>
  readSvg(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inside}</svg>`);
const paths = (inside: string, attributes?: string) => page(inside, attributes).things.filter((thing): thing is ImportedPath => thing.kind === 'path');
const regionsOf = (thing: ImportedPath): Region[] =>
  unite(drawSubpaths(thing.subpaths, 0.001, true).contours, thing.fill === 'evenodd' ? 'evenodd' : 'nonzero');
const box = (thing: ImportedPath) => {
  const b = regionsBox(regionsOf(thing));
  return [b.minX, b.minY, b.maxX, b.maxY].map((v) => Math.round(v * 1000) / 1000 + 0);
};
const area = (thing: ImportedPath) => regionsOf(thing).reduce((sum, r) => sum + regionArea(r), 0);

describe('SVG: shapes, units, viewports', () => {
  it('places things where the file has them, Y turned up', () => {
    expect(box(paths('<rect x="10" y="5" width="20" height="10"/>')[0])).toEqual([10, 35, 30, 45]);
  });
  it.each([
    ['<circle cx="20" cy="20" r="5"/>', Math.PI * 25],
    ['<ellipse cx="40" cy="20" rx="8" ry="3"/>', Math.PI * 24],
    ['<rect x="60" y="10" width="20" height="10" rx="3"/>', 200 - (4 - Math.PI) * 9],
    ['<polygon points="0,0 10,0 0,10"/>', 50],
    ['<polyline points="0 0 10 0 10 10"/>', 50],
    ['<path d="M10 10h10v10h-10z"/>', 100],
    ['<path d="m10,10 10,0 0,10 -10,0"/>', 100],
    ['<path d="M10 10a5 5 0 0 1 10 0z"/>', (Math.PI * 25) / 2],
    ['<path d="M10 20Q20 20 20 10T30 0H10z"/>', 200],
    ['<path fill-rule="evenodd" d="M0 0h20v20h-20zM5 5h10v10h-10z"/>', 300],
    ['<path d="M0 0h20v20h-20zM5 5h10v10h-10z"/>', 400],
    ['<path d="M0 0h20v20h-20zM5 5v10h10v-10z"/>', 300],
  ])('%s covers what it should', (inside, expected) => {
    expect(area(paths(inside)[0])).toBeCloseTo(expected, 1);
  });
  // CSS 2.1: 1 in = 96 px = 25.4 mm, 1 pt = 1/72 in, 1 pc = 12 pt.
  it.each([
    ['2in', 50.8, true],
    ['72pt', 25.4, true],
    ['5cm', 50, true],
    ['6pc', 25.4, true],
    ['96px', 25.4, false],
    ['96', 25.4, false],
  ])('width %s is %f mm', (width, mm, known) => {
    const drawing = page('<rect width="10" height="10"/>', `width="${width}" height="${width}" viewBox="0 0 10 10"`);
    expect(box(drawing.things[0] as ImportedPath)).toEqual([0, 0, mm, mm]);
    expect(drawing.size.known).toBe(known);
  });
  it('takes the missing side from the viewBox, and one pixel per unit when both are missing', () => {
    expect(page('<rect width="9" height="9"/>', 'width="50mm" viewBox="0 0 100 50"').page).toEqual({ width: 50, height: 25 });
    expect(page('<rect width="9" height="9"/>', 'viewBox="0 0 96 48"').page!.width).toBeCloseTo(25.4, 9);
  });
  it('fits a viewBox of another shape as preserveAspectRatio says', () => {
    const square = '<rect width="10" height="10"/>';
    const at = (ratio: string) => box(paths(square, `width="30mm" height="10mm" viewBox="0 0 10 10" preserveAspectRatio="${ratio}"`)[0]);
    expect(at('xMidYMid')).toEqual([10, 0, 20, 10]);
    expect(at('xMinYMin meet')).toEqual([0, 0, 10, 10]);
    expect(at('none')).toEqual([0, 0, 30, 10]);
  });
  it('follows groups, transforms, use, symbols and nested viewports', () => {
    const things = paths(`
      <defs><symbol id="s" viewBox="0 0 10 10"><rect width="10" height="10"/></symbol><rect id="r" width="4" height="4"/></defs>
      <g transform="translate(10 0) scale(2)"><rect width="5" height="5"/></g>
      <use href="#s" x="40" y="0" width="20" height="20"/><use href="#r" x="70" y="10" transform="rotate(90 70 10)"/>
      <svg x="80" y="20" width="10" height="10" viewBox="0 0 100 100"><rect width="50" height="50"/></svg>`);
    expect(things.map(box)).toEqual([
      [10, 40, 20, 50],
      [40, 30, 60, 50],
      [66, 36, 70, 40],
      [80, 25, 85, 30],
    ]);
  });
  it('keeps arcs as arcs, through stretch and turn', () => {
    const [{ subpaths }] = paths('<g transform="rotate(30) scale(2 1)"><path d="M5 5A4 2 20 0 1 9 9z"/></g>');
    expect(subpaths[0].segments[0].kind).toBe('arc');
    const exact = drawSubpaths(subpaths, 1e-5, true).contours[0];
    const [plain] = paths('<path d="M5 5A4 2 20 0 1 9 9z"/>');
    // A stretch by 2 and 1 doubles the area, whatever the turn.
    expect(Math.abs(signedArea(exact.xy))).toBeCloseTo(2 * Math.abs(signedArea(drawSubpaths(plain.subpaths, 1e-5, true).contours[0].xy)), 3);
  });
});

describe('SVG: arcs (published: W3C SVG 1.1, appendix F.6)', () => {
  const ends = (d: string) => {
    const [{ segments }] = parsePath(d).subpaths;
    return segments[0];
  };
  const length = (d: string) => {
    const { lines } = drawSubpaths(parsePath(d).subpaths, 1e-6, false);
    let sum = 0;
    const { xy } = lines[0];
    for (let i = 2; i < xy.length; i += 2) sum += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
    return sum;
  };
  it.each([
    // The four ways from (0, 0) to (1, 1) round a unit circle: a quarter or three quarters, either side.
    ['0 0', Math.PI / 2],
    ['0 1', Math.PI / 2],
    ['1 0', (3 * Math.PI) / 2],
    ['1 1', (3 * Math.PI) / 2],
  ])('flags %s: %f of arc', (flags, expected) => expect(length(`M0 0A1 1 0 ${flags} 1 1`)).toBeCloseTo(expected, 4));
  it('sweep 1 turns to positive angles', () => {
    const middle = (flag: number) => {
      const { xy } = drawSubpaths(parsePath(`M0 0A1 1 0 0 ${flag} 2 0`).subpaths, 1e-3, false).lines[0];
      return xy[2 * (xy.length >> 2) + 1];
    };
    expect(middle(1)).toBeLessThan(-0.9);
    expect(middle(0)).toBeGreaterThan(0.9);
  });
  it('F.6.2: a radius of zero is a straight line; negative radii count as positive', () => {
    expect(ends('M0 0A0 5 0 0 1 10 0').kind).toBe('line');
    expect(length('M0 0A-1 -1 0 0 1 2 0')).toBeCloseTo(Math.PI, 4);
  });
  it('F.6.6: radii too small to reach are enlarged until they just do', () => {
    expect(length('M0 0A1 1 0 0 1 10 0')).toBeCloseTo(5 * Math.PI, 3);
  });
  it('reads flags written without spaces', () => expect(length('M0 0A1 1 0 011 1')).toBeCloseTo(Math.PI / 2, 4));
});

describe('SVG: styles', () => {
  it('tells filled things from stroke-only ones, by attribute, style and stylesheet', () => {
    const things = paths(`<style>.cut{fill:none;stroke:#f00;stroke-width:2} #gone{display:none} g &gt; rect{fill:none} circle,ellipse{stroke:none}</style>
      <path class="cut" d="M0 0h10v10"/><rect id="gone" width="5" height="5"/><g><rect width="5" height="5"/></g>
      <path style="fill:none;stroke:black" d="M0 0h5"/><rect width="3" height="3" fill="none"/><circle r="4" cx="9" cy="9" class="x"/>`);
    expect(things.map(({ fill, strokeWidth }) => [fill, strokeWidth && Math.round(strokeWidth)])).toEqual([
      ['none', 2],
      ['none', 1],
      ['nonzero', undefined],
    ]);
    expect(things.map(({ layer }) => layer)).toEqual(['#f00', 'black', 'black']);
  });
  it('weighs id over class over element, and the style attribute over all', () => {
    const fill = (attributes: string) =>
      paths(`<style>path{fill:none} .a{fill:red} #b{fill:none} g .a.c{fill:blue}</style><g><path ${attributes} d="M0 0h9v9z"/></g>`).length;
    expect([fill(''), fill('class="a"'), fill('class="a" id="b"'), fill('id="b" style="fill:green"'), fill('class="a c"')]).toEqual([0, 1, 0, 1, 1]);
  });
  it('cuts what is clipped, and what lies beyond the page', () => {
    const [clipped] = paths('<clipPath id="c"><circle cx="20" cy="20" r="10"/></clipPath><rect x="20" y="10" width="30" height="20" clip-path="url(#c)"/>');
    expect(area(clipped)).toBeCloseTo((Math.PI * 100) / 2, 1);
    expect(box(paths('<rect x="90" y="0" width="50" height="10"/>')[0])).toEqual([90, 40, 100, 50]);
    expect(readSvg('<svg viewBox="0 0 9 9"><rect x="5" width="9" height="2"/></svg>', { clipToPage: false }).things).toHaveLength(1);
  });
  it('does not bring in what is not painted', () => {
    expect(
      page('<rect width="5" height="5" opacity="0"/><rect width="5" height="5" fill="none"/><rect width="5" height="5" visibility="hidden"/>').findings[0].code,
    ).toBe('import-empty');
  });
  it('sets words in a shipped face, where they stand, and says so', () => {
    const { things, findings } = page(
      '<text x="50" y="20" font-size="10" text-anchor="middle" font-family="Somebody Serif, serif">Heron &amp; <tspan>reed</tspan></text>',
    );
    const text = things[0] as ImportedText;
    expect([text.text, text.face, text.align, text.capHeight]).toEqual(['Heron & reed', 'playfair', 'centre', 7]);
    expect([text.x, text.y]).toEqual([50, 33.5]);
    expect(findings.map((one) => wordsOf(one, 'mm').what).join()).toMatch(/Somebody Serif/);
  });
});

describe('SVG: hostile and broken files end in a finding', () => {
  const bounded = (text: string) => {
    const drawing = readSvg(text);
    // Bounded work, whatever is asked for: so many things and so much text, and not more.
    expect(drawing.things.length).toBeLessThanOrEqual(MAX_THINGS);
    expect(drawing.things.reduce((sum, thing) => sum + (thing.kind === 'text' ? thing.text.length : 0), 0)).toBeLessThan(4_000_000);
    return drawing;
  };
  const codes = (text: string) => bounded(text).findings.map(({ code }) => code);
  it('not SVG at all, nothing, cut short', () => {
    expect(codes('hello')).toEqual(['import-failed']);
    expect(codes('')).toEqual(['import-failed']);
    expect(codes('\u0089PNG\r\n\u001a\n')).toEqual(['import-failed']);
    expect(codes('<svg width="10" height="10"><path d="M0 0h5v5z"/><g><rect wid').length).toBeLessThan(3);
    expect(codes('<svg></svg>')).toEqual(['import-empty']);
  });
  it('entity bombs', () => {
    const bomb = `<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa">${Array.from({ length: 12 }, (_, i) => `<!ENTITY ${'bcdefghijklmn'[i]} "${`&${'abcdefghijklmn'[i]};`.repeat(10)}">`).join('')}]><svg><text>&m;</text><rect width="3" height="3"/></svg>`;
    expect(bounded(bomb).things.filter((t) => t.kind === 'text' && t.text.length > 3_000_000)).toEqual([]);
  });
  it('groups nested a hundred thousand deep', () => {
    expect(codes(`<svg>${'<g>'.repeat(100_000)}<rect width="5" height="5"/>${'</g>'.repeat(100_000)}</svg>`)).toEqual(['import-failed']);
  });
  it('a use of itself, uses that double, and references to nothing', () => {
    expect(bounded('<svg><g id="a"><rect width="2" height="2"/><use href="#a"/></g></svg>').things).toHaveLength(1);
    const doubling = Array.from({ length: 25 }, (_, i) => `<g id="g${i + 1}"><use href="#g${i}"/><use href="#g${i}"/></g>`).join('');
    const drawing = bounded(`<svg><defs><rect id="g0" width="1" height="1"/>${doubling}</defs><use href="#g25"/></svg>`);
    expect(drawing.findings.map(({ code }) => code)).toContain('import-too-much');
    expect(codes('<svg><use href="#no"/></svg>')).toContain('import-left-out');
  });
  it('drops scripts, outside references and foreign content, and says so', () => {
    const { things, findings } = page(
      '<script>alert(1)</script><use href="http://example.test/x.svg#a"/><image href="http://example.test/a.png"/><foreignObject><b/></foreignObject><rect width="5" height="5"/>',
    );
    expect(things).toHaveLength(1);
    expect(findings.map((one) => wordsOf(one, 'mm').what).join()).toMatch(/scripts.*other files.*pictures.*foreign/);
  });
  it('numbers that are none, or beyond all measure', () => {
    expect(bounded('<svg><path d="M0 0L1e400 5L5 5z"/><rect width="NaN" height="5"/><rect x="1" y="1" width="5" height="5"/></svg>').things).toHaveLength(1);
    expect(
      bounded('<svg><path d="M0 0L5 0L5 5L oops"/></svg>')
        .findings.map((one) => wordsOf(one, 'mm').what)
        .join(),
    ).toMatch(/damaged/);
  });
  it('twenty thousand paths come in whole', () => {
    const many = Array.from(
      { length: 20_000 },
      (_, i) => `<path d="M${i % 200} ${Math.floor(i / 200)}h.5v.5h-.5z" id="p${i}" transform="translate(1,1)"/>`,
    ).join('');
    expect(bounded(`<svg viewBox="0 0 300 300">${many}</svg>`).things).toHaveLength(20_000);
  });
});
