import { PNG } from 'pngjs';
/** The command line as a person runs it: its own process, files in a folder. */
import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'kerbe-cli-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const file = (name: string) => join(folder, name);

function kerbe(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  return new Promise((done) => {
    execFile(process.execPath, [join(import.meta.dirname, '../bin/kerbe.mjs'), ...args], (error, out, err) =>
      done({ code: error ? Number(error.code) : 0, out, err }),
    );
  });
}
const make = (out: string, ...more: string[]) =>
  kerbe(
    'new',
    '--board',
    '300x120x18',
    '--text',
    'HERON WALK',
    '--face',
    'bebas',
    '--height',
    '40',
    '--cut',
    'vcarve,profile',
    '--bit',
    'v:60:12.7,end:6.35',
    '--outline',
    '280x100:r10',
    '--out',
    file(out),
    ...more,
  );

describe('a laser job', () => {
  const ART = `<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60"><path d="M10 10H70V50H10Z"/></svg>`;
  beforeAll(() => writeFileSync(file('tag.svg'), ART));
  it('is filled and cut out: power as it was asked, on the machine’s own scale, fill before cut', async () => {
    const set = ['cuts.0.interval=0.1', 'cuts.0.angle=0', 'cuts.0.power=30', 'cuts.1.kerf=0.2', 'cuts.1.side=outside', 'cuts.1.power=80'].flatMap((one) => [
      '--set',
      one,
    ]);
    expect(
      await kerbe(
        'new',
        '--machine',
        'laser',
        '--board',
        '80x60x3',
        '--art',
        file('tag.svg'),
        '--cut',
        'laser-fill,laser-cut',
        ...set,
        '--out',
        file('tag.json'),
      ),
    ).toMatchObject({ code: 0, err: '' });
    // One pass of 8 W at 600 mm/min is no cut through 3 mm of ply, and that is said.
    expect(await kerbe('plan', file('tag.json'), '--out', file('tag'))).toMatchObject({
      code: 0,
      err: expect.stringMatching(/^warning: laser-not-through: .*31 %/) as string,
    });
    const report = JSON.parse(readFileSync(join(file('tag'), 'report.json'), 'utf8'));
    const text = readFileSync(join(file('tag'), report.programs[0]), 'utf8').replace(/\)\n\( +/g, ' ');
    expect(text).toContain('S300 of 1000, 30 % of full power');
    expect(text).toContain('S800 of 1000, 80 % of full power');
    expect([...new Set(text.match(/S[\d.]+$/gm))].sort()).toEqual(['S0', 'S300', 'S800']);
    expect(text.indexOf('S0 M4')).toBeLessThan(text.indexOf('S0 M3'));
    // 400 rows of 60 mm, a tenth apart; the outline half the kerf outside.
    expect(text.match(/ S300$/gm)).toHaveLength(400);
    expect(report.extents.maxY).toBeCloseTo(50.1, 3);
    const burn = JSON.parse((await kerbe('proof', file('tag.json'), '--burn', file('burn.png'), '--cell', '0.25')).out);
    // 3 W for 480 s, and 8 W for the 200 mm of the outline at 10 mm/s.
    expect(burn.joules).toBeGreaterThan(0.99 * (1440 + 160));
    expect(burn.joules).toBeLessThan(1.02 * (1440 + 160.5));
    const png = PNG.sync.read(readFileSync(file('burn.png')));
    expect([png.width, png.height]).toEqual([320, 240]);
  });
  it('burns a picture at the size that is asked for, whatever it is decoded from', async () => {
    const png = new PNG({ width: 40, height: 20 });
    for (let k = 0; k < 800; k++)
      png.data.set(
        [0, 0, 0, 255].map((v, c) => (c < 3 ? (k % 40) * 6 : v)),
        4 * k,
      );
    writeFileSync(file('photo.png'), PNG.sync.write(png));
    expect(
      await kerbe(
        'new',
        '--machine',
        'laser',
        '--board',
        '80x60x3',
        '--picture',
        file('photo.png'),
        '--picture-width',
        '50',
        '--cut',
        'laser-picture',
        '--set',
        'cuts.0.linesPerMm=4',
        '--set',
        'cuts.0.dither=grey',
        '--out',
        file('photo.json'),
      ),
    ).toMatchObject({ code: 0, err: '' });
    expect(JSON.parse(readFileSync(file('photo.json'), 'utf8')).items.picture).toMatchObject({ width: 50, height: 25, x: 40, y: 30 });
    expect((await kerbe('plan', file('photo.json'), '--out', file('photo'))).code).toBe(0);
    const { cuts } = JSON.parse(readFileSync(join(file('photo'), 'report.json'), 'utf8'));
    expect(cuts[0].lifts).toBe(100);
  });
  it('lays out test cards, and says what it cannot do', async () => {
    for (const vary of ['power-speed', 'lines', 'focus', 'kerf']) {
      expect(await kerbe('card', '--vary', vary, '--board', '100x100x3', '--rows', '3', '--columns', '3', '--out', file('card.json'))).toMatchObject({
        code: 0,
        err: '',
      });
      expect((await kerbe('plan', file('card.json'), '--out', file('card'))).code).toBe(0);
    }
    expect((await kerbe('card', '--board', '8x8x3', '--rows', '9', '--columns', '9')).err).toMatch(/no room/);
    expect(
      (await kerbe('new', '--machine', 'laser', '--board', '80x60x3', '--picture', file('tag.svg'), '--picture-width', '50', '--cut', 'laser-picture')).err,
    ).toMatch(/is no PNG/);
    expect((await kerbe('new', '--machine', 'laser', '--board', '80x60x3', '--picture', file('photo.png'), '--cut', 'laser-picture')).err).toMatch(
      /--picture-width/,
    );
  });
});

