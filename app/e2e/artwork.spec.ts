/** Artwork as a carver works on it: brought in, mended, bent, lined up, set on an arc, laid out from a list - and taken back. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, test, type Page } from '@playwright/test';
import { FACES, openFont, setText, capHeightOf } from '@kerbe/core/artwork/text';
import { addShape, axe, comeIn, dropFile, newSign, planned, saved, stage } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';
import { COMMON } from '../src/lib/labels/common';
import { CUTS } from '../src/lib/labels/cuts';
import { DRAWING } from '../src/lib/labels/drawing';
import { JOB } from '../src/lib/labels/job';
import { PROOF } from '../src/lib/labels/proof';

const require = createRequire(import.meta.url);

/** A reed of two strokes whose ends nearly meet, a bird with an eye, a square drawn twice. */
const REEDS = `<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">
  <g fill="none" stroke="#000"><path d="M5 55 L5 20"/><path d="M5.3 20 L25 20"/></g>
  <path d="M40 50 C 45 30 60 25 70 10 L 85 14 L 74 18 C 70 30 66 50 40 50 Z"/>
  <rect x="30" y="5" width="8" height="8"/><rect x="30" y="5" width="8" height="8"/>
</svg>`;

test.describe.configure({ mode: 'serial' });
let page: Page;
let faults: string[];

test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
  await newSign(page);
  await expect(page.getByLabel(ARTWORK.whatTheSignSays)).toBeVisible();
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('Reed');
  await planned(page);
});
test.afterAll(async () => {
  expect(faults).toEqual([]);
  await page.close();
});

const drop = (name: string, content: string, type: string) => dropFile(page, name, content, type);
const undo = (label: string) => expect(page.getByRole('button', { name: `Undo: ${label}` })).toBeEnabled();
const things = () => page.locator('summary', { hasText: 'Things and layers' }).locator('.figure').innerText();
const openList = async () => {
  const list = page.locator('details', { has: page.locator('summary', { hasText: 'Things and layers' }) });
  if ((await list.getAttribute('open')) === null) await page.getByText(ARTWORK.thingsAndLayers).click();
};
async function open(summary: string) {
  const details = page.locator('details', { has: page.locator('summary', { hasText: summary }) });
  if ((await details.getAttribute('open')) === null) await details.locator('summary').click();
}

