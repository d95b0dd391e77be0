/** Shared by the browser tests: stages, waiting for plans and saves, and what axe finds. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, type Browser, type Page } from '@playwright/test';

const require = createRequire(import.meta.url);
const axeSource = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');

/** Serious or critical faults that axe finds on the page as it stands. */
export async function axe(page: Page): Promise<string[]> {
  await page.evaluate(axeSource);
  return page.evaluate(async () => {
    // eslint-disable-next-line @typescript-eslint/no-explicit-any
    const result = await (window as any).axe.run(document, { resultTypes: ['violations'] });
    return result.violations
      .filter((v: { impact: string }) => v.impact === 'serious' || v.impact === 'critical')
      .map((v: { id: string; nodes: { html: string }[] }) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`);
  });
}

/** A page the owner has come in on, and what goes wrong on it from now on. */
export async function comeIn(browser: Browser): Promise<{ page: Page; faults: string[] }> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.stack ?? error.message));
  await page.goto('/');
  await page.getByRole('button', { name: 'Come in as the owner' }).click();
  return { page, faults };
}

export const stage = (page: Page, name: string) =>
  page
    .getByRole('navigation', { name: 'Stages of the job' })
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();

export async function planned(page: Page) {
  await expect(page.getByText('planning…')).toHaveCount(0, { timeout: 60_000 });
  await expect(page.locator('footer')).toContainText('deepest', { timeout: 60_000 });
}

/** Opens a job of the shop at one of its stages. */
export async function openJob(page: Page, name: RegExp, at: string) {
  await page.goto('/');
  await page.getByRole('link', { name }).first().click();
  await planned(page);
  await stage(page, at);
}

export const saved = (page: Page) => expect(page.locator('[data-save=saved]')).toBeVisible();
