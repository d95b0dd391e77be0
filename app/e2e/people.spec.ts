/** Accounts, one's own account, and jobs put away, in the browser. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, makeJob, press } from './shop';
import { COMMON } from '../src/lib/labels/common';
import { PEOPLE } from '../src/lib/labels/people';
import { SHOP } from '../src/lib/labels/shop';

let page: Page;
let faults: string[];
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => void ({ page, faults } = await comeIn(browser)));
test.afterAll(() => page.close());
const rowOf = (name: string) => page.getByRole('row', { name: new RegExp(`^${name}`) });

test('an owner makes an account, gives it another role and password, and takes it out again', async () => {
  await page.getByRole('link', { name: COMMON.people }).click();
  await page.getByLabel(COMMON.name).fill('Night Heron');
  await page.getByLabel(PEOPLE.eMail).fill('heron@saltgrass.example');
  await page.getByLabel(PEOPLE.firstPassword).fill('password12345');
  await press(page, PEOPLE.makeTheAccount);
  await expect(page.getByRole('alert')).toContainText('beside the fields');
  await expect(page.getByLabel(PEOPLE.firstPassword)).toHaveAccessibleDescription(/first that are tried/);
  // What was typed is still there; a password never comes back.
  await expect(page.getByLabel(COMMON.name)).toHaveValue('Night Heron');
  await expect(page.getByLabel(PEOPLE.firstPassword)).toHaveValue('');
  await page.getByLabel(PEOPLE.firstPassword).fill('willow kettle nine');
  await press(page, PEOPLE.makeTheAccount);
  await expect(page.getByRole('status')).toContainText('Night Heron can sign in now');
  await rowOf('Night Heron').getByRole('combobox').selectOption('watcher');
  await expect(page.getByRole('status')).toContainText('What Night Heron does was changed');
  await rowOf('Night Heron').getByRole('button', { name: PEOPLE.newPassword }).click();
  await page.getByRole('dialog').getByLabel(PEOPLE.password).fill('another kettle ten');
  await page.getByRole('dialog').getByRole('button', { name: PEOPLE.setThePassword }).click();
  await expect(page.getByRole('status')).toContainText('Night Heron has another password');
  expect(await axe(page)).toEqual([]);
  await rowOf('Night Heron').getByRole('button', { name: PEOPLE.remove }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove Night Heron' }).click();
  await expect(page.getByRole('status')).toContainText('no longer in the shop');
  await expect(rowOf('Night Heron')).toHaveCount(0);
});

test('the only owner stays one, and is told why', async () => {
  await rowOf('owner').getByRole('combobox').selectOption('operator');
  await expect(page.getByRole('alert')).toContainText('no other owner');
});

test('one’s own account: where one is signed in, and out of it elsewhere', async ({ browser }) => {
  const other = await comeIn(browser);
  await page.getByRole('link', { name: 'owner', exact: true }).click();
  await expect(page.getByText('(this one)')).toHaveCount(1);
  expect(await axe(page)).toEqual([]);
  await press(page, PEOPLE.signOutEverywhereElse);
  await expect(page.getByRole('button', { name: PEOPLE.signOutThere })).toHaveCount(0);
  await other.page.goto('/bits');
  await expect(other.page.getByRole('button', { name: PEOPLE.signIn })).toBeVisible();
  await other.page.close();
});

test('a job is put away, hung up again, put away and deleted', async () => {
  const board = { width: 100, height: 80, thickness: 12 };
  await makeJob(page, { kerbe: 4, name: 'Old gate', board, items: {}, itemOrder: [], tools: {}, cuts: {}, cutOrder: [] });
  const card = page.getByRole('article', { name: 'Old gate' });
  await page.goto('/');
  await card.getByRole('button', { name: SHOP.archive }).click();
  await expect(card).toHaveCount(0);
  await page.getByRole('link', { name: SHOP.archivedJobs }).click();
  await card.getByRole('button', { name: SHOP.putItBackOnThe }).click();
  await expect(card).toHaveCount(0);
  await page.goto('/');
  await card.getByRole('button', { name: SHOP.archive }).click();
  await expect(card).toHaveCount(0);
  await page.goto('/?away');
  await card.getByRole('button', { name: SHOP.delete }).click();
  await page.getByRole('dialog').getByRole('button', { name: SHOP.deleteIt }).click();
  await expect(card).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('Old gate')).toHaveCount(0);
});

test('nothing went wrong unseen', () => expect(faults).toEqual([]));
