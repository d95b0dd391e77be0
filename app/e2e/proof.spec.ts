/** The proof as a carver looks at it: carved, measured, cut through, along its time, against the drawing, and what would be better. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { chromium, expect, test, type Locator, type Page } from '@playwright/test';
import { axe, comeIn, openJob, planned, saved, stage } from './shop';
import { BOARD } from '../src/lib/labels/board';
import { COMMON } from '../src/lib/labels/common';
import { DRAWING } from '../src/lib/labels/drawing';
import { JOB } from '../src/lib/labels/job';
import { PROOF } from '../src/lib/labels/proof';

const { PNG } = createRequire(import.meta.url)('pngjs') as typeof import('pngjs');

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];

test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
});
test.afterAll(async () => {
  expect(faults).toEqual([]);
  await page.close();
});

async function open(name: RegExp) {
  await openJob(page, name, 'Proof');
  await refined();
}
/** Waits until the picture was refined, as it is once things are quiet, and drawn. */
async function refined() {
  await expect(page.getByText(/on cells of 0\.1\d? mm/)).toBeVisible({ timeout: 60_000 });
  await drawn(page.locator('canvas[data-rested]').first());
}
/** Waits until the newest picture that was asked for is drawn, and no other is asked for. */
async function drawn(canvas: Locator) {
  let before = false;
  await expect(async () => {
    const now = (await canvas.getAttribute('data-rested')) === 'true' && (await canvas.getAttribute('data-drawn')) === 'true';
    const rested = now && before;
    before = now;
    expect(rested).toBe(true);
  }).toPass({ intervals: [400], timeout: 120_000 });
}
/** Share of pixels in the middle of the picture that differ from its corner by more than a shade. */
async function lively(canvas: Locator): Promise<number> {
  const png = PNG.sync.read(await canvas.screenshot());
  const at = (x: number, y: number) => [...png.data.subarray(4 * (y * png.width + x), 4 * (y * png.width + x) + 3)];
  const ground = at(4, Math.round(png.height * 0.3));
  let [off, all] = [0, 0];
  for (let y = Math.round(png.height * 0.35); y < png.height * 0.65; y += 3)
    for (let x = Math.round(png.width * 0.2); x < png.width * 0.8; x += 3) {
      all++;
      if (at(x, y).some((v, c) => Math.abs(v - ground[c]) > 24)) off++;
    }
  return off / all;
}
/** A picture of the canvas once it stands still: what a worker has drawn reaches the screen a little later. */
async function settled(canvas: Locator): Promise<Buffer> {
  await drawn(canvas);
  let before = await canvas.screenshot();
  for (let i = 0; i < 20; i++) {
    await page.waitForTimeout(700);
    const now = await canvas.screenshot();
    if (differing(before, now) === 0) return now;
    before = now;
  }
  throw new Error('The picture does not come to rest.');
}
/** Share of pixels of two pictures of the same size that differ by more than a shade. */
function differing(a: Buffer, b: Buffer): number {
  const [one, other] = [PNG.sync.read(a), PNG.sync.read(b)];
  let off = 0;
  for (let i = 0; i < one.data.length; i += 4) if ([0, 1, 2].some((c) => Math.abs(one.data[i + c] - other.data[i + c]) > 24)) off++;
  return (4 * off) / one.data.length;
}
const figure = async (locator: Locator) => parseFloat((await locator.innerText()).replace(/[^\d.]/g, ''));

test('the carved view shows a board, and not a blank', async () => {
  await open(/Heron Walk/);
  expect(await lively(page.locator('canvas[data-rested]').first())).toBeGreaterThan(0.6);
  expect(await axe(page)).toEqual([]);
});

