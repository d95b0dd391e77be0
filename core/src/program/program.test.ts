import { wordsOf } from '../findings/index.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeJob, fontOf } from '../reference/fixtures.ts';
import { Machine } from '../job/index.ts';
import { planJob, releasePrograms, sectionsOf, writePrograms } from '../plan/index.ts';
import { OP, ProgramReader, judgeProgram, readProgram, statsOf, toPath } from './index.ts';

const rows = (text: string) => {
  const p = readProgram(text);
  return { ...p, list: [...p.kind].map((kind, i) => [kind, p.x[i], p.y[i], p.z[i], p.value[i]]) };
};
const faults = (text: string) => readProgram(text + '\nM30').findings.map((one) => wordsOf(one, 'mm').what);

describe('a board on a carrier', () => {
  const written = async (more: object, carrier?: number) => {
    const base = makeJob();
    const job = makeJob({ ...more, board: { ...base.board, ...(carrier === undefined ? {} : { carrier: { thickness: carrier } }) } });
    const plan = await planJob(job, { fonts: fontOf });
    const { files, findings } = releasePrograms(job, plan, '2026-01-01');
    expect(findings).toEqual([]);
    return { plan, path: toPath(readProgram(files[0].text)), text: files[0].text };
  };
  const lowest = ({ z }: { z: Float64Array }) => z.reduce((least, v) => (Number.isNaN(v) ? least : Math.min(least, v)), Infinity);
  it('counted from the spoilboard, everything lies higher by the carrier, and what goes through the board ends in it', async () => {
    const datum = { corner: 'lower-left', z: 'spoilboard' };
    const [plain, carried] = [await written({ datum }), await written({ datum }, 12)];
    expect(carried.path.kind).toEqual(plain.path.kind);
    for (let i = 0; i < plain.path.z.length; i++) if (!Number.isNaN(plain.path.z[i])) expect(carried.path.z[i] - plain.path.z[i]).toBeCloseTo(12, 3);
    // The board is 18 thick: without a carrier the outline goes 0.3 into the spoilboard, on one it stays 11.7 above it.
    expect(lowest(plain.path)).toBeCloseTo(-0.3, 3);
    expect(lowest(carried.path)).toBeCloseTo(11.7, 3);
    expect(carried.text).toContain('on a carrier of 12 mm');
  });
  it('counted from its top, the moves are the same', async () => {
    const moves = (text: string) => text.split('\n').filter((line) => !line.startsWith('('));
    expect(moves((await written({}, 12)).text)).toEqual(moves((await written({})).text));
  });
  it('is not cut through', async () => {
    const codes = (carrier: number) => written({}, carrier).then(({ plan }) => plan.findings.map(({ code }) => code));
    expect(await codes(6)).not.toContain('through-into-bed');
    // 0.3 into one of 2.2: less than two would be left.
    expect(await codes(2.2)).toContain('through-into-bed');
  });
});

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
      // Rapids, read back: across at clearance, down to just above the board and no lower.
      const { clearance, approach } = job.program;
      expect([clearance, approach]).toEqual([5, 2]);
      for (let i = 1; i < back.kind.length; i++) {
        if (back.kind[i] !== 0) continue;
        const across = back.x[i] !== back.x[i - 1] || back.y[i] !== back.y[i - 1];
        expect(back.z[i]).toBeGreaterThanOrEqual((across ? clearance : approach) + lift - half);
      }
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
    const files = writePrograms(job, await planJob(job, { fonts: fontOf }), '2026-01-01', 'tool');
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
    expect(wordsOf(findings[0], 'mm').what).toMatch(/before any feed/);
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
  // Rules of NIST IR 6556 (from memory), and what shops' programs hold beyond the plainest.
  it('units act on the whole line, wherever in it their word stands', () => {
    expect(rows('G90 G21\nF100\nG0 X0 Y0 Z0\nG1 X1 Y1 G20\nM2').list[1].slice(1, 3)).toEqual([25.4, 25.4]);
    expect(rows('G0 X1 G20 G90\nM2').list[0][1]).toBe(25.4);
  });
  it.each([
    ['G1 X10 X20', /X stands twice/],
    ['M3 M5', /modal group/],
    ['M0 M30', /modal group/],
    ['M7 M9', /modal group/],
    ['G90 G91', /modal group/],
    ['G98 G99', /modal group/],
    ['G41 D1', /compensation/],
    ['O100 sub', /subroutines/],
    ['#1=5', /parameters/],
    ['G1 X[1+2]', /expressions/],
    ['G92.1', /not read/],
    ['H2', /without G43/],
    ['G10 L1 P1', /L2 and L20/],
    ['G10 L2 X1', /needs P/],
    ['F100\nG81 X1 Y1 Z-5', /needs Z, how deep, and R/],
    ['F100\nG83 X1 Z-5 R1', /Q above zero/],
    ['F100\nG82 X1 Z-5 R1', /P, the seconds/],
    ['G81 X1 Z-5 R1', /needs a feed/],
    ['F100\nG81 X1 Z5 R1', /ends above/],
    ['F100\nG18 G81 X1 Z-5 R1', /XY plane/],
  ])('%j is refused, and says why', (text, what) => expect(faults('G0 X0 Y0 Z5\n' + text).join()).toMatch(what));
  it('coolant words of both groups may stand together', () => expect(faults('G21\nM7 M8')).toEqual([]));
  it('what stands after the second % is no program', () => {
    const { list, findings } = rows('%\nG21 G90\nF100\nG0 X0 Y0 Z0\nG1 X10\n%\nG1 X1000');
    expect(list.map(([, x]) => x)).toEqual([0, 10]);
    expect(findings).toEqual([]);
    expect(rows('G21\nG0 X1\n%\nX1000').list).toHaveLength(1);
  });
  it('lines that count on a refused cycle are not taken for the motion before it', () => {
    const { list, findings } = rows('G21\nG0 X0 Y0 Z5\nG84 X1 Y1 Z-5 R1\nX2 Y2\nX3\nG0 X9\nM30');
    expect(list.map(([, x]) => x)).toEqual([0, 9, NaN]);
    expect(findings).toHaveLength(3);
  });
  it('drills: G81, G82 and G83, with G98 and G99, by distances and as often as L says', () => {
    const z = (text: string) =>
      rows('G21 G90\nG0 X0 Y0 Z10\nF100\n' + text + '\nG80\nM30')
        .list.slice(1)
        .map((row) => [row[0], row[1], row[3]]);
    // From memory of the worked example of NIST IR 6556 (G81): across, down to R, to Z, and out.
    expect(z('G99 G81 X4 Y5 Z1.5 R2.8')).toEqual([
      [OP.RAPID, 4, 10],
      [OP.RAPID, 4, 2.8],
      [OP.FEED, 4, 1.5],
      [OP.RAPID, 4, 2.8],
      [OP.END, NaN, NaN],
    ]);
    expect(z('G98 G81 X4 Y5 Z1.5 R2.8').at(-2)).toEqual([OP.RAPID, 4, 10]);
    expect(z('G82 X4 Z-2 R1 P0.5').map(([kind]) => kind)).toEqual([OP.RAPID, OP.RAPID, OP.FEED, OP.DWELL, OP.RAPID, OP.END]);
    expect(z('G83 X4 Z-5 R1 Q2').map(([, , height]) => height)).toEqual([10, 1, -1, 1, -0.75, -3, 1, -2.75, -5, 10, NaN]);
    // What it was told holds for the places after it.
    expect(z('G99 G81 X4 Z-2 R1\nX8\nX9 Z-3').filter(([kind]) => kind === OP.FEED)).toEqual([
      [OP.FEED, 4, -2],
      [OP.FEED, 8, -2],
      [OP.FEED, 9, -3],
    ]);
    expect(z('G91 G99 G81 X4 Z-3 R-8 L3').filter(([kind]) => kind === OP.FEED)).toEqual([
      [OP.FEED, 4, -1],
      [OP.FEED, 8, -9],
      [OP.FEED, 12, -17],
    ]);
  });
  it('arcs in the other planes turn the way of the standard: seen from the axis that stands on them', () => {
    const path = (text: string) => toPath(readProgram('G21\nG0 X0 Y0 Z0\n' + text + '\nM30'));
    // G18: Z is its first axis and X its second; counter-clockwise from +Z towards +X.
    const xz = path('G18 G3 X10 Z-10 I0 K-10 F100');
    expect(Math.max(...xz.x.map((x, i) => Math.abs(Math.hypot(x, xz.z[i] + 10) - 10)))).toBeLessThan(1e-9);
    expect(Math.min(...xz.x)).toBeGreaterThanOrEqual(-1e-9);
    const yz = path('G19 G2 Y10 Z-10 J0 K-10 X3 F100');
    expect(Math.max(...yz.y.map((y, i) => Math.abs(Math.hypot(y, yz.z[i] + 10) - 10)))).toBeLessThan(1e-9);
    expect([yz.x.at(-1), yz.y.at(-1), yz.z.at(-1)]).toEqual([3, 10, -10]);
    // A quarter turn, not three.
    expect(Math.max(...yz.y)).toBeLessThanOrEqual(10 + 1e-9);
  });
  it('G92, A, G43 and G10 L2 are read and said', () => {
    const shifted = rows('G21\nG0 X5 Y5 Z5\nG92 X0 Y0\nG0 X1\nM30');
    expect(shifted.list.map(([kind, x]) => [kind, x])).toEqual([
      [OP.RAPID, 5],
      [OP.SET_ZERO, 0],
      [OP.RAPID, 1],
      [OP.END, NaN],
    ]);
    expect(shifted.findings.map(({ code, severity }) => [code, severity])).toEqual([['program-shifts', 'warning']]);
    const turns = rows('G21\nG0 X5 Y5 Z5 A90\nG0 A180\nX1\nM30');
    expect(turns.findings.map(({ code, line }) => [code, line])).toEqual([['program-turns', 2]]);
    expect(turns.list.map(([, x]) => x)).toEqual([5, 1, NaN]);
    expect(rows('G21\nT2 M6\nG43 H2\nM30').list.map(([kind, , , , value]) => [kind, value])).toEqual([
      [OP.TOOL, 2],
      [OP.PAUSE, 6],
      [OP.LENGTH, 2],
      [OP.END, 0],
    ]);
    expect(rows('G21\nG10 L2 P1 X3\nM30').list[0]).toEqual([OP.SET_ORIGIN, 3, NaN, NaN, 1]);
  });
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

