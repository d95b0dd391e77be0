/**
 * What is on while moving: S inside a line of motion, M3 to M5, air, outputs that switch with the motion - read,
 * kept when a program is fitted to its board, and in the safe order when it is taken up again. A synchronised
 * output's words are those of a common extension of RS274/NGC, from memory.
 */
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { PROCESSES } from '../process/index.ts';
import { often } from '../reference/chance.ts';
import { DWELL, PathWriter, type ToolEvent, type Toolpath } from '../toolpath/index.ts';
import { adaptProgram, OP, readProgram, resumePoints, resumeProgram, toPoweredPath, writeProgram, type PowerWords, type Reentry } from './index.ts';
import { ProgramSettings } from './settings.ts';

const rows = (text: string) => {
  const { kind, value, x, y } = readProgram(text);
  return Array.from(kind, (k, i) => [k, value[i], ...(k === OP.OUTPUT ? [x[i], y[i]] : [])]);
};
const fitted = (text: string, fit: Parameters<typeof adaptProgram>[1]) => {
  const made = adaptProgram(text, fit);
  if ('why' in made) throw new Error(made.why);
  return made;
};

describe('reading', () => {
  it('an S alone changes what is on, in the line of a move before the move', () => {
    expect(rows('G21 G90 M4 S200\nG1 X1 Y0 F100\nX2 S300\nX3\nS150\nM5\nS900\nG0 X0\nM30')).toEqual([
      [OP.SPINDLE, -200],
      [OP.FEED, 100],
      [OP.SPINDLE, -300],
      [OP.FEED, 100],
      [OP.FEED, 100],
      [OP.SPINDLE, -150],
      // Switched off an S is only kept for the next time.
      [OP.SPINDLE, 0],
      [OP.RAPID, 0],
      [OP.END, 0],
    ]);
    expect(rows('S900\nM3\nM30')).toEqual([
      [OP.SPINDLE, 900],
      [OP.END, 0],
    ]);
  });
  it('air, mist and none of them are rows, both in one line too', () => {
    expect(rows('M7 M8\nM9\nM30')).toEqual([
      [OP.COOLANT, 7],
      [OP.COOLANT, 8],
      [OP.COOLANT, 9],
      [OP.END, 0],
    ]);
  });
  it('outputs, with the motion or at once, by level too; a level is no length', () => {
    expect(rows('G20\nM62 P1\nM65 P2\nM67 E0 Q0.5\nM30')).toEqual([
      [OP.OUTPUT, 62, 1, NaN],
      [OP.OUTPUT, 65, 2, NaN],
      [OP.OUTPUT, 67, 0, 0.5],
      [OP.END, 0],
    ]);
  });
  it.each([
    ['M62', /needs P/],
    ['M67 Q1', /needs E/],
    ['M67 E1', /Q, its level/],
    ['E1', /E stands without/],
    ['M62 P1 G4', /both need P/],
    ['M62 P1 M63 P1', /modal group|twice/],
  ])('%s is refused in words', (line, why) => {
    expect(
      readProgram(`${line}\nM30`)
        .findings.map(({ data }) => data.what)
        .join(),
    ).toMatch(why);
  });
});

describe('fitting to the board', () => {
  const BEAM = ['G21 G90 G94', 'M4 S0', 'G0 X0 Y0 Z0', 'G1 X10 S400 F1200', 'Y10 S800', 'M62 P1', 'X0 S0', 'M5', 'M30'].join('\n');
  it('an S stays with the motion it stood in', () => {
    const { text } = fitted(BEAM, { angle: Math.PI / 2 });
    expect(text.split('\n').slice(3, 7)).toEqual(['G1 S400 X0 Y10 Z0 F1200', 'G1 S800 X-10 Y10 Z0', 'M62 P1', 'G1 S0 X-10 Y0 Z0']);
  });
  it('once, where one move becomes many', () => {
    const { text } = fitted(BEAM, { surface: () => 0.1 });
    expect(text.match(/S400/g)).toHaveLength(1);
    expect(text.split('\n').find((line) => line.includes('S400'))).toMatch(/^G1 S400 X\d/);
  });
  it('on the scale of the controller, and words that switch go before the motion they stood with', () => {
    const { text } = fitted('G21 G90\nG0 X5 Y5 Z0\nM3 S100 M8 G1 X6 F100\nM30', { spindle: 2 });
    expect(text.split('\n').slice(2, 5)).toEqual(['S200 M3', 'M8', 'G1 X6 Y5 Z0 F100']);
  });
  it('whatever is switched and moved: fitted by nothing, the program reads as it did', () => {
    const line = fc.oneof(
      fc
        .tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 0, max: 50 }), fc.option(fc.integer({ min: 0, max: 999 })))
        .map(([x, y, s]) => `G1 X${x} Y${y}${s === null ? '' : ` S${s}`} F900`),
      fc.constantFrom('M3 S500', 'M4', 'M5', 'S250', 'M7', 'M9', 'M62 P3', 'M63 P3', 'M67 E1 Q0.25', 'G4 P0.5', 'M8 G1 X1 Y1 F300', 'M5 G0 X3 Y4'),
    );
    fc.assert(
      fc.property(fc.array(line, { maxLength: 30 }), (lines) => {
        const text = ['G21 G90 G94', 'G0 X0 Y0 Z0', ...lines, 'M30'].join('\n');
        expect(rows(fitted(text, { angle: 0 }).text)).toEqual(rows(text));
      }),
      often(200),
    );
  });
});