describe('a torch job', () => {
  const ART = `<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="200mm" viewBox="0 0 200 200">
    <rect x="20" y="20" width="100" height="100"/><circle cx="70" cy="70" r="20" fill="white"/><circle cx="160" cy="160" r="25"/></svg>`;
  const torch = (...more: string[]) =>
    kerbe('new', '--machine', 'torch', '--board', '200x200x3', '--art', file('panel.svg'), '--cut', 'torch', '--out', file('torch.json'), ...more);
  beforeAll(() => writeFileSync(file('panel.svg'), ART));
  it('goes from a drawing to a program with the arc on between M3 and M5 only, and a report by contour and piece', async () => {
    expect(await torch('--set', 'cuts.0.kerf=1.5', '--set', 'cuts.0.side=auto', '--set', 'cuts.0.leadIn=3')).toMatchObject({ code: 0, err: '' });
    // Both lie on one slat each, and tip: nothing travels over them after that, so it is only said.
    expect(await kerbe('plan', file('torch.json'), '--out', file('t'), '--date', '2026-01-02')).toMatchObject({
      code: 0,
      err: expect.stringMatching(/^note: torch-tips: [^\n]*\n$/),
    });
    const report = JSON.parse(readFileSync(join(file('t'), 'report.json'), 'utf8'));
    const text = readFileSync(join(file('t'), report.programs[0]), 'utf8');
    expect(text).toMatch(/kerf 1\.5 mm offset by this/);
    expect(text).toMatch(/\(Nozzle 1: nozzle, 45 A\)/);
    expect(text).not.toMatch(/spindle|^S\d+ M4/im);
    const { contours, pierces } = report.cuts[0];
    expect(contours.map((one: { side: string; direction: string }) => [one.side, one.direction])).toEqual([
      ['inside', 'counter-clockwise'],
      ['outside', 'clockwise'],
      ['outside', 'clockwise'],
    ]);
    for (const { pierce, lead, length } of contours) expect([pierce.length, lead.length > 0, length > 100]).toEqual([2, true, true]);
    expect([pierces, text.match(/^S1 M3$/gm)!.length, text.match(/^G38\.2 /gm)!.length]).toEqual([3, 3, 3]);
    // A square of 100 with a hole of 40, and a disc of 50, of 3 mm steel.
    const parts = report.pieces.filter(({ kind }: { kind: string }) => kind === 'part');
    expect(parts.map(({ area }: { area: number }) => area)).toEqual([expect.closeTo(100 * 100 - Math.PI * 400, -1), expect.closeTo(Math.PI * 625, -1)]);
    expect(parts[1].weight).toBeCloseTo((Math.PI * 625 * 3 * 7.85) / 1e6, 3);
    const proof = JSON.parse((await kerbe('proof', file('torch.json'), '--pieces')).out);
    expect(proof.pieces).toEqual(report.pieces);
    expect(proof.parts.free + proof.parts.held + proof.parts.tips + proof.parts.falls).toBe(2);
  });
  it('lays pieces and copies of them out: what was drawn in a plate goes with it, and each is cut', async () => {
    expect(await torch()).toMatchObject({ code: 0 });
    const { out, code } = await kerbe('nest', file('torch.json'), '--copies', '2', '--gap', '6', '--margin', '4', '--out', file('nested.json'));
    const made = JSON.parse(out);
    // A square of 100 with its hole, and a disc of 50, twice each: on 200 x 200 there is room for one square more beside two discs.
    expect(made.placed.length + made.left.length).toBe(4);
    expect([code, made.placed.length >= 3]).toEqual([made.left.length > 0 ? 2 : 0, true]);
    await kerbe('plan', file('nested.json'), '--out', file('n'));
    const report = JSON.parse(readFileSync(join(file('n'), 'report.json'), 'utf8'));
    expect(report.findings.filter(({ severity }: { severity: string }) => severity === 'error')).toEqual([]);
    expect(report.pieces.filter(({ kind }: { kind: string }) => kind === 'part')).toHaveLength(made.placed.length);
    expect((await kerbe('nest', file('torch.json'), '--copies', '2', '--gap', '6', '--margin', '4')).out).toBe(out);
    expect(await kerbe('nest', file('torch.json'), '--copies', 'nothing=2')).toMatchObject({ code: 1, err: expect.stringContaining('is not drawn') });
  });
  it('takes a gauge for a thickness, and its figures from the chart', async () => {
    expect(await kerbe('new', '--machine', 'torch', '--board', '200x200x10ga', '--art', file('panel.svg'), '--out', file('ga.json'))).toMatchObject({
      code: 0,
    });
    const { board, cuts } = JSON.parse(readFileSync(file('ga.json'), 'utf8'));
    expect(board.thickness).toBe(3.416);
    expect(Object.values(cuts as Record<string, { feed: number; kerf: number }>)[0]).toMatchObject({ kerf: 1.5, pierceHeight: 3.8 });
  });
  it.each([
    [['--nozzle', '900'], /no chart for “900”/],
    [['--cut', 'vcarve'], /There is no cut “vcarve” for a torch/],
    [['--machine', 'saw'], /--machine is router or torch/],
  ])('refuses in words: %s', async (args, why) => expect(await torch(...args)).toMatchObject({ code: 1, err: expect.stringMatching(why) }));
});

