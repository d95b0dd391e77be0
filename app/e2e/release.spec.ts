/** The whole way with one, two and three bits: released, set up, run, and run again. */
import { expect, test } from '@playwright/test';
import { changeBit, comeIn, finished, makeJob, planned, press, release, setUp, stage, startCutting } from './shop';
import { PROGRAM } from '../src/lib/labels/program';
import { RUN } from '../src/lib/labels/run';
import { SETUP } from '../src/lib/labels/setup';
import { SHOP } from '../src/lib/labels/shop';

const CUTS = [
  { kind: 'vcarve', id: 'carve', on: 'words', tool: 'v' },
  { kind: 'profile', id: 'out', on: 'outline', tool: 'e' },
  { kind: 'drill', id: 'holes', on: ['hole'], tool: 'd', depth: 8 },
];
const jobWith = (bits: number) => ({
  kerbe: 4,
  name: `Released with ${bits}`,
  board: { width: 200, height: 80, thickness: 18, holdDown: 'tape' },
  items: {
    words: { kind: 'text', id: 'words', x: 100, y: 40, text: 'Reed', face: 'playfair', capHeight: 25 },
    hole: { kind: 'ellipse', id: 'hole', x: 25, y: 40, width: 5, height: 5 },
    edge: { kind: 'rectangle', id: 'edge', x: 100, y: 40, width: 180, height: 60, radius: 8 },
  },
  itemOrder: ['words', 'hole', 'edge'],
  outline: 'edge',
  tools: {
    v: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 },
    e: { kind: 'end', id: 'e', diameter: 6.35, fluteLength: 25 },
    d: { kind: 'drill', id: 'd', diameter: 5, fluteLength: 40 },
  },
  cuts: Object.fromEntries(CUTS.slice(0, bits).map((cut) => [cut.id, cut])),
  cutOrder: CUTS.slice(0, bits).map(({ id }) => id),
});

for (const bits of [1, 2, 3])
  test(`with ${bits === 1 ? 'one bit' : `${bits} bits`}`, async ({ browser }) => {
    const { page, faults } = await comeIn(browser);
    await expect(page.getByRole('link', { name: /Heron Walk/ }).first()).toBeVisible();
    const id = await makeJob(page, jobWith(bits));
    await page.goto(`/job/${id}`);
    await release(page);
    // With one bit the program for all is the program for that bit; with more there is one for all, and one for each.
    const files = bits === 1 ? 1 : bits + 1;
    for (const again of [false, true]) {
      if (again) {
        await page.reload();
        await planned(page);
        await stage(page, 'Program');
      }
      await expect(page.getByText(SHOP.released, { exact: true })).toBeVisible({ timeout: 90_000 });
      await expect(page.locator('a.file')).toHaveCount(files);
      await expect(page.getByRole('button', { name: PROGRAM.goToTheMachine })).toBeEnabled();
    }
    await press(page, PROGRAM.goToTheMachine);
    await setUp(page);
    await press(page, SETUP.goToTheRun);
    await startCutting(page);
    for (let k = 1; k < bits; k++) await changeBit(page, bits === 2);
    await finished(page);
    // A second copy: another board, its top touched anew; and a deeper pass on the same one.
    await press(page, 'Cut another, on a new board');
    const asked = await setUp(page);
    expect(asked).toContain('Lay the board down and fix it');
    expect(asked).toContain('Set Z on the top of the board');
    expect(asked).not.toContain('Home it');
    await press(page, SETUP.goToTheRun);
    await startCutting(page);
    for (let k = 1; k < bits; k++) await changeBit(page);
    await finished(page);
    if (bits === 1) {
      await press(page, RUN.aLittleShallowAgainDeeper);
      await press(page, /deeper, then check the set-up/);
      expect(await setUp(page)).not.toContain('Set Z on the top of the board');
      await press(page, SETUP.goToTheRun);
      await startCutting(page);
      await finished(page);
    }
    expect(faults).toEqual([]);
    await page.close();
  });
