import { wordsOf } from '../findings/index.ts';
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { adaptProgram, bitsFrom, OP, resumePoints, ProgramReader, readProgram, resumeProgram, toPath } from './index.ts';

const TEXT = [
  '(Sign)',
  'G21 G90 G17 G94 G40 G49 G80',
  'G55',
  'G53 G0 Z0',
  'T1',
  '(Bit 1: V 60)',
  'S18000 M3',
  'G4 P4',
  '(V-carve: Rey)',
  'G0 Z5',
  'X10 Y10',
  'G1 Z-2 F600',
  'X40 F1500',
  'Y30 Z-1',
  'G0 Z5',
  'X60 Y10',
  'G1 Z-3 F600',
  'G3 X70 Y20 I0 J10 F1200',
  'G3 X60 Y30 I-10 J0',
  'G0 Z5',
  'M5',
  'G53 G0 Z0',
  'T2',
  'M0 (Fit bit 2: end mill 6, then measure it)',
  'G53 G0 Z0',
  'S16000 M3',
  'G4 P4',
  '(Profile: edge)',
  'G0 Z5',
  'X0 Y0',
  'G1 Z-4 F500',
  'X80 F2000',
  'G0 Z5',
  'M5',
  'G53 G0 Z0',
  'G53 G0 X10 Y880',
  'M30',
].join('\n');

const ok = <T extends object>(value: T | { why: string }): T => {
  if ('why' in value) throw new Error(value.why);
  return value;
};

describe('fitting a program to the board', () => {
  it('leaves a program that needs no fitting on its path', () => {
    const path = toPath(readProgram(ok(adaptProgram(TEXT, {})).text));
    const asked = toPath(readProgram(TEXT));
    expect([...path.kind]).toEqual([...asked.kind]);
    path.x.forEach((x, i) => expect(Math.hypot(x - asked.x[i], path.y[i] - asked.y[i], path.z[i] - asked.z[i])).toBeLessThan(1e-4));
  });
  it('turns every place about zero and nothing else, whatever the turn', () => {
    fc.assert(
      fc.property(fc.double({ min: -3.1, max: 3.1, noNaN: true }), (angle) => {
        const path = toPath(readProgram(ok(adaptProgram(TEXT, { angle })).text));
        const asked = toPath(readProgram(TEXT));
        expect(path.kind.length).toBe(asked.kind.length);
        for (let i = 0; i < path.kind.length; i++) {
          expect(path.x[i]).toBeCloseTo(Math.cos(angle) * asked.x[i] - Math.sin(angle) * asked.y[i], 3);
          expect(path.y[i]).toBeCloseTo(Math.sin(angle) * asked.x[i] + Math.cos(angle) * asked.y[i], 3);
          expect(path.z[i]).toBeCloseTo(asked.z[i], 4);
          expect(path.feed[i]).toBe(asked.feed[i]);
        }
      }),
    );
  });
  it('follows a surface: every place the bit comes to is as deep below it as it was asked for', () => {
    const surface = (x: number, y: number) => 0.01 * x - 0.004 * y + 0.05 * Math.sin(x / 20);
    const fitted = ok(adaptProgram(TEXT, { surface }));
    const path = toPath(readProgram(fitted.text));
    const asked = toPath(readProgram(TEXT));
    // Long moves are taken in pieces.
    expect(path.kind.length).toBeGreaterThan(asked.kind.length + 20);
    for (let i = 1; i < path.kind.length; i++) {
      if (path.kind[i] !== 1) continue;
      const depth = path.z[i] - surface(path.x[i], path.y[i]);
      expect(depth).toBeGreaterThan(-4.001);
      expect(depth).toBeLessThan(5.001);
      expect(Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1])).toBeLessThan(3.01);
    }
    // Source lines never go back.
    fitted.source.forEach((line, i) => i > 0 && expect(line).toBeGreaterThanOrEqual(fitted.source[i - 1]));
    expect(fitted.source.at(-1)).toBe(TEXT.split('\n').length);
  });
  it('puts the spindle on the controller’s own scale, in words and not in comments', () => {
    const half = ok(adaptProgram('G21 G90 (S18000 as planned)\nS18000 M3 ; S18000\nG0 X1 Y1\nG1 Z-1 F100\nM30', { spindle: 1000 / 24000 }));
    expect(half.text.split('\n').slice(0, 2)).toEqual(['G21 G90 (S18000 as planned)', 'S750 M3 ; S18000']);
    expect(readProgram(half.text).findings).toEqual([]);
  });
  it('works in inches', () => {
    const inch = 'G20 G90\nG0 Z0.2\nG0 X1 Y0\nG1 Z-0.1 F30\nX2\nM30';
    const path = toPath(readProgram(ok(adaptProgram(inch, { angle: Math.PI / 2 })).text));
    expect([path.x.at(-1), path.y.at(-1)].map((v) => Math.round(v! * 1e3) / 1e3)).toEqual([0, 50.8]);
    expect(path.feed.at(-1)).toBeCloseTo(762, 6);
  });
  it('refuses what it cannot turn, in words', () => {
    expect(adaptProgram('G21 G91\nG1 X5 F100', {})).toMatchObject({ why: expect.stringMatching(/G91/) });
    expect(adaptProgram('G21 G90\nG0 X5', { angle: 1 })).toMatchObject({ why: expect.stringMatching(/only one of X and Y/) });
    expect(adaptProgram('G21 G90\nG0 X5 Y5\nT2 G1 X6 F100', {})).toMatchObject({ why: expect.stringMatching(/more than move/) });
  });
});

