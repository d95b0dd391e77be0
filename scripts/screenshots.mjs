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
  page.setDefaultTimeout(120_000);
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
  const press = (name) => page.getByRole('button', { name }).click({ timeout: 180_000 });
  const planned = () =>
    page.waitForFunction(() => /deepest|part|row/.test(document.querySelector('footer')?.innerText ?? '') && !document.body.innerText.includes('planning…'));
  const open = async (name) => {
    await page.goto(stack.url);
    await page.getByRole('link', { name }).click();
    await planned();
  };
  /** A drawing on its way in, the list of plates, and plates with their order: on the species plates. */
  const bringIn = async () => {
    const heron =
      '<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 120 80"><g fill="none" stroke="#0e6555"><path d="M10 70C12 50 14 40 20 20"/><path d="M14 70C16 52 20 44 28 30"/><path d="M18 70C24 54 26 50 38 40"/></g><path d="M50 60C55 40 70 35 80 20C84 14 92 14 95 18L110 22L96 23C92 30 90 40 84 50C78 58 66 62 50 60Z"/><path d="M62 59h1.4v17h-1.4zM69 59h1.4v17h-1.4z"/></svg>';
    const file = 'input[type=file][hidden]';
    await page.setInputFiles(file, { name: 'wading bird.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(heron) });
    await page.locator('[data-kept=kept]').waitFor();
    await shoot('bring-in', 600);
    await press('Cancel');
    await open(/Species plates/);
    await press('Plates from a list…');
    await page.getByLabel(/^The list/).fill('Name,Latin\nHornbeam,Carpinus betulus\nSmall-leaved lime,Tilia cordata\nYew,Taxus baccata');
    await press('One more line');
    await press('Cancel');
    await page.locator('.plan').focus();
    await page.keyboard.press(']');
    await shoot('plates', 800);
    await open(/Heron Walk/);
  };
  await page.goto(stack.url);
  await press('Open the demo as owner');
  // A saved plan gives each job its picture on the wall: a small change and back does it.
  for (const name of [/Raised map/, /Species plates/, /Reed Gate/, /Heron Walk/]) {
    await open(name);
    for (const unit of ['in', 'mm']) {
      await page.getByLabel('Units').getByText(unit, { exact: true }).click();
      await planned();
      await page.locator('[data-save=saved]').waitFor();
    }
  }
  await page.locator('.plan').click({ position: { x: 360, y: 345 } });
  await shoot('artwork');
  await bringIn();
  await stage('Board');
  await shoot('board');
  await open(/Reed Hide/);
  await stage('Cuts');
  await page.getByRole('button', { name: /^Texture the ground/ }).click();
  await shoot('cuts');
  await open(/Heron Walk/);
  await stage('Proof');
  await page.getByText('on cells of 0.1 mm').waitFor();
  await page.getByText('Where the time goes').click();
  await shoot('proof', 2500);
  await press('Find the right bit…');
  await press('Try them');
  await page.getByRole('button', { name: 'Try them' }).waitFor({ timeout: 180_000 });
  await shoot('bit-finder');
  await page.keyboard.press('Escape');
  await page.getByLabel('View of the board').getByText('section', { exact: true }).click();
  await shoot('section');
  await stage('Program');
  await press('Release for cutting');
  await page.getByText('Released', { exact: true }).waitFor();
  await page.getByLabel('View of the board').getByText('plan', { exact: true }).click();
  await shoot('program');
  await press('Go to the machine');
  await press('Home the machine');
  await press('Lay it on the simulated bed');
  await press(/^Confirm$/);
  await press('Fit it on the simulated machine');
  await press('It is tight and not bottomed');
  await press('Measure it');
  await press('Warm it up');
  await press('Do it for me (simulated machine)');
  await shoot('set-up', 800);
  await press('X and Y are zero here');
  await press('Plate under the bit, clip on the bit (simulated)');
  await page.waitForTimeout(500);
  await press('Probe the plate');
  // Plate and clip away; the frame; the dust extraction.
  await press('Do it on the simulated machine');
  await press('Go around the job');
  await press('Do it on the simulated machine');
  await press(/^Confirm$/);
  await press('Go to the run');
  await page.getByLabel('I am at the machine and it is clear').check();
  await press('Start cutting');
  await page.waitForFunction(() => /line (\d+) of/.test(document.body.innerText) && Number(document.body.innerText.match(/line (\d+) of/)[1]) > 2200, null, {
    timeout: 180_000,
  });
  await shoot('run', 0);
  await page.getByText('Change the bit', { exact: true }).waitFor({ timeout: 180_000 });
  await press('Fit it on the simulated machine');
  await page.getByLabel('It is tight, tools are away, hands are off').check({ timeout: 30_000 });
  await press('Measure the new bit');
  await press('Go on cutting');
  await page.getByText('Finished', { exact: true }).waitFor({ timeout: 120_000 });
  await press('See the record');
  await page.getByRole('button', { name: /finished/ }).click();
  await page.getByLabel('Note').fill('Sharp and clean. Cedar likes the plunge at 1200.');
  await page.getByLabel('Note').blur();
  await shoot('record', 900);
  await page.goto(`${stack.url}/day`);
  await press('Plan it for me');
  await shoot('day', 1500);
  await page.goto(`${stack.url}/logbook`);
  await shoot('logbook');
  await page.goto(`${stack.url}/machines`);
  await shoot('machines', 900);
  await page.goto(`${stack.url}/bench`);
  await press('Home it, and set zero');
  await press('Home');
  await press('Measure it on the sensor');
  await page.getByRole('listitem').filter({ hasText: 'Measure the bit, done' }).waitFor();
  await shoot('bench', 600);
  await page.goto(stack.url);
  await shoot('shop', 900);
  for (const [name, job] of [
    ['torch-proof', /Larkmere gate panel/],
    ['laser-proof', /Specimen tags/],
  ]) {
    await open(job);
    await stage('Proof');
    await shoot(name, 3500);
  }
} finally {
  await browser.close();
  await stack.stop();
  rmSync(home, { recursive: true, force: true });
}
