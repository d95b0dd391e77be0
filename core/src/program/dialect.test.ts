/** What controllers want otherwise: every setting writes a program that reads back to the same way. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Cut, ProgramSettings, type Job } from '../job/index.ts';
import { planJob, releasePrograms, writePrograms, type Plan } from '../plan/index.ts';
import { even } from '../reference/chance.ts';
import { fontOf, makeJob, plateJob, rect } from '../reference/fixtures.ts';
import { FEED, PathWriter, RAPID, type Toolpath } from '../toolpath/index.ts';
import { fitArcs } from './arcs.ts';
import { firstBitFitted, OP, pauseIn, readProgram, toPath } from './index.ts';

const job = makeJob({
  items: {
    words: { kind: 'text', id: 'words', x: 100, y: 45, text: 'Reed', face: 'playfair', capHeight: 25 },
    ring: { kind: 'ellipse', id: 'ring', x: 30, y: 25, width: 22, height: 22 },
    edge: { kind: 'rectangle', id: 'edge', x: 100, y: 40, width: 180, height: 60, radius: 8 },
  },
  itemOrder: ['words', 'ring', 'edge'],
  tools: { v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 }, end6: { kind: 'end', id: 'end6', diameter: 6.35 } },
  cuts: {
    holes: {
      kind: 'drill',
      id: 'holes',
      on: ['ring'],
      tool: 'end6',
      depth: 8,
      points: [
        [170, 25],
        [20, 62],
        [24, 62],
      ],
    },
    carve: { kind: 'vcarve', id: 'carve', on: ['words'], tool: 'v60' },
    out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end6', entry: 'ramp', lead: 'arc' },
  },
  cutOrder: ['holes', 'carve', 'out'],
});
let kept: Plan | undefined;
const plan = async () => (kept ??= await planJob(job, { fonts: fontOf }));
const written = async (settings: Partial<ProgramSettings>, split?: 'tool' | 'pauses') =>
  writePrograms({ ...job, program: { ...job.program, ...settings } }, await plan(), '2026-01-01', split);

/** Greatest distance of the points of one path from the chords of another, looked for near where it was last. */
function apart(a: Pick<Toolpath, 'x' | 'y' | 'z'>, b: Pick<Toolpath, 'x' | 'y' | 'z'>, enough: number): number {
  let worst = 0;
  let near = 1;
  for (let i = 0; i < a.x.length; i++) {
    let best = Infinity;
    let at = near;
    for (let j = Math.max(1, near - 2); j < Math.min(b.x.length, near + 400); j++) {
      const [px, py, pz] = [b.x[j - 1], b.y[j - 1], b.z[j - 1]];
      const [dx, dy, dz] = [b.x[j] - px, b.y[j] - py, b.z[j] - pz];
      const length = dx * dx + dy * dy + dz * dz;
      const f = length > 0 ? Math.max(0, Math.min(1, ((a.x[i] - px) * dx + (a.y[i] - py) * dy + (a.z[i] - pz) * dz) / length)) : 0;
      const d = Math.hypot(a.x[i] - px - f * dx, a.y[i] - py - f * dy, a.z[i] - pz - f * dz);
      if (d < best - 1e-9) [best, at] = [d, j];
      // The first that is near enough: ways pass the same place again and again.
      if (best <= enough) break;
    }
    near = at;
    worst = Math.max(worst, best);
  }
  return worst;
}

const SETTINGS: [string, Partial<ProgramSettings>][] = [
  ['as it comes', {}],
  ['arcs', { arcs: true }],
  ['arcs in inches', { arcs: true, units: 'in' }],
  ['line numbers', { lineNumbers: true, arcs: true }],
  ['comments after a semicolon', { comments: 'semicolon' }],
  ['no comments, lines ended both ways', { comments: 'none', lineEnd: 'crlf' }],
  ['a changer', { change: 'M6', air: 'M8' }],
  ['a changer with a table of lengths', { change: 'M6', lengths: 'G43' }],
  ['canned cycles', { drilling: 'cycles' }],
  ['canned cycles in inches, numbered', { drilling: 'cycles', units: 'in', lineNumbers: true }],
  ['own lines, another work offset, no park', { startLines: ['M9'], endLines: ['G4 P1'], workOffset: 'G56', end: 'stay' }],
];