describe('taking it up again', () => {
  const CUT = [
    'G21 G90 G94',
    'G54',
    'G53 G0 Z0',
    'T1',
    '(ring)',
    'G0 Z5',
    'X20 Y20',
    'Z2',
    'M3 S700',
    'G1 Z-1 F300',
    'X40 F1500',
    'Y40',
    'G0 Z5',
    'M5',
    'M30',
  ].join('\n');
  const order = (how: Reentry) => {
    const made = resumeProgram(CUT, 12, 0.7, how);
    if ('why' in made) throw new Error(made.why);
    const { kind, value, x, z, machine } = readProgram(made.text);
    const on = kind.findIndex((k, i) => k === OP.SPINDLE && value[i] > 0);
    const across = kind.findIndex((k, i) => k === OP.RAPID && !machine[i] && !Number.isNaN(x[i]));
    const down = kind.findIndex((k, i) => k === OP.FEED && z[i] < 2);
    return { on, across, down, text: made.text };
  };
  it('a spindle turns before anything comes near', () => {
    const { on, across, down } = order('running before it comes down');
    expect(on).toBeLessThan(across);
    expect(on).toBeLessThan(down);
  });
  it('an arc is struck where the cut goes on, waits, and only then it comes down', () => {
    const { on, across, down, text } = order('pierce again');
    expect(on).toBeGreaterThan(across);
    expect(on).toBeLessThan(down);
    expect(text).toMatch(/S700 M3\nG4 P0\.7\nG1 Z-1/);
  });
  it('a torch is taken up as it was struck: the plate felt for, at pierce height, for its own delay', () => {
    const text = ['G21 G90', 'G54', 'G53 G0 Z0', 'M5', 'G0 Z15', 'X10 Y10', 'G38.2 Z-20 F500', 'G10 L20 P0 Z-1.2', 'G0 Z3.8', 'S1 M3', 'G4 P0.4', 'G1 Z1.5 F2500', 'X40 F3900', 'Y40', 'M5', 'G0 Z15', 'X90 Y90', 'M30'].join('\n'); // prettier-ignore
    const made = resumeProgram(text, 14, 9, 'pierce again');
    const said = 'text' in made ? made.text.split('\n') : [];
    expect(said.slice(said.indexOf('M5'), said.indexOf('M5') + 9)).toEqual([
      'M5',
      'G0 X40 Y10',
      'G0 Z15',
      'G38.2 Z-20 F500',
      'G10 L20 P0 Z-1.2',
      'G0 Z3.8',
      'S1 M3',
      'G4 P0.4',
      'G1 Z1.5 F2500',
    ]);
    expect(said[said.indexOf('G1 Z1.5 F2500') + 1]).toBe('G1 Y40 F3900');
    // Before it is struck: not driven down to where the plate was the first time, but felt for again.
    const early = resumeProgram(text, 9, 9, 'pierce again');
    const goes = 'text' in early ? early.text.split('\n') : [];
    expect(goes.slice(goes.indexOf('M5') + 1, goes.indexOf('M5') + 8)).toEqual([
      'G0 X10 Y10',
      'G0 Z15',
      'G38.2 Z-20 F500',
      'G10 L20 P0 Z-1.2',
      'G0 Z-1.2',
      'G0 Z3.8',
      'S1 M3',
    ]);
    // Its place begins where it is felt for.
    expect(resumePoints(text).map(({ line }) => line)).toEqual([7]);
    const again = resumeProgram(text, 7, 9, 'pierce again');
    expect('text' in again && again.text.match(/^G38.2/gm)).toHaveLength(1);
    expect('text' in again && again.text).not.toMatch(/^G1 Z(?!1\.5)/m);
    // Between two contours nothing is struck on the way.
    const between = resumeProgram(text, 17, 9, 'pierce again');
    expect('text' in between && between.text).not.toMatch(/M3\b|G38/);
  });
  it('a beam comes on where it is in place, and does not burn a spot before', () => {
    const { on, across, down, text } = order('on with the motion');
    expect(on).toBeGreaterThan(across);
    expect(on).toBeGreaterThan(down);
    expect(text).toMatch(/M5\nG0 X40 Y20\n/);
    expect(text).not.toMatch(/G4 P/);
  });
  it('a beam’s power is the one of that place, not the first', () => {
    const text = 'G21 G90\nG54\nG0 Z5\nG0 X0 Y0\nM4 S100\nG1 X10 F500 S300\nX20 S450\nX30\nM5\nM30';
    const made = resumeProgram(text, 8, 0, 'on with the motion');
    expect('text' in made && made.text).toMatch(/S450 M4\nG1 X30/);
  });
  it('the router’s definition says how a router does it', () => expect(PROCESSES.router.resume).toBe('running before it comes down'));
});