test('pulling the time shows the bit at work, and the board as it is then', async () => {
  const time = page.getByRole('slider', { name: PROOF.timeInTheJob });
  const canvas = page.locator('canvas[data-rested]').first();
  await refined();
  // No tooltip lies over either picture.
  const away = () => page.mouse.move(640, 20);
  await away();
  const whole = await settled(canvas);
  await time.focus();
  await page.keyboard.press('Home');
  await expect(page.locator('[data-bit]')).toBeVisible();
  await expect(async () => expect(differing(whole, await settled(canvas))).toBeGreaterThan(0.02)).toPass({ timeout: 90_000 });
  await expect(time).toHaveAttribute('aria-valuetext', /^0 s of .*spindle coming to speed/);
  await page.getByRole('button', { name: PROOF.skipToTheEndOf }).click();
  await expect(time).toHaveAttribute('aria-valuetext', /Carve the words|changing to/);
  await page.getByRole('button', { name: PROOF.skipToTheEndOf }).click();
  await expect(page.locator('[data-bit]')).toBeHidden();
  await refined();
  await away();
  await expect(async () => expect(differing(await settled(canvas), whole)).toBeLessThan(0.003)).toPass({ timeout: 90_000 });
});

test('a measure under the pointer is what the bit leaves: depth, width, slope', async () => {
  await page.getByRole('button', { name: PROOF.fromAbove }).click();
  await page.getByRole('button', { name: COMMON.measure, exact: true }).click();
  const canvas = page.locator('canvas[data-rested]').first();
  await drawn(canvas);
  const box = (await canvas.boundingBox())!;
  const status = page.getByRole('status', { name: DRAWING.measured });
  // Along the middle of the words until a groove is met.
  let best = { depth: 0, width: 0 };
  for (let x = 0.2; x < 0.8; x += 0.01) {
    await page.mouse.move(box.x + box.width * x, box.y + box.height / 2);
    if (!(await status.isVisible())) continue;
    const [depth, width] = (await status.innerText()).split('\n').map((line) => parseFloat(line));
    if (depth > best.depth && width > 0) best = { depth, width };
  }
  expect(best.depth).toBeGreaterThan(2);
  // A 60° V: w = 2·h·tan 30°, where the pointer is at its deepest; a little beside it the groove is wider than that.
  expect(best.width / (2 * best.depth * Math.tan(Math.PI / 6))).toBeGreaterThan(0.95);
  expect(best.width / (2 * best.depth * Math.tan(Math.PI / 6))).toBeLessThan(1.6);
  await page.getByRole('button', { name: COMMON.measure, exact: true }).click();
});

test('a section along any line has the figures of the groove', async () => {
  await page.getByLabel(JOB.viewOfTheBoard).getByText(JOB.section, { exact: true }).click();
  await page.getByText(DRAWING.alongTheBoard, { exact: true }).click();
  const section = page.locator('svg[aria-label^="Section through the board"]');
  const label = (await section.getAttribute('aria-label'))!;
  const [, wide, deep] = label.match(/groove ([\d.]+) mm wide and ([\d.]+) mm deep/)!.map(Number);
  // A V of 60° cut square across: as wide as 2·h·tan 30°; along a line it may be wider, never narrower.
  expect(wide / (2 * deep * Math.tan(Math.PI / 6))).toBeGreaterThan(0.93);
  const end = page.getByRole('button', { name: DRAWING.endOfTheLine });
  await end.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/^\d+(\.\d+)? mm long$/)).toBeVisible();
  expect(await section.getAttribute('aria-label')).not.toBe(label);
  expect(await axe(page)).toEqual([]);
});

test('where the time goes is a chart whose parts add up', async () => {
  await page.getByText(PROOF.whereTheTimeGoes).click();
  await expect(page.locator('.apexcharts-bar-area').first()).toBeVisible();
  await expect(page.locator('.apexcharts-line').first()).toBeAttached();
  const asked = await figure(page.locator('details tbody tr').first().locator('td').nth(1));
  const fastest = await figure(page.locator('details tbody tr').first().locator('td').nth(3));
  expect(fastest).toBeLessThanOrEqual(asked);
  expect(await axe(page)).toEqual([]);
});

