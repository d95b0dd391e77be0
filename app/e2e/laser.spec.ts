/** The laser, from New sign to a burned tag in the simulated one: presets, the burn as a picture, its own Start, a lid that opens. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, finished, onScreen, planned, press, release, saved, setUp, stage } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';
import { BENCH } from '../src/lib/labels/bench';
import { BOARD } from '../src/lib/labels/board';
import { COMMON } from '../src/lib/labels/common';
import { CUTS } from '../src/lib/labels/cuts';
import { PROGRAM } from '../src/lib/labels/program';
import { PROOF } from '../src/lib/labels/proof';
import { RUN } from '../src/lib/labels/run';
import { SETUP } from '../src/lib/labels/setup';
import { SHOP } from '../src/lib/labels/shop';

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];

test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
});
test.afterAll(async () => {
  expect(faults).toEqual([]);
  await page.close();
});

/** A person's hands on the simulated laser. */
const hands = (change: object) =>
  page.request.post('/api/machines/simulated-laser/command', {
    data: { do: 'bench', change },
    headers: { 'idempotency-key': crypto.randomUUID(), origin: new URL(page.url()).origin },
  });
/** Shares of the burned picture's pixels that are dark, and that are seen through. */
const burned = () =>
  page.getByLabel(PROOF.theBurnedSheet).evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    let [dark, holes] = [0, 0];
    for (let k = 0; k < data.length; k += 4) {
      if (data[k] < 130) dark++;
      if (data[k] === 255 && data[k + 1] === 255 && data[k + 2] === 255) holes++;
    }
    return { dark: (4 * dark) / data.length, holes: (4 * holes) / data.length };
  });

test('New sign begins a tag: a sheet, words to burn, an outline to cut', async () => {
  await page.getByRole('button', { name: SHOP.newSign }).click();
  const sheet = page.getByRole('dialog', { name: SHOP.newSign });
  await sheet.getByText('on the laser').click();
  await expect(sheet.getByRole('button', { name: /^Tag or label/ })).toHaveAttribute('aria-pressed', 'true');
  await expect(sheet.getByLabel(COMMON.material)).toHaveValue('birch ply');
  await sheet.getByLabel(COMMON.widthLeftToRight).fill('80 mm');
  await sheet.getByLabel(COMMON.heightFrontToBack).fill('50 mm');
  expect(await axe(page)).toEqual([]);
  await sheet.getByRole('button', { name: SHOP.makeIt }).click();
  await stage(page, 'Artwork');
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('Alder');
  await planned(page);
  await saved(page);
  await stage(page, 'Board');
  await expect(page.getByRole('heading', { name: 'The sheet' })).toBeVisible();
  expect(await axe(page)).toEqual([]);
});

test('figures are suggested with their reason; what is kept is suggested next time', async () => {
  await stage(page, 'Cuts');
  await page.getByRole('button', { name: /^Burn the words/ }).click();
  await expect(page.getByText(/reckoned for birch ply from memory/)).toBeVisible();
  await expect(page.getByText('As suggested.')).toBeVisible();
  await page.getByLabel('Power', { exact: true }).fill('42');
  await page.getByLabel('Power', { exact: true }).press('Enter');
  await page.getByLabel(/What goes with it/).fill('wipe with alcohol');
  await press(page, CUTS.saveMineAsThePreset);
  await expect(page.getByText(/this head’s preset, from “New tag or label”/)).toBeVisible();
  await expect(page.getByText('wipe with alcohol')).toBeVisible();
  await expect(page.getByText('As suggested.')).toBeVisible();
  expect(await axe(page)).toEqual([]);
  // And taken back, here and in the crib: what others are suggested stays as it was.
  const origin = new URL(page.url()).origin;
  await page.request.delete('/api/bits?id=head1', { headers: { origin } });
  await press(page, 'Heads of this job…');
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: COMMON.delete }).click();
  await expect(sheet.getByText('None yet.')).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await page.keyboard.press('Escape');
  await press(page, CUTS.useTheSuggestedFigures);
});

