/**
 * Pieces of work from a bare wall to a plan without anything to fix, by the labels a person reads.
 * Every press, typed figure and choice counts as a step; each piece has a bound on them.
 */
import { expect, test, type Page } from '@playwright/test';
import { addShape, comeIn, dropFile, onScreen, planned, saved, stage } from './shop';
import { ARTWORK } from '../src/lib/labels/artwork';
import { CUTS } from '../src/lib/labels/cuts';
import { JOB } from '../src/lib/labels/job';
import { PROOF } from '../src/lib/labels/proof';
import { SHOP } from '../src/lib/labels/shop';

let page: Page;
let faults: string[];
test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
});
/** Jobs that were made here: they do not stay on the wall the other tests look at. */
const made = new Set<string>();
const jobId = () => new URL(page.url()).pathname.split('/').at(-1)!;
test.afterAll(async () => {
  expect(faults).toEqual([]);
  const { origin } = new URL(page.url());
  await page.goto('/');
  for (const id of made) await page.request.delete(`/api/jobs/${id}`, { headers: { origin } });
  await page.close();
});

/** A person at the screen, whose steps are counted. */
class Person {
  steps = 0;

  /** Counts it. */
  async seen<T>(work: Promise<T>): Promise<T> {
    this.steps++;
    return work;
  }
  press = (name: string | RegExp) =>
    this.seen(
      page
        .getByRole('button', { name, exact: typeof name === 'string' })
        .filter({ visible: true })
        .first()
        .click(),
    );
  /** Types a figure into its field. */
  type = (label: string, text: string) =>
    this.seen(
      (async () => {
        const field = page.getByLabel(label, { exact: true }).filter({ visible: true }).first();
        await field.fill(text);
        await field.press('Enter');
      })(),
    );
  /** Words have lines: Enter ends one. */
  write = (text: string) => this.seen(page.getByLabel(ARTWORK.whatTheSignSays).fill(text));
  choose = (label: string, option: string | RegExp) =>
    this.seen(
      (async () => {
        const list = page.getByLabel(label, { exact: true }).filter({ visible: true }).first();
        const { options } = await list.evaluate((select: HTMLSelectElement) => ({ options: [...select.options].map(({ label: said }) => said.trim()) }));
        const one = options.find((said) => (typeof option === 'string' ? said === option : option.test(said)));
        if (one === undefined) throw new Error(`${label} offers ${options.join(', ')}`);
        await list.selectOption({ label: one });
      })(),
    );
  tick = (label: string) => this.seen(page.getByLabel(label).first().check());
  key = (key: string) => this.seen(page.keyboard.press(key));
  /** Presses a thing in the list of things. */
  pick = (name: string | RegExp, also = false) =>
    this.seen(
      page
        .locator('.thing')
        .filter({ hasText: name })
        .first()
        .click({ modifiers: also ? ['Shift'] : [] }),
    );
  go = (name: string) => this.seen(stage(page, name));
  unfold = (summary: string) => this.seen(page.locator('summary', { hasText: summary }).first().click());
  async shape(name: string) {
    this.steps += 2;
    await addShape(page, name);
  }
  /** Presses a place of the board, mm from its front left corner. */
  async point(x: number, y: number) {
    const at = await onScreen(page, x, y);
    await this.seen(page.mouse.click(...at));
  }
  /** Lets a file go over the board. */
  drop = (name: string, content: string, type: string) => this.seen(dropFile(page, name, content, type));

  /** A leaf as a picture of 300 x 200 points, dark on white. */
  dropPicture = (name: string) =>
    this.seen(
      page.evaluate(async (file) => {
        const canvas = document.createElement('canvas');
        [canvas.width, canvas.height] = [300, 200];
        const pen = canvas.getContext('2d')!;
        pen.fillStyle = '#fff';
        pen.fillRect(0, 0, 300, 200);
        pen.fillStyle = '#111';
        pen.beginPath();
        pen.moveTo(20, 100);
        pen.bezierCurveTo(90, -10, 220, 10, 280, 100);
        pen.bezierCurveTo(220, 190, 90, 210, 20, 100);
        pen.fill();
        const blob = await new Promise<Blob>((done) => canvas.toBlob((made) => done(made!), 'image/png'));
        const data = new DataTransfer();
        data.items.add(new File([blob], file, { type: 'image/png' }));
        document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
      }, name),
    );
  open = (job: RegExp) => this.seen(page.getByRole('link', { name: job }).first().click());
  within(most: number) {
    test.info().annotations.push({ type: 'steps', description: `${this.steps} of ${most}` });
    expect(this.steps).toBeLessThanOrEqual(most);
  }

