/** Pieces laid out on their sheet: so many of each, told how full it is, taken in one step that can be undone. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, makeJob, planned, press, saved } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];
let id: string;
const sheet = () => page.getByRole('dialog', { name: /^Lay the pieces out/ });
const bracket = { kind: 'rectangle', id: 'bracket', name: 'Bracket', x: 60, y: 50, width: 80, height: 60 };
const hole = { kind: 'ellipse', id: 'hole', name: 'Hole', x: 60, y: 50, width: 20, height: 20 };
const disc = { kind: 'ellipse', id: 'disc', name: 'Disc', x: 200, y: 60, width: 70, height: 70 };

test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
  id = await makeJob(page, {
    kerbe: 4,
    process: 'torch',
    name: 'Brackets to lay out',
    board: { width: 400, height: 250, thickness: 3, material: 'mild steel' },
    items: { bracket, hole, disc },
    itemOrder: ['bracket', 'hole', 'disc'],
    tools: { n: { kind: 'nozzle', id: 'n' } },
    cuts: { cut: { kind: 'torch', id: 'cut', on: 'art', tool: 'n' } },
    cutOrder: ['cut'],
  });
  await page.goto(`/job/${id}?stage=artwork`);
  await planned(page);
});
test.afterAll(async () => {
  expect(faults).toEqual([]);
  await page.request.delete(`/api/jobs/${id}`, { headers: { origin: new URL(page.url()).origin } });
  await page.close();
});

test('what belongs together is one piece; copies are laid out, and it says how full the plate is', async () => {
  await press(page, ARTWORK.layThePiecesOutMore);
  await expect(sheet().getByLabel('Bracket')).toHaveValue('1');
  await expect(sheet().getByText('of 2 things')).toBeVisible();
  await sheet().getByLabel('Bracket').fill('4');
  await sheet().getByLabel('Bracket').press('Tab');
  await sheet().getByLabel('Disc').fill('3');
  await sheet().getByLabel('Disc').press('Tab');
  await sheet().getByRole('button', { name: ARTWORK.layThemOut }).click();
  await expect(sheet().getByText(/7 of 7\s+pieces lie on it; .* % of that in pieces\./)).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await sheet().getByRole('button', { name: ARTWORK.useThisLayout }).click();
  await expect(sheet()).toHaveCount(0);
  await planned(page);
  await saved(page);
  // Four brackets and three discs, planned as they lie now.
  await expect(page.locator('footer')).toContainText('7 parts');
});

test('one step takes it back; what finds no room is said, and is not in the job then', async () => {
  await page.getByRole('button', { name: 'Undo: Lay the pieces out' }).click();
  await planned(page);
  await press(page, ARTWORK.layThePiecesOutMore);
  await expect(sheet().getByLabel('Bracket')).toHaveValue('1');
  await sheet().getByLabel('Bracket').fill('0');
  await sheet().getByLabel('Bracket').press('Tab');
  await sheet().getByLabel('Disc').fill('40');
  await sheet().getByLabel('Disc').press('Tab');
  await sheet().getByRole('button', { name: ARTWORK.layThemOut }).click();
  await expect(sheet().getByText(/There is no room for \d+: Disc\./)).toBeVisible();
  await sheet().getByRole('button', { name: ARTWORK.goodEnoughStopHere }).click();
  await expect(sheet().getByRole('button', { name: ARTWORK.layThemOutOnceMore })).toBeVisible();
  await sheet().getByRole('button', { name: ARTWORK.layThemOutOnceMore }).click();
  // Closed in the middle of the work: nothing has changed.
  await page.keyboard.press('Escape');
  await expect(sheet()).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^Undo: Lay/ })).toHaveCount(0);
});