test('a dropped drawing says its real size, is kept with the job, and is put on the board', async () => {
  await drop('reeds.svg', REEDS, 'image/svg+xml');
  await expect(page.getByRole('dialog', { name: 'reeds.svg' })).toBeVisible();
  // From the reed at 5 to the beak at 85, and from the rectangles at 5 to the foot at 55.
  await expect(page.locator('[data-size]')).toHaveText('80 mm × 50 mm');
  await expect(page.getByText('Size given in millimetres.')).toBeVisible();
  await expect(page.getByText('have the owner’s permission')).toBeVisible();
  await expect(page.locator('[data-kept=kept]')).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await page.getByLabel(ARTWORK.keepItTogetherAsA).uncheck();
  await page.getByRole('button', { name: ARTWORK.putItOnTheBoard }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await undo('Import reeds.svg');
  await expect(page.getByText('5 things')).toBeVisible();
});

test('a file that is none says so, and changes nothing', async () => {
  await drop('broken.svg', '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0', 'image/svg+xml');
  await expect(page.getByRole('alert')).toContainText('The file cannot be read');
  await page.getByRole('button', { name: ARTWORK.backToTheBoard }).click();
  await drop('page.pdf', '%PDF-1.7 x', 'application/pdf');
  await expect(page.getByRole('alert')).toContainText('This is a PDF');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await undo('Import reeds.svg');
});

test('the check marks loose ends and doubled shapes; each repair is one step that can be undone', async () => {
  const ends = page.getByText(/loose ends? lies? within/);
  await expect(ends).toBeVisible();
  await page.getByRole('button', { name: 'Join the ends' }).click();
  await undo('Join the ends');
  await expect(ends).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.locator('.plan').focus();
  await page.keyboard.press('Control+z');
  await expect(ends).toBeVisible();
  await page.keyboard.press('Control+Shift+z');
  await expect(ends).toHaveCount(0);
  const doubled = page.getByText('One thing is drawn twice in the same place.');
  await page.getByRole('button', { name: 'Remove the copies' }).click();
  await undo('Remove the copies');
  await expect(doubled).toHaveCount(0);
});

test('a node is pulled, and the bend taken back', async () => {
  await openList();
  // The bird: the only free path left with curves; it is picked by its name in the list and framed.
  const paths = page.locator('.thing', { hasText: 'Free path' });
  await expect(paths.first()).toBeVisible();
  let nodes = false;
  for (let i = 0; i < (await paths.count()) && !nodes; i++) {
    await paths.nth(i).click();
    const wide = Number(await page.getByLabel(ARTWORK.overallWidth).inputValue());
    if (wide > 40) nodes = true;
  }
  expect(nodes).toBe(true);
  await page.locator('.plan').focus();
  await page.keyboard.press('n');
  await expect(page.getByText('Press a node to select it')).toBeVisible();
  const before = Number(await page.getByLabel(ARTWORK.overallHeight).inputValue());
  await page.locator('.plan').focus();
  await page.waitForTimeout(300);
  await page.keyboard.press('Tab');
  await expect(page.getByText('1 selected.')).toBeVisible();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => Number(await page.getByLabel(ARTWORK.overallHeight).inputValue())).toBeGreaterThan(before);
  await undo('Move a node');
  await page.getByRole('button', { name: ARTWORK.smooth }).click();
  await undo('Smooth');
  await page.getByRole('button', { name: COMMON.done }).click();
  await page.locator('.plan').focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await expect.poll(async () => Number(await page.getByLabel(ARTWORK.overallHeight).inputValue())).toBe(before);
});

test('lined up with the board by one press, turned and sized by typing', async () => {
  await open('Line up and spread');
  await page.getByRole('button', { name: 'Left', exact: true }).click();
  await undo('Line up: left');
  await page.getByLabel(ARTWORK.overallWidth).fill('50');
  await page.getByLabel(ARTWORK.overallWidth).press('Enter');
  await undo('Size');
  await expect(page.getByLabel(ARTWORK.overallWidth)).toHaveValue('50');
  await open('Turn and mirror');
  await page.getByRole('button', { name: COMMON.turn, exact: true }).click();
  await undo('Turn');
  await expect.poll(async () => Number(await page.getByLabel(ARTWORK.overallHeight).inputValue())).toBeCloseTo(50, 1);
  expect(await axe(page)).toEqual([]);
});

test('dragged on the board, with the mouse', async () => {
  const at = () => page.getByLabel(COMMON.fromTheLeftEdge).inputValue();
  await openList();
  await page.locator('.thing', { hasText: 'Reed' }).click();
  const before = Number(await at());
  const board = (await page.locator('.plan').boundingBox())!;
  const [x, y] = [board.x + board.width / 2, board.y + board.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 30, y + 4, { steps: 5 });
  await page.mouse.move(x + 60, y + 4, { steps: 5 });
  await page.mouse.up();
  await undo('Move');
  expect(Number(await at())).toBeGreaterThan(before + 10);
});

test('words are typed on the board itself by a double press; Escape ends it, one step takes it back', async () => {
  const board = (await page.locator('.plan').boundingBox())!;
  await page.locator('.thing', { hasText: 'Reed' }).click();
  await page.getByRole('button', { name: COMMON.centreOnTheBoard }).click();
  await page.mouse.dblclick(board.x + board.width / 2, board.y + board.height / 2);
  const field = page.getByRole('textbox', { name: DRAWING.theWordsTypedOnThe });
  await expect(field).toBeFocused();
  await field.fill('Reeds');
  await expect(page.getByLabel(ARTWORK.whatTheSignSays)).toHaveValue('Reeds');
  await field.press('Escape');
  await expect(field).toBeHidden();
  await undo('Text');
  await page.getByRole('button', { name: 'Undo: Text' }).click();
  await expect(page.getByLabel(ARTWORK.whatTheSignSays)).toHaveValue('Reed');
});