test('the proof is the sheet as it is burned, at any second, with what goes through', async () => {
  await stage(page, 'Proof');
  await expect(page.getByRole('row', { name: /^Cut through/ })).toBeVisible({ timeout: 60_000 });
  await expect(async () => {
    const { dark, holes } = await burned();
    expect(dark).toBeGreaterThan(0.005);
    expect(holes).toBeGreaterThan(0.002);
  }).toPass();
  // At the beginning it is bare.
  await page.getByLabel(PROOF.timeInTheJob).fill('0');
  await expect(async () => expect(await burned()).toEqual({ dark: 0, holes: 0 })).toPass();
  await press(page, PROOF.showTheJobRun);
  await expect(async () => expect((await burned()).dark).toBeGreaterThan(0.001)).toPass();
  await press(page, PROOF.trueSize);
  expect(await axe(page)).toEqual([]);
});

test('a test card is laid out as a job of its own; its best square, pressed, becomes the preset', async () => {
  const mine = page.url();
  await press(page, PROOF.testCardMore);
  const sheet = page.getByRole('dialog', { name: PROOF.testCard });
  await sheet.getByLabel(COMMON.rows).fill('3');
  await sheet.getByLabel(PROOF.columns).fill('3');
  await sheet.getByLabel(PROOF.columns).press('Enter');
  expect(await axe(page)).toEqual([]);
  await press(page, PROOF.layOutTheCard);
  await expect(page.getByRole('heading', { name: 'Test card, power-speed' })).toBeVisible();
  await planned(page);
  await press(page, PROOF.whichSquareWasBest);
  const choice = page.getByRole('dialog', { name: PROOF.whichSquareCameOutBest });
  await choice.getByRole('radio', { name: '45 %, 3300 mm/min' }).click();
  await expect(choice.getByLabel(PROOF.bestSquare)).toHaveValue('4');
  await choice.getByRole('radio', { name: '45 %, 3300 mm/min' }).press('ArrowRight');
  await expect(choice.getByLabel(PROOF.bestSquare)).toHaveValue('5');
  expect(await axe(page)).toEqual([]);
  await press(page, PROOF.saveItAsThePreset);
  await expect(choice).toHaveCount(0);
  const { bits } = (await (await page.request.get('/api/bits')).json()) as { bits: { bit: { kind: string; presets?: object[] } }[] };
  expect(bits.find(({ bit }) => bit.kind === 'head')?.bit.presets).toMatchObject([{ kind: 'laser-fill', power: 45, material: 'birch ply' }]);
  // As it was in the crib, without a preset.
  await page.request.post('/api/bits', { data: { bits: [{ kind: 'head', id: 'head1' }] }, headers: { origin: new URL(page.url()).origin } });
  await page.goto(mine);
});