describe('kerbe', () => {
  it('goes from words to programs, the same bytes each time', async () => {
    expect(await make('job.json')).toMatchObject({ code: 0 });
    const first = await kerbe('plan', file('job.json'), '--split', 'tool', '--out', file('a'), '--date', '2026-01-02');
    expect(first.err).toBe('');
    expect(first.code).toBe(0);
    await kerbe('plan', file('job.json'), '--split', 'tool', '--out', file('b'), '--date', '2026-01-02');
    const names = readdirSync(file('a')).sort();
    expect(names).toEqual(['program-1-v60-12.7.nc', 'program-2-end-6.35.nc', 'report.json']);
    for (const name of names) expect(readFileSync(join(file('a'), name), 'utf8')).toBe(readFileSync(join(file('b'), name), 'utf8'));
    const report = JSON.parse(readFileSync(join(file('a'), 'report.json'), 'utf8'));
    expect(report.cuts.map((c: { kind: string }) => c.kind)).toEqual(['vcarve', 'profile']);
    expect(report.cuts[1].deepest).toBeCloseTo(18.3, 6);
    expect(report.findings).toEqual([]);
    const read = JSON.parse((await kerbe('read', join(file('a'), names[1]))).out);
    expect(read.extents.min[2]).toBeCloseTo(-18.3, 6);
    expect(read.spindle).toEqual({ min: 18000, max: 18000 });
    // Outside of a 280 wide outline, in the middle of a 300 wide board, with a 6.35 bit.
    expect(read.extents.min[0]).toBeCloseTo(10 - 3.175, 3);
  });

  it('carves a drawn square to the depth of its half width: 45 degrees at 90', async () => {
    writeFileSync(
      file('square.svg'),
      '<svg width="100mm" height="50mm" viewBox="0 0 100 50"><rect x="10" y="10" width="20" height="20"/><path fill-rule="evenodd" d="M60 10h30v30h-30zM70 20h10v10h-10z"/></svg>',
    );
    expect(
      await kerbe('new', '--board', '100x50x18', '--art', file('square.svg'), '--cut', 'vcarve', '--bit', 'v:90:40', '--out', file('square.json')),
    ).toMatchObject({ code: 0 });
    const { out } = await kerbe('proof', file('square.json'), '--at', '20,30', '--at', '15,30', '--at', '75,25', '--at', '65,25', '--at', '50,25');
    const depths = out
      .trim()
      .split('\n')
      .map((line) => Number(line.split(' ')[1]));
    expect(depths[0]).toBeCloseTo(10, 3);
    expect(depths[1]).toBeCloseTo(5, 3);
    expect(depths[2]).toBe(0);
    expect(depths[3]).toBeCloseTo(5, 3);
    expect(depths[4]).toBe(0);
  });

  it('gives a wide stroke a flat floor when asked', async () => {
    writeFileSync(file('bar.svg'), '<svg width="100mm" height="50mm" viewBox="0 0 100 50"><rect x="10" y="10" width="80" height="30"/></svg>');
    await kerbe(
      'new',
      '--board',
      '100x50x18',
      '--art',
      file('bar.svg'),
      '--cut',
      'vcarve',
      '--bit',
      'v:90:20',
      '--set',
      'cuts.0.floorDepth=3',
      '--set',
      'cuts.0.stepover=0.4',
      '--out',
      file('bar.json'),
    );
    const { out } = await kerbe('proof', file('bar.json'), '--at', '50,25', '--at', '12,25', '--at', '50,37.5');
    const depths = out
      .trim()
      .split('\n')
      .map((line) => Number(line.split(' ')[1]));
    // Between passes the ridge of a 90 degree bit is half the step-over.
    expect(depths[0]).toBeGreaterThanOrEqual(3 - 0.2 - 1e-3);
    expect(depths[0]).toBeLessThanOrEqual(3);
    expect(depths[1]).toBeCloseTo(2, 3);
    expect(depths[2]).toBeCloseTo(2.5, 3);
  });

  it('draws a picture and a solid of the carved board', async () => {
    await make('solid.json');
    expect(await kerbe('proof', file('solid.json'), '--png', file('p.png'), '--stl', file('p.stl'), '--cell', '1')).toMatchObject({ code: 0 });
    expect(readFileSync(file('p.png')).subarray(1, 4).toString()).toBe('PNG');
    const stl = readFileSync(file('p.stl'));
    // 300 x 120 cells: two facets above and two below each, two for every cell of the rim.
    expect(stl.readUInt32LE(80)).toBe(4 * 300 * 120 + 4 * (300 + 120));
    expect(stl.length).toBe(84 + 50 * stl.readUInt32LE(80));
  });

  it('ends with 2 and the finding when it must not be cut', async () => {
    await make('deep.json', '--set', 'board.thickness=4', '--set', 'cuts.1.tabs=0');
    const { code, err } = await kerbe('plan', file('deep.json'), '--out', file('deep'));
    expect(code).toBe(2);
    expect(err).toMatch(/error: deeper-than-board/);
    expect(err).toMatch(/error: part-freed/);
    expect(readdirSync(file('deep'))).toEqual(['report.json']);
  });

  it('brings a drawing in, looks it over, and writes it out in open formats that read back the same', async () => {
    writeFileSync(
      file('plate.svg'),
      '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="60mm" viewBox="0 0 100 60"><path fill-rule="evenodd" d="M10 10H90V50H10ZM40 30a10 10 0 1 0 20 0a10 10 0 1 0 -20 0Z"/><path fill="none" stroke="black" d="M5 5L5 20"/><path fill="none" stroke="black" d="M5.4 20L20 20"/></svg>',
    );
    const { code, err } = await kerbe('import', file('plate.svg'), '--out', file('plate.json'));
    expect(code).toBe(0);
    expect(err).toMatch(/3 things/);
    const areaOf = async (name: string) => {
      const { items, board } = JSON.parse(readFileSync(file(name), 'utf8')) as { items: Record<string, { d: string; fill: string }>; board: { width: number } };
      return { board: board.width, kinds: Object.values(items).map(({ fill }) => fill) };
    };
    expect(await areaOf('plate.json')).toEqual({ board: 100, kinds: ['evenodd', 'none', 'none'] });
    const check = await kerbe('check', file('plate.json'));
    expect(check.code).toBe(0);
    expect((JSON.parse(check.out).findings as { code: string }[]).map((f) => f.code)).toContain('art-open-ends');
    expect(await kerbe('export', file('plate.json'), '--svg', file('o.svg'), '--dxf', file('o.dxf'), '--pdf', file('o.pdf'))).toMatchObject({ code: 0 });
    expect(readFileSync(file('o.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
    for (const out of ['o.svg', 'o.dxf']) {
      expect((await kerbe('import', file(out), '--out', file('again.json'))).err).toMatch(/80\.00 x|8\d\.\d\d x/);
      expect(Object.keys(JSON.parse(readFileSync(file('again.json'), 'utf8')).items).length).toBeGreaterThanOrEqual(3);
    }
  });

  it('plans pockets, holes and engraving from a drawing', async () => {
    writeFileSync(
      file('holes.svg'),
      '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="60mm" viewBox="0 0 100 60"><rect x="30" y="20" width="40" height="20"/><circle cx="10" cy="10" r="2.5"/><circle cx="90" cy="10" r="2.5"/></svg>',
    );
    expect(
      await kerbe(
        'new',
        '--board',
        '100x60x12',
        '--art',
        file('holes.svg'),
        '--cut',
        'drill,pocket,engrave',
        '--bit',
        'drill:5,end:4,v:60:6',
        '--set',
        'cuts.1.depth=4',
        '--out',
        file('holes.json'),
      ),
    ).toMatchObject({ code: 0 });
    const { code, err } = await kerbe('plan', file('holes.json'), '--split', 'tool', '--out', file('holes'));
    expect([code, err]).toEqual([0, expect.stringMatching(/drill-not-round/)]);
    const report = JSON.parse(readFileSync(file('holes/report.json'), 'utf8'));
    expect(report.cuts.map((cut: { kind: string; deepest: number }) => [cut.kind, cut.deepest])).toEqual([
      // 12 + 0.5 at full width, and its point of 118 degrees: 2.5 / tan 59 = 1.502.
      ['drill', 14.002],
      ['pocket', 4],
      ['engrave', 0.5],
    ]);
    // Depth in the pocket's middle, in a hole, and on the untouched board.
    const { out } = await kerbe('proof', file('holes.json'), '--at', '50,30', '--at', '10,50', '--at', '85,30');
    expect(
      out
        .trim()
        .split('\n')
        .map((line) => Number(line.split(' ')[1])),
    ).toEqual([4, 12, 0]);
  });

  it('plans every kind of cut, and the other half of a recess', async () => {
    writeFileSync(
      file('key.svg'),
      '<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 120 80"><path d="M20 20h50v20h-20v25h-30z"/></svg>',
    );
    const kinds = ['vcarve', 'pocket', 'profile', 'drill', 'engrave', 'drag', 'recess', 'plug', 'chamfer', 'surface'];
    expect(
      await kerbe(
        'new',
        '--board',
        '120x80x12',
        '--art',
        file('key.svg'),
        '--cut',
        kinds.join(','),
        '--bit',
        'v:90:20,end:4,end:3,drill:5,drag:0.5,surfacing:20',
        '--outline',
        '110x70',
        '--set',
        'cuts.3.on=outline',
        '--out',
        file('all.json'),
      ),
    ).toMatchObject({ code: 0 });
    const all = JSON.parse(readFileSync(file('all.json'), 'utf8'));
    // One cut at a time: together they would be an odd sign.
    for (const [k, kind] of kinds.entries()) {
      const id = `cut${k + 1}`;
      const points = kind === 'drill' ? { points: [[10, 10]], on: [] } : {};
      writeFileSync(file('one.json'), JSON.stringify({ ...all, cuts: { [id]: { ...all.cuts[id], ...points } }, cutOrder: [id] }));
      const { code, err } = await kerbe('plan', file('one.json'), '--out', file(`one-${kind}`));
      expect([kind, code, err.match(/error/g)]).toEqual([kind, 0, null]);
      const report = JSON.parse(readFileSync(join(file(`one-${kind}`), 'report.json'), 'utf8'));
      expect([report.cuts[0].kind, report.cuts[0].moves > 0, report.programs.length]).toEqual([kind, true, 1]);
    }
    writeFileSync(file('recess.json'), JSON.stringify({ ...all, cuts: { cut7: all.cuts.cut7 }, cutOrder: ['cut7'] }));
    expect(await kerbe('pair', file('recess.json'), '--cut', 'cut7', '--out', file('plug.json'))).toMatchObject({ code: 0 });
    expect(JSON.parse(readFileSync(file('plug.json'), 'utf8')).cuts.cut7.kind).toBe('plug');
    expect(await kerbe('pair', file('recess.json'), '--cut', 'cut1')).toMatchObject({ code: 1, err: expect.stringMatching(/not in the job/) });
  });

  it('traces a picture, as wide as asked', async () => {
    const png = new PNG({ width: 60, height: 40 });
    for (let y = 0; y < 40; y++)
      for (let x = 0; x < 60; x++) png.data.set(x >= 10 && x < 50 && y >= 10 && y < 30 ? [0, 0, 0, 255] : [255, 255, 255, 255], 4 * (60 * y + x));
    writeFileSync(file('block.png'), PNG.sync.write(png));
    expect(await kerbe('import', file('block.png'), '--width', '80', '--out', file('block.json'))).toMatchObject({
      code: 0,
      err: expect.stringMatching(/1 thing, 80\.00 x (39|40)\./),
    });
  });

  it.each([
    ['broken.svg', '<svg><path d="M0 0', /import-failed/],
    ['page.svg', '%PDF-1.4', /This is a PDF/],
    ['empty.dxf', '', /empty/],
  ])('ends with 2 on %s and says why', async (name, content, why) => {
    writeFileSync(file(name), content);
    const { code, err } = await kerbe('import', file(name), '--out', file('none.json'));
    expect(code).toBe(2);
    expect(err).toMatch(why);
  });

  it.each([
    [['new', '--board', '300x120', '--text', 'A', '--height', '10', '--bit', 'v:60:12'], /should be 3 lengths/],
    [['new', '--board', '0x120x18', '--text', 'A', '--height', '10', '--bit', 'v:60:12'], /board.width/],
    [['new', '--board', '300x120x18', '--text', 'A', '--height', '10', '--bit', 'q:60'], /should be v:ANGLE/],
    [['new', '--board', '300x120x18', '--text', 'A', '--height=-4', '--bit', 'v:60:12'], /capHeight/],
    [['new', '--board', '300x120x18', '--text', 'A', '--face', 'nowhere', '--height', '10', '--bit', 'v:60:12'], /no face/],
    [['new', '--board', '300x120x18', '--art', '/nowhere.svg', '--bit', 'v:60:12'], /nowhere.svg/],
    [['import'], /Which file/],
    [['export', '/nowhere.json', '--svg', 'x'], /nowhere.json/],
    [['plan'], /Which job/],
    [['fly'], /no command/],
    [['new', '--wings', '2'], /wings/],
  ])('refuses %j in words', async (args, why) => {
    const { code, err } = await kerbe(...args);
    expect(code).toBe(1);
    expect(err).toMatch(why);
    expect(err).not.toMatch(/\n\s+at /);
  });

  it('names what is wrong in a broken job and in a broken program', async () => {
    writeFileSync(file('nan.json'), '{"kerbe":1,"name":"x","board":{"width":null}}');
    expect((await kerbe('plan', file('nan.json'), '--out', file('x'))).err).toMatch(/board.width/);
    writeFileSync(file('bad.nc'), 'G21 G90\nG1 X5 F100\nG1 Xoops\nM30\n');
    const { code, out } = await kerbe('read', file('bad.nc'));
    expect(code).toBe(2);
    expect(JSON.parse(out).findings[0]).toMatchObject({ code: 'program-line', line: 3 });
  });
});

describe('advice and difference', () => {
  it('tells where the time goes, what would be faster, and tries bits', async () => {
    await make('advise.json', '--set', 'cuts.0.floorDepth=2', '--set', 'cuts.0.stepover=0.3');
    const { code, out } = await kerbe('advise', file('advise.json'), '--cut', 'cut1', '--bit', 'v:90:19,v:30:6.35,end:3');
    expect(code).toBe(0);
    const report = JSON.parse(out);
    expect(report.time.parts.reduce((sum: number, { seconds }: { seconds: number }) => sum + seconds, 0)).toBeCloseTo(report.time.total, 1);
    for (const { saved } of report.faster) expect(saved).toBeGreaterThan(0);
    expect(report.faster.some(({ label }: { label: string }) => /step over/.test(label))).toBe(true);
    // The mill cannot carve a V and is not tried.
    expect(report.bits.map(({ bit }: { bit: string }) => bit).sort()).toEqual(['30° V, 6.35 mm', '90° V, 19 mm']);
    expect(report.shows[0]).toMatchObject({ cut: 'cut1', verdict: 'shows' });
    expect((await kerbe('advise', file('advise.json'), '--cut', 'none')).err).toMatch(/there are cut1, cut2/);
  });
  it('shows what a round bit leaves in the corners, in figures and in a picture', async () => {
    await kerbe(
      'new',
      '--board',
      '100x60x12',
      '--text',
      'L',
      '--face',
      'bebas',
      '--height',
      '40',
      '--cut',
      'pocket',
      '--bit',
      'end:3',
      '--out',
      file('corner.json'),
    );
    const { code, out } = await kerbe('proof', file('corner.json'), '--diff', '--diff-png', file('corner.png'), '--cell', '0.05');
    expect(code).toBe(0);
    const { left, over, cuts } = JSON.parse(out);
    // Five convex corners of an L, each r²(1 - π/4), r = 1.5 mm; its inner corner costs nothing.
    expect(left.area / (5 * 2.25 * (1 - Math.PI / 4))).toBeCloseTo(1, 1);
    expect(left.worst).toBeCloseTo(3, 3);
    expect(over.area).toBe(0);
    expect(cuts).toHaveLength(1);
    const png = PNG.sync.read(readFileSync(file('corner.png')));
    expect([png.width, png.height]).toEqual([2000, 1200]);
    let striped = 0;
    for (let i = 0; i < png.data.length; i += 4) if (png.data[i + 2] < 120 && png.data[i] > 140) striped++;
    expect((striped * 0.05 * 0.05) / left.area).toBeCloseTo(1, 2);
  });
});