  /** New sign, with what differs from what stands there. */
  async begin(what: string, size: Partial<{ width: string; height: string; thickness: string; material: string }> = {}, on?: string) {
    await page.goto('/');
    await this.press(SHOP.newSign);
    if (on) await this.press(on);
    await this.press(new RegExp(`^${what}`));
    if (size.width) await this.typeAndLeave('Width, left to right', size.width);
    if (size.height) await this.typeAndLeave('Height, front to back', size.height);
    if (size.thickness) await this.typeAndLeave('Thickness', size.thickness);
    if (size.material) await this.choose('Material', size.material);
    await this.press(SHOP.makeIt);
    await expect(page.getByRole('navigation', { name: JOB.stagesOfTheJob })).toBeVisible();
    made.add(jobId());
  }
  /** Inside a form Enter would send it: Tab leaves the field. */
  private typeAndLeave = (label: string, text: string) =>
    this.seen(
      (async () => {
        await page.getByLabel(label, { exact: true }).fill(text);
        await page.keyboard.press('Tab');
      })(),
    );
}

/** Planned, and nothing stands against cutting it. */
async function nothingToFix() {
  await planned(page);
  await expect(page.locator('footer')).not.toContainText('to fix');
}

/** The open job as the server has it once it is saved. */
async function documentOf(): Promise<{ items: Record<string, { kind: string; mirror: boolean; width: number }> }> {
  await saved(page);
  return ((await (await page.request.get(`/api/jobs/${jobId()}`)).json()) as { doc: Awaited<ReturnType<typeof documentOf>> }).doc;
}

/** A heron's head as a shop might have it: two closed outlines, 50 x 40 mm. */
const LOGO = `<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="40mm" viewBox="0 0 50 40">
  <path d="M2 38 C 6 20 14 8 26 6 C 32 5 36 8 38 11 L 48 15 L 37 17 C 34 24 22 22 18 38 Z"/>
  <path d="M22 32 L44 28 L40 38 L24 38 Z"/>
</svg>`;
/** A flange plate of 120 x 80 with holes of 36, 8 and 36, as a drawing office sends it. */
const FLANGE = [
  ...['0', 'SECTION', '2', 'HEADER', '9', '$INSUNITS', '70', '4', '0', 'ENDSEC', '0', 'SECTION', '2', 'ENTITIES'],
  ...['0', 'LWPOLYLINE', '8', 'OUTLINE', '90', '4', '70', '1', ...[0, 0, 120, 0, 120, 80, 0, 80].map((v, i) => `${i % 2 ? 20 : 10}\n${v}`)],
  ...[
    [40, 50, 18],
    [25, 22, 4],
    [96, 58, 18],
  ].flatMap(([x, y, r]) => ['0', 'CIRCLE', '8', 'HOLES', '10', `${x}`, '20', `${y}`, '40', `${r}`]),
  ...['0', 'ENDSEC', '0', 'EOF', ''],
].join('\n');

test('a small engraved plate: words on brass', async () => {
  const person = new Person();
  await person.begin('Engraved plate');
  await person.write('Kiln 2\nkeep shut');
  await nothingToFix();
  await expect(page.locator('footer')).toContainText('brass');
  person.within(10);
});

test('a round badge with a logo, words on an arc, cut out', async () => {
  const person = new Person();
  await person.begin('Engraved plate', { width: '70', height: '70', thickness: '3', material: 'acrylic' });
  await person.write('SALTGRASS');
  await person.choose('Baseline', /arc/);
  await person.type('Radius of the arc', '22');
  await person.shape('Circle');
  await person.type('Diameter', '60');
  await person.press(ARTWORK.cutTheSignOutAlong);
  await person.drop('heron.svg', LOGO, 'image/svg+xml');
  await person.type('Width', '24');
  await person.press(ARTWORK.putItOnTheBoard);
  await person.go('Cuts');
  await person.press(/^Engrave the words/);
  await person.choose('Works on', 'everything drawn');
  await nothingToFix();
  await expect(page.getByRole('button', { name: /^Cut out the sign/ })).toBeVisible();
  person.within(30);
});

test('a picture becomes a V-carve in acrylic', async () => {
  const person = new Person();
  await person.begin('Empty board', { width: '200', height: '150', thickness: '10', material: 'acrylic' });
  await person.dropPicture('leaf.png');
  await person.press(ARTWORK.putItOnTheBoard);
  await person.go('Cuts');
  await person.press(CUTS.addACut);
  await person.press('V-carve');
  await nothingToFix();
  person.within(16);
});

test('a bow-tie: its recess, and the plug as a job of its own', async () => {
  const person = new Person();
  await person.begin('Empty board', { width: '200', height: '120', thickness: '18', material: 'oak' });
  await person.shape('Bow-tie');
  await person.go('Cuts');
  await person.press(CUTS.addACut);
  await person.press('Recess for a plug');
  await person.type('Depth', '6');
  await nothingToFix();
  await person.press('Make the job of the other half');
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/plug/i);
  made.add(jobId());
  await nothingToFix();
  person.within(14);
});

test('a brass plate drag-engraved, with holes in its corners', async () => {
  const person = new Person();
  await person.begin('Engraved plate', { width: '120', height: '60' });
  await person.write('Weir gate\nNo 4');
  await person.shape('Holes');
  await person.go('Cuts');
  await person.press(CUTS.addACut);
  await person.press('Drill');
  await nothingToFix();
  person.within(23);
});