test('what would be faster is planned for real, and is taken in one step that can be undone', async () => {
  const before = await page.locator('aside .big').innerText();
  await page.getByRole('button', { name: PROOF.whatWouldBeFaster }).click();
  const list = page.getByRole('list', { name: PROOF.whatWouldBeFasterTitle });
  await expect(list).toBeVisible({ timeout: 90_000 });
  const first = list.getByRole('listitem').first();
  await first.getByRole('button').click();
  await planned(page);
  expect(await page.locator('aside .big').innerText()).not.toBe(before);
  await page.keyboard.press('Control+z');
  await planned(page);
  await expect(page.locator('aside .big')).toHaveText(before);
});

test('against the drawing: what a round bit leaves is marked, with area and worst; each cut has its tint', async () => {
  await open(/Raised map/);
  await page.getByRole('button', { name: COMMON.compareWithTheDrawing }).click();
  const list = page.getByRole('list', { name: PROOF.askedAgainstCarved });
  await expect(list).toContainText('Left standing');
  await expect(list).toContainText('Cut too much: nothing');
  expect(await figure(list.locator('b').nth(1))).toBeCloseTo(4, 1);
  await list.getByRole('button', { name: PROOF.show }).first().click();
  await expect(page.getByRole('radio', { name: JOB.plan })).toBeChecked();
  await page.getByRole('button', { name: PROOF.tintByCut }).click();
  await expect(page.locator('ol.cuts li')).toHaveCount(4);
  await drawn(page.locator('canvas[data-rested]').first());
});

test('two versions stand side by side, turned together', async () => {
  await page.getByRole('button', { name: PROOF.keepToCompare }).click();
  await expect(page.locator('canvas[data-rested]')).toHaveCount(2);
  for (const canvas of await page.locator('canvas[data-rested]').all()) await drawn(canvas);
  await expect(page.getByText(/^Revision \d+: /)).toBeVisible();
  await expect(page.getByText(/^Now: /)).toBeVisible();
  await page.getByRole('button', { name: PROOF.looksAndFiles }).click();
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: PROOF.closeTheComparison }).click();
  await expect(page.locator('canvas[data-rested]')).toHaveCount(1);
});

test('looks, paint, a picture and a solid to take along; kept over a reload', async () => {
  const canvas = page.locator('canvas[data-rested]').first();
  const before = await settled(canvas);
  await page.getByRole('button', { name: /^Finer than 0\.1\d* mm/ }).click();
  // 300 x 220 mm stop at so many cells; then the button says so instead of doing nothing.
  await expect(page.getByRole('button', { name: /^Finest cells: 0\.0\d+ mm/ })).toBeDisabled({ timeout: 90_000 });
  await page.getByLabel(COMMON.material).selectOption('brass');
  await page.getByRole('button', { name: 'black', exact: true }).click();
  // The worker's last word may come before the screen shows the picture.
  await expect(async () => expect(differing(before, await settled(canvas))).toBeGreaterThan(0.1)).toPass({ timeout: 90_000 });
  const [picture] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: PROOF.saveAPicturePng }).click()]);
  const png = PNG.sync.read(readFileSync(await picture.path()));
  expect(png.width).toBeGreaterThan(1000);
  const [solid] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: PROOF.saveTheSolidStl }).click()]);
  const stl = readFileSync(await solid.path());
  expect(stl.length).toBe(84 + 50 * stl.readUInt32LE(80));
  await page.reload();
  await stage(page, 'Proof');
  await page.getByRole('button', { name: PROOF.looksAndFiles }).click();
  await expect(page.getByLabel(COMMON.material)).toHaveValue('brass');
});

