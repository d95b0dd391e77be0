/** Accounts, one's own account, and jobs put away, in the browser. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, makeJob, press } from './shop';

let page: Page;
let faults: string[];
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => void ({ page, faults } = await comeIn(browser)));
test.afterAll(() => page.close());
const rowOf = (name: string) => page.getByRole('row', { name: new RegExp(`^${name}`) });

test('an owner makes an account, gives it another role and password, and takes it out again', async () => {
  await page.getByRole('link', { name: 'People' }).click();
  await page.getByLabel('Name').fill('Night Heron');
  await page.getByLabel('E-mail').fill('heron@saltgrass.example');
  await page.getByLabel('Password to begin with').fill('password12345');
  await press(page, 'Make the account');
  await expect(page.getByRole('alert')).toContainText('beside the fields');
  await expect(page.getByLabel('Password to begin with')).toHaveAccessibleDescription(/first that are tried/);
  // What was typed is still there; a password never comes back.
  await expect(page.getByLabel('Name')).toHaveValue('Night Heron');
  await expect(page.getByLabel('Password to begin with')).toHaveValue('');
  await page.getByLabel('Password to begin with').fill('willow kettle nine');
  await press(page, 'Make the account');
  await expect(page.getByRole('status')).toContainText('Night Heron can sign in now');
  await rowOf('Night Heron').getByRole('combobox').selectOption('watcher');
  await expect(page.getByRole('status')).toContainText('What Night Heron does was changed');
  await rowOf('Night Heron').getByRole('button', { name: 'New password…' }).click();
  await page.getByRole('dialog').getByLabel('Password').fill('another kettle ten');
  await page.getByRole('dialog').getByRole('button', { name: 'Set the password' }).click();
  await expect(page.getByRole('status')).toContainText('Night Heron has another password');
  expect(await axe(page)).toEqual([]);
  await rowOf('Night Heron').getByRole('button', { name: 'Remove…' }).click();
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
  await press(page, 'Sign out everywhere else');
  await expect(page.getByRole('button', { name: 'Sign out there' })).toHaveCount(0);
  await other.page.goto('/bits');
  await expect(other.page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await other.page.close();
});

test('a job is put away, hung up again, put away and deleted', async () => {
  const board = { width: 100, height: 80, thickness: 12 };
  await makeJob(page, { kerbe: 4, name: 'Old gate', board, items: {}, itemOrder: [], tools: {}, cuts: {}, cutOrder: [] });
  const card = page.getByRole('article', { name: 'Old gate' });
  await page.goto('/');
  await card.getByRole('button', { name: 'Put away' }).click();
  await expect(card).toHaveCount(0);
  await page.getByRole('link', { name: 'Jobs put away' }).click();
  await card.getByRole('button', { name: 'Hang it up again' }).click();
  await expect(card).toHaveCount(0);
  await page.goto('/');
  await card.getByRole('button', { name: 'Put away' }).click();
  await expect(card).toHaveCount(0);
  await page.goto('/?away');
  await card.getByRole('button', { name: 'Delete…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete it' }).click();
  await expect(card).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('Old gate')).toHaveCount(0);
});

test('nothing went wrong unseen', () => expect(faults).toEqual([]));
