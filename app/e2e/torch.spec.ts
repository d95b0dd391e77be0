/** The torch, from New sign to a cut plate on the simulated table: refused without its work lead, held, taken up at its contour. Left alone it is tried in agent/src/torch.test.ts. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, finished, makeJob, planned, press, release, saved, setUp, stage, startCutting } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';
import { BENCH } from '../src/lib/labels/bench';
import { BOARD } from '../src/lib/labels/board';
import { COMMON } from '../src/lib/labels/common';
import { CUTS } from '../src/lib/labels/cuts';
import { DRAWING } from '../src/lib/labels/drawing';
import { PROGRAM } from '../src/lib/labels/program';
import { PROOF } from '../src/lib/labels/proof';
import { RUN } from '../src/lib/labels/run';
import { SETUP } from '../src/lib/labels/setup';
import { RECORD } from '../src/lib/labels/record';
import { SHOP } from '../src/lib/labels/shop';

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];
/** The job on what is left of the plate. */
let next: string | undefined;
let bars: string | undefined;

test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
});
test.afterAll(async () => {
  const { origin } = new URL(page.url());
  for (const id of [next, bars]) if (id) await page.request.delete(`/api/jobs/${id}`, { headers: { origin } });
  await page.request.put('/api/materials', { data: { leftovers: [] }, headers: { origin } });
  expect(faults).toEqual([]);
  await page.close();
});

/** A person's hands on the simulated table. */
const hands = (change: object) =>
  page.request.post('/api/machines/simulated-torch/command', {
    data: { do: 'bench', change },
    headers: { 'idempotency-key': crypto.randomUUID(), origin: new URL(page.url()).origin },
  });
const table = async () => {
  const text = await page.evaluate(
    () =>
      new Promise<string>((done) => {
        const source = new EventSource('/api/machines/events?machine=simulated-torch');
        source.addEventListener('machine', ({ data }: MessageEvent<string>) => {
          source.close();
          done(data);
        });
      }),
  );
  return (
    JSON.parse(text) as { snapshot: { status: { arc: { burns: boolean; pierces: number }; world: { table: Record<string, number> }; machine: number[] } } }
  ).snapshot.status;
};

test('New sign begins a cut-out sign: a plate of a gauge, its slats, words in a face without islands', async () => {
  await page.getByRole('button', { name: SHOP.newSign }).click();
  const sheet = page.getByRole('dialog', { name: SHOP.newSign });
  await sheet.getByText('on the plasma table').click();
  await sheet.getByRole('button', { name: /^Cut-out sign/ }).click();
  await expect(sheet.getByLabel(COMMON.material)).toHaveValue('mild steel');
  await sheet.getByLabel(COMMON.widthLeftToRight).fill('260 mm');
  await sheet.getByLabel(COMMON.heightFrontToBack).fill('120 mm');
  await sheet.getByLabel(COMMON.steelGauge).selectOption('11');
  await expect(sheet.getByLabel(COMMON.thickness)).toHaveValue('3.038');
  expect(await axe(page)).toEqual([]);
  await sheet.getByRole('button', { name: SHOP.makeIt }).click();
  await stage(page, 'Artwork');
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('Reed');
  await planned(page);
  await saved(page);
  await stage(page, 'Board');
  await expect(page.getByRole('heading', { name: BOARD.slatsOfTheTable })).toBeVisible();
  await page.getByLabel(BOARD.betweenSlats).fill('40 mm');
  await page.getByLabel(BOARD.betweenSlats).press('Enter');
  await planned(page);
  expect(await axe(page)).toEqual([]);
});

test('the cut takes its figures from the chart, and says when they are another’s', async () => {
  await stage(page, 'Cuts');
  await page.getByRole('button', { name: /^Cut the plate/ }).click();
  await expect(page.getByText('As the chart has it.')).toBeVisible();
  await expect(page.getByText(/between its rows of 1\.5 mm and 3\.4 mm/)).toBeVisible();
  await page.getByLabel(CUTS.kerf, { exact: true }).fill('1.7 mm');
  await page.getByLabel(CUTS.kerf, { exact: true }).press('Enter');
  await press(page, /^Use the chart’s figures \(1 differs\)/);
  await expect(page.getByLabel(CUTS.kerf, { exact: true })).toHaveValue('1.48');
  await press(page, 'Nozzles of this job…');
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByRole('heading', { name: CUTS.cutChart })).toBeVisible();
  await sheet.getByText(CUTS.kerfFromATestCut).click();
  await sheet.getByLabel(CUTS.theSquareMeasures).fill('59.8 mm');
  await sheet.getByLabel(CUTS.theSquareMeasures).press('Enter');
  await sheet.getByLabel(CUTS.itsHoleMeasures).fill('30.2 mm');
  await sheet.getByLabel(CUTS.itsHoleMeasures).press('Enter');
  await expect(sheet.getByRole('button', { name: 'Set the kerf to 1.6 mm' })).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await page.keyboard.press('Escape');
});