test('the bit finder tries every bit, sorts them, can be cancelled, and puts the chosen one to work', async () => {
  await open(/Heron Walk/);
  await page.getByRole('button', { name: PROOF.findTheRightBit }).click();
  await page.getByText(PROOF.alsoUsualSizesThatAre).click();
  await page.getByRole('button', { name: PROOF.tryThem }).click();
  await page.getByRole('button', { name: COMMON.cancel }).click();
  await expect(page.getByRole('button', { name: PROOF.tryThem })).toBeVisible();
  await page.getByText(PROOF.alsoUsualSizesThatAre).click();
  await page.getByRole('button', { name: PROOF.tryThem }).click();
  await expect(page.getByRole('button', { name: PROOF.tryThem })).toBeVisible({ timeout: 180_000 });
  const rows = page.getByRole('dialog').locator('tbody tr');
  expect(await rows.count()).toBeGreaterThan(2);
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: 'Use it: 90° V, 19 mm' }).click();
  await planned(page);
  await stage(page, 'Cuts');
  await expect(page.getByRole('button', { name: /^Carve the words/ })).toContainText('90° V');
  await page.getByRole('button', { name: /^Undo: Use 90° V/ }).click();
  await planned(page);
  await saved(page);
});

test('a clamp in the way forbids cutting, is shown where it is, and stops forbidding once it is moved', async () => {
  await stage(page, 'Board');
  await page.getByRole('button', { name: 'Add a clamp' }).click();
  await planned(page);
  await stage(page, 'Proof');
  const found = page.locator('.finding', { hasText: 'The bit would cut into a clamp' });
  await expect(found).toBeVisible();
  await found.getByRole('button', { name: JOB.showWhere }).click();
  await expect(page.getByRole('radio', { name: JOB.plan })).toBeChecked();
  await stage(page, 'Board');
  await page.getByLabel('Middle, from the left edge').fill('-30');
  await page.getByLabel('Middle, from the left edge').press('Enter');
  await planned(page);
  await stage(page, 'Proof');
  await expect(found).toBeHidden();
  await stage(page, 'Board');
  await page.getByRole('button', { name: BOARD.removeHolder('Clamp', 1) }).click();
  await planned(page);
  await saved(page);
});

test('a trial board is laid out as a job of its own, and its best place becomes the preset', async () => {
  await stage(page, 'Proof');
  await page.getByRole('button', { name: PROOF.trialBoard }).click();
  expect(await axe(page)).toEqual([]);
  await page.getByLabel('Feeds, mm/min').fill('1200, 2400');
  await page.getByRole('button', { name: PROOF.layOutTheTrialBoard }).click();
  await expect(page.getByRole('heading', { name: 'Heron Walk - trial' })).toBeVisible({ timeout: 60_000 });
  await planned(page);
  await expect(page.locator('aside table').first()).toContainText('F1200');
  await page.getByRole('button', { name: PROOF.whichPlaceWasBest }).click();
  await page.getByLabel(PROOF.bestPlace).selectOption({ label: 'F2400' });
  await page.getByRole('button', { name: PROOF.saveItAsThePreset }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await saved(page);
  const crib = (await (await page.request.get('/api/bits')).json()) as {
    bits: { bit: { id: string; feeds?: Record<string, { feed: number; source: string }> } }[];
  };
  const taught = crib.bits.find(({ bit }) => bit.feeds?.cedar);
  expect(taught?.bit.feeds!.cedar).toMatchObject({ feed: 2400, source: expect.stringContaining('trial board “Heron Walk - trial”') });
});

test('without WebGL2 the board is shown flat, with depth as shade, and says so', async () => {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--disable-gpu', '--disable-software-rasterizer'] });
  const plain = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await plain.goto(new URL('/', page.url()).href);
  await plain.getByRole('button', { name: 'Open the demo as owner' }).click();
  await plain
    .getByRole('link', { name: /Heron Walk/ })
    .first()
    .click();
  await stage(plain, 'Proof');
  await expect(plain.getByText('This browser has no WebGL2')).toBeVisible({ timeout: 60_000 });
  await drawn(plain.locator('canvas[data-rested]').first());
  expect(await lively(plain.locator('canvas[data-rested]').first())).toBeGreaterThan(0.6);
  await browser.close();
});
