/** The whole way, as a newcomer goes it: from "New sign" to the entry in the logbook. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { axe, control, newSign, pace, planned, saved, stage, underWay } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';
import { COMMON } from '../src/lib/labels/common';
import { JOB } from '../src/lib/labels/job';
import { PROGRAM } from '../src/lib/labels/program';
import { RECORD } from '../src/lib/labels/record';
import { RUN } from '../src/lib/labels/run';
import { SETUP } from '../src/lib/labels/setup';
import { SHOP } from '../src/lib/labels/shop';

test.describe.configure({ mode: 'serial' });
let page: Page;
const faults: string[] = [];

test.beforeAll(async ({ browser }) => {
  // A newcomer's machine: nothing was set up at it, and nothing of it is warm.
  await control('fresh/simulated-router');
  page = await browser.newPage();
  page.on('pageerror', (error) => faults.push(error.stack ?? error.message));
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of (409|422|503)/.test(message.text())) faults.push(message.text());
  });
});

test('a stranger is asked to sign in; the owner comes in with one press', async () => {
  await page.goto('/');
  await expect(page).toHaveURL(/sign-in/);
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: 'Open the demo as owner' }).click();
  await expect(page.getByRole('heading', { name: 'Saltgrass Sign Shed' })).toBeVisible();
  expect(await axe(page)).toEqual([]);
});

test('a new sign: words typed, drawn, planned, saved', async () => {
  await newSign(page);
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('Fern');
  await page.getByLabel(ARTWORK.capitalHeight).fill('1 1/4"');
  await page.getByLabel(ARTWORK.capitalHeight).press('Enter');
  await expect(page.getByLabel(ARTWORK.capitalHeight)).toHaveValue('31.75');
  // By its letters: the second press of an arrow is another try of the same step.
  await page.getByRole('button', { name: /^Font/ }).click();
  await page.getByLabel(ARTWORK.findAFont).fill('playfair');
  await page
    .getByRole('option', { name: /Playfair/ })
    .getByRole('button')
    .first()
    .click();
  await page.getByRole('button', { name: 'Take Playfair Display Bold' }).click();
  await planned(page);
  await saved(page);
  expect(await axe(page)).toEqual([]);
});

test('a slip in a length is said at the field, and changes nothing', async () => {
  const field = page.getByLabel(ARTWORK.capitalHeight);
  await field.fill('wide');
  await field.press('Enter');
  await expect(page.getByText('“wide” is not a length')).toBeVisible();
  await field.press('Escape');
  await expect(field).toHaveValue('31.75');
});

test('undo and redo, by keyboard, each a named step', async () => {
  await page.getByRole('button', { name: ARTWORK.addText }).click();
  await expect(page.getByRole('button', { name: 'Undo: Add text' })).toBeEnabled();
  await page.locator('.plan').focus();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Redo: Add text' })).toBeEnabled();
  await page.keyboard.press('Control+Shift+z');
  await page.keyboard.press('Control+z');
  await planned(page);
  await saved(page);
});

test('history: an earlier version is looked at, named and gone back to, and Undo takes that back', async () => {
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('HERON WALK LATER');
  await saved(page);
  await page.locator('[data-save]').click();
  const sheet = page.getByRole('dialog', { name: /^History of/ });
  const versions = sheet.getByRole('list', { name: JOB.savedVersions }).getByRole('listitem');
  await expect(versions.first()).toBeVisible();
  await versions.nth(1).getByRole('button').click();
  await sheet.getByLabel(JOB.nameOfThisVersion).fill('as ordered');
  await sheet.getByLabel(JOB.nameOfThisVersion).press('Enter');
  await expect(versions.nth(1)).toContainText('as ordered');
  await sheet.getByLabel(JOB.onlyVersionsWithAName).check();
  await expect(versions).toHaveCount(1);
  await sheet.getByRole('button', { name: /^Go back to revision/ }).click();
  await expect(sheet).toHaveCount(0);
  await expect(page.getByLabel(ARTWORK.whatTheSignSays)).not.toHaveValue('HERON WALK LATER');
  await page.getByRole('button', { name: /^Undo: Back to “as ordered”/ }).click();
  await expect(page.getByLabel(ARTWORK.whatTheSignSays)).toHaveValue('HERON WALK LATER');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await planned(page);
  await saved(page);
});

test('nothing is lost on reload', async () => {
  await page.reload();
  await expect(page.getByLabel(ARTWORK.whatTheSignSays)).toHaveValue('Fern');
  await planned(page);
});

test('cuts show their figures; a floor is asked for and taken back', async () => {
  await stage(page, 'Cuts');
  await expect(page.getByText('Widest stroke')).toBeVisible();
  const floor = page.getByRole('textbox', { name: 'Maximum depth (flat floor)' });
  await floor.fill('2');
  await floor.press('Enter');
  await planned(page);
  await expect(page.getByText('Ridge on the floor')).toBeVisible();
  await floor.fill('');
  await floor.press('Enter');
  await planned(page);
  expect(await axe(page)).toEqual([]);
});

test('the proof shows a carved board that is not blank, and a section with figures', async () => {
  await stage(page, 'Proof');
  await expect(page.locator('canvas[data-drawn=true]')).toBeVisible();
  // What a worker has drawn reaches the screen a little later.
  const colours = () =>
    page.evaluate(() => {
      const source = document.querySelector<HTMLCanvasElement>('canvas[data-drawn=true]')!;
      const canvas = document.createElement('canvas');
      canvas.width = 120;
      canvas.height = 80;
      const context = canvas.getContext('2d')!;
      context.drawImage(source, 0, 0, 120, 80);
      const { data } = context.getImageData(0, 0, 120, 80);
      const seen = new Set<number>();
      for (let i = 0; i < data.length; i += 4) seen.add((data[i] >> 4) * 256 + (data[i + 1] >> 4) * 16 + (data[i + 2] >> 4));
      return seen.size;
    });
  await expect.poll(colours, { timeout: 60_000 }).toBeGreaterThan(12);
  await expect(page.getByText('No problems found.')).toBeVisible();
  await page.getByLabel(JOB.viewOfTheBoard).getByText(JOB.section, { exact: true }).click();
  await expect(page.locator('svg[aria-label^="Section through the board: groove"]')).toBeVisible();
  expect(await axe(page)).toEqual([]);
});

test('a finding that forbids cutting stands in the way of a release', async () => {
  await stage(page, 'Cuts');
  await page.getByRole('button', { name: /Cut out the sign/ }).click();
  await page.getByRole('spinbutton', { name: 'Tabs' }).fill('0');
  await page.getByRole('spinbutton', { name: 'Tabs' }).press('Tab');
  await planned(page);
  await expect(page.getByText('Forbids cutting: The part is cut free and nothing holds it.')).toBeVisible();
  await stage(page, 'Program');
  await expect(page.getByRole('button', { name: PROGRAM.releaseForCutting })).toBeDisabled();
  await page.locator('header').getByRole('button', { name: /^Undo/ }).click();
  await planned(page);
});

test('the program is released by the server and is the one the browser showed', async () => {
  await stage(page, 'Program');
  const written = await page.locator('.cm-content').innerText();
  expect(written).toContain('(Job: New carved sign)');
  await page.getByRole('button', { name: PROGRAM.releaseForCutting }).click();
  await expect(page.getByText(SHOP.released, { exact: true })).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.locator('a.file').first().click();
  const text = readFileSync(await (await download).path(), 'utf8');
  expect(text).toContain('M30');
  expect(text.split('\n').slice(0, 12).join('\n')).toBe(written.split('\n').slice(0, 12).join('\n'));
  // Same job, same bytes: browser against server here, the command line against both below.
  await expect(page.locator('[data-same=true]')).toBeVisible();
  const folder = mkdtempSync(join(tmpdir(), 'kerbe-same-'));
  const { doc } = await (await page.request.get(page.url().replace('/job/', '/api/jobs/').split('?')[0])).json();
  writeFileSync(join(folder, 'job.json'), JSON.stringify(doc));
  const date = text.match(/written by Kerbe, ([\d-]+)/)![1];
  execFileSync(process.execPath, [
    join(import.meta.dirname, '../../cli/bin/kerbe.mjs'),
    'plan',
    join(folder, 'job.json'),
    '--out',
    folder,
    '--split',
    'pauses',
    '--date',
    date,
  ]);
  expect(readFileSync(join(folder, 'program-1-v60-12.7+end-6.35.nc'), 'utf8')).toBe(text);
  rmSync(folder, { recursive: true });
  expect(await axe(page)).toEqual([]);
});

test('set up, step by step, each seen or confirmed', async () => {
  await page.getByRole('button', { name: PROGRAM.goToTheMachine }).click();
  // The bed fills the board's place; the choice of views stands over it.
  expect((await page.getByRole('radiogroup', { name: JOB.viewOfTheBoard }).boundingBox())!.y).toBeLessThan(200);
  const press = async (name: string | RegExp) => {
    const button = page.getByRole('button', { name });
    await expect(button).toBeEnabled({ timeout: 90_000 });
    await button.click();
  };
  // As it is in the morning: switched on, and nobody knows where it stands.
  await page.request.post('/api/machines/simulated-router/command', {
    data: { do: 'bench', change: { fault: { kind: 'reset' }, dust: false, pinsUp: false, plate: null, probeClip: false } },
    headers: { 'idempotency-key': crypto.randomUUID(), origin: new URL(page.url()).origin },
  });
  await press(SETUP.homeTheMachine);
  await press('Lay it on the simulated bed');
  await press(/^Confirm$/);
  await press(COMMON.fitItOnTheSimulated);
  await press(SETUP.itIsTightAndNot);
  await press(SETUP.measureIt);
  await press(SETUP.warmItUp);
  await press(SETUP.doItForMeSimulated);
  await page.waitForTimeout(400);
  expect(await axe(page)).toEqual([]);
  await press(SETUP.xAndYAreZero);
  await press(SETUP.plateUnderTheBitClip);
  await page.waitForTimeout(400);
  await press(SETUP.probeThePlate);
  // What is seen by itself is not asked for: plate and clip, then the dust extraction.
  await press(SETUP.doItOnTheSimulatedMachine);
  await press(SETUP.goAroundTheJob);
  await press(SETUP.doItOnTheSimulatedMachine);
  await press(/^Confirm$/);
  expect(await axe(page)).toEqual([]);
  await press(SETUP.goToTheRun);
});

test('run: started by a person at the machine, held, resumed', async () => {
  await pace(page, 2);
  const start = page.getByRole('button', { name: RUN.startCutting });
  await expect(start).toBeDisabled();
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  expect(await axe(page)).toEqual([]);
  await start.click();
  await expect(page.getByText('Cutting', { exact: true })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByText('Held', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: RUN.resume }).click();
  await expect(page.getByText('Cutting', { exact: true })).toBeVisible();
});

test('stopped, it goes on from a letter by its name; what it does to get there is shown before', async () => {
  await page.getByRole('button', { name: COMMON.stop, exact: true }).click();
  await expect(page.getByText('Stopped', { exact: true })).toBeVisible();
  await pace(page, 25);
  const goOn = page.getByRole('button', { name: RUN.goOnFromWhereIt });
  await expect(goOn).toBeDisabled();
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  await goOn.click();
  const sheet = page.getByRole('dialog');
  await expect(sheet).toContainText(/Line \d+ was finished/);
  const letters = sheet.getByLabel(RUN.beginWith, { exact: true });
  const said = await letters.locator('option').allInnerTexts();
  for (const letter of 'Fern') expect(said.filter((text) => text.startsWith(`letter ${letter} · `)).length).toBeGreaterThan(0);
  expect(said.some((text) => text.startsWith('Sign outline · pass 1'))).toBe(true);
  const first = said[0];
  await letters.selectOption({ index: 0 });
  await expect(sheet.locator('b')).toHaveText(first);
  // Up, the spindle to speed, across, down: the safe order, as it will be sent.
  const entry = await sheet.getByLabel(RUN.howItGoesIn).innerText();
  const order = ['G53 G0 Z0', ' M3', 'G4 P', '\nG0 X', '\nG0 Z', '\nG1 Z'].map((word) => entry.indexOf(word));
  expect(order.every((at, i) => at >= 0 && (i === 0 || at > order[i - 1]))).toBe(true);
  expect(await axe(page)).toEqual([]);
  await sheet.getByRole('button', { name: /^Go on from line \d+$/ }).click();
  await expect(underWay(page).first()).toBeVisible();
});

test('run: bit changed and measured, finished', async () => {
  await expect(page.getByText('Change the bit', { exact: true })).toBeVisible({ timeout: 180_000 });
  const fit = page.getByRole('button', { name: COMMON.fitItOnTheSimulated });
  await expect(fit).toBeEnabled({ timeout: 60_000 });
  await fit.click();
  const measure = page.getByRole('button', { name: RUN.measureTheNewBit });
  await expect(measure).toBeDisabled();
  await page.getByLabel(RUN.itIsTightToolsAre).check({ timeout: 60_000 });
  await measure.click();
  await page.getByRole('button', { name: RUN.goOnCutting }).click();
  await expect(page.getByText('Finished', { exact: true })).toBeVisible({ timeout: 90_000 });
});

test('the record and the logbook have it', async () => {
  await page.getByRole('button', { name: RUN.seeTheRecord }).click();
  await expect(page.getByRole('button', { name: /finished/ })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: /finished/ }).click();
  await expect(
    page
      .getByRole('complementary')
      .getByText(/bit change/)
      .first(),
  ).toBeVisible();
  // Every event once: none is written twice, and none is left out for it.
  const events = await page.getByRole('complementary').getByRole('listitem').allInnerTexts();
  expect(new Set(events).size).toBe(events.length);
  expect(events.filter((text) => /started$/.test(text))).toHaveLength(1);
  // Two runs: the one that was stopped, and the one that went on from it.
  await expect(page.getByRole('button', { name: /^stopped/ })).toBeVisible();
  await page.getByLabel(COMMON.note).first().fill('Clean edges.');
  await page.getByLabel(COMMON.note).first().blur();
  await page.waitForTimeout(300);
  expect(await axe(page)).toEqual([]);
  // The same again for somebody else: as it was then, or as one would cut it today.
  await page.getByRole('button', { name: RECORD.withTodaysFigures }).click();
  await page.waitForURL(/stage=artwork/);
  await planned(page);
  await expect(page.locator('footer')).toContainText('no problems found');
  const again = /job\/([^?]+)/.exec(page.url())![1];
  expect(await page.evaluate(async (id) => (await (await fetch(`/api/jobs/${id}`)).json()).revision, again)).toBe(2);
  await page.request.delete(`/api/jobs/${again}`, { headers: { origin: new URL(page.url()).origin } });
  await page.goto('/logbook');
  const row = page.getByRole('row', { name: /New carved sign .*owner finished/ });
  await expect(row).toContainText('finished');
  await expect(row).toContainText('Clean edges.');
  expect(await axe(page)).toEqual([]);
  // Sorted by a head of the table, by key; found by day and result; what it adds up to.
  await page.getByRole('button', { name: RECORD.taken }).press('Enter');
  await expect(page).toHaveURL(/by=took/);
  const took = page.getByRole('columnheader', { name: RECORD.taken });
  await expect(took).toHaveAttribute('aria-sort', /ascending|descending/);
  const turned = await took.getAttribute('aria-sort');
  await page.getByRole('button', { name: RECORD.taken }).press('Enter');
  await expect(took).not.toHaveAttribute('aria-sort', turned!);
  await page.getByLabel(RECORD.howItEnded).selectOption('stopped');
  await page.getByRole('button', { name: COMMON.find }).click();
  await expect(page.getByRole('row', { name: /finished/ })).toHaveCount(0);
  await expect(page.getByRole('row', { name: /stopped/ }).first()).toBeVisible();
  await page.getByRole('link', { name: COMMON.showAll }).click();
  await page.getByRole('radio', { name: RECORD.whatTheyAddUpTo }).click({ force: true });
  await expect(page.getByRole('heading', { name: RECORD.howLongDoesEachMachine })).toBeVisible();
  await expect(page.getByRole('img', { name: RECORD.hoursCutByWeekAnd }).locator('svg').first()).toBeVisible();
  expect(await axe(page)).toEqual([]);
});

test('palette, inches, dark screen', async () => {
  await page.goto('/');
  await page.getByRole('link', { name: /^Heron Walk, carved/ }).click();
  await planned(page);
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder(COMMON.whatDoYouWantTo).fill('inches');
  await page.keyboard.press('Enter');
  await expect(page.locator('footer')).toContainText('24.016');
  // Feeds go with the lengths, and are typed either way.
  await stage(page, 'Cuts');
  const feed = page.getByLabel(COMMON.feed, { exact: true });
  await expect(feed).toHaveValue('94.5');
  await feed.fill('1500 mm/min');
  await feed.press('Enter');
  await expect(feed).toHaveValue('59.1');
  await page.keyboard.press('Control+z');
  await expect(feed).toHaveValue('94.5');
  await stage(page, 'Artwork');
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: COMMON.darkScreen }).click();
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: COMMON.lightScreen }).click();
  await saved(page);
});

test('the database away: said plainly, kept here, saved when it is back', async () => {
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('HERON WALK EAST');
  await saved(page);
  await control('stop');
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('HERON WALK WEST');
  await expect(page.getByText(/The database does not answer just now/)).toBeVisible({ timeout: 45_000 });
  await control('start');
  await saved(page);
  await page.reload();
  await expect(page.getByLabel(ARTWORK.whatTheSignSays)).toHaveValue('HERON WALK WEST');
});

test('nothing went wrong unseen', () => {
  expect(faults.filter((text) => !/503|Failed to load resource|ERR_/.test(text))).toEqual([]);
});
