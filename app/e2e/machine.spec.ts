/** At the machine: the bed, ways to zero, jogging, who holds the controls, the bench and its exercises, the machines. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, finished, planned, release, saved, setUp, stage, startCutting } from './shop';
import { BENCH } from '../src/lib/labels/bench';
import { COMMON } from '../src/lib/labels/common';
import { MACHINES } from '../src/lib/labels/machines';
import { PROGRAM } from '../src/lib/labels/program';
import { SETUP } from '../src/lib/labels/setup';

let page: Page;
let faults: string[];
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
});
test.afterAll(() => page.close());

const press = async (name: string | RegExp, on: Page = page) => {
  const button = on.getByRole('button', { name });
  await expect(button).toBeEnabled({ timeout: 90_000 });
  await button.click();
};
/** Machine or work position that a page shows, by its text. */
const place = async (): Promise<number[]> => {
  const text = await page.locator('figcaption').first().innerText();
  return [...text.matchAll(/[XYZ] (-?[\d.]+)/g)].slice(0, 3).map((m) => Number(m[1]));
};

test('the bench: an exercise is laid out, watched, judged and kept', async () => {
  await page.goto('/bench');
  await press('Why does it not move?');
  await expect(page.getByText('Find the emergency stop and release it')).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await press(BENCH.home);
  await expect(page.getByRole('alert')).toContainText('The emergency stop is pressed');
  await page.getByRole('tab', { name: BENCH.handsOnTheMachine }).click();
  expect(await axe(page)).toEqual([]);
  await press(BENCH.turnTheRedButtonRelease);
  await press(COMMON.clearTheAlarm);
  await press(BENCH.home);
  await page.getByRole('tab', { name: BENCH.exercises }).click();
  await expect(page.getByText('Done, without a slip.')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Kept with your results.')).toBeVisible();
  await press(BENCH.anotherExercise);
  await expect(page.getByRole('listitem').filter({ hasText: 'Why does it not move?' })).toContainText(/done \d+ \w+/);
});

test('the bench: a slip is seen and said, with what it would have cost', async () => {
  await press('Something is still on the bit');
  await press(BENCH.measureItOnTheSensor);
  await expect(page.getByRole('listitem').filter({ hasText: 'Measure the bit' })).toContainText('done', { timeout: 60_000 });
  await press(BENCH.spindleTenSeconds);
  await expect(page.getByText(/the wire would have been torn off/)).toBeVisible();
  await page.getByRole('tab', { name: BENCH.handsOnTheMachine }).click();
  await press('Clip on the bit: yes');
  await press(BENCH.takeThePlateAway);
  await press(BENCH.spindleTenSeconds);
  await page.getByRole('tab', { name: BENCH.exercises }).click();
  await expect(page.getByText('Done, with a slip: once more, and it is yours.')).toBeVisible({ timeout: 60_000 });
});

test('machines: their profile, their wire, their spoilboard', async () => {
  await page.goto('/machines');
  await expect(page.getByRole('button', { name: /Simulated router/ })).toContainText('linked');
  await expect(page.getByLabel(MACHINES.connectionLog)).toContainText('←');
  expect(await axe(page)).toEqual([]);
  await press(/^Simulated router .*linked/);
  await page.getByLabel(MACHINES.heightAfterTheSkim).fill('17.8');
  await page.getByLabel(MACHINES.heightAfterTheSkim).press('Enter');
  await press(MACHINES.recordTheSkim);
  await expect(page.getByText('17.8 mm thick.')).toBeVisible();
  await press(MACHINES.changeTheList);
  await press(MACHINES.oneMore);
  await page
    .getByLabel(/^What is done, /)
    .last()
    .fill('Look at the brushes');
  await press(MACHINES.saveTheList);
  await expect(page.getByRole('alert')).toContainText('after hours, after days, or both');
  await page
    .getByLabel(/^After hours of cutting, /)
    .last()
    .fill('50');
  await press(MACHINES.saveTheList);
  await expect(page.getByText('in 50 h of cutting')).toBeVisible();
  await press(MACHINES.changeTheList);
  await press(MACHINES.backToWhatIsUsual);
  await expect(page.getByText('Look at the brushes')).toHaveCount(0);
  await press(/Shed router/);
  await page.getByText(MACHINES.connection).click();
  await expect(page.getByText('on no hardware').last()).toBeVisible();
  const park = page.getByLabel(MACHINES.parksAtX);
  await page.getByText(MACHINES.bed, { exact: true }).click();
  await park.fill('5000');
  await park.press('Enter');
  await press(COMMON.save);
  await expect(page.getByRole('alert')).toContainText('parks at lies beyond');
});

test('the bed: the board is pulled to where it lies and snaps to a slot; what cannot be is said', async () => {
  await page.goto('/');
  await page.getByRole('link', { name: /^Reed Gate, carved/ }).click();
  await planned(page);
  await stage(page, 'Set up');
  const board = page.getByRole('button', { name: /^The board, at X/ });
  const box = (await board.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 40, box.y + box.height / 2 - 30, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText(/board at X/)).not.toContainText('X 180 ', { timeout: 5000 });
  await board.focus();
  for (let i = 0; i < 70; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByText(/reaches \d+ mm beyond/)).toBeVisible();
  for (let i = 0; i < 70; i++) await page.keyboard.press('Shift+ArrowLeft');
  await expect(page.getByText(/reaches \d+ mm beyond/)).toHaveCount(0);
  await press('+ Step clamp');
  await expect(page.getByRole('button', { name: /^clamp at X/ })).toBeVisible();
  // The next board mostly lies the same way.
  await saved(page);
  await page.goto('/');
  await page.getByRole('link', { name: /^Heron Walk, carved/ }).click();
  await planned(page);
  await stage(page, 'Board');
  await press('As the last board was held (1)');
  await expect(page.getByLabel('Middle, from the left edge')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await saved(page);
  await page.goto('/');
  await page.getByRole('link', { name: /^Reed Gate, carved/ }).click();
  await planned(page);
  await stage(page, 'Set up');
  await press(SETUP.removeTheLastOne);
  await expect(page.getByRole('button', { name: /^clamp at X/ })).toHaveCount(0);
});

test('jogging: steps, on and on while held, and by keys', async () => {
  await stage(page, 'Program');
  await planned(page);
  // The card is fetched when it is wanted.
  await expect(page.getByRole('button', { name: PROGRAM.releaseForCutting })).toBeVisible();
  const ticks = page.getByRole('complementary').getByRole('checkbox');
  for (let i = 0; i < (await ticks.count()); i++) await ticks.nth(i).check();
  await press(PROGRAM.releaseForCutting);
  await press(PROGRAM.goToTheMachine);
  const home = page.getByRole('button', { name: SETUP.homeTheMachine });
  if (await home.isVisible()) await press(SETUP.homeTheMachine);
  await page.getByText(SETUP.moveByHandGoTo).click();
  const pad = page.getByRole('group', { name: /^Move the bit by hand/ }).last();
  await pad.getByRole('button', { name: '50 mm' }).click();
  const before = await place();
  await pad.getByRole('button', { name: 'Right, X plus' }).click();
  await expect.poll(async () => (await place())[0], { timeout: 30_000 }).toBeCloseTo(before[0] + 50, 1);
  await pad.getByRole('button', { name: SETUP.continuous }).click();
  await pad.getByRole('button', { name: 'slow' }).click();
  const right = (await pad.getByRole('button', { name: 'Right, X plus' }).boundingBox())!;
  await page.mouse.move(right.x + 10, right.y + 10);
  await page.mouse.down();
  await page.waitForTimeout(600);
  await page.mouse.up();
  await page.waitForTimeout(500);
  const stood = await place();
  expect(stood[0]).toBeGreaterThan(before[0] + 51);
  await page.waitForTimeout(400);
  expect(await place()).toEqual(stood);
  await pad.getByRole('button', { name: '5 mm', exact: true }).click();
  await pad.focus();
  await page.keyboard.press('ArrowUp');
  await expect.poll(async () => (await place())[1], { timeout: 30_000 }).toBeCloseTo(stood[1] + 5, 1);
});

test('a board that lies crooked: two marks turn the job; a place is saved and gone to', async () => {
  await press('Front left of the board');
  await page.getByLabel(SETUP.nameOfThisPlace).fill('corner stop');
  await press(SETUP.saveWhereTheBitStands);
  await expect(page.getByRole('button', { name: 'corner stop', exact: true })).toBeVisible();
  await page.getByRole('button', { name: /Set X and Y at/ }).click();
  await page.getByLabel(SETUP.howItIsSet).selectOption('marks');
  await press(/tip is over the front left corner/);
  await press('Park');
  await page.waitForTimeout(1500);
  await press(/tip is over the front right corner/);
  await expect(page.getByText(/The board lies -?[\d.]+° turned/)).toBeVisible();
  expect(await axe(page)).toEqual([]);
});

test('one holds the controls: another sees it, takes them over, and both are told', async ({ browser }) => {
  await expect(page.getByText('You are in control.')).toBeVisible();
  const other = await browser.newPage({ viewport: { width: 1024, height: 768 } });
  await other.goto('/');
  await other.getByRole('button', { name: 'Open the demo as operator' }).click();
  await other.goto('/bench');
  await expect(other.getByText('owner is in control')).toBeVisible();
  await other.getByRole('button', { name: BENCH.home, exact: true }).click();
  await expect(other.getByRole('alert')).toContainText('Owner is in control');
  await press('Take control', other);
  await expect(other.getByText('You are in control.')).toBeVisible();
  await expect(other.getByText('Taken over from owner.')).toBeVisible();
  await expect(page.getByText('operator is in control')).toBeVisible();
  await press('Release control', other);
  await expect(page.getByText('Nobody is in control')).toBeVisible();
  await other.close();
});

test('the spoilboard: skimmed from a short form, its height reckoned, once more from the same zero, then measured', async () => {
  const type = async (label: string, text: string) => {
    await page.getByLabel(label, { exact: true }).fill(text);
    await page.getByLabel(label, { exact: true }).press('Enter');
  };
  const run = async (): Promise<string[]> => {
    await release(page);
    await press(PROGRAM.goToTheMachine);
    const asked = await setUp(page);
    await press(SETUP.goToTheRun);
    await startCutting(page);
    await finished(page);
    await page.goto('/machines');
    await press(/^Simulated router .*linked/);
    return asked;
  };
  await page.goto('/machines');
  await press(/^Simulated router .*linked/);
  await page.getByText(MACHINES.skimIt, { exact: true }).click();
  await type('Width', '120');
  await type('Front to back', '80');
  expect(await axe(page)).toEqual([]);
  await press(MACHINES.makeTheJobThatSkims);
  await page.waitForURL(/job\/.*stage=proof/);
  const id = /job\/([^?]+)/.exec(page.url())![1];
  const first = await run();
  expect(first.join()).toContain('Set Z');
  expect(first.join()).toContain('The bed is bare');
  await expect(page.getByText('17.6 mm thick, reckoned from the last skim.')).toBeVisible();
  await press(MACHINES.skimOnceMore);
  const second = await run();
  expect(second.join()).not.toContain('Set Z');
  expect(second.join()).not.toContain('Set X and Y');
  await expect(page.getByText('17.4 mm thick, reckoned from the last skim.')).toBeVisible();
  await type('Height after the skim', '17.42');
  await press(MACHINES.recordTheSkim);
  await expect(page.getByText('17.42 mm thick.')).toBeVisible();
  await press('Clean collets and nuts: done');
  await expect(page.getByRole('listitem').filter({ hasText: 'Clean collets and nuts' })).toContainText('done ');
  expect(await axe(page)).toEqual([]);
  await page.request.delete(`/api/jobs/${id}`, { headers: { origin: new URL(page.url()).origin } });
});

test('nothing went wrong unseen', () => {
  expect(faults).toEqual([]);
});
