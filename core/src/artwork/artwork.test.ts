import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { inflateSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { often } from '../reference/chance.ts';
import { charactersOf, FACES, fontOf, makeJob } from '../reference/fixtures.ts';
import { regionArea, regionsBox, uniteRegions } from '../geometry/index.ts';
import { makeItem, type Item } from '../job/index.ts';
import { pictureFacts, sniff } from './import/index.ts';
import { drawItem, drawSubpaths } from './index.ts';
import { filled, layPlates } from './list.ts';
import { strokeGlyph } from './text/stroke.ts';
import { letterRegions, openFont, setText, type Font, type TextSetting } from './text/index.ts';

const require = createRequire(import.meta.url);
const setting: TextSetting = { text: 'H', capHeight: 20, lineSpacing: 1.5, letterSpacing: 0, align: 'left' };

describe('text', () => {
  it.each(FACES.map(({ id }) => [id]))('%s: a capital H is exactly as high as asked', (id) => {
    const box = regionsBox(letterRegions(setText(setting, fontOf(id)!), 0.005));
    // Script capitals swing below the line; the flat H stands 10 over and 10 under the middle.
    expect(box.maxY).toBeCloseTo(10, 1);
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
  it('says which letter is which, spaces left out and joined letters kept together', () => {
    const set = setText({ ...setting, text: 'AB CA' }, fontOf('bebas')!);
    expect(set.said).toEqual(['A', 'B', 'C', 'A']);
    expect(set.letters).toHaveLength(4);
    expect(setText({ ...setting, text: 'aA' }, fontOf('bebas')!).said).toEqual(['a', 'A']);
    expect(setText({ ...setting, text: 'ÄB' }, null).said).toEqual(['Ä', 'B']);
    const joined = setText({ ...setting, text: 'fig' }, fontOf('playfair')!).said;
    expect(joined.join('')).toBe('fig');
  });
  it('aligns lines left, in the middle and right', () => {
    const font = fontOf('bebas')!;
    const left = (align: TextSetting['align']) => {
      const regions = letterRegions(setText({ ...setting, text: 'HHHH\nI', align }, font), 0.01);
      const lower = regions.filter((r) => regionsBox([r]).maxY < 0);
      return regionsBox(lower).minX - regionsBox(regions).minX;
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

describe('pairs of letters moved by hand', () => {
  const setting = { text: 'WAVE AVE', capHeight: 20, lineSpacing: 1.6, letterSpacing: 0, align: 'left' as const };
  /** The left edge of every letter. */
  const lefts = (more: object, face: string | null) =>
    setText({ ...setting, ...more }, face === null ? null : fontOf(face)!).letters.map((letter) =>
      Math.min(...letter.map(({ x, segments }) => Math.min(x, ...segments.map((s) => s.x)))),
    );
  it.each(['cinzel', 'bebas', 'zilla', null])('%s: everything after the pair moves by its share of the capital height, and nothing else', (face) => {
    const [plain, moved] = [lefts({}, face), lefts({ pairs: { AV: -60, VE: 25 } }, face)];
    const shift = moved.map((x, k) => x - plain[k]);
    // W A|V|E (space) A|V|E, a capital 20 high: -1.2 mm at AV, +0.5 at VE.
    [0, 0, -1.2, -0.7, -0.7, -1.9, -1.4].forEach((expected, k) => expect(shift[k]).toBeCloseTo(expected, 5));
  });
  it('is as wide as asked all the same, in proportion', () => {
    const font = fontOf('cinzel')!;
    const wide = setText({ ...setting, pairs: { AV: 200 } }, font);
    const fitted = setText({ ...setting, pairs: { AV: 200 }, fitWidth: 50 }, font);
    expect(fitted.width).toBeCloseTo(50, 6);
    expect(fitted.width / fitted.capHeight).toBeCloseTo(wide.width / wide.capHeight, 6);
  });
  it('pairs that are not there, and none at all, change nothing', () => {
    expect(lefts({ pairs: { XY: 500 } }, 'cinzel')).toEqual(lefts({}, 'cinzel'));
    expect(lefts({ text: 'A', pairs: { AV: 500 } }, 'cinzel')).toEqual(lefts({ text: 'A' }, 'cinzel'));
  });
});

describe('fonts with damaged tables', () => {
  it('open with a sentence or are drawn, with a finding at most, never thrown and never endless', () => {
    const whole = readFileSync(require.resolve(FACES.find(({ id }) => id === 'bebas')!.file));
    const sfnt = unpacked(whole);
    const seen = { opened: 0, refused: 0, found: 0 };
    for (let k = 0; k < often(150).numRuns; k++) {
      const bytes = sfnt.slice();
      // A few bytes after the header and the directory, or the end cut off.
      const chance = chanceFrom(k + 1);
      for (let i = 0; i < 1 + (k % 24); i++) bytes[Math.floor(chance() * bytes.length)] = Math.floor(chance() * 256);
      const damaged = k % 5 === 0 ? bytes.subarray(0, Math.floor(chance() * bytes.length)) : bytes;
      let font: Font | undefined;
      try {
        font = openFont(damaged);
        seen.opened++;
      } catch (error) {
        expect((error as Error).message).toMatch(/not a font Kerbe can read/);
        seen.refused++;
        continue;
      }
      const item = makeItem({ kind: 'text', id: 't', x: 0, y: 0, text: 'HERON Walk 12', face: 'own', capHeight: 20 });
      const drawn = drawItem(item, { fonts: () => font, tolerance: 0.05, items: {} });
      if (drawn.findings.some(({ code }) => code === 'text-face-damaged')) seen.found++;
      for (const { outer } of drawn.regions) expect(outer.xy.every(Number.isFinite)).toBe(true);
      // Thirteen letters of 20 mm: no damage makes a sign of them that is a street long.
      for (const { outer } of drawn.regions) expect(Math.max(...outer.xy.map(Math.abs))).toBeLessThan(13 * 50 * 20);
    }
    expect(seen.refused).toBeGreaterThan(0);
    expect(seen.opened).toBeGreaterThan(0);
  });
  it('whose letters are kilometres wide are told as damaged', () => {
    const font = fontOf('bebas')!;
    const street = {
      commands: [
        [0, 0],
        [32_000_000, 700],
        [0, 700],
      ].map((args, i) => ({ command: i === 0 ? 'moveTo' : 'lineTo', args })),
    };
    const faceWith = (far: boolean) => ({
      unitsPerEm: font.unitsPerEm,
      capHeight: font.capHeight,
      hasGlyphForCodePoint: (code: number) => font.hasGlyphForCodePoint(code),
      glyphForCodePoint: (code: number) => font.glyphForCodePoint(code),
      layout: (text: string) => {
        const { glyphs, positions } = font.layout(text);
        return { glyphs: glyphs.map(({ codePoints, path }) => ({ codePoints, path: far ? street : path })), positions };
      },
    });
    const drawnWith = (own: unknown) =>
      drawItem(makeItem({ kind: 'text', id: 't', x: 0, y: 0, text: 'HERON', face: 'own', capHeight: 20 }), {
        fonts: () => own as Font,
        tolerance: 0.05,
        items: {},
      });
    expect(drawnWith(faceWith(true)).findings.map(({ code }) => code)).toEqual(['text-face-damaged']);
    expect(drawnWith(faceWith(false)).findings).toEqual([]);
  });
});

/** Evenly spread numbers below one, the same from the same seed (a linear congruential generator, Numerical Recipes' figures; from memory). */
function chanceFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

/** The font inside a WOFF (published: W3C WOFF File Format 1.0), whose tables can be damaged one by one. */
function unpacked(woff: Buffer): Uint8Array {
  const count = woff.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const at = 44 + 20 * i;
    const [offset, packed, size] = [4, 8, 12].map((k) => woff.readUInt32BE(at + k));
    const raw = woff.subarray(offset, offset + packed);
    return { tag: woff.subarray(at, at + 4), sum: woff.subarray(at + 16, at + 20), data: packed < size ? inflateSync(raw) : raw };
  });
  const head = Buffer.alloc(12 + 16 * count);
  woff.copy(head, 0, 4, 8);
  head.writeUInt16BE(count, 4);
  let at = head.length;
  tables.forEach(({ tag, sum, data }, i) => {
    tag.copy(head, 12 + 16 * i);
    sum.copy(head, 16 + 16 * i);
    head.writeUInt32BE(at, 20 + 16 * i);
    head.writeUInt32BE(data.length, 24 + 16 * i);
    at += data.length + ((4 - (data.length % 4)) % 4);
  });
  return Buffer.concat([head, ...tables.flatMap(({ data }) => [data, Buffer.alloc((4 - (data.length % 4)) % 4)])]);
}

describe('words on arcs, paths and within widths', () => {
  const context = (items: Record<string, Item> = {}) => ({ fonts: fontOf, tolerance: 0.005, items });
  const words = (more: object) => makeItem({ kind: 'text', id: 't', x: 0, y: 0, text: 'HHHHH', face: 'bebas', capHeight: 10, ...more });
  /** Middles of the letters' boxes. */
  const middles = (item: Item, items = {}) =>
    drawItem(item, context(items)).regions.map((region) => {
      const b = regionsBox([region]);
      return [(b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2];
    });
  it('over an arc every letter stands on the circle, square to it', () => {
    for (const [x, y] of middles(words({ baseline: { kind: 'arc', radius: 60 } }))) expect(Math.hypot(x, y + 5 + 60)).toBeCloseTo(65, 0);
  });
  it('under an arc they hang in the circle', () => {
    const at = middles(words({ baseline: { kind: 'arc', radius: 60, side: 'under' } }));
    for (const [x, y] of at) expect(Math.hypot(x, y + 5 - 60)).toBeCloseTo(55, 0);
    expect(at).toHaveLength(5);
  });
  it('along a path they follow it, and letters beyond its end are named', () => {
    const line = makeItem({ kind: 'line', id: 'l', x: 10, y: 20, length: 100, angle: 90 });
    const on = (more: object) => words({ align: 'left', baseline: { kind: 'path', item: 'l', ...more } });
    for (const [x] of middles(on({}), { l: line })) expect(x).toBeCloseTo(5, 1);
    const short = drawItem(on({ from: 90 }), context({ l: line }));
    expect(short.findings.map(({ code }) => code)).toEqual(['text-off-path']);
    expect(drawItem(on({}), context()).findings.map(({ code }) => code)).toContain('text-no-path');
  });
  it('round a closed shape they go on past its start', () => {
    const ring = makeItem({ kind: 'ellipse', id: 'l', x: 0, y: 0, width: 100, height: 100 });
    const at = middles(words({ text: 'H'.repeat(20), letterSpacing: 4, baseline: { kind: 'path', item: 'l', from: 250 } }), { l: ring });
    expect(at).toHaveLength(20);
    for (const [x, y] of at) expect(Math.abs(Math.hypot(x, y) - 45)).toBeLessThan(1.5);
  });
  it('words too wide are made to fit, others are left alone', () => {
    const width = (fitWidth: number) => {
      const b = regionsBox(drawItem(words({ fitWidth, letterSpacing: 2 }), context()).regions);
      return b.maxX - b.minX;
    };
    expect(width(12)).toBeLessThanOrEqual(12);
    expect(width(12)).toBeGreaterThan(10);
    expect(width(500)).toBeCloseTo(width(400), 9);
  });
});

describe('the single-line alphabet', () => {
  it('has capitals, small letters, figures, punctuation and accented Latin', () => {
    const all =
      'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789.,:;!?-–+=/()[]\'"&@#%*°ÄÖÜäöüßÅåÆæØøŒœÉéÈèÊêËëÀàÂâÇçÑñÍíÓóÚúÝýŠšŽžČčŁłŐőŰűĄąĘęŚśŹźŻżĆćŃńĞğİıŞşÐðÞþ½¼¾';
    for (const character of all) expect(strokeGlyph(character), character).not.toBeNull();
    expect(strokeGlyph('Ж')).toBeNull();
  });
  it('capitals are as high as asked, strokes are open lines, nothing is filled', () => {
    const drawn = drawItem(makeItem({ kind: 'text', id: 't', x: 0, y: 0, text: 'EHIL', face: 'single-line', capHeight: 20 }), {
      fonts: fontOf,
      tolerance: 0.005,
      items: {},
    });
    expect(drawn.regions).toEqual([]);
    const ys = drawn.lines.flatMap(({ line }) => [...line.xy].filter((_, i) => i % 2));
    expect([Math.min(...ys), Math.max(...ys)].map((y) => Math.round(y * 1e6) / 1e6)).toEqual([-10, 10]);
  });
  it('every letter stays within its advance and between the lines', () => {
    for (let code = 33; code < 0x180; code++) {
      const glyph = strokeGlyph(String.fromCharCode(code));
      if (!glyph) continue;
      for (const { line } of [...drawSubpaths(glyph.subpaths, 0.05, false).lines.map((line) => ({ line }))])
        for (let i = 0; i < line.xy.length; i += 2) {
          expect(line.xy[i], String.fromCharCode(code)).toBeGreaterThan(-1.6);
          expect(line.xy[i], String.fromCharCode(code)).toBeLessThan(glyph.advance + 1.6);
          expect(Math.abs(line.xy[i + 1] - 6), String.fromCharCode(code)).toBeLessThan(15);
        }
    }
  });
});

describe('lists of plates', () => {
  const job = makeJob({ board: { width: 200, height: 100, thickness: 3 } });
  const list = { columns: ['Name', 'Latin'], rows: [['Oak', 'Quercus robur'], ['', ''], ['Horse chestnut', 'Aesculus hippocastanum'], ['Elm', 'Ulmus']] }; // prettier-ignore
  const layout = { width: 80, height: 30, radius: 3, gap: 5, margin: 5, face: 'barlow', lines: [{ pattern: '{name}', capHeight: 8, above: 5 }, { pattern: '{#} {latin}', capHeight: 4, above: -6 }], hole: { diameter: 3, inset: 5 } }; // prettier-ignore
  it('fills patterns by name, number and place', () => {
    expect(filled('{name} – {2} no. {#}{gone}', list, list.rows[0], 7)).toBe('Oak – Quercus robur no. 7');
  });
  it('one plate a row, in a grid, each a group, words fitted, empty rows left out', () => {
    const { items, leftOver } = layPlates(job, list, layout);
    expect(leftOver).toBe(0);
    expect(new Set(items.map(({ group }) => group)).size).toBe(3);
    expect(items.filter(({ kind }) => kind === 'rectangle').map(({ x, y }) => [x, y])).toEqual([[45, 80], [130, 80], [45, 45]]); // prettier-ignore
    const { regions } = drawItem(
      items.find((item) => item.kind === 'text' && item.text.startsWith('Horse'))!,
      { fonts: fontOf, tolerance: 0.01, items: {} },
    );
    const b = regionsBox(regions);
    expect(b.maxX - b.minX).toBeLessThanOrEqual(64);
    expect(new Set(items.map(({ id }) => id)).size).toBe(items.length);
  });
  it('says how many found no room', () => {
    expect(layPlates(job, { columns: ['a'], rows: Array.from({ length: 50 }, (_, i) => [`${i}`]) }, layout).leftOver).toBe(50 - 4);
  });
});

describe('what a file really is', () => {
  const bytes = (...parts: (string | number[])[]) =>
    Uint8Array.from(parts.flatMap((part) => (typeof part === 'string' ? [...part].map((c) => c.charCodeAt(0)) : part)));
  const be = (n: number) => [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
  it.each([
    [bytes('<?xml version="1.0"?><svg xmlns="x">'), 'drawing.txt', 'svg'],
    [bytes('  0\r\nSECTION\r\n  2\r\nHEADER'), 'a.svg', 'dxf'],
    [bytes('999\nmade by hand\n0\nSECTION\n'), 'a.dxf', 'dxf'],
    [bytes('wOFF....'), 'a.svg', 'font'],
    [bytes('{"kerbe": 1}'), 'a.json', 'job'],
    [bytes('Name;Number\nOak;1'), 'list.csv', 'list'],
    [bytes('%PDF-1.7'), 'a.svg', 'unknown'],
    [bytes('MZ\0\0'), 'a.dxf', 'unknown'],
    [bytes(), 'a.dxf', 'unknown'],
  ])('goes by the content (%#)', (content, name, kind) => expect(sniff(content, name).kind).toBe(kind));
  it('reads size and dpi of pictures before decoding them', () => {
    const png = bytes(
      [0x89],
      'PNG\r\n\x1a\n',
      be(13),
      'IHDR',
      be(1600),
      be(1000),
      [8, 6, 0, 0, 0],
      be(0),
      be(9),
      'pHYs',
      be(11811),
      be(11811),
      [1],
      be(0),
      be(0),
      'IDAT',
      be(0),
    );
    expect(pictureFacts(png)).toEqual({ format: 'png', width: 1600, height: 1000, dpi: 300 });
    const jpeg = bytes([0xff, 0xd8, 0xff, 0xe0, 0, 16], 'JFIF\0', [1, 1, 1, 0, 72, 0, 72, 0, 0, 0xff, 0xc0, 0, 17, 8, 0x03, 0xe8, 0x06, 0x40, 3, 1, 1]);
    expect(pictureFacts(jpeg)).toEqual({ format: 'jpeg', width: 1600, height: 1000, dpi: 72 });
    expect(pictureFacts(bytes('GIF89a'))).toBeNull();
    expect(pictureFacts(jpeg.subarray(0, 12))).toBeNull();
  });
});