test('words stand on an arc', async () => {
  await page.locator('.thing', { hasText: 'Reed' }).click();
  await page.getByLabel(ARTWORK.baseline).selectOption('over');
  await undo('Baseline');
  await page.getByRole('textbox', { name: ARTWORK.radiusOfTheArc }).fill('80');
  await page.getByRole('textbox', { name: ARTWORK.radiusOfTheArc }).press('Enter');
  await undo('Radius of the arc');
  await planned(page);
});

test('a shape stays parametric: a hole of 36 becomes 35 by typing', async () => {
  await addShape(page, 'Holes');
  await page.getByRole('textbox', { name: ARTWORK.holeDiameter }).fill('36');
  await page.getByRole('textbox', { name: ARTWORK.holeDiameter }).press('Enter');
  await page.getByRole('textbox', { name: ARTWORK.holeDiameter }).fill('35');
  await page.getByRole('textbox', { name: ARTWORK.holeDiameter }).press('Enter');
  await undo(ARTWORK.holeDiameter);
  await expect(page.getByRole('textbox', { name: ARTWORK.holeDiameter })).toHaveValue('35');
  await page.getByRole('button', { name: COMMON.delete, exact: true }).click();
  await undo('Delete');
});

test('plates from a list: one a row, on the board in a grid', async () => {
  const before = Number(await things());
  await drop('trees.csv', 'Name,Latin\nOak,Quercus robur\nElm,Ulmus minor\nAsh,Fraxinus excelsior\n', 'text/csv');
  await expect(page.getByRole('dialog', { name: COMMON.platesFromAList })).toBeVisible();
  await page.getByRole('button', { name: ARTWORK.oneMoreLine }).click();
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: 'Lay out 3 plates' }).click();
  await undo('3 plates from a list');
  // Each an edge, two lines of words and its holes.
  await expect.poll(async () => Number(await things())).toBe(before + 12);
});

test('fonts are tried on the board by the arrow keys, all of it one step; Escape goes back', async () => {
  await page.getByRole('button', { name: ARTWORK.addText }).click();
  await page.getByLabel(ARTWORK.whatTheSignSays).fill('WAVE');
  const button = page.getByRole('button', { name: /^Font/ });
  const before = await button.innerText();
  await button.click();
  await expect(page.getByRole('listbox', { name: ARTWORK.fonts }).locator('svg path').first()).toBeAttached();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(button).not.toHaveText(before);
  await page.keyboard.press('Escape');
  await expect(button).toHaveText(before);
  await button.click();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(button).not.toHaveText(before);
  await undo('Font');
  // Pairs by hand: closer by a hundredth of the capitals at each press.
  await page.getByText('Letter pairs').click();
  await page.getByRole('button', { name: 'Tighten AV', exact: true }).click();
  await page.getByRole('button', { name: 'Tighten AV', exact: true }).click();
  await expect(page.getByText('Letter pairs (1 set by hand)')).toBeVisible();
  await undo('Tighten AV');
  await page.locator('.plan').press('Delete');
  await undo('Delete');
  await saved(page);
});

test('undo through all of it, and redo; a reload loses nothing', async () => {
  const now = Number(await things());
  await saved(page);
  await page.locator('.plan').focus();
  for (let i = 0; i < 80 && (await page.getByRole('button', { name: JOB.nothingToUndo }).count()) === 0; i++) await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: JOB.nothingToUndo })).toBeVisible();
  await expect.poll(async () => Number(await things())).toBe(2);
  for (let i = 0; i < 80 && (await page.getByRole('button', { name: JOB.nothingToRedo }).count()) === 0; i++) await page.keyboard.press('Control+Shift+z');
  await expect.poll(async () => Number(await things())).toBe(now);
  await saved(page);
  await page.reload();
  await expect.poll(async () => Number(await things())).toBe(now);
});

