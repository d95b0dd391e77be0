/** Without a network: a job that was opened stays open and is changed; what was changed is saved when the network is back, and a clash is shown. */
import { expect, test, type Page } from '@playwright/test';
import { axe, control, makeJob, planned, press, saved, stage } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';
import { COMMON } from '../src/lib/labels/common';
import { PEOPLE } from '../src/lib/labels/people';

test.describe.configure({ mode: 'serial' });
test.use({ serviceWorkers: 'allow' });
let page: Page;
let id: string;
const DOC = {
  kerbe: 4,
  name: 'Ferry steps',
  board: { width: 300, height: 120, thickness: 18 },
  items: { words: { kind: 'text', id: 'words', x: 150, y: 60, text: 'FERRY', face: 'bebas', capHeight: 30 } },
  itemOrder: ['words'],
  tools: { v: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 } },
  cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'art', tool: 'v' } },
  cutOrder: ['carve'],
};
const kept = () => page.getByText('There is no network: this is the job as it was heard last.');
const isKept = (path: string) => page.evaluate(async (name) => (await caches.match(name)) !== undefined, path);

test.beforeAll(async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'allow' });
  page = await context.newPage();
  await page.goto('/');
  await press(page, 'Open the demo as owner');
  await expect(page.getByRole('link', { name: /Heron Walk/ }).first()).toBeVisible();
  id = await makeJob(page, DOC);
});
test.afterAll(async () => {
  await page.request.delete(`/api/jobs/${id}`, { headers: { origin: new URL(page.url()).origin } });
  await page.context().close();
});

test('it can be installed: a manifest with its pictures, and a worker that keeps the program', async () => {
  const manifest = (await (await page.request.get('/manifest.webmanifest')).json()) as { start_url: string; icons: { src: string }[] };
  expect(manifest.start_url).toBe('/');
  for (const { src } of manifest.icons) expect((await page.request.get(src)).ok()).toBe(true);
  await page.evaluate(async () => void (await navigator.serviceWorker.ready));
  await page.goto(`/job/${id}?stage=artwork`);
  await planned(page);
  await expect.poll(() => isKept('/job'), { timeout: 20_000 }).toBe(true);
  await expect.poll(() => isKept(`/api/jobs/${id}`)).toBe(true);
});

test('the network away: the job opens from what is kept, says so, is planned, and what is changed is not lost', async () => {
  await page.getByLabel(ARTWORK.whatTheSignSays).or(page.getByText('FERRY').first()).first().waitFor();
  await control('kill/door');
  await page.reload();
  await expect(kept()).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('heading', { name: 'Ferry steps' })).toBeVisible();
  await planned(page);
  await stage(page, 'Board');
  await page.getByRole('textbox', { name: COMMON.widthLeftToRight }).fill('320 mm');
  await page.getByRole('textbox', { name: COMMON.widthLeftToRight }).press('Enter');
  await expect(page.locator('[data-save=offline]')).toBeVisible({ timeout: 30_000 });
  expect(await axe(page)).toEqual([]);
  // Loaded once more, still without a network: what was changed is there.
  await page.reload();
  await expect(kept()).toBeVisible({ timeout: 30_000 });
  await stage(page, 'Board');
  await expect(page.getByRole('textbox', { name: COMMON.widthLeftToRight })).toHaveValue('320');
  // Jobs that were never opened are not there, and nothing is shown for them.
  await page.goto('/job/none-of-that').catch(() => {});
  await expect(page.getByText('Ferry steps')).toHaveCount(0);
});

test('the network back: what was changed is saved by itself, and the page says what is true again', async () => {
  await page.goto(`/job/${id}?stage=board`).catch(() => {});
  await control('again/door');
  await saved(page);
  await expect(kept()).toHaveCount(0);
  const answer = await page.request.get(`/api/jobs/${id}`);
  expect(((await answer.json()) as { doc: { board: { width: number } } }).doc.board.width).toBe(320);
});

test('somebody else saved it meanwhile: the clash is shown, and nobody is overwritten', async () => {
  await control('kill/door');
  await page.reload();
  await expect(kept()).toBeVisible({ timeout: 30_000 });
  await stage(page, 'Board');
  await page.getByRole('textbox', { name: COMMON.widthLeftToRight }).fill('340 mm');
  await page.getByRole('textbox', { name: COMMON.widthLeftToRight }).press('Enter');
  await expect(page.locator('[data-save=offline]')).toBeVisible({ timeout: 30_000 });
  await control('again/door');
  const origin = new URL(page.url()).origin;
  const now = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { revision: number; doc: { board: object } };
  // Whichever of the two comes first: the other is told.
  const other = await page.request.put(`/api/jobs/${id}`, {
    data: { from: now.revision, label: 'Elsewhere', tab: 'elsewhere', doc: { ...now.doc, board: { ...now.doc.board, width: 360 } } },
    headers: { origin },
  });
  if (other.ok()) await expect(page.getByText('changed elsewhere')).toBeVisible({ timeout: 60_000 });
  else expect(other.status()).toBe(409);
});

test('signed out, nothing of the jobs is left in the browser', async () => {
  await page.goto('/');
  await press(page, COMMON.signOut);
  await expect(page.getByRole('button', { name: PEOPLE.signIn })).toBeVisible();
  await expect.poll(() => isKept(`/api/jobs/${id}`)).toBe(false);
  await press(page, 'Open the demo as owner');
  await expect(page.getByRole('link', { name: /Heron Walk/ }).first()).toBeVisible();
});
