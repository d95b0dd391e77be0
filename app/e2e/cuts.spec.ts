/** Cuts as a carver works on them: added, put in order, tabs pulled about, feeds taken, lists kept, halves made - and taken back. */
import { expect, test, type Page } from '@playwright/test';
import { axe, comeIn, onScreen, openJob, planned, saved, stage } from './shop';
import { COMMON } from '../src/lib/labels/common';
import { CUTS } from '../src/lib/labels/cuts';
import { JOB } from '../src/lib/labels/job';
import { PROGRAM } from '../src/lib/labels/program';
import { PROOF } from '../src/lib/labels/proof';
import { SHOP } from '../src/lib/labels/shop';

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];

test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
  await open(/Bench plate/);
});
test.afterAll(async () => {
  expect(faults).toEqual([]);
  await page.close();
});

async function open(name: RegExp) {
  await openJob(page, name, 'Cuts');
}
const undo = async (label: string) => {
  await page.getByRole('button', { name: `Undo: ${label}` }).click();
  await planned(page);
};
const names = () => page.locator('aside section .name > span:first-child').evaluateAll((all) => all.map((one) => one.childNodes[0].textContent!.trim()));
/** Board millimetres to the screen: the board is fitted into its view with a rim of 46 pixels, and 40 above for the view's buttons. */
async function pull(from: [number, number], to: [number, number]) {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, { steps: 4 });
  await page.mouse.move(...to, { steps: 4 });
  await page.mouse.up();
  await planned(page);
}

test('every cut shows its bit, its figures and its feeds; nothing serious for axe', async () => {
  expect(await names()).toEqual(['Drill the screw holes', 'Scratch the words', 'Cut out the plate']);
  await page.getByRole('button', { name: /^Scratch the words/ }).click();
  await expect(page.getByText('The spindle stays off')).toBeVisible();
  await expect(page.locator('dl')).toContainText('Line width');
  await expect(page.locator('dl')).toContainText('Area covered twice');
  expect(await axe(page)).toEqual([]);
});

test('the order is changed by the keyboard and by pulling numbers; a broken rule says why, and one press mends it', async () => {
  await page.getByRole('button', { name: /^Cut out the plate/ }).click();
  await page.getByRole('button', { name: CUTS.earlier }).click();
  await planned(page);
  expect(await names()).toEqual(['Drill the screw holes', 'Cut out the plate', 'Scratch the words']);
  await expect(page.getByText('A part that is nearly free moves under the bit.')).toBeVisible();
  await page.getByRole('button', { name: 'Put them in the usual order' }).click();
  await planned(page);
  expect(await names()).toEqual(['Drill the screw holes', 'Scratch the words', 'Cut out the plate']);
  await expect(page.getByText('A part that is nearly free moves under the bit.')).toHaveCount(0);
  // The number of the open cut, pulled onto the drilling's on its first hole, comes before it.
  await page.getByRole('button', { name: /^Scratch the words/ }).click();
  await pull(await findAccent(await onScreen(page, 75, 35), 300, 160), await onScreen(page, 18, 35));
  expect((await names())[0]).toBe('Scratch the words');
  await undo('Order of cuts');
});

test('a cut is renamed, and copied right after itself; each is one step', async () => {
  await page.getByRole('button', { name: /^Cut out the plate/ }).click();
  await page.getByLabel(CUTS.nameOfTheCut).fill('Free the plate');
  await page.getByLabel(CUTS.nameOfTheCut).press('Enter');
  await expect.poll(names).toContain('Free the plate');
  await undo('Name of a cut');
  await expect.poll(names).not.toContain('Free the plate');
  await page.getByRole('button', { name: COMMON.copy, exact: true }).click();
  await expect.poll(names).toContain('Cut out the plate (copy)');
  const listed = await names();
  expect(listed.indexOf('Cut out the plate (copy)')).toBe(listed.indexOf('Cut out the plate') + 1);
  await undo('Copy a cut');
  await expect.poll(names).not.toContain('Cut out the plate (copy)');
});