test('a picture is traced with its outline over it, as large as it is to be', async () => {
  // A black square of 40 pixels in a white picture of 80, drawn here.
  const url = await page.evaluate(() => {
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = 80;
    const context = canvas.getContext('2d')!;
    context.fillStyle = 'white';
    context.fillRect(0, 0, 80, 80);
    context.fillStyle = 'black';
    context.fillRect(20, 20, 40, 40);
    return canvas.toDataURL('image/png');
  });
  await page.setInputFiles('input[type=file][hidden]', { name: 'square.png', mimeType: 'image/png', buffer: Buffer.from(url.split(',')[1], 'base64') });
  await expect(page.getByLabel(ARTWORK.widthOfThePicture)).toBeVisible();
  await page.getByLabel(ARTWORK.widthOfThePicture).fill('100');
  await page.getByLabel(ARTWORK.widthOfThePicture).press('Enter');
  await expect(page.locator('[data-size]')).toHaveText(/^(50|49\.\d+|50\.\d+) mm × (50|49\.\d+|50\.\d+) mm$/);
  await expect(page.locator('[data-kept=kept]')).toBeVisible();
  await page.getByText(ARTWORK.both, { exact: true }).click();
  await expect(page.getByText('The picture lies locked under the outlines.')).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: ARTWORK.putItOnTheBoard }).click();
  await undo('Import square.png');
});

test('a pocket of what is picked, and holes drilled: planned, with their figures', async () => {
  await page.locator('.plan').focus();
  await page.keyboard.press('Escape');
  await addShape(page, 'Rectangle');
  await undo('Add rectangle');
  await stage(page, 'Cuts');
  await page.getByRole('button', { name: CUTS.addACut }).click();
  await page.getByRole('button', { name: 'Pocket', exact: true }).click();
  await undo('Add: Pocket');
  // What was picked on the drawing is not seen here: it is chosen on purpose.
  await expect(page.getByLabel(CUTS.worksOn)).toHaveValue('art');
  await page.getByLabel(CUTS.worksOn).selectOption('some');
  await planned(page);
  await expect(page.getByText(PROOF.notReached)).toBeVisible();
  await page.getByRole('textbox', { name: 'Depth', exact: true }).fill('1/4 in');
  await page.getByRole('textbox', { name: 'Depth', exact: true }).press('Enter');
  await planned(page);
  await expect(page.locator('dl').getByText('6.35 mm')).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await stage(page, 'Artwork');
  await page.locator('.plan').focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
  await saved(page);
});

test('the drawing is saved as SVG, DXF and as a paper template', async () => {
  await page.keyboard.press('Escape');
  await saved(page);
  await open('Try the size');
  for (const [button, begins] of [
    ['Save as SVG', '<?xml'],
    ['Save as DXF', '0\nSECTION'],
    [/Full-size paper template/, '%PDF'],
  ] as const) {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: button }).click()]);
    const text = readFileSync((await download.path())!, 'latin1');
    expect(text.startsWith(begins)).toBe(true);
  }
});

test('lines of words are as wide as the browser itself sets them, kerning included', async () => {
  // Outside check: Chromium's own text layout of the same font files.
  const lines = ['HERON WALK', 'AVA Toffee. Yew', 'Wild flowers & reeds, 1847'];
  for (const face of FACES) {
    const font = openFont(readFileSync(require.resolve(face.file)));
    const cap = capHeightOf(font) / font.unitsPerEm;
    const theirs = await page.evaluate(
      async ([id, texts]) => {
        const loaded = new FontFace(`test-${id}`, `url(/api/faces/${id})`);
        await loaded.load();
        document.fonts.add(loaded);
        const context = document.createElement('canvas').getContext('2d')!;
        context.font = `100px "test-${id}"`;
        context.fontKerning = 'normal';
        return texts.map((text) => context.measureText(text).width);
      },
      [face.id, lines] as const,
    );
    lines.forEach((text, i) => {
      const set = setText({ text, capHeight: cap * 100, lineSpacing: 1.6, letterSpacing: 0, align: 'left' }, font);
      expect(Math.abs(set.width - theirs[i]), `${face.name}: ${text}`).toBeLessThan(0.002 * theirs[i] + 0.2);
    });
  }
});