describe('programs', () => {
  it.each(SETTINGS)('%s: understood to the last line, and the same way as was planned', async (_name, settings) => {
    for (const split of ['tool', 'pauses'] as const) {
      const files = await written(settings, split);
      const sections = split === 'tool' ? files : [files[0]];
      for (const { text } of sections) {
        const program = readProgram(text);
        expect(program.findings).toEqual([]);
        expect(program.kind.at(-1)).toBe(OP.END);
      }
      const whole = files.map(({ text }) => toPath(readProgram(text)));
      const cuts = (await plan()).cuts.map(({ path }) => path);
      const read = { x: whole.flatMap((p) => [...p.x]), y: whole.flatMap((p) => [...p.y]), z: whole.flatMap((p) => [...p.z]) };
      const asked = { x: cuts.flatMap((p) => [...p.x]), y: cuts.flatMap((p) => [...p.y]), z: cuts.flatMap((p) => [...p.z]) };
      const as = ({ x, y, z }: { x: number[]; y: number[]; z: number[] }) => ({ x: Float64Array.from(x), y: Float64Array.from(y), z: Float64Array.from(z) });
      // Half the job's tolerance for arcs, the reader's chords, and the last decimal.
      const most = settings.arcs ? job.tolerance / 2 + 0.002 + 0.002 : settings.units === 'in' ? 0.0025 : 0.001;
      expect(apart(as(asked), as(read), most)).toBeLessThanOrEqual(most);
    }
  });
  it('arcs make it shorter, and feeds are the same', async () => {
    const lines = (files: { text: string }[]) => files.reduce((sum, { text }) => sum + text.split('\n').length, 0);
    const [plain, arcs] = [await written({}), await written({ arcs: true })];
    expect(lines(arcs)).toBeLessThan(0.6 * lines(plain));
    const feeds = (files: { text: string }[]) => [...new Set(files.flatMap(({ text }) => [...text.matchAll(/F([\d.]+)/g)].map(([, f]) => f)))].sort();
    for (const feed of feeds(arcs)) expect(feeds(plain)).toContain(feed);
    expect(arcs[0].text).toMatch(/^G[23] X.* Z.* I.* J/m);
  });
  it('says what was asked for, in the words of the standard', async () => {
    const [numbered] = await written({ lineNumbers: true });
    const rows = numbered.text.trim().split('\n');
    rows.forEach((row, k) => expect(row).toMatch(new RegExp(`^N${10 * (k + 1)} `)));
    const [semi] = await written({ comments: 'semicolon' });
    expect(semi.text).not.toMatch(/[()]/);
    expect(semi.text).toMatch(/^; Job: Test$/m);
    const [none] = await written({ comments: 'none' });
    expect(none.text).not.toMatch(/[();]/);
    const [changer] = await written({ change: 'M6' }, 'pauses');
    expect(changer.text).toMatch(/^T1 M6 \(Fit bit 1/m);
    expect(changer.text).toMatch(/^T2 M6 \(Fit bit 2/m);
    expect(changer.text).not.toMatch(/G43/);
    const [table] = await written({ change: 'M6', lengths: 'G43' }, 'pauses');
    expect(table.text).toMatch(/^T1 M6 .*\nG43 H1\nG53 G0 Z0$/m);
    expect(table.text).toMatch(/^T2 M6 .*\nG43 H2\nG53 G0 Z0$/m);
    expect(changer.text).not.toMatch(/^M0\b/m);
    const [cycles] = await written({ drilling: 'cycles' }, 'pauses');
    expect(cycles.text.match(/^G98 G83 X\S+ Y\S+ Z-8 R1 Q3 F1000$/gm)).toHaveLength(3);
    expect(cycles.text.match(/^G80$/gm)).toHaveLength(1);
    const [air] = await written({ air: 'M7' }, 'pauses');
    expect(air.text.match(/^M7$/gm)).toHaveLength(3);
    expect(air.text.match(/^M9$/gm)).toHaveLength(3);
    const [crlf] = await written({ lineEnd: 'crlf' });
    expect(crlf.text.split('\r\n').length).toBe(crlf.text.split('\n').length);
    for (const [split, names] of [
      ['tool', /^[A-Z0-9]{1,8}\.[A-Z0-9]{1,3}$/],
      ['pauses', /^[A-Z0-9]{1,8}\.[A-Z0-9]{1,3}$/],
    ] as const) {
      const short = await written({ shortNames: true, split, extension: 'gcode' });
      expect(new Set(short.map(({ name }) => name)).size).toBe(short.length);
      for (const { name } of short) expect(name).toMatch(names);
    }
    // One for all and one for each bit stand in a release side by side.
    const [whole] = await written({ shortNames: true, split: 'pauses' });
    expect((await written({ shortNames: true, split: 'tool' })).map(({ name }) => name)).not.toContain(whole.name);
    const [named] = await written({ extension: 'tap' });
    expect(named.name).toMatch(/\.tap$/);
    const [own] = await written({ startLines: ['M9'], endLines: ['G4 P1'], workOffset: 'G56', end: 'stay', spindleDelay: 7 });
    expect(own.text).toMatch(/^G56$/m);
    expect(own.text).toMatch(/^G53 G0 Z0\nM9$/m);
    expect(own.text).toMatch(/G53 G0 Z0\nG4 P1\nM30\n$/);
    expect(own.text).toMatch(/^G4 P7$/m);
    expect(own.text).not.toMatch(/Y880/);
  });
  it('whatever is set, it starts and ends safely: up before across, spindle off, up again', async () => {
    for (const [, settings] of SETTINGS) {
      for (const { text } of await written(settings, 'pauses')) {
        const program = readProgram(text);
        const first = program.kind.findIndex((kind) => kind <= OP.FEED);
        expect([program.machine[first], program.z[first]]).toEqual([1, 0]);
        const off = program.kind.lastIndexOf(OP.SPINDLE);
        expect(program.value[off]).toBe(0);
        const up = [...program.kind.keys()].find((i) => i > off && program.kind[i] === OP.RAPID)!;
        expect([program.machine[up], program.z[up]]).toEqual([1, 0]);
        for (let i = off; i < program.kind.length; i++) expect(program.kind[i]).not.toBe(OP.FEED);
      }
    }
  });
  it('settings that make no sense are refused by the document', () => {
    for (const wrong of [{ extension: '../x' }, { workOffset: 'G60' }, { decimals: 9 }, { spindleDelay: -1 }])
      expect(ProgramSettings.safeParse(wrong).success).toBe(false);
  });
});

describe('arcs fitted to chords', () => {
  const around = (radius: number, sweep: number, chords: number, drop = 0, feed = 1000): Toolpath => {
    const writer = new PathWriter({ clearance: 5, feed, plunge: feed });
    writer.begin('c', 'x');
    writer.approach(radius, 0, -1);
    for (let k = 1; k <= chords; k++) writer.cutTo(radius * Math.cos((sweep * k) / chords), radius * Math.sin((sweep * k) / chords), -1 - (drop * k) / chords);
    return writer.finish();
  };
  it('a half circle of many chords is one arc, its centre where it was', () => {
    const arcs = fitArcs(around(20, Math.PI, 120), 0.005);
    expect(arcs).toHaveLength(1);
    expect(Math.hypot(arcs[0].x, arcs[0].y)).toBeLessThan(1e-3);
    expect(arcs[0].clockwise).toBe(false);
    expect(fitArcs(around(20, -Math.PI, 120), 0.005)[0].clockwise).toBe(true);
  });
  it('a helix too; a cone is none', () => {
    expect(fitArcs(around(10, 5, 80, 2), 0.005)).toHaveLength(1);
    const cone = around(10, 5, 80, 2);
    cone.z.forEach((z, i) => (cone.z[i] = z < 0 ? -1 - 2 * ((-1 - z) / 2) ** 2 : z));
    for (const { first, last } of fitArcs(cone, 0.005)) expect(last - first).toBeLessThan(60);
  });
  it('coarse chords stay chords: their middles lie off the circle', () => {
    expect(fitArcs(around(20, Math.PI, 8), 0.005)).toEqual([]);
  });
  it('a wobble is not smoothed away, a change of feed not passed over', () => {
    const path = around(20, Math.PI, 120);
    path.x[30] += 0.1;
    for (const { first, last } of fitArcs(path, 0.005)) expect(30 >= first && 30 <= last).toBe(false);
    const two = around(20, Math.PI, 120);
    two.feed.fill(500, 30);
    for (const { first, last } of fitArcs(two, 0.005)) expect(first < 30 && last >= 30).toBe(false);
  });
  it('never lies farther from any chord than the tolerance (random ways)', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(even(-1, 1), even(0.02, 2)), { minLength: 6, maxLength: 60 }), even(0.002, 0.1), (steps, tolerance) => {
        const writer = new PathWriter({ clearance: 5, feed: 1000, plunge: 1000 });
        writer.begin('c', 'x');
        writer.approach(0, 0, -1);
        let [x, y, a] = [0, 0, 0];
        for (const [turn, length] of steps) {
          a += turn * 0.3;
          x += length * Math.cos(a);
          y += length * Math.sin(a);
          writer.cutTo(x, y, -1);
        }
        const path = writer.finish();
        let until = 0;
        for (const { first, last, x: cx, y: cy } of fitArcs(path, tolerance)) {
          expect(first).toBeGreaterThan(until);
          until = last;
          const r = Math.hypot(path.x[first - 1] - cx, path.y[first - 1] - cy);
          for (let i = first; i <= last; i++) {
            expect(path.kind[i]).toBe(FEED);
            for (let k = 0; k <= 10; k++) {
              const [px, py] = [path.x[i - 1] + (k / 10) * (path.x[i] - path.x[i - 1]), path.y[i - 1] + (k / 10) * (path.y[i] - path.y[i - 1])];
              expect(Math.abs(Math.hypot(px - cx, py - cy) - r)).toBeLessThanOrEqual(2 * tolerance + 1e-9);
            }
          }
        }
      }),
    ));
});

