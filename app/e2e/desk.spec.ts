/** What trials at the desk found, each tried again in the browser. */
import { expect, test, type Page } from '@playwright/test';
import { comeIn, makeJob, newSign, openJob, planned, press, release, saved, setUp, stage } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';
import { BENCH } from '../src/lib/labels/bench';
import { BOARD } from '../src/lib/labels/board';
import { COMMON } from '../src/lib/labels/common';
import { CUTS } from '../src/lib/labels/cuts';
import { JOB } from '../src/lib/labels/job';
import { MACHINES } from '../src/lib/labels/machines';
import { PROGRAM } from '../src/lib/labels/program';
import { SETUP } from '../src/lib/labels/setup';
import { SHOP } from '../src/lib/labels/shop';

let page: Page;
let faults: string[];
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
  await expect(page.getByRole('link', { name: /Heron Walk/ }).first()).toBeVisible();
});
test.afterAll(() => page.close());
const undo = async (label: string) => expect(page.getByRole('button', { name: `Undo: ${label}` })).toBeEnabled();

test('a brass plate shows its material, and every material whose feeds are known can be chosen', async () => {
  await openJob(page, /Bench plate/, 'Board');
  const material = page.getByLabel(BOARD.woodOrOtherMaterial);
  await expect(material).toHaveValue('brass');
  const options = await material.locator('option').allInnerTexts();
  for (const name of ['brass', 'aluminium', 'slate board', 'maple', 'foam']) expect(options).toContain(name);
});

test('machines: a skim that is none is said', async () => {
  await page.goto('/machines');
  await expect(page.getByLabel(MACHINES.connectionLog)).toContainText('←');
  await expect(page.getByLabel(CUTS.kind)).toHaveCount(0);
  await press(page, /^Simulated router .*linked/);
  const height = page.getByLabel(MACHINES.heightAfterTheSkim);
  await height.fill('30');
  await height.press('Enter');
  await press(page, MACHINES.recordTheSkim);
  await expect(page.getByRole('alert')).toContainText('a skim takes off');
  await height.fill('5');
  await height.press('Enter');
  await press(page, MACHINES.recordTheSkim);
  await expect(page.getByRole('alert')).toContainText('not worth skimming');
});

test('a new sign on another board: words and outline go with it, and the proof has nothing against it', async () => {
  await page.goto('/');
  await newSign(page);
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('Moor');
  await planned(page);
  await stage(page, 'Board');
  for (const [label, mm] of [
    ['Width, left to right', '300'],
    ['Height, front to back', '120'],
  ]) {
    await page.getByLabel(label).fill(mm);
    await page.getByLabel(label).press('Enter');
  }
  await planned(page);
  await saved(page);
  await expect(page.locator('footer')).not.toContainText('to fix');
  await stage(page, 'Artwork');
  await expect(page.getByText('everything is on the board')).toBeVisible();
});

test('the outline deleted takes the cut round it along, in one step that can be undone', async () => {
  await stage(page, 'Cuts');
  await expect(page.getByRole('button', { name: /Cut out the sign/ })).toBeVisible();
  await stage(page, 'Artwork');
  await page.getByText(ARTWORK.thingsAndLayers).click();
  await page.getByRole('button', { name: /^Sign outline/ }).click();
  await page.locator('.plan').focus();
  await page.keyboard.press('Delete');
  await undo('Delete');
  await planned(page);
  await stage(page, 'Cuts');
  await expect(page.getByRole('button', { name: /Cut out the sign/ })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /Cut out the sign/ })).toBeVisible();
  await planned(page);
});

test('what no cut works on is said before the release, and one press makes it a guide', async () => {
  const id = await makeJob(page, {
    kerbe: 4,
    name: 'Half cut',
    board: { width: 200, height: 80, thickness: 12, holdDown: 'tape' },
    items: {
      box: { kind: 'rectangle', id: 'box', name: 'Frame', x: 60, y: 40, width: 30, height: 30 },
      other: { kind: 'rectangle', id: 'other', name: 'Lid line', x: 140, y: 40, width: 30, height: 20 },
    },
    itemOrder: ['box', 'other'],
    outline: null,
    tools: { e: { kind: 'end', id: 'e', diameter: 6.35, fluteLength: 25 } },
    cuts: { p: { kind: 'pocket', id: 'p', on: ['box'], tool: 'e', depth: 3 } },
    cutOrder: ['p'],
  });
  await page.goto(`/job/${id}?stage=proof`);
  await planned(page);
  await expect(page.getByText('Drawn, and no cut works on it: “Lid line”.')).toBeVisible();
  await press(page, 'Mark it as a guide');
  await planned(page);
  await expect(page.getByText('no cut works on it')).toHaveCount(0);
  await undo('Mark it as a guide');
});