test('a cut goes from piece to piece as it is told, the pieces numbered on the board; by hand they are a list to move about', async () => {
  await page.getByRole('button', { name: /^Scratch the words/ }).click();
  await page.getByLabel(CUTS.fromPieceToPiece).selectOption('left to right');
  await planned(page);
  await page.getByLabel(CUTS.fromPieceToPiece).selectOption('by hand');
  const pieces = page.getByRole('list', { name: CUTS.orderByHand }).getByRole('listitem');
  await expect(pieces.first()).toBeVisible();
  const listed = await pieces.allInnerTexts();
  if (listed.length > 1) {
    await pieces
      .first()
      .getByLabel(/^Piece 1/)
      .press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await expect.poll(async () => (await pieces.allInnerTexts())[1]?.split('\n').at(-1)).toBe(listed[0].split('\n').at(-1));
    await undo('Order of pieces');
  }
  await page.getByLabel(CUTS.fromPieceToPiece).selectOption('the shortest way');
  await planned(page);
});

test('a cut is switched off: it says so, takes no time and is warned of; and on again', async () => {
  await page.getByRole('button', { name: /^Cut out the plate/ }).click();
  await page.getByRole('button', { name: CUTS.switchOff }).click();
  await planned(page);
  await expect(page.getByRole('button', { name: /^Cut out the plate/ })).toContainText('off');
  await stage(page, 'Proof');
  await expect(page.getByText('A cut is switched off: “Cut out the plate”.')).toBeVisible();
  await stage(page, 'Cuts');
  await page.getByRole('button', { name: /^Cut out the plate/ }).click();
  await page.getByRole('button', { name: CUTS.switchOn }).click();
  // The proof showed the carved board.
  await page.getByLabel(JOB.viewOfTheBoard).getByText(JOB.plan, { exact: true }).click();
  await planned(page);
  await expect(page.getByRole('button', { name: /^Cut out the plate/ })).not.toContainText('off');
});

test('cuts stand together under a name, are folded away and switched as one', async () => {
  const two = (await names()).slice(0, 2).map((name) => page.locator('aside section .name').filter({ hasText: name }));
  for (const one of two) {
    await one.click();
    await page.getByLabel(CUTS.inTheGroup).fill('Through');
    await page.getByLabel(CUTS.inTheGroup).press('Tab');
  }
  const group = page.getByRole('group', { name: 'Group Through' });
  await expect(group).toContainText('2 cuts');
  await group.getByRole('button', { name: CUTS.switchAllOff }).click();
  await planned(page);
  for (const one of two) await expect(one).toContainText('off');
  await group.getByRole('button', { name: /^Through/ }).click();
  for (const one of two) await expect(one).toHaveCount(0);
  await group.getByRole('button', { name: /^Through/ }).click();
  await undo('Switch Through off');
  await undo('Group of a cut');
  await undo('Group of a cut');
  await expect(group).toHaveCount(0);
});

test('which bit would be best is asked on the cut itself', async () => {
  await page.getByRole('button', { name: /^Drill the screw holes/ }).click();
  await page.getByRole('button', { name: CUTS.whichBitWouldBeBest }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByLabel(PROOF.forThisCut)).toHaveValue(/.+/);
  await page.keyboard.press('Escape');
  await expect(sheet).toHaveCount(0);
});

test('a tab is pulled along the line and stays there; Delete takes it away; evenly again', async () => {
  await page.getByRole('button', { name: /^Cut out the plate/ }).click();
  await expect(page.locator('dl')).toContainText('Tabs');
  const tabs = async () => Number(await page.locator('dl div', { hasText: 'Tabs' }).locator('dd').innerText());
  expect(await tabs()).toBe(4);
  // An upper tab of the plate of 130 x 50 in the middle of the board, half a bit off the line.
  const found = await findAccent(await onScreen(page, 30, 61.6));
  await pull(found, await onScreen(page, 141.6, 35));
  await expect(page.getByText('4 tabs put by hand')).toBeVisible();
  await page.locator('.plan').focus();
  await page.mouse.click(...(await findAccent(await onScreen(page, 141.6, 35))));
  await page.keyboard.press('Delete');
  await planned(page);
  expect(await tabs()).toBe(3);
  await undo('Remove a tab');
  expect(await tabs()).toBe(4);
  await page.getByRole('button', { name: CUTS.placeTheTabsEvenlyAgain }).click();
  await planned(page);
  await expect(page.getByText('Tabs lie on straight runs')).toBeVisible();
});

