// The board in the browser, beside a bare canvas that draws the same paths: pan and zoom, drag, first picture.
import { chmodSync, existsSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './bundle.mjs';
import { startStack } from './stack.mjs';

const row = (what, figure, aim) => console.log(`${what.padEnd(62)} ${figure.padStart(18)}   ${aim}`);

export async function benchBoard() {
  const { chromium } = await import('@playwright/test');
  const home = mkdtempSync(join(tmpdir(), 'kerbe-bench-'));
  chmodSync(home, 0o755);
  const stack = await startStack({ home });
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(stack.url);
    await page.getByRole('button', { name: 'Open the demo as owner' }).click();
    await page.getByRole('link', { name: /Heron Walk/ }).waitFor();
    // Stretches in which the main thread could not answer, from the first byte on.
    await page.addInitScript(() => {
      window.blocked = [];
      new PerformanceObserver((list) => window.blocked.push(...list.getEntries().map(({ duration }) => duration))).observe({
        type: 'longtask',
        buffered: true,
      });
    });
    const address = await page.getByRole('link', { name: /Heron Walk/ }).getAttribute('href');
    let began = Date.now();
    await page.goto(`${stack.url}${address}?stage=proof`);
    await page.getByLabel('View of the board').getByText('carved', { exact: true }).click();
    await page.locator('canvas[data-drawn=true]').waitFor();
    row('first load of the demo job to its carved picture', `${((Date.now() - began) / 1000).toFixed(2)} s`, '< 5 s');
    row('longest block of the main thread on the way', `${Math.round(Math.max(0, ...(await page.evaluate(() => window.blocked))))} ms`, '< 200 ms');

    // What was fetched until the plan was there, as it goes over the wire; workers apart.
    await page.goto('about:blank');
    await page.goto(`${stack.url}${address}`);
    await page.locator('.plan').waitFor();
    const scripts = await page.evaluate(() => performance.getEntriesByType('resource').map(({ name }) => new URL(name).pathname));
    const kept = (path) => join(root, 'app/build/client', path);
    const sent = [...new Set(scripts)].filter((path) => path.endsWith('.js') && !path.includes('/workers/'));
    const size = (path) => statSync(existsSync(`${kept(path)}.br`) ? `${kept(path)}.br` : kept(path)).size;
    row('script of the job page before its plan, compressed', `${Math.round(sent.reduce((sum, path) => sum + size(path), 0) / 1000)} kB`, '<= 250 kB');

    // A figure of a cut: from the field to the new plan.
    await page.waitForFunction(() => document.querySelector('footer')?.innerText.includes('deepest'));
    await page.getByRole('navigation', { name: 'Stages of the job' }).getByRole('button', { name: /^Cuts/ }).click();
    const feed = page.getByRole('textbox', { name: 'Feed', exact: true });
    const took = [];
    for (const value of ['2300', '2200', '2100', '2000', '2400']) {
      await feed.fill(value);
      began = Date.now();
      await feed.press('Enter');
      await page.waitForFunction(() => document.body.innerText.includes('planning…'), null, { polling: 10, timeout: 300 }).catch(() => {});
      await page.waitForFunction(() => !document.body.innerText.includes('planning…'), null, { polling: 10 });
      took.push(Date.now() - began);
    }
    row('a changed feed of one cut: field to new plan, median of 5', `${took.sort((a, b) => a - b)[2]} ms`, '<= 150 ms');

    // A board of 18 million cells: refined, marked and scrubbed while the page stays alive.
    await page.goto(stack.url);
    await page.getByRole('button', { name: 'New sign' }).click();
    await page.getByRole('button', { name: 'Make it' }).click();
    await page.getByLabel('What the sign says').fill('HERON WALK');
    const stage = (name) =>
      page
        .getByRole('navigation', { name: 'Stages of the job' })
        .getByRole('button', { name: new RegExp(`^${name}`) })
        .click();
    await stage('Board');
    for (const [label, value] of [
      ['Width, left to right', '600'],
      ['Height, front to back', '300'],
    ]) {
      await page.getByRole('textbox', { name: label }).fill(value);
      await page.getByRole('textbox', { name: label }).press('Enter');
    }
    await page.waitForFunction(() => document.querySelector('footer')?.innerText.includes('deepest') && !document.body.innerText.includes('planning…'));
    await page.evaluate(() => (window.blocked = []));
    await stage('Proof');
    began = Date.now();
    await page.getByText('on cells of 0.1 mm').waitFor({ timeout: 60_000 });
    row('18,000,000 cells: from opening the proof to the fine picture', `${((Date.now() - began) / 1000).toFixed(2)} s`, '');
    await page.getByRole('button', { name: 'Compare with the drawing' }).click();
    await page.getByRole('list', { name: 'Asked against carved' }).waitFor({ timeout: 60_000 });
    began = Date.now();
    await page.getByRole('slider', { name: 'Time in the job' }).evaluate((input) => {
      input.value = String(Number(input.max) * 0.6);
      input.dispatchEvent(new Event('input', { bubbles: true }));
    });
    await page.locator('[data-bit]').waitFor();
    row('scrubbed to a place, first touch', `${((Date.now() - began) / 1000).toFixed(2)} s`, '');
    await page.waitForTimeout(1500);
    row('longest block of the main thread meanwhile', `${Math.round(Math.max(0, ...(await page.evaluate(() => window.blocked))))} ms`, '< 100 ms');

    // A drawing of 122,000 points, dropped on a new sign.
    await page.goto(stack.url);
    await page.getByRole('button', { name: 'New sign' }).click();
    await page.getByRole('button', { name: 'Make it' }).click();
    await page.locator('.plan').waitFor();
    const drop = async (name, svg) => {
      const transfer = await page.evaluateHandle(
        ([file, text]) => {
          const data = new DataTransfer();
          data.items.add(new File([text], file));
          return data;
        },
        [name, svg],
      );
      await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
    };
    const wavy = (i) => {
      const [cx, cy] = [30 + (i % 20) * 17, 20 + Math.floor(i / 20) * 11];
      const points = Array.from({ length: 610 }, (_, k) => {
        const a = (2 * Math.PI * k) / 610;
        const r = 4.5 + 0.5 * Math.sin(9 * a + i);
        return `${(cx + r * Math.cos(a)).toFixed(3)} ${(cy + r * Math.sin(a)).toFixed(3)}`;
      });
      return `<path d="M${points.join('L')}Z"/>`;
    };
    const paths = Array.from({ length: 200 }, (_, i) => wavy(i));
    await drop('waves.svg', `<svg xmlns="http://www.w3.org/2000/svg" width="400mm" height="150mm" viewBox="0 0 400 150">${paths.join('')}</svg>`);
    await page.getByLabel('Keep it together as a group').uncheck();
    await page.getByRole('button', { name: 'Put it on the board' }).click();
    await page.getByText('200 things').waitFor();
    await page.locator('.plan').focus();
    await page.keyboard.press('Escape');
    // Until it is drawn, checked and planned: nothing else works meanwhile.
    await page.waitForFunction(() => !/Drawing…|planning…/.test(document.body.innerText), null, { timeout: 120_000 });
    const figures = await page.evaluate(
      async (data) => {
        const stage = window.Konva.stages.find((one) => one.width() > 100);
        const [base] = stage.getLayers();
        const best = (work) => {
          let least = Infinity;
          for (let i = 0; i < 15; i++) {
            const start = performance.now();
            work(i);
            least = Math.min(least, performance.now() - start);
          }
          return least;
        };
        const canvas = base.getCanvas()._canvas;
        // Reading one pixel back waits for the painting itself, not only for the list of it.
        const flush = (target) => target.getContext('2d').getImageData(0, 0, 1, 1);
        const ours = best((i) => {
          base.scale({ x: 1.5 + i / 50, y: -1.5 - i / 50 });
          base.draw();
          flush(canvas);
        });
        const bare = document.createElement('canvas');
        bare.width = canvas.width;
        bare.height = canvas.height;
        const context = bare.getContext('2d');
        const drawn = data.map((d) => new Path2D(d));
        const theirs = best((i) => {
          context.setTransform(1, 0, 0, 1, 0, 0);
          context.clearRect(0, 0, bare.width, bare.height);
          context.setTransform(1.5 + i / 50, 0, 0, -1.5 - i / 50, base.x(), base.y());
          context.lineWidth = 0.8;
          for (const path of drawn) {
            context.globalAlpha = 0.14;
            context.fill(path, 'evenodd');
            context.globalAlpha = 1;
            context.stroke(path);
          }
          flush(bare);
        });
        return { ours, theirs };
      },
      paths.map((path) => path.slice(9, -3)),
    );
    row('zoom of 122,000 points, ours and a bare canvas', `${figures.ours.toFixed(1)} ${figures.theirs.toFixed(1)} ms`, '');
    row('ours / bare canvas', (figures.ours / figures.theirs).toFixed(2), '<= 1.5');
    // One thing dragged by the mouse: what each step of the drag costs the main thread.
    const box = await page.locator('.plan').boundingBox();
    const drag = await page.evaluate(
      async ({ left, top }) => {
        const stage = window.Konva.stages.find((one) => one.width() > 100);
        const [base, lift] = stage.getLayers();
        const content = stage.content;
        const at = (x, y) => [left + base.x() + x * base.scaleX(), top + base.y() - y * base.scaleX()];
        const fire = (type, [clientX, clientY]) =>
          content.dispatchEvent(
            new PointerEvent(type, { clientX, clientY, pointerId: 1, pointerType: 'mouse', button: 0, buttons: 1, bubbles: true, cancelable: true }),
          );
        // The middle of one of the waves, placed in the board's middle.
        const [sx, sy] = at(200 - 191 + 30 + 17 * 10 - 0, 75);
        content.setPointerCapture = () => {};
        fire('pointerdown', [sx, sy]);
        const times = [];
        // Two frames to pick it up.
        for (let i = 0; i < 2; i++) await new Promise((done) => requestAnimationFrame(done));
        for (let i = 1; i <= 20; i++) {
          const start = performance.now();
          fire('pointermove', [sx + 6 * i, sy]);
          lift.draw();
          lift.getCanvas()._canvas.getContext('2d').getImageData(0, 0, 1, 1);
          times.push(performance.now() - start);
          await new Promise((done) => requestAnimationFrame(done));
        }
        fire('pointerup', [sx + 120, sy]);
        return times.slice(2).sort((a, b) => a - b);
      },
      { left: box.x, top: box.y },
    );
    row('one step of dragging one thing, middle and worst', `${drag[drag.length >> 1].toFixed(1)} ${drag.at(-1).toFixed(1)} ms`, '< 16.7 ms');

    // 20,000 paths from the drop to the board.
    await page.goto(stack.url);
    await page.getByRole('button', { name: 'New sign' }).click();
    await page.getByRole('button', { name: 'Make it' }).click();
    await page.locator('.plan').waitFor();
    await page.waitForTimeout(1000);
    const many = Array.from(
      { length: 20_000 },
      (_, i) =>
        `<path d="M${((i % 200) * 1.9 + 1).toFixed(2)} ${(Math.floor(i / 200) * 1.4 + 1).toFixed(2)}c.4 0 .8 .3 .8 .85s-.3.625-.675.7s-.65-.25-.7-.625s.1-.825.575-.925l.3.45z" fill="#1c2723"/>`,
    );
    began = Date.now();
    await drop('many.svg', `<svg xmlns="http://www.w3.org/2000/svg" width="400mm" height="150mm" viewBox="0 0 400 150">${many.join('')}</svg>`);
    await page.getByRole('button', { name: 'Put it on the board' }).waitFor();
    const read = Date.now() - began;
    await page.getByRole('button', { name: 'Put it on the board' }).click();
    await page.getByRole('button', { name: /^Undo: Bring in/ }).waitFor();
    await page.waitForFunction(() => !document.body.innerText.includes('Drawing…'));
    row('20,000 paths: dropped to read, and on the board', `${(read / 1000).toFixed(2)} ${((Date.now() - began) / 1000).toFixed(2)} s`, '< 3 s');
  } finally {
    await browser.close();
    await stack.stop();
    rmSync(home, { recursive: true, force: true });
  }
}
