/** The set-up sheet and the paper template as a reader of PDFs shows them. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import jsQR from 'jsqr';
import { beforeAll, describe, expect, it } from 'vitest';
import { USUAL } from '@kerbe/core/bits/usual';
import { beginPiece, type PieceName } from '@kerbe/core/artwork/begin';
import { PAPERS } from '@kerbe/core/artwork/template';
import { faceById, openFont } from '@kerbe/core/artwork/text';
import { readJob, type Job } from '@kerbe/core/job';
import { planJob, type Plan } from '@kerbe/core/plan';
import { carvePlan, HeightMap, thumbnail } from '@kerbe/core/proof';
import { quotePdf, setUpSheetPdf, stickOut, templatePdf, type SheetFacts } from './index.ts';
import { darkRuns, rendered, type RenderedPage } from './rendered.ts';

const require = createRequire(import.meta.url);
const fonts = (id: string) => {
  const face = faceById(id);
  return face && openFont(readFileSync(require.resolve(face.file)));
};
const reading = readJob({
  kerbe: 4,
  name: 'Heron Walk',
  board: {
    width: 300,
    height: 120,
    thickness: 18,
    material: 'cedar',
    holders: [{ kind: 'clamp', x: 0, y: 60, width: 20, depth: 30, height: 12 }],
  },
  items: {
    words: { kind: 'text', id: 'words', x: 150, y: 60, text: 'HERON', face: 'bebas', capHeight: 40 },
    edge: { kind: 'rectangle', id: 'edge', x: 150, y: 60, width: 250, height: 100 },
  },
  itemOrder: ['words', 'edge'],
  outline: 'edge',
  tools: { v: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 }, e: { kind: 'end', id: 'e', diameter: 6.35, fluteLength: 25 } },
  cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'art', tool: 'v' }, out: { kind: 'profile', id: 'out', on: 'outline', tool: 'e' } },
  cutOrder: ['carve', 'out'],
  program: { clearance: 15 },
});
const job = (reading as { job: Job }).job;
const facts = (plan: Plan): SheetFacts => ({
  shop: { name: 'Saltgrass Sign Shed', logo: null },
  revision: 7,
  author: 'owner',
  date: '2026-01-02',
  sha256: 'a1b2c3d4e5f60718293a4b5c6d7e8f90',
  programs: [
    {
      name: 'program-1-v60-12.7+end-6.35.nc',
      sha256: 'ffeeddccbbaa99887766554433221100',
      seconds: plan.time.running,
      changes: plan.time.changes,
      bits: ['v', 'e'],
    },
  ],
  address: 'http://127.0.0.1:5170/job/abc?stage=setup',
  picture: thumbnail(carvePlan(new HeightMap(300, 120, 0.5), plan.cuts), job.board),
  accepted: [{ what: 'A clamp stands in the way.', by: 'owner' }],
});

describe('the set-up sheet', () => {
  let plan: Plan;
  let pages: RenderedPage[];
  let text: string;
  beforeAll(async () => {
    plan = await planJob(job, { fonts });
    pages = await rendered(await setUpSheetPdf(job, plan, facts(plan)), 6);
    text = pages.map((page) => page.text).join(' ');
  }, 60_000);
  it('is one or two pages of A4', () => {
    expect(pages.length).toBeLessThanOrEqual(2);
    for (const { width, height } of pages) expect([width, height]).toEqual([210 * 6, 297 * 6]);
  });
  it('says what must be known at the machine', () => {
    for (const words of [
      'Heron Walk',
      'Saltgrass Sign Shed',
      'revision 7',
      'released by owner',
      'cedar',
      'lower left',
      'program-1-v60-12.7+end-6.35.nc',
      'ffeeddccbbaa9988',
      'emergency stop',
      'A clamp stands in the way',
      '18000',
      '2400 / 1000',
    ])
      expect(text).toContain(words);
    expect(text).toContain(
      `out ${stickOut(job, plan, job.tools.e)
        .toFixed(2)
        .replace(/\.?0+$/, '')} mm or more`,
    );
  });
  it('says the unit of every feed: an inch job in in/min, never a bare number read as inches', async () => {
    const inch = { ...job, units: 'in' as const };
    const planned = await planJob(inch, { fonts });
    const said = (await rendered(await setUpSheetPdf(inch, planned, facts(planned)), 4)).map((page) => page.text).join(' ');
    // 2400 and 1000 mm/min over 25.4.
    expect(said).toContain('94.5 / 39.4 in/min');
    expect(said).not.toMatch(/2400|1000 ?mm|\d mm\b/);
    expect(text).toContain('2400 / 1000 mm/min');
  });
  it('carries the logo of the shop, and is whole without one that cannot be read', async () => {
    const png = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
    const withLogo = async (logo: string) =>
      (await rendered(await setUpSheetPdf(job, plan, { ...facts(plan), shop: { name: 'Tern', logo: `data:image/png;base64,${logo}` } }), 6)).map(
        (page) => page,
      );
    const whole = await withLogo(png);
    expect(whole.map((page) => page.text).join(' ')).toContain('Tern. Set-up sheet');
    expect((await withLogo('bm9uZQ==')).map((page) => page.text).join(' ')).toBe(whole.map((page) => page.text).join(' '));
  });
  it('keeps what is read before the start on one page, however much stands above it', async () => {
    for (let warnings = 0; warnings < 14; warnings += 2) {
      const accepted = Array.from({ length: warnings }, (_, k) => ({ what: `Something known, number ${k}.`, by: 'owner' }));
      const made = await rendered(await setUpSheetPdf(job, plan, { ...facts(plan), accepted }), 2);
      const holding = made.filter(({ text: said }) => /emergency stop is the red button|local rules come first|number \d/.test(said));
      expect(holding).toHaveLength(1);
    }
  });
  describe('for a torch and a laser', () => {
    const said = async (piece: PieceName, kind: 'nozzle' | 'head', change: (made: Job) => void = () => {}) => {
      const made = beginPiece(
        { piece, board: { width: 300, height: 200, thickness: 3, material: kind === 'nozzle' ? 'mild steel' : 'birch ply' }, units: 'mm' },
        USUAL,
      );
      (made.items.words as { text: string } | undefined)!.text = 'TERN';
      change(made);
      const planned = await planJob(made, { fonts });
      const sheetPages = await rendered(await setUpSheetPdf(made, planned, facts(planned)), 4);
      expect(sheetPages.length).toBeLessThanOrEqual(2);
      return { words: sheetPages.map((page) => page.text).join(' '), planned, made };
    };
    const ROUTER = /spindle|collet|shank|rev\/min|touch plate|vacuum|\bbits?\b/i;
    it('a torch: who has the kerf, the pierces, ground, fire and eyes; nothing of a router', async () => {
      const { words, planned } = await said('steel', 'nozzle');
      expect(words).not.toMatch(ROUTER);
      for (const part of [
        'Nozzle',
        'Pierces',
        'Plate: mild steel',
        'own kerf must be OFF',
        'offset by this program',
        'Work lead',
        'Fire watch',
        'Shade',
        'on a stick',
      ])
        expect(words).toContain(part);
      expect(words).toContain(`${planned.cuts[0].torch!.pierces}`);
    });
    it('a torch whose controller has the kerf: how much is set there', async () => {
      const { words, planned } = await said('steel', 'nozzle', (made) => {
        for (const cut of Object.values(made.cuts)) Object.assign(cut, { kerfBy: 'machine' });
      });
      expect(words).toContain(`set ${planned.cuts[0].torch!.kerf} mm at the controller`);
      expect(words).not.toContain('must be OFF');
    });
    it('a laser: power in per cent and on the scale of the machine, lid, air and eyewear; nothing of a router', async () => {
      const { words, made } = await said('tag', 'head');
      expect(words).not.toMatch(ROUTER);
      for (const part of ['Head', 'Power', 'Sheet: birch ply', 'of 1000', 'lid', 'Eyewear', 'Air and extraction', 'PVC']) expect(words).toContain(part);
      const powers = Object.values(made.cuts).flatMap((cut) => ('power' in cut ? [`${String(cut.power)} %`] : []));
      expect(powers.length).toBeGreaterThan(0);
      for (const power of powers) expect(words).toContain(power);
    });
  });
  it('asks for enough stick-out: the deepest cut and what is travelled over', () => {
    expect(stickOut(job, plan, job.tools.e)).toBeCloseTo(18.3 + 15, 6);
    // Deep enough with its flutes outside: a collet must not grip them.
    expect(plan.cuts[0].facts.deepest + 15).toBeLessThan(25);
    expect(stickOut(job, plan, job.tools.v)).toBe(25);
  });
  it('carries a code that opens the job', () => {
    const { data, width, height } = pages[0];
    expect(jsQR(data, width, height)?.data).toBe('http://127.0.0.1:5170/job/abc?stage=setup');
  });
  it('draws bits full size: the mill is 6.35 mm wide on paper', async () => {
    const [page] = await rendered(await setUpSheetPdf(job, plan, facts(plan)), 20);
    // A shank or a body of 6.35 mm, its two edges drawn 0.25 mm wide: look for grey between dark edges that far apart.
    const found = new Set<number>();
    for (let y = Math.round(page.height * 0.45); y < page.height; y += 7) {
      const runs = darkRuns(page, y).filter(([a, b]) => b - a < 12);
      for (let k = 0; k + 1 < runs.length; k++) {
        const [left, right] = [(runs[k][0] + runs[k][1]) / 2, (runs[k + 1][0] + runs[k + 1][1]) / 2];
        const middle = page.data[4 * (y * page.width + Math.round((left + right) / 2))];
        if (middle > 190 && middle < 245) found.add(Math.round(((right - left) / 20) * 10) / 10);
      }
    }
    expect([...found].some((width) => Math.abs(width - 6.35) < 0.15)).toBe(true);
  });
  it('is the same bytes for the same release', async () => {
    const once = await setUpSheetPdf(job, plan, facts(plan));
    expect(Buffer.compare(Buffer.from(once), Buffer.from(await setUpSheetPdf(job, plan, facts(plan))))).toBe(0);
  });
  it('holds many bits, long names and strange characters without losing a line', async () => {
    const many: Job = { ...job, name: 'Ünïcødé ✂ '.repeat(9).slice(0, 110), cuts: {}, cutOrder: [], tools: { ...job.tools } };
    for (let k = 0; k < 12; k++) {
      many.tools[`b${k}`] = { ...job.tools.e, id: `b${k}`, name: `mill number ${k}` };
      many.cuts[`c${k}`] = { ...(job.cuts.out as object), id: `c${k}`, tool: `b${k}`, depth: 3 } as never;
      many.cutOrder.push(`c${k}`);
    }
    const p = await planJob(many, { fonts });
    const out = (await rendered(await setUpSheetPdf(many, p, facts(p)), 2)).map((page) => page.text).join(' ');
    for (let k = 0; k < 12; k++) expect(out).toContain(`mill number ${k}`);
    expect(out).toContain('The machine’s manual');
  }, 60_000);
});

describe('the paper template, rendered', () => {
  it('has a check line of 100 mm and a board 150 mm wide', async () => {
    const small: Job = {
      ...job,
      board: { ...job.board, width: 150, height: 90, holders: [] },
      items: {},
      itemOrder: [],
      outline: null,
      cuts: {},
      cutOrder: [],
    };
    const perMm = 20;
    const [page] = await rendered(await templatePdf(small, fonts, PAPERS.a4, '2026-01-02'), perMm);
    let lengths: number[] = [];
    for (let y = 0; y < page.height; y++) lengths = [...lengths, ...darkRuns(page, y).map(([a, b]) => (b - a) / perMm)];
    const nearest = (mm: number) => Math.min(...lengths.map((length) => Math.abs(length - mm)));
    expect(nearest(100)).toBeLessThan(0.25);
    expect(nearest(150)).toBeLessThan(0.25);
  });
});

describe('the quote', () => {
  const { picture, shop } = {
    picture: { width: 40, height: 16, data: new Uint8ClampedArray(40 * 16 * 4).fill(200) },
    shop: { name: 'Saltgrass Sign Shed', logo: null },
  };
  const quote = { shop, date: '2026-05-04', to: 'Larkmere Arboretum', currency: '€', finishing: ['Paint', 'Oil'], ready: '2026-05-12, 16:00', picture };
  const said = async (more: { quantity: number; each: number }) => (await rendered(await quotePdf(job, { ...quote, ...more }), 6)).map((page) => page.text);
  it('is a page with the size, what it is of, for whom, when, and what one and all cost', async () => {
    const pages = await said({ quantity: 3, each: 48.3333 });
    expect(pages).toHaveLength(1);
    for (const words of [
      'Saltgrass Sign Shed',
      'Heron Walk',
      'for Larkmere Arboretum',
      '250 mm wide',
      '100 mm high',
      '18 mm thick',
      'cedar',
      'Paint, Oil',
      '2026-05-12, 16:00',
      '48.33',
      '3 of them',
    ])
      expect(pages[0]).toContain(words);
    // Three of what one costs as it is written, not of what it was before it was rounded.
    expect(pages[0]).toContain('144.99');
  });
  it('one of them is not said twice', async () => expect((await said({ quantity: 1, each: 20 }))[0]).not.toContain('of them'));
});