test('a striped board with a badge let into it', async () => {
  const person = new Person();
  await person.begin('Carved sign', { width: '400', height: '160', thickness: '18', material: 'oak' });
  await person.write('Reed');
  await person.type('From the left edge', '150');
  await person.type('Fit to width', '220');
  await person.shape('Line');
  await person.point(30, 40);
  await person.point(370, 40);
  await person.key('Escape');
  await person.unfold('Things and layers');
  await person.pick(/^Line/);
  await person.unfold('Copies and order');
  await person.type('Copies across', '1');
  await person.type('Rows', '2');
  await person.type('Apart, between rows', '80');
  await person.press(ARTWORK.setThemInRows);
  await person.shape('Circle');
  await person.type('Diameter', '50');
  await person.type('From the left edge', '325');
  await person.go('Cuts');
  await person.press(CUTS.addACut);
  await person.press('Engrave or groove');
  await person.choose('Works on', 'the lines');
  await person.press(CUTS.addACut);
  await person.press('Pocket');
  await person.choose('Works on', /^what is selected/);
  await person.type('Depth', '4');
  await nothingToFix();
  person.within(36);
});

test('an edge-lit plate: mirrored, engraved from the back, cut out', async () => {
  const person = new Person();
  await person.begin('Engraved plate', { width: '200', height: '160', thickness: '6', material: 'acrylic' });
  await person.write('Reed');
  await person.type('From the front edge', '35');
  await person.drop('heron.svg', LOGO, 'image/svg+xml');
  await person.type('Width', '90');
  await person.press(ARTWORK.putItOnTheBoard);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await planned(page);
  await person.key('Control+a');
  await person.unfold('Turn and mirror');
  await person.press(ARTWORK.mirrorLeftToRight);
  await expect(page.getByText('3 things', { exact: true })).toBeVisible();
  await person.shape('Rectangle');
  await person.type('Width', '180');
  await person.type('Height', '140');
  await person.press(ARTWORK.cutTheSignOutAlong);
  await person.go('Cuts');
  await person.press(/^Engrave the words/);
  await person.choose('Works on', 'everything drawn');
  await nothingToFix();
  // Words and bird: all of it is turned over.
  const { items } = await documentOf();
  for (const item of Object.values(items).filter(({ kind }) => kind !== 'rectangle')) expect(item.mirror, item.kind).toBe(true);
  person.within(30);
});

test('Z from the spoilboard, with two cuts', async () => {
  const person = new Person();
  await person.begin('Carved sign', { width: '400', height: '160', thickness: '18', material: 'oak' });
  await person.write('Sluice');
  await person.go('Board');
  await person.choose('Z zero on', 'the spoilboard');
  await nothingToFix();
  await person.go('Program');
  await expect(page.getByText(/spoilboard/).first()).toBeVisible();
  person.within(14);
});

test('a measured part: from a DXF and from coordinates, a hole of 36 made 35', async () => {
  const person = new Person();
  await person.begin('Empty board', { width: '160', height: '120', thickness: '6', material: 'birch ply' });
  await person.drop('flange.dxf', FLANGE, 'image/vnd.dxf');
  await person.press(ARTWORK.putItOnTheBoard);
  await person.unfold('Things and layers');
  await person.pick('Rectangle');
  await person.press(ARTWORK.cutTheSignOutAlong);
  await person.pick('Circle');
  await person.tick('Change all 2 of this size together');
  await person.type('Diameter', '35');
  await person.shape('Circle');
  await person.type('Diameter', '8');
  await person.type('From the left edge', '115');
  await person.type('From the front edge', '35');
  await person.go('Cuts');
  await person.press(CUTS.addACut);
  await person.press('Profile');
  await nothingToFix();
  const { items } = await documentOf();
  const holes = Object.values(items).filter(({ kind }) => kind === 'ellipse');
  expect(holes.map(({ width }) => width).sort((a, b) => a - b)).toEqual([8, 8, 35, 35]);
  person.within(23);
});

test('an engraving made faster', async () => {
  const person = new Person();
  await page.goto('/');
  await person.open(/Bench plate/);
  await planned(page);
  await person.press(JOB.faster);
  const idea = page.getByRole('list', { name: PROOF.whatWouldBeFasterTitle }).getByRole('listitem').first().getByRole('button');
  await expect(idea).toBeVisible({ timeout: 90_000 });
  await person.seen(idea.click());
  await nothingToFix();
  person.within(8);
  // A job of the demo: as it was.
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('a trial board of an open job', async () => {
  const person = new Person();
  await page.goto('/');
  await person.open(/Heron Walk/);
  await planned(page);
  await person.go('Proof');
  await person.press(PROOF.trialBoard);
  await person.press(PROOF.layOutTheTrialBoard);
  await expect(page.getByRole('heading', { name: /trial$/ })).toBeVisible({ timeout: 60_000 });
  made.add(jobId());
  await nothingToFix();
  person.within(10);
});
