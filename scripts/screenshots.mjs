// npm run screenshots: one picture of each main view, made from the demo data on a stack of its own.
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { install } from './install.mjs';

install({ browser: true });
const { root } = await import('./bundle.mjs');
const { startStack } = await import('./stack.mjs');
const { chromium } = await import('@playwright/test');
const out = join(root, 'docs/screenshots');
const home = mkdtempSync(join(tmpdir(), 'kerbe-shots-'));
chmodSync(home, 0o755);
const stack = await startStack({ home, rate: 12, say: (text) => console.log(text) });
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const shoot = async (name, wait = 400) => {
    await page.waitForTimeout(wait);
    await page.screenshot({ path: join(out, `${name}.png`) });
    console.log(`${name}.png`);
  };
  const stage = (name) =>
    page
      .getByRole('navigation', { name: 'Stages of the job' })
      .getByRole('button', { name: new RegExp(`^${name}`) })
      .click();
  const press = (name) => page.getByRole('button', { name }).click({ timeout: 60_000 });
  const planned = () =>
    page.waitForFunction(() => document.querySelector('footer')?.innerText.includes('deepest') && !document.body.innerText.includes('planning…'));
  const open = async (name) => {
    await page.goto(stack.url);
    await page.getByRole('link', { name }).click();
    await planned();
  };
  await page.goto(stack.url);
  await shoot('sign-in');
  await press('Come in as the owner');
  // A saved plan gives each job its picture on the wall: a small change and back does it.
  for (const name of [/Reed Gate/, /Heron Walk/]) {
    await open(name);
    for (const _ of [0, 1]) {
      await page.getByRole('button', { name: /^mm \| in/ }).click();
      await planned();
      await page.locator('[data-save=saved]').waitFor();
    }
  }
  await shoot('artwork');
  await stage('Board');
  await shoot('board');
  await stage('Cuts');
  await shoot('cuts');
  await stage('Proof');
  await shoot('proof', 2500);
  await page.getByRole('button', { name: 'section' }).first().click();
  await shoot('section');
  await stage('Program');
  await press('Release for cutting');
  await page.getByText('Released', { exact: true }).waitFor();
  await page.getByRole('button', { name: 'plan', exact: true }).click();
  await shoot('program');
  await press('Go to the machine');
  await press('Home the machine');
  await press('Lay it on the simulated bed');
  await press('It does not move when I push it');
  await press('Fit it on the simulated machine');
  await press('It is tight and not bottomed');
  await press('Measure it');
  await press('Look for me (simulated machine)');
  await shoot('set-up', 800);
  await press('X and Y are zero here');
  await press('Plate under the bit, clip on the bit (simulated)');
  await page.waitForTimeout(500);
  await press('Probe the plate');
  await press('Plate and clip are off (simulated)');
  await press('Go round the job');
  await press('Go to the run');
  await page.getByLabel('I am at the machine and it is clear').check();
  await press('Start cutting');
  await page.waitForFunction(() => /line (\d+) of/.test(document.body.innerText) && Number(document.body.innerText.match(/line (\d+) of/)[1]) > 2200, null, {
    timeout: 60_000,
  });
  await shoot('run', 0);
  await page.getByText('Change the bit', { exact: true }).waitFor({ timeout: 60_000 });
  await shoot('bit-change', 1200);
  await press('Fit it on the simulated machine');
  await press('Measure the new bit');
  await page.getByLabel('It is tight, tools are away, hands are off').check({ timeout: 30_000 });
  await press('Go on cutting');
  await page.getByText('Finished', { exact: true }).waitFor({ timeout: 120_000 });
  await press('See the record');
  await page.getByRole('button', { name: /finished/ }).click();
  await page.getByLabel('Note').fill('Sharp and clean. Cedar likes the plunge at 1200.');
  await page.getByLabel('Note').blur();
  await shoot('record', 900);
  await page.goto(`${stack.url}/logbook`);
  await shoot('logbook');
  await page.goto(`${stack.url}/people`);
  await shoot('people');
  await page.goto(stack.url);
  await shoot('shop', 900);
  await page.getByRole('button', { name: 'Dark screen' }).click();
  await page.getByRole('link', { name: /Reed Gate/ }).click();
  await planned();
  await stage('Proof');
  await shoot('proof-dark', 2500);
} finally {
  await browser.close();
  await stack.stop();
  rmSync(home, { recursive: true, force: true });
}