test('the proof says what comes free, tips and falls', async () => {
  await stage(page, 'Proof');
  const row = page.getByRole('row', { name: /^Parts lie on the slats/ });
  await expect(row).toBeVisible({ timeout: 60_000 });
  await expect(row.getByRole('cell').nth(1)).toHaveText('1');
  await expect(page.getByRole('img', { name: PROOF.thePlateAfterTheCut })).toBeVisible();
  expect(await axe(page)).toEqual([]);
});

test('released, set up step by step, run to its end: the pieces are as they were proved', async () => {
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  await hands({ rate: 4, bit: null, ground: false, air: false, water: false });
  const asked = await setUp(page);
  expect(asked).toEqual(
    expect.arrayContaining([
      'Home it',
      'Lay the plate on the slats',
      'Clamp the work lead to the plate',
      'Air on, dry and at its pressure',
      'I stay with it until it ends',
    ]),
  );
  expect(await axe(page)).toEqual([]);
  await press(page, SETUP.goToTheRun);
  // The work lead comes off between set-up and start: said where it is pressed, and nothing begins.
  await hands({ ground: false });
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  await press(page, RUN.startCutting);
  await expect(page.getByText(/work lead/).first()).toBeVisible();
  expect((await table()).arc.pierces).toBe(0);
  await hands({ ground: true, rate: 1 });
  await expect.poll(async () => (await table()).world.table.ground).toBe(true);
  await startCutting(page);
  // Nobody may leave it: asked again in so long, counted anew by a press.
  const left = page.getByText(/Asked again in/);
  await expect(left).toBeVisible();
  await expect.poll(() => left.innerText(), { timeout: 30_000 }).not.toMatch(/5 min 00 s/);
  await press(page, COMMON.iAmHere);
  await expect(left).toContainText(/(5 min 00|4 min 5\d) s/);
  await expect.poll(async () => (await table()).arc.burns, { timeout: 60_000 }).toBe(true);
  await press(page, /^Hold/);
  await expect(page.getByText('Held', { exact: true })).toBeVisible();
  await expect(page.getByText(/The arc went out with it/)).toBeVisible();
  expect((await table()).arc.burns).toBe(false);
  await expect(page.getByRole('button', { name: RUN.resume })).toHaveCount(0);
  await press(page, RUN.stopThenChooseTheContour);
  await expect(page.getByText('Stopped', { exact: true })).toBeVisible();
  await hands({ rate: 4 });
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  await press(page, RUN.goOnFromWhereIt);
  const sheet = page.getByRole('dialog');
  // Felt for again, down to where it is struck, and only then the arc.
  const entry = await sheet.getByLabel(RUN.howItGoesIn).innerText();
  const order = ['M5', '\nG0 X', 'G38.2', 'M3', 'G4 P'].map((word) => entry.indexOf(word));
  expect(
    order.every((at, i) => at >= 0 && (i === 0 || at > order[i - 1])),
    entry,
  ).toBe(true);
  expect(await axe(page)).toEqual([]);
  await sheet.getByRole('button', { name: /^Go on from line \d+$/ }).click();
  await finished(page);
  const { world, arc } = await table();
  expect(arc.burns).toBe(false);
  // One part and all the scrap of its letters: nothing is held but the frame.
  expect(world.table.free + world.table.tipped + world.table.fallen).toBeGreaterThan(5);
  await expect(page.getByText('The plate is hot, and its edges are sharp')).toBeVisible();
  await press(page, RUN.compareWhatItCutWith);
  await expect(page.getByRole('status').filter({ hasText: 'As it was proved, over' })).toBeVisible({ timeout: 60_000 });
  // The crib has counted the nozzle's pierces and its minutes, from a run begun and ended by hand.
  const job = page.url();
  await page.goto('/bits');
  const nozzle = page.getByRole('button', { name: /^nozzle, 45 A/ });
  await expect(nozzle).toContainText(/\d+ pierces/);
  await nozzle.click();
  await expect(page.getByText(/since it was new/)).toContainText(/[1-9]\d* pierces since then/);
  await page.getByLabel(SHOP.lifePierces).fill('5');
  await page.getByLabel(SHOP.lifePierces).press('Enter');
  await expect(nozzle).toContainText(/of 5 pierces: worn/);
  await expect(page.getByRole('button', { name: SHOP.itWasSharpened })).toHaveCount(0);
  await press(page, SHOP.itWasReplaced);
  await expect(nozzle).toContainText('0 of 5 pierces');
  await page.getByLabel(SHOP.lifePierces).fill('');
  await page.getByLabel(SHOP.lifePierces).press('Enter');
  expect(await axe(page)).toEqual([]);
  await page.goto(job);
});