test('a picture: what the server releases is what the browser showed', async () => {
  const mine = page.url();
  await page.goto('/');
  await page.getByRole('article', { name: 'Specimen tags', exact: true }).getByRole('button', { name: COMMON.copy }).click();
  await expect(page.getByRole('heading', { name: 'Specimen tags (copy)' })).toBeVisible();
  await planned(page);
  await stage(page, 'Program');
  await expect(page.locator('.cm-content')).toContainText('Specimen tags');
  await release(page);
  // Same job, same picture, same bytes: browser against server.
  await expect(page.locator('[data-same=true]')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.locator('a.file').first().click();
  const text = readFileSync(await (await download).path(), 'utf8');
  // The header is wrapped.
  expect(text.slice(0, 2000).replace(/\)\n\( */g, ' ')).toMatch(/10 lines per mm .254 dpi./);
  expect(text.split('\n').length).toBeGreaterThan(5000);
  await page.goto(mine);
});

test('a picture by hand: New sign, a file, and it is burned as it is; traced it is outlines instead', async () => {
  const mine = page.url();
  await page.goto('/');
  await page.getByRole('button', { name: SHOP.newSign }).click();
  const sheet = page.getByRole('dialog', { name: SHOP.newSign });
  await sheet.getByText('on the laser').click();
  await sheet.getByRole('button', { name: /^Picture/ }).click();
  await sheet.getByRole('button', { name: SHOP.makeIt }).click();
  await stage(page, 'Artwork');
  const png = await page.evaluate(() => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [200, 100];
    const context = canvas.getContext('2d')!;
    const fade = context.createLinearGradient(0, 0, 200, 0);
    fade.addColorStop(0, 'black');
    fade.addColorStop(1, 'white');
    context.fillStyle = fade;
    context.fillRect(0, 0, 200, 100);
    return canvas.toDataURL('image/png').split(',')[1];
  });
  const bring = async () => {
    await page.setInputFiles('input[type=file][hidden]', { name: 'fade.png', mimeType: 'image/png', buffer: Buffer.from(png, 'base64') });
    return page.getByRole('dialog', { name: 'fade.png' });
  };
  const file = await bring();
  await expect(file.getByText('It is burned as it is, row by row.')).toBeVisible();
  await expect(file.getByText('it states no size', { exact: false })).toBeVisible();
  await file.getByLabel(ARTWORK.pixelsToTheInch).fill('254');
  await file.getByLabel(ARTWORK.pixelsToTheInch).press('Enter');
  await expect(file.getByLabel(ARTWORK.widthOfThePicture)).toHaveValue('20');
  expect(await axe(page)).toEqual([]);
  await press(page, ARTWORK.putItOnTheBoard);
  await planned(page);
  await expect(page.getByLabel(COMMON.width, { exact: true })).toHaveValue('20');
  const things = page.locator('details', { has: page.getByText(ARTWORK.thingsAndLayers) });
  await things.locator('summary').first().click();
  await expect(things.getByText('fade.png')).toHaveCount(1);
  // Ten rows to the mm, ten mm high.
  await expect(page.locator('footer')).toContainText(/\b(99|100|101) rows/);
  const again = await bring();
  await again.getByText(ARTWORK.tracedOutlines, { exact: true }).click();
  await expect(again.getByText('What is dark in it becomes a drawing.')).toBeVisible();
  await expect(again.getByText(/shape/)).toBeVisible();
  await press(page, ARTWORK.putItOnTheBoard);
  await planned(page);
  // The picture is one still, and what was traced lies beside it.
  await expect(things.getByText('fade.png')).toHaveCount(1);
  await saved(page);
  await page.goto(mine);
});