describe('writing what a path says of itself, and reading it back', () => {
  const BEAM: PowerWords = { on: 'M4', scale: 1000, level: 'S', heightControl: null, assist: { air: 'M8', mist: 'M7' } };
  const ARC: PowerWords = { on: 'M3', scale: 1, level: { output: 0 }, heightControl: 1, assist: { air: 'M7', mist: 'M8' } };
  const settings = ProgramSettings.parse({ end: 'stay' });
  const written = (path: Toolpath, words: PowerWords, over: Partial<ProgramSettings> = {}) =>
    writeProgram({
      tool: 'nozzle',
      measured: false,
      header: [],
      sections: [{ tool: 1, bitLabel: 'head', speed: 0, path }],
      settings: { ...settings, ...over },
      words,
      datum: [0, 0],
      zShift: 0,
      spindleSeconds: 0,
      arcTolerance: 0.005,
      park: [0, 0],
    });
  const writer = () => new PathWriter({ clearance: 5, feed: 1200, plunge: 1200 });

  it('a beam: on before it moves, its power in the line of each move, air with it', () => {
    const path = writer();
    path.over(0, 0, 0);
    path.begin('c', 'engrave');
    path.assist('air');
    path.on(0.25);
    path.cutTo(10, 0, 0);
    path.setPower(0.5);
    path.cutTo(20, 0, 0);
    path.cutTo(20, 5, 0);
    path.off();
    path.assist('none');
    const { text } = written(path.finish(), BEAM);
    expect(text.split('\n').filter((line) => /^(M[4789]|M5$|S|G1|X2|Y5)/.test(line))).toEqual([
      'M5',
      'M8',
      'S250 M4',
      'G1 X10 F1200',
      'X20 S500',
      'Y5',
      'M5',
      'M9',
      'M5',
    ]);
  });
  it('a torch: pierced where it stands, height control off in a corner, all in step with the motion', () => {
    const path = writer();
    path.over(0, 0, 3.8);
    path.on(1, 0.6);
    path.cutTo(0, 0, 1.5);
    path.heightControl(true);
    path.cutTo(10, 0, 1.5);
    path.heightControl(false);
    path.setPower(0.7);
    path.cutTo(10, 10, 1.5);
    path.off();
    const { text } = written(path.finish(), ARC);
    const from = text.split('\n').indexOf('G0 X0 Y0');
    const said = text.split('\n').slice(from, from + 11);
    expect(said).toEqual(['G0 X0 Y0', 'Z3.8', 'S1 M3', 'G4 P0.6', 'G1 Z1.5 F1200', 'M62 P1', 'X10', 'M63 P1', 'M67 E0 Q0.7', 'Y10', 'M5']);
  });
  it('an arc is not drawn over a change: what switches in it still switches there', () => {
    const round = (change: (path: PathWriter, k: number) => void) => {
      const path = writer();
      path.over(20, 0, 0);
      path.on(0.5);
      for (let k = 1; k <= 80; k++) {
        change(path, k);
        path.cutTo(20 * Math.cos(k / 40), 20 * Math.sin(k / 40), 0);
      }
      path.off();
      return path.finish();
    };
    const plain = written(
      round(() => {}),
      BEAM,
      { arcs: true },
    ).text;
    expect(plain).toMatch(/^G3 /m);
    const changed = written(
      round((path, k) => k === 40 && path.setPower(0.8)),
      BEAM,
      { arcs: true },
    ).text;
    expect(toPoweredPath(readProgram(changed), BEAM).power.filter((power) => power === 0.8).length).toBeGreaterThan(4);
  });

  /** A pierce's wait is told by its event when it is read back. */
  function withoutWaits(path: Toolpath): Toolpath {
    const rows = Array.from(path.kind.keys()).filter((i) => path.kind[i] !== DWELL);
    const pick = (values: Float64Array) => Float64Array.from(rows, (i) => values[i]);
    return {
      ...path,
      kind: Uint8Array.from(rows, (i) => path.kind[i]),
      x: pick(path.x),
      y: pick(path.y),
      z: pick(path.z),
      feed: pick(path.feed),
      power: pick(path.power!),
      events: path.events!.map((event) => ({ ...event, at: rows.filter((i) => i < event.at).length })),
    };
  }

  type Step = ['to', number, number] | ['on', number, boolean] | ['power', number] | ['off'] | ['height', boolean] | ['assist', 'air' | 'mist' | 'none'];
  const steps = fc.array(
    fc.oneof(
      fc.tuple(fc.constant('to' as const), fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 400 })),
      fc.tuple(fc.constant('on' as const), fc.integer({ min: 1, max: 9 }), fc.boolean()),
      fc.tuple(fc.constant('power' as const), fc.integer({ min: 1, max: 9 })),
      fc.tuple(fc.constant('off' as const)),
      fc.tuple(fc.constant('height' as const), fc.boolean()),
      fc.tuple(fc.constant('assist' as const), fc.constantFrom('air', 'mist', 'none')),
    ) as fc.Arbitrary<Step>,
    { maxLength: 40 },
  );
  it.each([
    ['beam', BEAM],
    ['arc', ARC],
    ['spindle', PROCESSES.router.power],
  ])('whatever a path says: a program of the %s reads back to it', (_, words) => {
    fc.assert(
      fc.property(steps, (list) => {
        const path = writer();
        path.over(0, 0, 1);
        let [on, x, y] = [false, 0, 0];
        for (const step of list) {
          if (step[0] === 'to' && (step[1] !== x || step[2] !== y)) path.cutTo(([x, y] = [step[1], step[2]])[0], y, 1);
          if (step[0] === 'on' && !on) path.on(step[1] / 10, step[2] ? 0.5 : undefined);
          if (step[0] === 'on') on = true;
          if (step[0] === 'power' && on) path.setPower(step[1] / 10);
          if (step[0] === 'off' && on) path.off();
          if (step[0] === 'off') on = false;
          if (step[0] === 'height') path.heightControl(step[1]);
          if (step[0] === 'assist') path.assist(step[1]);
        }
        if (on) path.off();
        const whole = path.finish();
        fc.pre(whole.events !== undefined);
        const made = withoutWaits(whole);
        const back = toPoweredPath(readProgram(written(whole, words).text), words);
        // Counted from the end: the way to the first point is the program's own.
        const shift = back.kind.length - made.kind.length;
        expect([...back.x.slice(shift)]).toEqual([...made.x]);
        const feeds = (of: { kind: Uint8Array; power?: Float64Array }, from = 0) => Array.from(of.power!.slice(from), (p, i) => (of.kind[i + from] === 1 ? Number(p.toFixed(6)) : null)); // prettier-ignore
        expect(feeds(back, shift)).toEqual(feeds(made));
        const seen = made.events!.filter((event) => words.heightControl !== null || !('heightControl' in event));
        // The safe end says off once more.
        const plain = (events: ToolEvent[], by: number) => events.map((event) => ({ ...event, at: event.at - by, ...('on' in event ? { on: Number(event.on.toFixed(6)) } : {}) })); // prettier-ignore
        expect(plain(back.events, shift).slice(1, seen.length + 1)).toEqual(plain(seen, 0));
      }),
      often(200),
    );
  });
});