test('the first picked less the others, by its name; a cut is added to what it usually works on, not to what was picked elsewhere', async () => {
  await stage(page, 'Artwork');
  await page.getByText(ARTWORK.thingsAndLayers).click();
  await page.getByRole('button', { name: /^Lid line/ }).click();
  await page.getByRole('button', { name: /^Frame/ }).click({ modifiers: ['Shift'] });
  await page.getByText(ARTWORK.combineAndReshape).click();
  await expect(page.getByRole('button', { name: 'Subtract from “Lid line”' })).toBeVisible();
  await stage(page, 'Cuts');
  await press(page, CUTS.addACut);
  await page.getByRole('button', { name: 'Pocket', exact: true }).click();
  await expect(page.getByLabel(CUTS.worksOn)).toHaveValue('art');
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('workers that die are started again: the next change is drawn and planned as ever', async () => {
  const before = page.workers();
  expect(before.length).toBeGreaterThan(1);
  for (const worker of before)
    await worker.evaluate(() => {
      setTimeout(() => {
        throw new Error('died of a test');
      });
    });
  await expect.poll(() => page.workers().filter((worker) => before.includes(worker)).length, { timeout: 60_000 }).toBe(0);
  await stage(page, 'Board');
  const figures = await page.locator('footer').innerText();
  const thickness = page.getByLabel(COMMON.thickness, { exact: true });
  const was = await thickness.inputValue();
  await thickness.fill(String(Number(was) + 5));
  await thickness.press('Enter');
  await planned(page);
  await expect(page.locator('footer')).not.toHaveText(figures, { timeout: 90_000 });
  await page.keyboard.press('Control+z');
  await planned(page);
  await saved(page);
});

test('a step opened by hand gives way once it is done; nothing stands under Hold and Stop', async () => {
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  const card = page.getByRole('complementary');
  await card.getByRole('button', { name: /Check collet and shank/ }).click();
  await press(page, SETUP.itIsTightAndNot);
  // On to what is next, by itself.
  await expect(card.locator('li[aria-current=step]')).not.toContainText('It is tight and not bottomed');
  await expect(card.locator('li[aria-current=step] button.preset-filled-brand').first()).toBeVisible();
  // Opened again when it is done it says where the way goes on.
  await card.getByRole('button', { name: /Check collet and shank/ }).click();
  await press(page, /^Go on to: /);
  await setUp(page);
  await press(page, SETUP.goToTheRun);
  const hold = (await page.getByRole('button', { name: /^Hold/ }).boundingBox())!;
  for (const button of await page.locator('.act button').all()) {
    await button.scrollIntoViewIfNeeded();
    const box = (await button.boundingBox())!;
    expect(box.y + box.height).toBeLessThanOrEqual(hold.y);
  }
});

test('one job has one time, and its parts are named', async () => {
  await openJob(page, /Heron Walk/, 'Proof');
  const whole = (await page.locator('.big.figure').innerText()).trim();
  await expect(page.locator('footer')).toContainText(`${whole} with a bit change`);
  await expect(page.getByText(/ running, 2 min 00 s for changing bits\./)).toBeVisible();
});

test('a duplicated tab makes itself a name of its own; a reload keeps it', async ({ browser }) => {
  const context = await browser.newContext({ storageState: await page.context().storageState() });
  const [first, copy] = [await context.newPage(), await context.newPage()];
  const nameOf = (one: Page) => one.evaluate(() => sessionStorage.getItem('kerbe-screen'));
  await first.goto('/bench');
  await expect.poll(() => nameOf(first)).not.toBeNull();
  const before = await nameOf(first);
  await first.reload();
  await expect(first.getByRole('tab', { name: BENCH.exercises })).toBeVisible();
  await first.waitForTimeout(500);
  expect(await nameOf(first)).toBe(before);
  // As a browser duplicates a tab: with all that the first one keeps.
  await copy.addInitScript((kept) => sessionStorage.getItem('kerbe-screen') ?? sessionStorage.setItem('kerbe-screen', kept!), before);
  await copy.goto('/bench');
  await expect.poll(() => nameOf(copy)).not.toBe(before);
  expect(await nameOf(first)).toBe(before);
  await context.close();
});

test('a first job is led through step by step, taken up after a reload, and left at will', async ({ browser }) => {
  // Somebody who has never been here.
  const { page: fresh } = await comeIn(browser);
  await fresh.getByRole('region', { name: COMMON.yourFirstJob }).getByRole('button', { name: SHOP.begin }).click();
  const strip = fresh.getByRole('region', { name: COMMON.yourFirstJob });
  await expect(strip).toContainText('step 1 of 7');
  await fresh.getByLabel(ARTWORK.whatTheSignSays).fill('Tern');
  await expect(strip).toContainText('step 2 of 7');
  await strip.getByRole('button', { name: JOB.showMeWhere }).click();
  await expect(strip).toContainText('step 3 of 7');
  await saved(fresh);
  await fresh.reload();
  await expect(strip).toContainText('step 3 of 7');
  await stage(fresh, 'Proof');
  await planned(fresh);
  await expect(strip).toContainText('step 4 of 7');
  await fresh.goto('/');
  await fresh.getByRole('link', { name: SHOP.goOnWithIt }).click();
  await expect(strip).toContainText('step 4 of 7');
  // It leads back from the screen of the run, too.
  await stage(fresh, 'Run');
  await expect(fresh.getByRole('complementary')).toHaveCount(0);
  await strip.getByRole('button', { name: JOB.showMeWhere }).click();
  await expect(fresh.getByRole('complementary', { name: 'Card: Program' })).toBeVisible();
  await strip.getByRole('button', { name: COMMON.leaveIt }).click();
  await expect(strip).toHaveCount(0);
  await fresh.goto('/');
  await expect(fresh.getByRole('button', { name: SHOP.newSign })).toBeVisible();
  await expect(fresh.getByRole('region', { name: COMMON.yourFirstJob })).toHaveCount(0);
  await fresh.close();
});

test('nothing went wrong unseen', () => {
  expect(faults).toEqual([]);
});
