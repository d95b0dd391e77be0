/** Materials of the shop: an own one with its price, a usual one with more said of it, pieces that are left and offered again. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, planned, press, saved, stage } from './shop';
import { BOARD } from '../src/lib/labels/board';
import { COMMON } from '../src/lib/labels/common';
import { JOB } from '../src/lib/labels/job';
import { SHOP } from '../src/lib/labels/shop';

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];
let made: string | null = null;
test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
});
test.afterAll(async () => {
  const { origin } = new URL(page.url());
  if (made) await page.request.delete(`/api/jobs/${made}`, { headers: { origin } });
  expect(faults).toEqual([]);
  await page.close();
});
const row = (name: string) => page.getByRole('row', { name: new RegExp(`^${name}`) });

test('an own material is added, with what it is worked like, what it weighs and costs', async () => {
  await page.getByRole('navigation', { name: COMMON.shop }).getByRole('link', { name: COMMON.materials }).click();
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: SHOP.addAMaterial }).click();
  await page.getByLabel(COMMON.name, { exact: true }).fill('iroko');
  await page.getByLabel(/^Thicknesses you buy/).fill('22, 28 mm, xx');
  await page.getByLabel(SHOP.densityGCm).fill('0.66');
  await page.getByLabel(/for a square (metre|foot)$/).fill('95');
  await page.getByLabel(SHOP.cautions).fill('Its dust irritates.');
  await page.getByRole('button', { name: COMMON.save }).click();
  await expect(page.getByRole('alert')).toContainText('Thicknesses');
  await page.getByLabel(/^Thicknesses you buy/).fill('22, 28 mm');
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: COMMON.save }).click();
  await expect(page.getByRole('status')).toContainText('iroko is kept');
  await expect(row('iroko, like oak')).toContainText('22, 28 mm');
});

test('a usual one gets a price, and goes back to what is known', async () => {
  await page.getByRole('button', { name: 'Change oak' }).click();
  await page.getByLabel(/for a square (metre|foot)$/).fill('80');
  await page.getByRole('button', { name: COMMON.save }).click();
  await expect(row('oak')).toContainText('80.00');
  await page.getByRole('button', { name: 'Change oak' }).click();
  await page.getByRole('button', { name: SHOP.backToWhatKerbeKnows }).click();
  await expect(row('oak')).not.toContainText('80.00');
});

test('a piece that is left is written down, offered for a sign that fits on it, and used up', async () => {
  await page.getByLabel(SHOP.aPieceOf).selectOption('iroko, like oak');
  await expect(page.getByLabel(COMMON.thickness, { exact: true })).toHaveValue('22');
  for (const [label, mm] of [
    ['Width', '500'],
    ['Height', '220'],
  ]) {
    await page.getByLabel(label, { exact: true }).fill(mm);
    await page.getByLabel(label, { exact: true }).press('Tab');
  }
  await page.getByLabel(COMMON.whereItIsKept).fill('rack 2, left');
  await page.getByRole('button', { name: SHOP.addThePiece }).click();
  await expect(page.getByRole('list', { name: SHOP.piecesThatAreLeft })).toContainText('rack 2, left');
  await page.goto('/');
  await page.getByRole('button', { name: SHOP.newSign }).click();
  const sheet = page.getByRole('dialog', { name: SHOP.newSign });
  for (const [label, mm] of [
    ['Width, left to right', '400 mm'],
    ['Height, front to back', '150 mm'],
    ['Thickness', '22 mm'],
  ]) {
    await sheet.getByLabel(label).fill(mm);
    await page.keyboard.press('Tab');
  }
  await sheet.getByLabel(COMMON.material).selectOption('iroko, like oak');
  await sheet.getByRole('button', { name: /rack 2, left/ }).click();
  await sheet.getByRole('button', { name: SHOP.makeIt }).click();
  await page.waitForURL(/\/job\//);
  made = new URL(page.url()).pathname.split('/').at(-1)!;
  await page
    .getByRole('navigation', { name: JOB.stagesOfTheJob })
    .getByRole('button', { name: /^Board/ })
    .click();
  // 0.5 m x 0.22 m at 95 for a square metre; 2,420 cm³ at 0.66 g.
  await expect(page.getByRole('complementary')).toContainText('1.60 kg, €10.45, Its dust irritates.');
  await page.goto('/materials');
  await page.getByRole('button', { name: SHOP.usedUp }).click();
  await expect(page.getByText('None is written down.')).toBeVisible();
  await page.getByRole('button', { name: 'Change iroko' }).click();
  await page.getByRole('button', { name: SHOP.deleteIt }).click();
  await expect(row('iroko')).toHaveCount(0);
});

test('a material the shop has not had is added where it is needed, and is the shop’s from then on', async () => {
  await page.goto(`/job/${made}`);
  await planned(page);
  await stage(page, 'Board');
  const material = page.getByLabel(BOARD.woodOrOtherMaterial);
  const was = await material.inputValue();
  await material.selectOption({ label: 'another…' });
  await page.getByRole('button', { name: COMMON.cancel }).click();
  await expect(material).toHaveValue(was);
  await material.selectOption({ label: 'another…' });
  await press(page, BOARD.addItToTheShop);
  await expect(page.getByRole('alert')).toContainText('A material needs a name.');
  await page.getByLabel(BOARD.nameOfTheMaterial).fill('Oak');
  await press(page, BOARD.addItToTheShop);
  await expect(page.getByRole('alert')).toContainText('The shop has Oak already');
  await page.getByLabel(BOARD.nameOfTheMaterial).fill('ash');
  await page.getByLabel(COMMON.cutsLike).selectOption('maple');
  expect(await axe(page)).toEqual([]);
  await page.getByLabel(BOARD.nameOfTheMaterial).press('Enter');
  await expect(material).toHaveValue('ash, like maple');
  await expect(page.getByLabel(BOARD.nameOfTheMaterial)).toHaveCount(0);
  await expect(page.locator('footer')).toContainText('ash, like maple');
  await saved(page);
  await page.reload();
  await expect(page.locator('footer')).toContainText('ash, like maple');
  await page.goto('/materials');
  await page.getByRole('button', { name: 'Change ash' }).click();
  await page.getByRole('button', { name: SHOP.deleteIt }).click();
  await expect(row('ash')).toHaveCount(0);
});

test('what was found for the tools of the shop, in one list: searched, sorted, and from there to the tool', async () => {
  const { origin } = new URL(page.url());
  const found = (feed: number) => ({ feed, plunge: 500, speed: 16_000, source: `trial board of ${feed}` });
  const mill = {
    kind: 'end',
    id: 'found-mill',
    name: 'Found mill',
    diameter: 6,
    feeds: { teak: found(1400), iroko: found(2100), yew: found(900), teakwood: found(1200) },
  };
  await page.request.post('/api/bits', { data: { bits: [mill] }, headers: { origin } });
  await page.goto('/bits');
  await page.getByRole('radio', { name: SHOP.whatWasFoundForThem }).click({ force: true });
  const rows = page.getByRole('table', { name: SHOP.whatWasFound }).getByRole('row');
  await expect(rows.nth(1)).toBeVisible();
  const all = await rows.count();
  await page.getByLabel(SHOP.findAmongWhatWasFound).fill('found mill trial');
  await expect(rows).toHaveCount(5);
  expect(all).toBeGreaterThanOrEqual(5);
  await page.getByRole('button', { name: COMMON.feed, exact: true }).click();
  const feeds = (await page.getByRole('table', { name: SHOP.whatWasFound }).locator('tbody td:nth-child(4)').allInnerTexts()).map((text) => parseFloat(text));
  expect(feeds.length).toBeGreaterThan(3);
  expect(feeds).toEqual([...feeds].sort((a, b) => (feeds[0] <= feeds.at(-1)! ? a - b : b - a)));
  expect(await axe(page)).toEqual([]);
  await page.getByLabel(SHOP.findAmongWhatWasFound).fill('nothing of the kind');
  await expect(page.getByText('Nothing here says that.')).toBeVisible();
  await page.getByLabel(SHOP.findAmongWhatWasFound).fill('yew');
  await page.getByRole('table', { name: SHOP.whatWasFound }).getByRole('button').last().click();
  await expect(page.getByRole('button', { name: /^Found mill/, pressed: true })).toBeVisible();
  await page.request.delete('/api/bits?id=found-mill', { headers: { origin } });
});
