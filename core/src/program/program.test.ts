import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeJob, fontOf } from '../reference/fixtures.ts';
import { Machine } from '../job/index.ts';
import { planJob, writePrograms, sectionsOf } from '../plan/index.ts';
import { OP, ProgramReader, readProgram, statsOf, toPath } from './index.ts';

const rows = (text: string) => {
  const p = readProgram(text);
  return { ...p, list: [...p.kind].map((kind, i) => [kind, p.x[i], p.y[i], p.z[i], p.value[i]]) };
};
const faults = (text: string) => readProgram(text + '\nM30').findings.map(({ what }) => what);

describe('writer and reader', () => {
  it('every program reads back to the toolpath it was written from', async () => {
    for (const [units, z, corner] of [
      ['mm', 'top', 'lower-left'],
      ['in', 'spoilboard', 'centre'],
      ['mm', 'top', 'upper-right'],
    ] as const) {
      const job = makeJob({ program: { units }, datum: { corner, z } });
      const plan = await planJob(job, { fonts: fontOf });
      const [file] = writePrograms(job, plan, '2026-01-01', 'pauses');
      const program = readProgram(file.text);
      expect(program.findings).toEqual([]);
      const back = toPath(program);
      const [dx, dy] = corner === 'centre' ? [100, 40] : corner === 'upper-right' ? [200, 80] : [0, 0];
      const lift = z === 'spoilboard' ? 18 : 0;
      // Half the last digit written: 0.001 mm, 0.0001 in.
      const half = units === 'mm' ? 0.00051 : 0.0013;
      let k = 0;
      for (const { path } of sectionsOf(plan.cuts))
        for (let i = 0; i < path.kind.length; i++) {
          const x = path.x[i] - dx;
          const y = path.y[i] - dy;
          const zz = path.z[i] + lift;
          // Moves shorter than the last digit are left out; every other is there, in order.
          while (k < back.kind.length && Math.max(Math.abs(back.x[k] - x), Math.abs(back.y[k] - y), Math.abs(back.z[k] - zz)) > half) k++;
          expect(k, `move ${i}`).toBeLessThan(back.kind.length);
        }
      for (let i = 0; i < back.kind.length; i++)
        if (back.kind[i] === 0 && i > 0 && back.z[i] < back.z[i - 1]) expect(back.z[i]).toBeGreaterThanOrEqual(5 + lift - half);
    }
  });

  it('ends safely: up, spindle off, park, with Z before X and Y', async () => {
    const job = makeJob();
    const [file] = writePrograms(job, await planJob(job, { fonts: fontOf }), '2026-01-01', 'pauses');
    expect(file.text.trimEnd().split('\n').slice(-4)).toEqual(['M5', 'G53 G0 Z0', 'G53 G0 X10 Y880', 'M30']);
    const p = readProgram(file.text);
    // Nothing moves across before Z has gone up, at the start and after every bit change.
    let up = false;
    for (let i = 0; i < p.kind.length; i++) {
      if (p.kind[i] === OP.PAUSE) up = false;
      if (p.machine[i] && p.z[i] === 0) up = true;
      if (p.kind[i] <= OP.FEED && !Number.isNaN(p.x[i]) && Number.isFinite(p.x[i])) expect(up).toBe(true);
    }
    let spinning = false;
    for (let i = 0; i < p.kind.length; i++) {
      if (p.kind[i] === OP.SPINDLE) spinning = p.value[i] > 0;
      if (p.kind[i] === OP.FEED) expect(spinning).toBe(true);
      if (p.kind[i] === OP.PAUSE) expect(spinning).toBe(false);
    }
  });

  it('says in the header what is needed in two months', async () => {
    const job = makeJob({ name: 'Heron (Walk) é' });
    const files = writePrograms(job, await planJob(job, { fonts: fontOf }), '2026-01-01', 'bit');
    expect(files.map(({ name }) => name)).toEqual(['program-1-v60-12.7.nc', 'program-2-end-6.35.nc']);
    for (const word of [
      'Job: Heron [Walk] e',
      '2026-01-01',
      'Board: pine',
      'Datum: lower-left, Z0 on top of board',
      'Extents',
      'Deepest',
      'Bit 1: 60 deg V',
      'feed 2400',
      'step-over',
    ])
      expect(files[0].text).toContain(word);
    expect([...files[0].text].every((c) => c === '\n' || (c >= ' ' && c <= '~'))).toBe(true);
  });

  it('never descends faster than the plunge rate', async () => {
    const job = makeJob();
    const plan = await planJob(job, { fonts: fontOf });
    for (const { path, cut } of plan.cuts)
      for (let i = 1; i < path.kind.length; i++) {
        const dz = path.z[i - 1] - path.z[i];
        if (path.kind[i] !== 1 || dz <= 0) continue;
        const length = Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1], dz);
        expect((path.feed[i] * dz) / length).toBeLessThanOrEqual(cut.plunge + 1e-6);
      }
  });
});

