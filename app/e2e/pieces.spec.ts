/**
 * Pieces of work from a bare wall to a plan without anything to fix, by the labels a person reads.
 * Every press, typed figure and choice counts as a step; each piece has a bound on them.
 */
import { expect, test, type Page } from '@playwright/test';
import { addShape, comeIn, planned, stage } from './shop';

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

/** A person at the screen, whose steps are counted. */
class Person {
  steps = 0;
  private within = () => page.locator('body');

  private async seen<T>(work: Promise<T>): Promise<T> {
    this.steps++;
    return work;
  }
  press = (name: string | RegExp) =>
    this.seen(
      this.within()
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
  write = (text: string) => this.seen(page.getByLabel('What the sign says').fill(text));
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
  /** Lets a file go over the board. */
  drop = (name: string, content: string, type: string) =>
    this.seen(
      (async () => {
        const transfer = await page.evaluateHandle(
          ([file, text, mime]) => {
            const data = new DataTransfer();
            data.items.add(new File([text], file, { type: mime }));
            return data;
          },
          [name, content, type],
        );
        await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
      })(),
    );

  /** New sign, with what differs from what stands there. */
  async begin(what: string, size: Partial<{ width: string; height: string; thickness: string; material: string }> = {}, on?: string) {
    await page.goto('/');
    await this.press('New sign');
    if (on) await this.press(on);
    await this.press(new RegExp(`^${what}`));
    if (size.width) await this.type2('Width, left to right', size.width);
    if (size.height) await this.type2('Height, front to back', size.height);
    if (size.thickness) await this.type2('Thickness', size.thickness);
    if (size.material) await this.choose('Material', size.material);
    await this.press('Make it');
    await expect(page.getByRole('navigation', { name: 'Stages of the job' })).toBeVisible();
  }
  /** Inside a form Enter would send it: Tab leaves the field. */
  private type2 = (label: string, text: string) =>
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

test('a small engraved plate: words on brass', async () => {
  const person = new Person();
  await person.begin('Engraved plate', { width: '100 mm', height: '60 mm' });
  await person.write('Kiln 2\nkeep shut');
  await nothingToFix();
  expect(person.steps).toBeLessThanOrEqual(10);
  console.log('small plate', person.steps);
});