describe('what a program would do to a board', () => {
  const judge = (text: string) => judgeProgram(readProgram('G21 G90\nG0 X0 Y0 Z5\nF300\n' + text + '\nM30')).map(({ code, line }) => [code, line]);
  it.each([
    ['a rapid into the work', 'S9000 M3\nG0 Z-8\nG1 X10', [['program-rapid-in-work', 5]]],
    ['a rapid across in it', 'S9000 M3\nG1 Z-2\nG0 X10', [['program-rapid-in-work', 6]]],
    ['back into a hole that is cut', 'S9000 M3\nG1 Z-2\nG0 Z1\nG0 Z-1.8\nG1 Z-4\nG0 Z5', []],
    ['... deeper than it was cut', 'S9000 M3\nG1 Z-2\nG0 Z1\nG0 Z-2.5', [['program-rapid-in-work', 7]]],
    ['... beside it', 'S9000 M3\nG1 Z-2\nG0 Z1\nG0 X1\nG0 Z-1', [['program-rapid-in-work', 8]]],
    ['a canned cycle', 'S9000 M3\nG83 X5 Y5 Z-9 R1 Q3\nX9\nG80', []],
    ['the spindle standing still', 'G1 Z-1\nX10', [['program-spindle-off', 4]]],
    ['the spindle stopped too soon', 'S9000 M3\nG1 Z-1\nM5\nG1 X10\nG1 Z-2', [['program-spindle-off', 7]]],
    ['air cut with the spindle off', 'G1 X10 Z1', []],
    ['two zeros', 'G54 G0 X1\nG55 X2', [['program-mixed-offsets', 5]]],
    ['one zero, named twice', 'G54 G0 X1\nG54 X2', []],
  ])('%s', (_what, text, found) => expect(judge(text)).toEqual(found));
  it('extents hold the start of a cutting move', () =>
    expect(statsOf(readProgram('G21 G90\nF100\nG0 X-7 Y3 Z-2\nG1 X1 Y1 Z1\nM2'), Machine.parse({})).extents).toEqual({ min: [-7, 1, -2], max: [1, 3, 1] }));
});