describe('a stop for a person', () => {
  it.each([
    ['M0 (Fit bit 2: end mill)', 'Fit bit 2: end mill'],
    ['M0', ''],
    ['N120 M0 (Fit bit 2)', 'Fit bit 2'],
    ['T2 M6 (Fit bit 2)', 'Fit bit 2'],
    ['T2M06', ''],
    ['M1 ; look', 'look'],
    ['m00', ''],
  ])('%s', (line, said) => expect(pauseIn(line)).toBe(said));
  it.each(['M5', 'M3 S18000', 'M30', 'M8', '(M0)', 'G1 X0 ; M0', 'G4 P1', 'M10', 'T2'])('%s is none', (line) => expect(pauseIn(line)).toBeNull());
  it('every change of bit in a program is one, in every way of writing it', async () => {
    for (const [, settings] of SETTINGS) {
      const [{ text }] = await written(settings, 'pauses');
      const program = readProgram(text);
      const stops = program.kind.filter((kind) => kind === OP.PAUSE).length;
      // A changer is told of its first bit too; once a person has fitted that, two are left.
      expect(stops).toBe(settings.change === 'M6' ? 3 : 2);
      expect(text.split(/\r?\n/).filter((line) => pauseIn(line) !== null)).toHaveLength(stops);
      const fitted = firstBitFitted(text);
      expect(fitted.split(/\r?\n/).filter((line) => pauseIn(line) !== null)).toHaveLength(2);
      expect(fitted.split('\n').length).toBe(text.split('\n').length);
    }
  });
});

