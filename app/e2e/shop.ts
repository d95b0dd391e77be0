/** Shared by the browser tests: stages, waiting for plans and saves, and what axe finds. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, type Browser, type Page } from '@playwright/test';
import { ARTWORK } from '../src/lib/labels/artwork';
import { COMMON } from '../src/lib/labels/common';
import { JOB } from '../src/lib/labels/job';
import { PROGRAM } from '../src/lib/labels/program';
import { RUN } from '../src/lib/labels/run';
import { SETUP } from '../src/lib/labels/setup';
import { SHOP } from '../src/lib/labels/shop';

const require = createRequire(import.meta.url);
const axeSource = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');

/** Serious or critical faults that axe finds on the page as it stands. */
export async function axe(page: Page): Promise<string[]> {
  await page.evaluate(axeSource);
  return page.evaluate(async () => {
    // eslint-disable-next-line @typescript-eslint/no-explicit-any
    const result = await (window as any).axe.run(document, { resultTypes: ['violations'] });
    return result.violations
      .filter((v: { impact: string }) => v.impact === 'serious' || v.impact === 'critical')
      .map((v: { id: string; nodes: { html: string }[] }) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`);
  });
}

/** A page the owner has come in on, and what goes wrong on it from now on. */
export async function comeIn(browser: Browser): Promise<{ page: Page; faults: string[] }> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, acceptDownloads: true, reducedMotion: 'reduce' });
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.stack ?? error.message));
  await page.goto('/');
  await page.getByRole('button', { name: 'Open the demo as owner' }).click();
  return { page, faults };
}

export const stage = (page: Page, name: string) =>
  page
    .getByRole('navigation', { name: JOB.stagesOfTheJob })
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();

export async function planned(page: Page) {
  await expect(page.getByText('planning…')).toHaveCount(0, { timeout: 180_000 });
  await expect(page.locator('footer')).toContainText(/deepest|parts?,|rows?/, { timeout: 180_000 });
}

/** Opens a job of the shop at one of its stages. */
export async function openJob(page: Page, name: RegExp, at: string) {
  await page.goto('/');
  await page.getByRole('link', { name }).first().click();
  await planned(page);
  await stage(page, at);
}

export const saved = (page: Page) => expect(page.locator('[data-save=saved]')).toBeVisible();

/** Presses a button once it can be pressed. */
export async function press(page: Page, name: string | RegExp) {
  const button = page.getByRole('button', { name });
  await expect(button).toBeEnabled({ timeout: 90_000 });
  await button.click();
}

/** Makes a job by the door any program may use; gives its id. */
export function makeJob(page: Page, doc: unknown): Promise<string> {
  return page.evaluate(async (body) => {
    const answer = await fetch('/api/jobs', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
    return ((await answer.json()) as { id: string }).id;
  }, doc);
}

/** Releases the job that is open, every warning ticked. */
export async function release(page: Page) {
  await planned(page);
  await stage(page, 'Program');
  await expect(page.getByRole('button', { name: PROGRAM.releaseForCutting })).toBeVisible();
  const ticks = page.getByRole('complementary').getByRole('checkbox');
  for (let i = 0; i < (await ticks.count()); i++) await ticks.nth(i).check();
  await press(page, PROGRAM.releaseForCutting);
  await expect(page.getByText(SHOP.released, { exact: true })).toBeVisible({ timeout: 90_000 });
}

/** What the set-up card shows, seen in one look: whether all is done, the open step, and what of it can be pressed now. */
const setUpShows = (page: Page) =>
  page.getByRole('complementary').evaluate((card: HTMLElement) => {
    const step = card.querySelector<HTMLElement>('li[aria-current=step]');
    const ready = (button: HTMLButtonElement | null | undefined) => !!button && !button.disabled;
    return {
      done: [...card.querySelectorAll('button')].some(({ textContent }) => textContent?.trim() === 'Go to the run'),
      title: step?.querySelectorAll('button[aria-expanded] span')[1]?.textContent?.trim() ?? null,
      look: ready([...(step?.querySelectorAll('button') ?? [])].find(({ textContent }) => textContent?.trim() === 'Do it for me (simulated machine)')),
      mark: ready([...(step?.querySelectorAll('button') ?? [])].find(({ textContent }) => /^The \w+ is over the /.test(textContent?.trim() ?? ''))),
      next: ready(step?.querySelector<HTMLButtonElement>('button.preset-filled-brand')),
      text: step?.innerText ?? '',
    };
  });

/** Does at the machine whatever the set-up card asks for next, by its own buttons, until it says that the program may start. Gives the steps that were asked for. */
export async function setUp(page: Page): Promise<string[]> {
  const asked: string[] = [];
  let looked = false;
  const step = page.getByRole('complementary').locator('li[aria-current=step]');
  // A step that is done closes while one looks: a press that comes too late is no fault.
  const late = () => undefined;
  for (const end = Date.now() + 120_000; Date.now() < end;) {
    const shown = await setUpShows(page);
    if (shown.done) return asked;
    if (shown.title && asked.at(-1) !== shown.title) {
      asked.push(shown.title);
      looked = false;
    }
    if (shown.look && !looked) {
      looked = true;
      await step.getByRole('button', { name: SETUP.doItForMeSimulated }).click({ timeout: 1000 }).catch(late);
    } else if (shown.mark && looked) {
      // One mark after the other.
      looked = false;
      await step
        .getByRole('button', { name: /^The \w+ is over the / })
        .click({ timeout: 1000 })
        .catch(late);
    } else if (shown.next) await step.locator('button.preset-filled-brand').first().click({ timeout: 1000 }).catch(late);
    // Until it shows something else, or what was pressed had time enough.
    for (const soon = Date.now() + 500; Date.now() < soon && (await setUpShows(page)).text === shown.text;) await page.waitForTimeout(40);
  }
  throw new Error(`The set-up did not come to an end: ${asked.join(' · ')}. It shows: ${await page.getByRole('complementary').innerText()}`);
}

/** At a change of bit: fits what is asked for - with the emergency stop pressed for it, as is usual, when asked - measures it, goes on. */
export async function changeBit(page: Page, pressed = false) {
  await expect(page.getByText('Change the bit', { exact: true })).toBeVisible({ timeout: 180_000 });
  const fit = page.getByRole('button', { name: COMMON.fitItOnTheSimulated });
  await expect(fit).toBeEnabled({ timeout: 90_000 });
  if (pressed) {
    const headers = { 'idempotency-key': crypto.randomUUID(), origin: new URL(page.url()).origin };
    await page.request.post('/api/machines/simulated-router/command', { data: { do: 'bench', change: { estop: true } }, headers });
  }
  await fit.click();
  if (pressed) {
    await press(page, RUN.releaseItSimulated);
    await press(page, COMMON.clearTheAlarm);
  }
  await page.getByLabel(RUN.itIsTightToolsAre).check({ timeout: 60_000 });
  await press(page, RUN.measureTheNewBit);
  await press(page, RUN.goOnCutting);
  await expect(underWay(page).first()).toBeVisible();
}

/** How much faster than the clock the simulated machine runs: slowly where something is to be pressed in the middle of a cut. */
export async function pace(page: Page, rate: number) {
  const headers = { 'idempotency-key': crypto.randomUUID(), origin: new URL(page.url()).origin };
  await page.request.post('/api/machines/simulated-router/command', { data: { do: 'bench', change: { rate } }, headers });
}

export async function startCutting(page: Page, button: string | RegExp = 'Start cutting') {
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  await press(page, button);
  await expect(underWay(page).first()).toBeVisible({ timeout: 60_000 });
}

/** Cutting; or, as the simulated machine is fast, what comes after. */
export const underWay = (page: Page) => page.getByText(/^(Cutting|Finished)$/).or(page.getByText('Change the bit', { exact: true }));

export const finished = (page: Page) => expect(page.getByText('Finished', { exact: true })).toBeVisible({ timeout: 120_000 });

/** Takes a process or the database of the stack away, and brings it back. */
export const control = (what: 'stop' | 'start' | `kill/${string}` | `again/${string}` | `fresh/${string}`) =>
  fetch(`${process.env.KERBE_DB_CONTROL}/${what}`, { method: 'POST' });

/** From a document to the Run screen, everything set up. Gives the job's id. */
export async function toTheRun(page: Page, doc: unknown): Promise<string> {
  const id = await makeJob(page, doc);
  await page.goto(`/job/${id}`);
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  await setUp(page);
  await press(page, SETUP.goToTheRun);
  return id;
}

/** Begins a carved sign on a board of 400 x 150 x 18 mm pine, whatever the last boards were. */
export async function newSign(page: Page) {
  await page.getByRole('button', { name: SHOP.newSign }).click();
  const sheet = page.getByRole('dialog', { name: SHOP.newSign });
  await sheet.getByText('mm', { exact: true }).first().click();
  for (const [label, mm] of [
    ['Width, left to right', '400'],
    ['Height, front to back', '150'],
    ['Thickness', '18'],
  ])
    await sheet.getByLabel(label).fill(`${mm} mm`);
  await sheet.getByLabel(COMMON.material).selectOption('pine');
  await sheet.getByRole('button', { name: SHOP.makeIt }).click();
}

/** Where a place of the board, mm from its front left corner, lies on the screen while all of it is shown. */
export async function onScreen(page: Page, x: number, y: number): Promise<[number, number]> {
  const box = (await page.locator('.plan').boundingBox())!;
  const size = await page.locator('footer .figure').first().innerText();
  const [width, height] = size.split('×').map((part) => parseFloat(part));
  const scale = Math.min((box.width - 92) / width, (box.height - 132) / height);
  return [box.x + box.width / 2 + (x - width / 2) * scale, box.y + box.height / 2 + 20 - (y - height / 2) * scale];
}

/** Lets a file go over the page. */
export async function dropFile(page: Page, name: string, content: string, type: string) {
  const transfer = await page.evaluateHandle(
    ([file, text, mime]) => {
      const data = new DataTransfer();
      data.items.add(new File([text], file, { type: mime }));
      return data;
    },
    [name, content, type],
  );
  await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
}

/** Adds a shape from the menu of the artwork card. */
export async function addShape(page: Page, name: string) {
  await page.getByRole('button', { name: ARTWORK.addAShape }).click();
  await page.getByRole('menuitem', { name, exact: true }).click();
}