describe('going on in the middle', () => {
  it('names the places where the bit comes down, with what they cut', () => {
    expect(resumePoints(TEXT)).toMatchObject([
      { line: 12, last: 14, label: 'V-carve: Rey', deepest: -2 },
      { line: 17, last: 19, label: 'V-carve: Rey', deepest: -3 },
      { line: 31, last: 32, label: 'Profile: edge', deepest: -4 },
    ]);
  });
  it('passes of one stroke are places of their own; rapidly down to just above the board is no travel', () => {
    const text = [
      'G21 G90',
      'G0 Z5',
      '(pass 1 of 2)',
      'G0 X0 Y0',
      'G0 Z2',
      'G1 Z-2 F300',
      'G1 X50 F900',
      'G1 X0',
      '(pass 2 of 2)',
      'G1 Z-4 F300',
      'G1 X50 F900',
      'G0 Z5',
      'M30',
    ].join('\n');
    expect(resumePoints(text)).toMatchObject([
      { label: 'pass 1 of 2', line: 5, last: 8, deepest: -2 },
      { label: 'pass 2 of 2', line: 9, last: 11, deepest: -4 },
    ]);
    // Going on with the second pass: across at the height it travels at, not at the height it plunges from.
    const { text: on } = ok(resumeProgram(text, 10, 1));
    expect(on.split('\n')).toEqual(expect.arrayContaining(['G0 X0 Y0', 'G0 Z5', 'G1 Z-2 F300']));
    expect(on).not.toContain('G0 Z2');
  });
  it('re-enters in the safe order at any line: up, spindle, across, down; then cuts what is left and nothing else', () => {
    const lines = TEXT.split('\n');
    const whole = readProgram(TEXT);
    for (let line = 1; line <= lines.length; line++) {
      const { text, source } = ok(resumeProgram(TEXT, line, 4));
      const program = readProgram(text);
      const faults = program.findings.filter(({ code }) => code !== 'program-end-missing');
      expect(faults, `from line ${line}: ${faults[0] && wordsOf(faults[0], 'mm').what}`).toEqual([]);
      expect(source).toHaveLength(text.trim().split('\n').length);
      // The safe order: nothing moves across before Z is at the top; nothing goes down before the spindle turns and X and Y stand.
      let [top, spindle, across] = [false, false, false];
      for (let i = 0; i < program.kind.length; i++) {
        const kind = program.kind[i];
        if (kind === OP.SPINDLE && program.value[i] > 0) spindle = true;
        if (kind > OP.FEED) continue;
        if (program.machine[i]) {
          if (program.z[i] === 0) top = true;
          continue;
        }
        expect(top).toBe(true);
        if (!Number.isNaN(program.x[i])) across = true;
        if (!across || program.z[i] < 5) expect(program.z[i] < 5 ? spindle && across : true).toBe(true);
      }
      // What is cut from here on is what the whole program cuts from this line on.
      const ends = (p: ReturnType<typeof readProgram>, from: number) => {
        const list: string[] = [];
        for (let i = 0; i < p.kind.length; i++)
          if (p.kind[i] === OP.FEED && !p.machine[i] && p.line[i] >= from) list.push([p.x[i], p.y[i], p.z[i], p.value[i]].map((v) => v.toFixed(3)).join(' '));
        return list;
      };
      const asked = ends(whole, line);
      const got = ends(program, 1);
      expect(got.slice(got.length - asked.length)).toEqual(asked);
      expect(got.length - asked.length).toBeLessThanOrEqual(1);
    }
  });
  it('plunges at the slowest descent, in the work offset and with the bit of that place', () => {
    const { text } = ok(resumeProgram(TEXT, 13, 4));
    expect(text.split('\n').slice(0, 11)).toEqual([
      '(Goes on from line 13)',
      'G21 G90 G17 G94 G40 G49 G80',
      'G55',
      'G53 G0 Z0',
      'T1',
      'S18000 M3',
      'G4 P4',
      'G0 X10 Y10',
      'G0 Z5',
      'G1 Z-2 F500',
      'G1 X40 F1500',
    ]);
    expect(bitsFrom(TEXT, 13, ['v', 'e'])).toEqual(['v', 'e']);
    expect(bitsFrom(TEXT, 31, ['v', 'e'])).toEqual(['e']);
  });
  it('never turns the spindle of a drag diamond', () => {
    const drag = 'G21 G90\nG53 G0 Z0\nM5 (Spindle off)\nG0 Z5\nG0 X1 Y1\nG1 Z-2 F500\nX50 F1000\nG0 Z5\nM30';
    expect(ok(resumeProgram(drag, 7, 4)).text).not.toMatch(/M3\b/);
  });
  it('refuses a line that is not there', () => {
    expect(resumeProgram(TEXT, 99, 4)).toMatchObject({ why: expect.stringMatching(/no line 99/) });
    expect(resumeProgram(TEXT, 0, 4)).toMatchObject({ why: expect.stringMatching(/no line 0/) });
  });
  it('reads the whole of what it wrote: the reader knows every word', () => {
    const reader = new ProgramReader();
    reader.push(new TextEncoder().encode(ok(resumeProgram(TEXT, 18, 4)).text));
    expect(reader.finish().findings).toEqual([]);
  });
});
