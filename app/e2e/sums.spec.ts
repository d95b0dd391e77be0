/** The shop's sums, as somebody with dusty hands would do one: found by a word, typed as anywhere, read in both units. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn } from './shop';
import { COMMON } from '../src/lib/labels/common';
import { JOB } from '../src/lib/labels/job';
import { SHOP } from '../src/lib/labels/shop';

let page: Page;
let faults: string[];
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
});
test.afterAll(async () => {
  expect(faults).toEqual([]);
  await page.close();
});
const out = (label: string) => page.getByLabel(SHOP.whatComesOut).locator('div').filter({ hasText: label }).locator('dd');

test('a sum is found by a word of it and worked out while one types, in both units', async () => {
  await page.getByRole('link', { name: COMMON.sums, exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Depth for a width' })).toBeVisible();
  await expect(out('Depth').first()).toHaveText('10.39 mm');
  await page.getByLabel('Stroke width').fill('1/2 in');
  await page.getByLabel('Stroke width').press('Enter');
  await expect(out('Depth').first()).toHaveText('11 mm');
  await expect(out('Depth').nth(1)).toHaveText('0.433 in');
  await page.getByLabel(SHOP.findASum).fill('dpi');
  await page.getByLabel(SHOP.findASum).press('Enter');
  await expect(page.getByRole('article', { name: 'Dots, pitch and size' })).toBeVisible();
  await expect(out('Size across').first()).toHaveText('60.03 mm');
  expect(await axe(page)).toEqual([]);
  // What was chosen is there again after a reload.
  await page.reload();
  await expect(page.getByRole('article', { name: 'Dots, pitch and size' })).toBeVisible();
});

test('a slip is said at its field and changes nothing; a word no sum has is said', async () => {
  await page.goto('/sums?sum=ramp');
  await page.getByLabel('Over a length of').fill('forty');
  await page.getByLabel('Over a length of').press('Enter');
  await expect(page.getByText(/is no length|not a length|number/i).first()).toBeVisible();
  await expect(out('Ramp angle').first()).toHaveText('4.29 degrees');
  await page.getByLabel(SHOP.findASum).fill('zzzz');
  await expect(page.getByText('No sum has those words.')).toBeVisible();
});

test('it comes up in the palette of a job, and what comes out goes into a cut by one press', async () => {
  await page.goto('/');
  await page.getByRole('link', { name: /^Heron Walk, carved/ }).click();
  await expect(page.locator('footer')).toContainText('deepest');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('depth for a width');
  await page.getByRole('option', { name: 'Sum: depth for a width' }).click();
  const sheet = page.getByRole('dialog', { name: JOB.sum });
  await sheet.getByLabel('Stroke width').fill('6 mm');
  await sheet.getByLabel('Stroke width').press('Enter');
  // 6 mm under 60 degrees: 6 / (2 tan 30) = 5.196.
  await sheet.getByRole('button', { name: 'Put it into “Carve the words”' }).click();
  await expect(sheet.getByRole('status')).toContainText('It is in “Carve the words” now.');
  expect(await axe(page)).toEqual([]);
  await page.keyboard.press('Escape');
  await expect(sheet).toHaveCount(0);
  await expect(page.locator('footer')).toContainText('deepest');
  await page.getByRole('navigation', { name: JOB.stagesOfTheJob }).getByRole('button', { name: /^Cuts/ }).click();
  await expect(page.getByLabel(/^Maximum depth/)).toHaveValue('5.2');
  await page.getByRole('button', { name: 'Undo: Depth for a width: depth' }).click();
  await expect(page.getByLabel(/^Maximum depth/)).not.toHaveValue('5.2');
  await expect(page.locator('[data-save=saved]')).toBeVisible();
});
