/** The day as a shop has it: a job put on the plan, when it is due, planned and pulled about, who is needed next, the sheet to pull from. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, makeJob } from './shop';
import { COMMON } from '../src/lib/labels/common';
import { DAY } from '../src/lib/labels/day';

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];
let id: string;
const NAME = 'Boathouse plate';

/** When somebody is in: always, here, so that what is planned for today does not depend on when it is tried. */
const open = (hours: object) => page.request.put('/api/day/hours', { data: hours, headers: { origin: new URL(page.url()).origin } });

test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
  expect((await open({ from: '00:00', to: '23:59', days: [0, 1, 2, 3, 4, 5, 6] })).ok()).toBe(true);
  id = await makeJob(page, {
    kerbe: 4,
    name: NAME,
    board: { width: 160, height: 80, thickness: 12, material: 'oak', holdDown: 'tape' },
    items: { box: { kind: 'rectangle', id: 'box', x: 80, y: 40, width: 120, height: 50 } },
    itemOrder: ['box'],
    tools: { e: { kind: 'end', id: 'e', diameter: 3.175, fluteLength: 12 } },
    cuts: { p: { kind: 'pocket', id: 'p', on: ['box'], tool: 'e', depth: 6, depthPerPass: 1, feed: 600 } },
    cutOrder: ['p'],
  });
});
test.afterAll(async () => {
  const { origin } = new URL(page.url());
  await page.request.delete(`/api/jobs/${id}`, { headers: { origin } });
  await page.request.put('/api/day', { data: { order: [], pins: {} }, headers: { origin } });
  await open({});
  expect(faults).toEqual([]);
  await page.close();
});

const board = () => page.getByRole('button', { name: new RegExp(`^${NAME} \\d`) }).first();
const begins = async () =>
  /(\d\d):(\d\d) –/
    .exec(await board().innerText())!
    .slice(1)
    .map(Number);
const details = () => page.locator('details', { has: page.locator('summary', { hasText: NAME }) });

test('a job is put on the plan: when it runs, which bit it takes, and who is needed', async () => {
  await page.getByRole('navigation', { name: COMMON.shop }).getByRole('link', { name: COMMON.day, exact: true }).click();
  await page.getByLabel(DAY.aJobToPutOn).selectOption({ label: NAME });
  await page.getByRole('button', { name: DAY.putItOnThePlan }).click();
  await expect(board()).toBeVisible({ timeout: 60_000 });
  await expect(details()).toContainText('1 to cut');
  await expect(page.getByRole('list', { name: DAY.whenSomebodyIsNeeded })).toContainText(':');
  expect(await axe(page)).toEqual([]);
});

test('due, promised, how many, and what is done to it after: each is kept and moves the plan', async () => {
  await details().locator('summary').click();
  await details().getByLabel(DAY.quantity).fill('2');
  await details().getByLabel(DAY.quantity).press('Enter');
  await expect(page.getByRole('button', { name: new RegExp(`^${NAME} \\(1 of 2\\)`) })).toBeVisible();
  await details().getByLabel(DAY.quantity).fill('1');
  await details().getByLabel(DAY.quantity).press('Enter');
  await details().getByLabel(DAY.promisedTo).fill('The boathouse');
  await details().getByLabel(DAY.promisedTo).press('Enter');
  await expect(details()).toContainText('for The boathouse');
  await details().getByLabel(DAY.due).fill('2020-01-01T12:00');
  await details().getByLabel(DAY.due).press('Tab');
  await expect(details().locator('summary')).toContainText('late');
  await details().getByLabel(DAY.due).fill('2099-01-01T12:00');
  await details().getByLabel(DAY.due).press('Tab');
  await expect(details().locator('summary')).toContainText('ready');
  await details().getByRole('button', { name: DAY.addAStep }).click();
  await expect(details().getByLabel('Step 1')).toHaveValue('Paint');
  await page.reload();
  await expect(details()).toContainText('for The boathouse');
  await expect(details()).toContainText('1 to cut');
});

test('a board is moved by the arrow keys and by the pointer, stays there, and is let go', async () => {
  await page.getByRole('button', { name: DAY.planItForMe }).click();
  const [hour, minute] = await begins();
  await board().focus();
  await page.keyboard.press('ArrowRight');
  await expect(async () => expect((await begins()).join(':')).not.toBe(`${hour}:${minute}`)).toPass();
  await expect(board()).toContainText('put here by hand');
  const moved = await begins();
  const box = (await board().boundingBox())!;
  await page.mouse.move(box.x + 10, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + 90, box.y + 12, { steps: 6 });
  await page.mouse.up();
  await expect(async () => {
    const [h, m] = await begins();
    expect(60 * h + m).toBeGreaterThan(60 * moved[0] + moved[1] + 5);
  }).toPass();
  await board().focus();
  await page.keyboard.press('Delete');
  await expect(board()).not.toContainText('put here by hand');
});

test('the sheet to pull from has boards and bits; who is needed next stands on other pages too', async () => {
  await page.getByRole('link', { name: DAY.pullSheetMore }).click();
  await expect(page.getByRole('heading', { name: /^Pull sheet/ })).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await page.getByRole('link', { name: DAY.backToTheDay }).click();
  await page.goto('/bits');
  await expect(page.getByRole('link', { name: /put the board on|change the bit|take the board off/ })).toBeVisible();
  await page.goto(`/job/${id}`);
  await expect(page.getByRole('link', { name: /put the board on|change the bit|take the board off/ })).toBeVisible();
});

test('taken off the plan it is gone, and can be put on it again', async () => {
  await page.goto('/day');
  await details().locator('summary').click();
  await details().getByRole('button', { name: DAY.removeItFromThePlan }).click();
  await expect(board()).toHaveCount(0);
  await expect(page.getByLabel(DAY.aJobToPutOn).locator('option', { hasText: NAME })).toHaveCount(1);
});