test('a picture in a tag is what a press on it means; trimmed it keeps its place and its scale, and has it back', async () => {
  const mine = page.url();
  await page.goto('/');
  await page.getByRole('article', { name: 'Specimen tags', exact: true }).getByRole('button', { name: COMMON.copy }).click();
  await expect(page.getByRole('heading', { name: /^Specimen tags \(copy/ })).toBeVisible();
  await stage(page, 'Artwork');
  await planned(page);
  await page.mouse.click(...(await onScreen(page, 28, 35)));
  await expect(page.getByRole('heading', { name: 'Leaf of Wych elm' })).toBeVisible();
  await page.getByLabel('Trimmed off on the left').fill('8');
  await page.getByLabel('Trimmed off on the left').press('Enter');
  await expect(page.getByLabel(COMMON.width, { exact: true })).toHaveValue('22');
  await expect(page.getByLabel(COMMON.fromTheLeftEdge)).toHaveValue('32');
  expect(await axe(page)).toEqual([]);
  await page.getByLabel('Trimmed off on the left').fill('0');
  await page.getByLabel('Trimmed off on the left').press('Enter');
  await expect(page.getByLabel(COMMON.width, { exact: true })).toHaveValue('30');
  await expect(page.getByLabel(COMMON.fromTheLeftEdge)).toHaveValue('28');
  await planned(page);
  await saved(page);
  await page.goto(mine);
});

test('of two tags one is left out by a press, and taken by another when its turn has come', async () => {
  const mine = page.url();
  await page.goto('/');
  await page.getByRole('article', { name: 'Specimen tags', exact: true }).getByRole('button', { name: COMMON.copy }).click();
  await expect(page.getByRole('heading', { name: /^Specimen tags \(copy/ })).toBeVisible();
  await stage(page, 'Artwork');
  await planned(page);
  const rows = async () =>
    parseInt(
      await page
        .locator('footer')
        .getByText(/\d+ rows/)
        .innerText(),
    );
  const all = await rows();
  await page.mouse.click(...(await onScreen(page, 28, 35)));
  await expect(page.getByRole('heading', { name: 'Leaf of Wych elm' })).toBeVisible();
  await press(page, 'Not this time');
  await planned(page);
  await expect.poll(rows).toBeLessThan(all);
  const first = await rows();
  expect(await axe(page)).toEqual([]);
  await stage(page, 'Proof');
  await expect(page.getByText('Left out of this run: “Leaf of Wych elm”.')).toBeVisible();
  await press(page, 'Cut these next, and not the rest');
  await planned(page);
  // The leaf alone.
  await expect.poll(rows).toBeLessThan(first);
  expect(await rows()).toBeGreaterThan(0);
  await page.keyboard.press('Control+z');
  await planned(page);
  await expect.poll(rows).toBe(first);
  await saved(page);
  await page.goto(mine);
});

test('released, set up, begun by the machine’s own Start; the lid opened holds it, shut it goes on to the end', async () => {
  await planned(page);
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  await hands({ rate: 6, bit: null, key: false, air: false, extraction: false, lidOpen: true });
  const asked = await setUp(page);
  expect(asked).toEqual(
    expect.arrayContaining(['Home it', 'Lay the sheet on its supports', 'Focus on the surface', 'Air and extraction on', 'Turn its key on']),
  );
  expect(await axe(page)).toEqual([]);
  await press(page, SETUP.goToTheRun);
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  await press(page, RUN.sendItToTheLaser);
  await expect(page.getByText(BENCH.pressStartAtTheMachine, { exact: true })).toBeVisible({ timeout: 60_000 });
  expect(await axe(page)).toEqual([]);
  await press(page, 'Press Start on the simulated laser');
  await expect(page.getByText('Burning', { exact: true })).toBeVisible({ timeout: 60_000 });
  await hands({ lidOpen: true });
  await expect(page.getByText('Held', { exact: true })).toBeVisible();
  await expect(page.getByText(/holds by itself: its lid/)).toBeVisible();
  await press(page, RUN.resume);
  await expect(page.getByText('The lid is open. Close it.')).toBeVisible();
  await hands({ lidOpen: false });
  await page.waitForTimeout(300);
  await press(page, RUN.resume);
  await expect(page.getByText('Burning', { exact: true })).toBeVisible();
  await finished(page);
  await expect(page.getByText(/Leave the lid shut until the smoke is gone/)).toBeVisible();
  await press(page, RUN.seeTheRecord);
  await page
    .getByRole('button', { name: /^finished/ })
    .first()
    .click();
  await expect(page.getByText(/waited for its Start button/).first()).toBeVisible({ timeout: 30_000 });
});

test('again with other values for one cut only: what was set up at the machine is still so, zero above all', async () => {
  await stage(page, 'Cuts');
  await page.getByRole('button', { name: /^Burn the words/ }).click();
  await press(page, CUTS.switchOff);
  await page.getByRole('button', { name: /^Cut out the tag/ }).click();
  await page.getByLabel('Power', { exact: true }).fill('95');
  await page.getByLabel('Power', { exact: true }).press('Enter');
  await planned(page);
  await saved(page);
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  const asked = await setUp(page);
  expect(asked.join()).not.toMatch(/Home it|X and Y|Focus|Fit /);
  await press(page, SETUP.goToTheRun);
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  await press(page, RUN.sendItToTheLaser);
  await press(page, 'Press Start on the simulated laser');
  await finished(page);
});

test('the bench of the laser: begun with the lid shut, by its own Start; opened it holds, shut it goes on', async () => {
  await page.goto('/bench');
  await page.getByRole('combobox', { name: COMMON.machine }).selectOption({ label: 'Simulated laser' });
  await press(page, 'The lid');
  await expect(page.getByText('Shut the lid', { exact: false }).first()).toBeVisible({ timeout: 60_000 });
  await page.getByRole('tab', { name: BENCH.handsOnTheMachine }).click();
  await press(page, /^5×$/);
  await press(page, 'Lid open: yes');
  await press(page, 'Run tag.nc');
  await expect(page.getByText(BENCH.pressStartAtTheMachine, { exact: true }).first()).toBeVisible();
  await press(page, BENCH.pressStartAtTheMachine);
  await expect(page.getByText('Burning', { exact: true })).toBeVisible();
  await press(page, 'Lid open: no');
  await expect(page.getByText('Held', { exact: true })).toBeVisible();
  await press(page, 'Lid open: yes');
  await press(page, BENCH.goOn);
  await page.getByRole('tab', { name: BENCH.exercises }).click();
  await expect(page.getByText('Done, without a slip.')).toBeVisible({ timeout: 120_000 });
  await page.getByRole('tab', { name: BENCH.handsOnTheMachine }).click();
  await press(page, '25×');
});

test('a sheet larger than the field: seams where they cross least, one program a tile, pushed on in between and laid by its marks', async () => {
  await page.goto('/');
  await page.getByRole('article', { name: 'Tide tile', exact: true }).getByRole('button', { name: COMMON.copy }).click();
  await expect(page.getByRole('heading', { name: 'Tide tile (copy)' })).toBeVisible();
  await planned(page);
  await stage(page, 'Board');
  await press(page, BOARD.noTiles);
  await planned(page);
  await stage(page, 'Proof');
  await expect(page.getByText(/Burn it in tiles: Board/)).toBeVisible();
  await stage(page, 'Board');
  await press(page, BOARD.burnItInTiles);
  // Between the words, where only the water line is crossed.
  const seam = Number(await page.getByLabel('Seam 1, from the left').inputValue());
  expect(seam).toBeGreaterThan(320);
  expect(seam).toBeLessThan(500);
  await page.getByLabel(BOARD.aTileFindsTheOne).selectOption({ label: 'by two crosses on the seam' });
  expect(await axe(page)).toEqual([]);
  await saved(page);
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  await hands({ rate: 100 });
  const run = async () => {
    await press(page, SETUP.goToTheRun);
    await page.getByLabel(RUN.iAmAtTheMachine).check();
    await press(page, RUN.sendItToTheLaser);
    await press(page, 'Press Start on the simulated laser');
    await finished(page);
  };
  expect(await setUp(page)).toContain('Lay the sheet on its supports');
  await run();
  await stage(page, 'Set up');
  await press(page, /^2 · tile 2/);
  await expect(page.getByRole('button', { name: /Push the sheet about/ })).toBeVisible();
  const asked = await setUp(page);
  expect(asked.join()).toMatch(/Push the sheet about .* to the left/);
  expect(asked).toContain('Set X and Y by the two marks on the seam');
  await run();
  // The first one again wants its own zero back, and the sheet where it lay.
  await stage(page, 'Set up');
  await press(page, /^1 · tile 1/);
  await page.getByRole('button', { name: /Set X and Y at the front left corner/ }).click();
  await expect(page.getByText(/marks of another tile/)).toBeVisible();
  await hands({ rate: 25 });
});