it('reckons time and extents of a program', () => {
  const machine = Machine.parse({ maxSpeed: [6000, 6000, 3000], acceleration: [500, 500, 300] });
  const facts = statsOf(readProgram('G21 G90\nG0 X0 Y0 Z5\nS9000 M3\nG4 P2\nG1 X100 F3000\nM30'), machine);
  expect(facts.seconds).toBeCloseTo(2 + 100 / 50 + 50 / 500, 6);
  expect(facts.extents).toEqual({ min: [0, 0, 5], max: [100, 0, 5] });
  expect(facts.spindle).toEqual({ min: 9000, max: 9000 });
});

describe('a short program that asks for millions of moves', () => {
  it('arcs kilometres wide come in a bounded number of chords each', () => {
    const arcs = Array.from({ length: 200 }, (_, k) => `G2 X${k % 2 ? 0 : 2_000_000} Y0 R1000000 F1000`).join('\n');
    const { kind, findings } = readProgram(`G21 G90 G17\nG0 X0 Y0 Z5\n${arcs}\nM30\n`);
    expect(kind.length).toBeLessThan(200 * 4_100);
    expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
  });
  it('is not held beyond twelve million, and that is said with its line', () => {
    const peck = 'G83 X1 Y1 Z-9999 R0 Q1 L100 F100';
    const { kind, findings } = readProgram(`G21 G91\nG0 X0 Y0 Z5\nG90 G0 X0 Y0 Z5\n${Array.from({ length: 6 }, () => peck).join('\n')}\nM30\n`);
    expect(kind.length).toBe(12_000_000);
    expect(findings).toContainEqual(
      expect.objectContaining({
        code: 'program-line',
        severity: 'error',
        data: { line: expect.any(Number), what: expect.stringMatching(/more than 12 million moves/) },
      }),
    );
  });
});