/** The middle of the mark in the accent's colour near a place, read off the screen itself. */
async function findAccent([x, y]: [number, number], w = 60, h = 30): Promise<[number, number]> {
  const png = await page.screenshot({ clip: { x: x - w, y: y - h, width: 2 * w, height: 2 * h } });
  const [dx, dy] = await page.evaluate(async (data) => {
    const image = new Image();
    image.src = `data:image/png;base64,${data}`;
    await image.decode();
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [image.width, image.height];
    const context = canvas.getContext('2d')!;
    context.drawImage(image, 0, 0);
    const { data: rgba } = context.getImageData(0, 0, image.width, image.height);
    // Wood, ink and tracks have another green.
    let [sx, sy, n] = [0, 0, 0];
    for (let j = 0; j < image.height; j++)
      for (let i = 0; i < image.width; i++) {
        const k = 4 * (j * image.width + i);
        if (Math.abs(rgba[k] - 14) < 12 && Math.abs(rgba[k + 1] - 101) < 12 && Math.abs(rgba[k + 2] - 85) < 12) [sx, sy, n] = [sx + i, sy + j, n + 1];
      }
    return n ? [sx / n, sy / n] : [image.width / 2, image.height / 2];
  }, png.toString('base64'));
  return [x - w + dx, y - h + dy];
}

test('suggested feeds stand beside those entered, and are taken in one step', async () => {
  const feed = page.getByLabel(COMMON.feed, { exact: true });
  await feed.fill('90');
  await feed.press('Tab');
  await planned(page);
  await page.locator('summary', { hasText: 'Chip' }).click();
  await expect(page.getByText(/: usual is/)).toBeVisible();
  await page.getByRole('button', { name: CUTS.useTheSuggestedFeeds }).click();
  await planned(page);
  await expect(page.getByText(/: usual is/)).toHaveCount(0);
  await undo('Suggested feeds');
  await undo('Feed');
});

test('a cut list is kept, and laid on other artwork', async () => {
  await page.getByRole('button', { name: CUTS.cutTemplatesMore }).click();
  await page.getByLabel(CUTS.saveTheCutsOfThis).fill('Brass plate, two holes');
  await page.getByRole('button', { name: COMMON.save, exact: true }).click();
  await expect(page.getByText('is kept.')).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await page.keyboard.press('Escape');
  await saved(page);
  await open(/Reed Gate/);
  await page.getByRole('button', { name: CUTS.cutTemplatesMore }).click();
  await page.getByRole('button', { name: CUTS.applyToThisJob }).first().click();
  // The gate has no holes: that is said, and the rest is there.
  await expect(page.getByText(/Nothing in this drawing is for: Drill the screw holes/)).toBeVisible();
  await page.keyboard.press('Escape');
  await planned(page);
  expect(await names()).toEqual(['Drill the screw holes', 'Scratch the words', 'Cut out the plate']);
  await undo(CUTS.apply('Brass plate, two holes'));
  expect(await names()).toEqual(['Carve the words', 'Cut out the sign']);
});

test('a floor is cleared first by a straight bit: a cut of its own, before the V', async () => {
  await page.getByRole('textbox', { name: 'Maximum depth (flat floor)' }).fill('3');
  await page.getByRole('textbox', { name: 'Maximum depth (flat floor)' }).press('Enter');
  await planned(page);
  await expect(page.locator('dl')).toContainText('Ridge on the floor');
  await page.getByLabel(CUTS.floorClearedFirstBy).selectOption({ label: 'end mill, 3.175 mm' });
  await planned(page);
  expect(await names()).toEqual(['Clear the floor', 'Carve the words', 'Cut out the sign']);
  await page.getByLabel(CUTS.floorClearedFirstBy).selectOption({ label: 'nothing: the V bit clears it' });
  await planned(page);
  expect(await names()).toEqual(['Carve the words', 'Cut out the sign']);
  await undo('The V bit clears the floor');
  await undo('Clear the floor first');
  // With a floor there is a plug to go into it, carved round the mirrored words.
  await page.getByText(CUTS.aPlugToGoInto).click();
  await page.getByLabel(CUTS.glueGapBelowIt).fill('4');
  await page.getByLabel(CUTS.glueGapBelowIt).press('Enter');
  await page.getByRole('button', { name: CUTS.makeTheJobOfThe }).click();
  await expect(page.getByText('The room for glue takes all of the depth.')).toBeVisible();
  await page.getByLabel(CUTS.glueGapBelowIt).fill('0.5');
  await page.getByLabel(CUTS.glueGapBelowIt).press('Enter');
  await saved(page);
  await page.getByRole('button', { name: CUTS.makeTheJobOfThe }).click();
  await page.waitForURL(/stage=cuts/);
  await planned(page);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Reed Gate - plug');
  await expect(page.getByLabel('Start below the surface')).toHaveValue('2.5');
  await open(/^Reed Gate(?! -)/);
});

