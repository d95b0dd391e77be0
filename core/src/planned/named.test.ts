/** Runs of a toolpath know the thing, the letter and the pass they cut, and the lines of a program know the runs. */
import { describe, expect, it } from 'vitest';
import { planJob, writePrograms } from '../plan/index.ts';
import { drawItem } from '../artwork/index.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { linesOf, readProgram, spanAt, toPath } from '../program/index.ts';
import type { JobInput } from '../job/index.ts';

const WORDS = { kind: 'text', id: 'words', name: 'Words', x: 100, y: 60, text: 'AVA TA', face: 'playfair', capHeight: 30 } as const;
const over: Partial<JobInput> = {
  board: { width: 300, height: 120, thickness: 18, material: 'pine' },
  items: {
    words: WORDS,
    ring: { kind: 'ellipse', id: 'ring', name: 'Ring', x: 240, y: 60, width: 40, height: 40 },
    edge: { kind: 'rectangle', id: 'edge', name: 'Edge', x: 150, y: 60, width: 290, height: 110, radius: 5 },
  },
  itemOrder: ['words', 'ring', 'edge'],
  outline: 'edge',
  cuts: {
    carve: { kind: 'vcarve', id: 'carve', name: 'Carve', on: ['words', 'ring'], tool: 'v60' },
    out: { kind: 'profile', id: 'out', name: 'Out', on: 'outline', tool: 'end6', depthPerPass: 6 },
  },
  cutOrder: ['carve', 'out'],
};

/** Even-odd over all lines of a letter, by the angle they turn about the point: by other means than the code it checks. */
function turns(lines: readonly { xy: ArrayLike<number> }[], x: number, y: number): boolean {
  let inside = 0;
  for (const { xy } of lines) {
    let angle = 0;
    for (let i = 0; i < xy.length; i += 2) {
      const j = (i + 2) % xy.length;
      const [a, b] = [Math.atan2(xy[i + 1] - y, xy[i] - x), Math.atan2(xy[j + 1] - y, xy[j] - x)];
      angle += ((b - a + 3 * Math.PI) % (2 * Math.PI)) - Math.PI;
    }
    inside += Math.abs(Math.round(angle / (2 * Math.PI)));
  }
  return inside % 2 === 1;
}

describe('what a run of moves cuts', async () => {
  const job = makeJob(over);
  const plan = await planJob(job, { fonts: fontOf });
  const { letters } = drawItem(job.items.words, { fonts: fontOf, tolerance: job.tolerance / 2, items: job.items });
  const [carve, out] = plan.cuts.map(({ path }) => path);

  it('every run is named; letters by themselves, also where the box of one reaches over the next', () => {
    expect(carve.spans.length).toBeGreaterThan(letters!.length);
    expect(new Set(carve.spans.map(({ item, letter = '' }) => `${item} ${letter}`))).toEqual(new Set(['words A', 'words V', 'words T', 'ring ']));
    expect(new Set(carve.spans.flatMap(({ part }) => (part === undefined ? [] : [part])))).toEqual(new Set([0, 1, 2, 3, 4]));
    expect(letters!.map(({ said }) => said).join('')).toBe('AVATA');
  });
  it('a letter is the one whose outline its cutting moves lie in', () => {
    for (const { start, end, item, part } of carve.spans) {
      const mine: number[] = [];
      for (let i = start; i < end; i++) if (carve.kind[i] === 1) mine.push(i);
      if (item !== 'words' || mine.length < 3) continue;
      // Well below the top the bit stands inside the stroke; the ends of its way may lie on the edge.
      const deep = mine.filter((i) => carve.z[i] < -0.3);
      const within = deep.filter((i) => turns(letters![part!].lines, carve.x[i], carve.y[i]));
      expect(within.length).toBeGreaterThanOrEqual(0.9 * deep.length);
    }
  });
  it('passes are counted, and spans lie end to end in the order of the moves', () => {
    expect(out.spans.map(({ pass, item }) => `${item} ${pass}`).slice(0, 3)).toEqual(['edge 1', 'edge 2', 'edge 3']);
    for (const { spans } of [carve, out]) for (let k = 1; k < spans.length; k++) expect(spans[k].start).toBeGreaterThanOrEqual(spans[k - 1].end);
  });
  it('a program says which of its lines cut what: the moves of those lines are the moves of those runs', () => {
    for (const settings of [{}, { arcs: true, units: 'in' as const, comments: 'none' as const, lineNumbers: true }]) {
      const set = makeJob({ ...over, program: settings });
      for (const { text, spans } of writePrograms(set, plan, '2026-01-01', 'pauses')) {
        const count = linesOf(text).length;
        const path = toPath(readProgram(text));
        for (const [k, { line, last }] of spans.entries()) {
          expect(line).toBeLessThanOrEqual(last);
          expect(last).toBeLessThanOrEqual(count);
          if (k > 0) expect(line).toBeGreaterThan(spans[k - 1].last);
        }
        for (let i = 0; i < path.kind.length; i++) {
          if (path.kind[i] !== 1) continue;
          const span = spanAt(spans, path.line[i])!;
          expect(path.line[i]).toBeLessThanOrEqual(span.last);
          if (span.letter && path.z[i] < -0.3 && !turns(letters![span.part!].lines, path.x[i], path.y[i])) {
            // On the edge, or in no other letter either.
            expect(letters!.filter(({ lines }) => turns(lines, path.x[i], path.y[i]))).toEqual([]);
          }
        }
      }
    }
  });
  it('the span at a line is the last that has begun', () => {
    const spans = [{ line: 3 }, { line: 7 }];
    expect([1, 3, 6, 7, 99].map((line) => spanAt(spans, line)?.line ?? null)).toEqual([null, 3, 3, 7, 7]);
    expect(spanAt([], 5)).toBeNull();
  });
});