test('what is left of the plate is kept with its openings, and the next sign is laid out beside them', async () => {
  await stage(page, 'Record');
  await page
    .getByRole('button', { name: /^finished/i })
    .first()
    .click();
  await page.getByLabel(COMMON.whereItIsKept).fill('rack 3');
  await page.getByRole('button', { name: RECORD.saveThePiece }).click();
  await expect(page.getByRole('status').filter({ hasText: 'pieces that are left' })).toBeVisible({ timeout: 120_000 });
  expect(await axe(page)).toEqual([]);
  await page.goto('/materials');
  await expect(page.getByRole('list', { name: SHOP.piecesThatAreLeft })).toContainText(/rack 3: \d+ % of it, (an opening|\d+ openings)/);
  // New sign offers it; what begins on it has the openings.
  await page.goto('/');
  await page.getByRole('button', { name: SHOP.newSign }).click();
  const sheet = page.getByRole('dialog', { name: SHOP.newSign });
  await sheet.getByText('on the plasma table').click();
  await sheet.getByRole('button', { name: /^Empty plate/ }).click();
  await sheet.getByLabel(COMMON.widthLeftToRight).fill('200 mm');
  await sheet.getByLabel(COMMON.heightFrontToBack).fill('100 mm');
  await sheet.getByLabel(COMMON.thickness).fill('3.038 mm');
  await page.keyboard.press('Tab');
  await sheet.getByRole('button', { name: /rack 3, with openings/ }).click();
  await sheet.getByRole('button', { name: SHOP.makeIt }).click();
  await page.waitForURL(/\/job\//);
  next = new URL(page.url()).pathname.split('/').at(-1)!;
  await stage(page, 'Board');
  await expect(page.getByText(/A remnant: .*opening.* in it already/)).toBeVisible();
  await page.getByRole('button', { name: 'It is a whole plate' }).click();
  await expect(page.getByText('A remnant:')).toHaveCount(0);
  await page.getByLabel(COMMON.orAPieceThatIs).selectOption({ index: 1 });
  await expect(page.getByText(/A remnant: .*opening/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('A remnant:')).toHaveCount(0);
  await saved(page);
  expect(await axe(page)).toEqual([]);
});

test('islands of words are bridged by one press: words stay words, bars are pulled, and stay when the words change', async () => {
  bars = await makeJob(page, {
    kerbe: 4,
    process: 'torch',
    name: 'Bridged words',
    board: { width: 300, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats' },
    items: { t: { kind: 'text', id: 't', x: 150, y: 100, text: 'BOAR', face: 'alfa', capHeight: 60 } },
    itemOrder: ['t'],
    tools: { n: { kind: 'nozzle', id: 'n' } },
    cuts: { c: { kind: 'torch', id: 'c', on: 'art', tool: 'n', side: 'inside', leadIn: 3 } },
    cutOrder: ['c'],
    program: { clearance: 15 },
  });
  await page.goto(`/job/${bars}`);
  await stage(page, 'Artwork');
  await page.getByRole('button', { name: 'Bridge them' }).click();
  await expect(page.getByText('No problems found')).toBeVisible();
  const things = page.locator('details', { has: page.getByText(ARTWORK.thingsAndLayers) });
  await things.locator('summary').first().click();
  await expect(things.getByText(DRAWING.bridge, { exact: true }).first()).toBeVisible();
  const count = await things.getByText(DRAWING.bridge, { exact: true }).count();
  await things.getByText('BOAR', { exact: true }).first().click();
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('BOARS');
  await planned(page);
  await expect(things.getByText(DRAWING.bridge, { exact: true })).toHaveCount(count);
  await saved(page);
});

test('the bench of the torch: the kerf is set at the table, so the program on the line is the right one; a slip is not', async () => {
  await page.goto('/bench');
  await page.getByRole('combobox', { name: COMMON.machine }).selectOption({ label: 'Simulated torch' });
  await press(page, 'Who owns the kerf?');
  await expect(page.getByText('Cut the part to its size')).toBeVisible({ timeout: 60_000 });
  await page.getByText('part-on-line.nc', { exact: true }).click();
  await expect(page.getByText(/to be offset BY THE/)).toBeVisible();
  await press(page, 'Run part-on-line.nc');
  await expect(page.getByText('Done, without a slip.')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Kept with your results.')).toBeVisible();
  await press(page, BENCH.fromTheBeginning);
  await expect(page.getByText('Cut the part to its size, to do')).toBeVisible({ timeout: 60_000 });
  await press(page, 'Run part.nc');
  await expect(page.getByText(/its kerf was taken off twice/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('tab', { name: BENCH.handsOnTheMachine }).click();
  await expect(page.getByText(/The calliper on the last piece/)).toBeVisible();
});