test('a hole is drilled where the board is pressed, and taken away again', async () => {
  await page.getByRole('button', { name: CUTS.addACut }).click();
  await page.getByRole('group', { name: CUTS.kindsOfCut }).getByRole('button', { name: 'Drill', exact: true }).click();
  await page.getByRole('button', { name: CUTS.drillAtAPointOn }).click();
  await page.mouse.click(...(await onScreen(page, 40, 100)));
  await planned(page);
  await expect(page.getByText(/^Point at/)).toBeVisible();
  await expect(page.locator('dl div', { hasText: 'Holes' }).locator('dd')).toHaveText('1');
  await page.getByRole('button', { name: /^Remove the point/ }).click();
  await expect(page.getByText(/^Point at/)).toHaveCount(0);
  await page.getByRole('button', { name: CUTS.deleteThisCut }).click();
  await planned(page);
});

test('the other half of a recess becomes a job of its own', async () => {
  await open(/^Leaf inlay/);
  await expect(page.getByRole('img', { name: CUTS.thePlugInItsRecess })).toBeVisible();
  await page.getByRole('button', { name: 'Make the job of the other half' }).click();
  await page.waitForURL(/stage=cuts/);
  await planned(page);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Leaf inlay - plug');
  await expect(page.locator('dl')).toContainText('Gap, largest');
});

test('the program follows the controller’s settings', async () => {
  await stage(page, 'Program');
  await page.getByLabel(PROGRAM.theController).selectOption({ label: 'arcs, stops for bits' });
  await planned(page);
  await page.getByText(PROGRAM.everySetting).click();
  await page.getByLabel(PROGRAM.workOffset).selectOption('G56');
  const own = page.getByLabel(PROGRAM.ownLinesBeforeTheEnd);
  await own.fill('G4 P1\nBEEP');
  await own.blur();
  await expect(page.getByText(/Forbids cutting: A line of the shop’s own, “BEEP”/)).toBeVisible();
  await expect(page.getByRole('button', { name: PROGRAM.releaseForCutting })).toBeDisabled();
  await own.fill('G4 P1\nM120');
  await own.blur();
  await planned(page);
  await expect(page.locator('.cm-content, pre').first()).toContainText('Job: Leaf inlay');
  await expect(page.getByText(/A line of the shop’s own, “M120”/)).toBeVisible();
  expect(await axe(page)).toEqual([]);
});

test('the crib: figures, drawings, hours; bits in by CSV with what is wrong named', async () => {
  await page.goto('/bits');
  await expect(page.getByRole('button', { name: /60° V, 12.7 mm/ })).toBeVisible();
  await page.setInputFiles('input[type=file][hidden]', {
    name: 'bits.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('kind;diameter;angle;name\nv;25,4;120;120° V, wide\nend;zero;;bad one\n'),
  });
  await expect(page.getByRole('alert')).toContainText('Bit 2 (bad one): diameter');
  await page.getByRole('button', { name: /120° V, wide/ }).click();
  await expect(page.getByLabel(CUTS.cuttingDiameter)).toHaveValue('25.4');
  await page.getByLabel(CUTS.measuredSlotWidth).fill('1 in + 0.2mm');
  await page.getByLabel(CUTS.measuredSlotWidth).press('Enter');
  await expect(page.getByRole('button', { name: /120° V, wide/ })).toContainText('(measured)');
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: SHOP.removeItFromTheCrib }).click();
  await expect(page.getByRole('button', { name: /120° V, wide/ })).toHaveCount(0);
});
