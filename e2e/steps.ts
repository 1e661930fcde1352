import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Download, type Page } from '@playwright/test';

/** From an empty browser to the demo pairs. They are fetched first: till then what is called kept is the empty browser. */
export async function useDemo(page: Page, at = '/'): Promise<void> {
  await page.goto(at);
  await page.getByRole('button', { name: 'Use the demo pairs' }).click();
  await expect(page.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
  await kept(page);
}

/** Photographs that the demo brings: so many of each of its three practice prints. */
export const OF_A_PRINT = 2;
export const DEMO_PHOTOS = 3 * OF_A_PRINT;

/** Changes the pair in hand by the menu at the top. */
export const usePair = async (page: Page, name: RegExp) => {
  await page.getByRole('combobox', { name: /pair/i }).first().click();
  await page.getByRole('option', { name }).click();
};

/** How far right of the specimen’s left edge the line of the value begins, px, and how wide the specimen is drawn. */
export async function lineBesideSpecimen(page: Page): Promise<{ from: number; width: number }> {
  const line = (await page.locator('.chosen').boundingBox())!;
  const drawing = (await page.locator('st-specimen-drawing').boundingBox())!;
  return { from: line.x - drawing.x, width: drawing.width };
}

/** Waits until every change is in the browser's database. */
export const kept = (page: Page) => expect(page.getByRole('button', { name: 'kept in this browser' })).toBeVisible();

/** Waits until the file of the open trial is made. */
export const estimated = (page: Page) => expect(page.getByText(/\(estimate/)).toBeVisible({ timeout: 60_000 });

/** Types into a number field and leaves it. */
export async function fill(page: Page, label: string, text: string): Promise<void> {
  const field = page.getByLabel(label, { exact: true });
  await field.click();
  await field.press('ControlOrMeta+a');
  await field.pressSequentially(text);
  await field.press('Tab');
}

/** Opens a select and chooses the first option of these words; a list that is still closing is opened again, as a hand would. */
export async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  const item = page.getByRole('option', { name: option }).first();
  await expect(async () => {
    if (!(await item.isVisible())) await page.getByRole('combobox', { name: label, exact: true }).click();
    await item.click({ timeout: 3000 });
  }).toPass({ timeout: 30_000 });
  await expect(page.getByRole('listbox')).toHaveCount(0);
}

export const text = async (download: Download): Promise<string> => readFileSync(await download.path(), 'utf8');

/** What axe finds wrong on the page as it stands; by `rules` alone where they are named. */
export async function axeFindings(page: Page, rules?: string[]): Promise<string[]> {
  const axe = new AxeBuilder({ page });
  const { violations } = await (rules ? axe.withRules(rules) : axe).analyze();
  return violations.map(
    (v) => `${new URL(page.url()).pathname} ${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`,
  );
}

/** Nothing on the page reaches beyond its right edge. */
export async function fitsAcross(page: Page): Promise<void> {
  expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
}

/** Drops a file on the page, as from a folder. */
export async function drop(page: Page, name: string, bytes: Buffer): Promise<void> {
  const data = await page.evaluateHandle(
    ([n, b]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(atob(b!), (c) => c.charCodeAt(0))], n!));
      return transfer;
    },
    [name, bytes.toString('base64')],
  );
  await page.dispatchEvent('body', 'dragover', { dataTransfer: data });
  await page.dispatchEvent('body', 'drop', { dataTransfer: data });
}
