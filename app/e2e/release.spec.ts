/** A job is released with as many bits as it has, and the release is there again after a reload. */
import { expect, test } from '@playwright/test';
import { comeIn, planned, stage } from './shop';

const CUTS = [
  { kind: 'vcarve', id: 'carve', on: 'words', bit: 'v' },
  { kind: 'profile', id: 'out', on: 'outline', bit: 'e' },
  { kind: 'drill', id: 'holes', on: ['hole'], bit: 'd', depth: 8 },
];
const jobWith = (bits: number) => ({
  kerbe: 1,
  name: `Released with ${bits}`,
  board: { width: 200, height: 80, thickness: 18, holdDown: 'tape' },
  items: {
    words: { kind: 'text', id: 'words', x: 100, y: 40, text: 'Reed', face: 'playfair', capHeight: 25 },
    hole: { kind: 'ellipse', id: 'hole', x: 25, y: 40, width: 5, height: 5 },
    edge: { kind: 'rectangle', id: 'edge', x: 100, y: 40, width: 180, height: 60, radius: 8 },
  },
  itemOrder: ['words', 'hole', 'edge'],
  outline: 'edge',
  bits: {
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
    const id = await page.evaluate(async (doc) => {
      const answer = await fetch('/api/jobs', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(doc) });
      return ((await answer.json()) as { id: string }).id;
    }, jobWith(bits));
    await page.goto(`/job/${id}`);
    await planned(page);
    await stage(page, 'Program');
    await expect(page.getByRole('button', { name: 'Release for cutting' })).toBeVisible();
    const ticks = page.getByRole('complementary').getByRole('checkbox');
    for (let i = 0; i < (await ticks.count()); i++) await ticks.nth(i).check();
    await page.getByRole('button', { name: 'Release for cutting' }).click();
    // With one bit the program for all is the program for that bit; with more there is one for all, and one for each.
    const files = bits === 1 ? 1 : bits + 1;
    for (const again of [false, true]) {
      if (again) {
        await page.reload();
        await planned(page);
        await stage(page, 'Program');
      }
      await expect(page.getByText('Released', { exact: true })).toBeVisible({ timeout: 30_000 });
      await expect(page.locator('a.file')).toHaveCount(files);
      await expect(page.getByRole('button', { name: 'Go to the machine' })).toBeEnabled();
    }
    expect(faults).toEqual([]);
    await page.close();
  });
