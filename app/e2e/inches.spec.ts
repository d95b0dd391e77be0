/** A shop that works in inches sees inches: every page and every stage is read for a figure in millimetres that is not the quiet other unit. */
import { expect, test, type Page } from '@playwright/test';
import { comeIn, openJob, planned, press, release, saved, setUp, stage } from './shop';
import { BENCH } from '../src/lib/labels/bench';
import { COMMON } from '../src/lib/labels/common';
import { MACHINES } from '../src/lib/labels/machines';
import { PROGRAM } from '../src/lib/labels/program';
import { SETUP } from '../src/lib/labels/setup';
import { SHOP } from '../src/lib/labels/shop';

let page: Page;
let faults: string[];
test.describe.configure({ mode: 'default' });
test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
  await expect(page.getByRole('link', { name: /Heron Walk/ }).first()).toBeVisible();
});
test.afterAll(async () => {
  await setUnits('millimetres');
  await page.close();
});

async function setUnits(label: 'inches' | 'millimetres') {
  await page.goto('/settings');
  await page.getByLabel(COMMON.units).selectOption({ label });
  await press(page, SHOP.saveTheseSettings);
  await expect(page.getByText('Kept.')).toBeVisible();
}

/** The unit of the job that is open; it is put back afterwards, for whoever looks at it next. */
async function inUnit(unit: 'mm' | 'in') {
  await page
    .getByRole('group', { name: COMMON.units })
    .or(page.getByRole('radiogroup', { name: COMMON.units }))
    .getByText(unit, { exact: true })
    .click();
  await saved(page);
}

/** What of the page says millimetres, with everything folded away unfolded; a figure that gives inches beside it may. */
const millimetres = (): Promise<string[]> =>
  page.evaluate(() => {
    for (const folded of document.querySelectorAll('details')) folded.open = true;
    // A program is shown as it is written; and the choice of units names both.
    const quiet = '[data-other-unit], [data-program], [aria-label="Units"], option, script, style';
    const FIGURE = /(?:\d|\bunit )\s?mm\b(?!\s*\([^)]*\bin\))|mm²|mm\/(?:min|s)/;
    const said: string[] = [];
    const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = texts.nextNode(); node; node = texts.nextNode()) {
      const within = node.parentElement!;
      if (within.closest(quiet)) continue;
      // A unit beside its field or its figure is a text of its own.
      const text = node.textContent!.trim();
      if (FIGURE.test(text) || /^mm\b/.test(text))
        said.push(`${within.tagName.toLowerCase()}: ${within.parentElement!.textContent!.trim().replace(/\s+/g, ' ').slice(0, 120)}`);
    }
    for (const element of document.querySelectorAll('[title], [placeholder], [aria-label]'))
      for (const name of ['title', 'placeholder', 'aria-label']) {
        const text = element.getAttribute(name);
        if (text && FIGURE.test(text) && !element.closest(quiet)) said.push(`${name}: ${text}`);
      }
    return [...new Set(said)];
  });

/** All that is found is told, not the first alone. */
async function inches(where: string) {
  await expect
    .poll(millimetres, { timeout: 5_000 })
    .toEqual([])
    .catch(() => undefined);
  expect.soft(await millimetres(), where).toEqual([]);
}

test('the pages of the shop', async () => {
  await setUnits('inches');
  for (const path of ['/', '/day', '/materials', '/bits', '/machines', '/bench', '/logbook', '/sums', '/settings', '/account', '/people']) {
    await page.goto(path);
    await expect(page.getByRole('navigation').first()).toBeVisible();
    await inches(path);
  }
  await page.goto('/day/sheet');
  await expect(page.getByRole('heading', { name: /^Pull sheet/ })).toBeVisible();
  await inches('the pull sheet');
  for (const sum of ['energy', 'overscan', 'time', 'dots', 'weight']) {
    await page.goto(`/sums?sum=${sum}`);
    await inches(`the sum ${sum}`);
  }
  await page.goto('/bits');
  await page.getByRole('main').getByRole('listitem').first().getByRole('button').click();
  await inches('a bit of the crib');
  await page.goto('/bench');
  await page.getByRole('tab', { name: BENCH.handsOnTheMachine }).click();
  await inches('hands on the bench');
  await page.goto('/machines');
  await press(page, /^Simulated router .*linked/);
  await page.getByText(MACHINES.skimIt, { exact: true }).click();
  await inches('a machine and its spoilboard');
  await page.getByLabel(MACHINES.heightAfterTheSkim).fill('1');
  await page.getByLabel(MACHINES.heightAfterTheSkim).press('Enter');
  await press(page, MACHINES.recordTheSkim);
  await expect(page.getByRole('alert')).toContainText(/ in thick|a skim takes off/);
  await inches('what is said against a skim');
});

for (const name of [/Heron Walk/, /Bench plate/, /Reed Gate/])
  test(`every stage of ${name.source}, and each of its cuts`, async () => {
    await openJob(page, name, 'Board');
    await inUnit('in');
    for (const at of ['Board', 'Artwork', 'Cuts', 'Proof', 'Program', 'Record']) {
      await stage(page, at);
      await planned(page);
      await inches(at);
    }
    await stage(page, 'Artwork');
    await page.locator('body').press('Control+a');
    await inches('everything picked');
    await page.locator('body').press('Escape');
    await stage(page, 'Cuts');
    const cuts = page.getByRole('complementary').locator('[aria-expanded]');
    for (let k = 0; k < (await cuts.count()); k++) {
      await cuts.nth(k).click();
      await inches(`cut ${k + 1}`);
    }
    await inUnit('mm');
  });

test('from the set-up to the run', async () => {
  await openJob(page, /Heron Walk/, 'Program');
  await inUnit('in');
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  await inches('set up');
  await setUp(page);
  await inches('all set up');
  await press(page, SETUP.goToTheRun);
  await inches('run');
  await openJob(page, /Heron Walk/, 'Board');
  await inUnit('mm');
  expect(faults).toEqual([]);
});