// Words and rules as in NIST IR 6556 (RS274/NGC interpreter), from memory.
describe('the interpreter', () => {
  it('keeps modal words until they change', () => {
    const { list } = rows('G21 G90\nG1 X10 F100\nY5\nG0 Z2\nM30');
    expect(list).toEqual([
      [OP.FEED, 10, NaN, NaN, 100],
      [OP.FEED, 10, 5, NaN, 100],
      [OP.RAPID, 10, 5, 2, 0],
      [OP.END, NaN, NaN, NaN, 0],
    ]);
  });
  it('adds up in G91 and converts in G20', () => {
    const { list } = rows('G20 G90 G0 X1 Y0 Z0\nG91 X0.5\nG1 Z-.1 F10\nM2');
    expect(list[1].slice(0, 2)).toEqual([OP.RAPID, expect.closeTo(38.1, 9)]);
    expect(list[2][3]).toBeCloseTo(-2.54, 9);
    expect(list[2][4]).toBeCloseTo(254, 9);
  });
  it('carries out feed, speed and spindle before motion in one line', () => {
    expect(rows('G0 X0 Y0 Z0\nG1 X1 F60 S5000 M3\nM30').list.slice(1, 3)).toEqual([
      [OP.SPINDLE, NaN, NaN, NaN, 5000],
      [OP.FEED, 1, 0, 0, 60],
    ]);
  });
  it('draws a quarter circle by I J, R and a helix within 0.002 mm', () => {
    for (const word of ['I-10 J0', 'R10', 'I-10 J0 Z-3']) {
      const p = readProgram(`G21\nG0 X10 Y0 Z0\nG3 X0 Y10 ${word} F500\nM30`);
      expect(p.findings).toEqual([]);
      const feeds = [...p.kind.keys()].filter((i) => p.kind[i] === OP.FEED);
      expect(feeds.length).toBeGreaterThan(10);
      let [px, py] = [10, 0];
      for (const i of feeds) {
        expect(Math.hypot(p.x[i], p.y[i])).toBeCloseTo(10, 6);
        expect(10 - Math.hypot((p.x[i] + px) / 2, (p.y[i] + py) / 2)).toBeLessThan(0.00201);
        [px, py] = [p.x[i], p.y[i]];
      }
      expect([px, py]).toEqual([0, 10]);
    }
  });
  it('reads a full circle and the long way round for a negative radius', () => {
    expect(readProgram('G0 X10 Y0 Z0\nG2 X10 Y0 I-10 F500\nM30').kind.length).toBeGreaterThan(100);
    const long = toPath(readProgram('G0 X10 Y0 Z0\nG3 X0 Y10 R-10 F500\nM30'));
    expect(Math.max(...long.x)).toBeCloseTo(20, 1);
  });
  it('reads inverse time feed for one line only', () => {
    const { list, findings } = rows('G0 X0 Y0 Z0\nG93 G1 X10 F2\nX20\nM30');
    expect(list[1][4]).toBe(20);
    expect(findings[0].what).toMatch(/before any feed/);
  });
  it('takes lower case, spaces inside words, line numbers, comments and tape marks', () => {
    expect(rows('%\ng21 n10 g0 x 1 . 5\nN20 (up) G0 Z5 ; done\nM30\n%')).toMatchObject({
      findings: [],
      list: [
        [OP.RAPID, 1.5, NaN, NaN, 0],
        [OP.RAPID, 1.5, NaN, 5, 0],
        [OP.END, NaN, NaN, NaN, 0],
      ],
    });
    expect(rows('%\nn10 g0 x1.5\nN20 (up) G0 Z5 ; done\nM30\n%').comments).toEqual(['up', 'done']);
  });
  it.each([
    ['G0 G1 X1', /modal group/],
    ['G1 X', /X has no number/],
    ['G77', /not a word/],
    ['M99', /subroutines/],
    ['G1 X1', /before any feed/],
    ['G0 X0 Y0 Z0\nG2 X10 Y0 I3 F100', /end on its circle/],
    ['G1 F0 X1', /above zero/],
    ['(never closed', /never closed/],
    ['G4', /needs P/],
    ['X1#5', /parameters/],
    ['G80\nX5', /no motion/],
    ['G53 G1 G2 X1', /modal group/],
  ])('finds the fault in %j', (text, what) => expect(faults(text).join()).toMatch(what));
  it('names the line', () => expect(readProgram('G21\nG1 F5 X1\nG1 Xq\nM30').findings[0].line).toBe(3));
  it('says when the end is missing', () => expect(readProgram('G0 X1\n').findings[0].code).toBe('program-no-end'));
  it('gives the same rows however the bytes are split', () => {
    const text = 'G21 G90\nG0 X1 Y2 Z3\nG1 X4.25 F600\n(a comment)\nG2 X0 Y0 I-2 J-1\nM30\n';
    const whole = readProgram(text);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 12 }), { minLength: 1, maxLength: 40 }), (sizes) => {
        const reader = new ProgramReader();
        const bytes = new TextEncoder().encode(text);
        let at = 0;
        for (let i = 0; at < bytes.length; i++) {
          const size = sizes[i % sizes.length];
          reader.push(bytes.slice(at, at + size));
          at += size;
        }
        const split = reader.finish();
        expect([...split.x]).toEqual([...whole.x]);
        expect(split.lines).toBe(whole.lines);
      }),
    );
  });
  it('never throws on any text', () =>
    fc.assert(fc.property(fc.string({ unit: fc.constantFrom(...'GMXYZFSTIJRNP0123456789.-+ ()\n;%/') }), (text) => readProgram(text).lines >= 0)));
});

it('reckons time and extents of a program', () => {
  const machine = Machine.parse({ maxSpeed: [6000, 6000, 3000], acceleration: [500, 500, 300] });
  const facts = statsOf(readProgram('G21 G90\nG0 X0 Y0 Z5\nS9000 M3\nG4 P2\nG1 X100 F3000\nM30'), machine);
  expect(facts.seconds).toBeCloseTo(2 + 100 / 50 + 50 / 500, 6);
  expect(facts.extents).toEqual({ min: [0, 0, 5], max: [100, 0, 5] });
  expect(facts.spindle).toEqual({ min: 9000, max: 9000 });
});