it('rapids go down only straight, and only to above the board or into a hole that is cut already, in any cut of the job', async () => {
  let back = 0;
  for (const { path } of (await plan()).cuts) {
    const deepest = new Map<string, number>();
    for (let i = 1; i < path.kind.length; i++) {
      const here = `${path.x[i]},${path.y[i]}`;
      if (path.kind[i] === FEED) deepest.set(here, Math.min(deepest.get(here) ?? Infinity, path.z[i]));
      if (path.kind[i] !== RAPID) continue;
      if (path.x[i] !== path.x[i - 1] || path.y[i] !== path.y[i - 1]) expect(path.z[i]).toBeGreaterThanOrEqual((job as Job).program.clearance);
      else if (path.z[i] < path.z[i - 1] && path.z[i] < 0) {
        expect(path.z[i]).toBeGreaterThan(deepest.get(here) ?? 0);
        back++;
      }
    }
  }
  // Three holes of three pecks each.
  expect(back).toBe(6);
});

describe('who waits while an arc pierces', () => {
  const released = async (pierce?: 'machine') => {
    const job = plateJob([rect('frame', 150, 100, 80, 60), { kind: 'ellipse', id: 'hole', x: 150, y: 100, width: 20, height: 20 }, rect('drill', 40, 40, 4)], {
      on: ['frame', 'hole'],
      pierceDelay: 0.7,
    });
    const cuts = { m: Cut.parse({ kind: 'mark', id: 'm', on: ['drill'], tool: 'n', how: 'dimple', seconds: 0.2 }), ...job.cuts };
    const whole = { ...job, cuts, cutOrder: ['m', 'c'], program: { ...job.program, ...(pierce ? { pierce } : {}) } };
    const plan = await planJob(whole, { fonts: fontOf });
    return { ...releasePrograms(whole, plan, '2026-01-01'), plan };
  };
  it('the program by G4, or the machine: then nothing but a dimple is timed, the plan and its time stay, and it reads back', async () => {
    const [own, machine] = [await released(), await released('machine')];
    const waits = ({ files }: typeof own) => [...files[0].text.matchAll(/^G4 P(.*)$/gm)].map(([, seconds]) => Number(seconds));
    expect(waits(own).sort()).toEqual([0.2, 0.7, 0.7]);
    expect(waits(machine)).toEqual([0.2]);
    expect(machine.files[0].seconds).toBe(own.files[0].seconds);
    for (const { findings, files } of [own, machine]) {
      expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
      expect(files[0].text.match(/^M5$/gm)!.length).toBeGreaterThanOrEqual(3);
    }
    expect(own.files[0].text).not.toMatch(/BY THE MACHINE/);
    expect(machine.files[0].text).toMatch(/Pierce delay: BY THE MACHINE/);
  });
});
