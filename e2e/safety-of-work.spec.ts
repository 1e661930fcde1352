import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { DEMO_PHOTOS, estimated, fill, kept, useDemo } from './steps';

test('a backup restores everything in an empty browser; a damaged or foreign file changes nothing', async ({
  page,
  browser,
}, info) => {
  await useDemo(page);
  await page.getByRole('button', { name: 'kept in this browser' }).click();
  await expect(page.getByText('No backup has been made yet')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Keep a backup' }).click(),
  ]);
  const good = info.outputPath('backup.zip');
  await download.saveAs(good);
  const bytes = readFileSync(good);
  const damaged = info.outputPath('damaged.zip');
  writeFileSync(damaged, bytes.subarray(0, Math.floor(bytes.length * 0.6)));
  const foreign = info.outputPath('foreign.zip');
  writeFileSync(foreign, 'just some words');

  const other = await browser.newContext();
  const fresh = await other.newPage();
  await fresh.goto('/start');
  const restore = async (file: string) => {
    if (!(await fresh.getByRole('button', { name: 'Restore a backup' }).isVisible()))
      await fresh.getByRole('button', { name: 'kept in this browser' }).click();
    await fresh.getByLabel('Backup file').setInputFiles(file);
  };
  for (const [file, why] of [
    [damaged, /damaged\.zip: it is no zip file, or it is damaged/],
    [foreign, /foreign\.zip: it is no zip file, or it is damaged/],
  ] as const) {
    await restore(file);
    await expect(fresh.getByRole('alert')).toContainText(why);
    await expect(fresh.getByRole('alert')).toContainText('What was here is unchanged.');
  }
  await restore(good);
  await expect(
    fresh.getByText(`holds 3 printers, 4 filaments, 3 pairs, 16 trials, ${DEMO_PHOTOS} photos and 0 files`),
  ).toBeVisible();
  await fresh.getByRole('button', { name: 'Replace everything' }).click();
  await expect(fresh.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
  await fresh.goto('/trial/demo-heron-temperature?stage=settle');
  await expect(fresh.locator('.pill')).toHaveText(/245 °C/);

  // What is there stays when a damaged file is refused.
  await restore(damaged);
  await expect(fresh.getByRole('alert')).toBeVisible();
  await fresh.reload();
  await expect(fresh.locator('.pill')).toHaveText(/245 °C/);
  await other.close();
});

test('making a file can be cancelled and started again', async ({ page }) => {
  await useDemo(page);
  await page.goto('/trial/demo-osprey-temperature?stage=plan');
  // Many high bands take long enough to press Cancel.
  await fill(page, 'in steps of', '2');
  await fill(page, 'band height', '12');
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  await page.getByRole('button', { name: 'Cancel', exact: true }).click({ timeout: 20_000 });
  await expect(page.getByText('The making was cancelled.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Download the G-code' })).toBeHidden();
  await page.getByRole('button', { name: 'Make it again' }).click();
  await estimated(page);
  await expect(page.getByRole('button', { name: 'Download the G-code' })).toBeVisible();
});

test('a second tab follows and does not write', async ({ page, context }) => {
  await useDemo(page);
  await page.goto('/trial/demo-plover-temperature?stage=read');
  await expect(page.getByText('Band 5 of 8')).toBeVisible();
  const second = await context.newPage();
  await second.goto('/trial/demo-plover-temperature?stage=read');
  await expect(second.getByText('This one follows and does not write')).toBeVisible();
  await page.bringToFront();
  await page.keyboard.press('4');
  await expect(page.getByRole('button', { name: '215 °C, stringing: 4 clean' })).toBeVisible();
  await expect(second.getByRole('button', { name: '215 °C, stringing: 4 clean' })).toBeVisible();
  // When the first closes, the second takes over.
  await page.close();
  await expect(second.getByText('This one follows and does not write')).toBeHidden();
  await second.keyboard.press('ArrowUp');
  await second.keyboard.press('3');
  await kept(second);
});

test('another nozzle shakes what rests on it, and says so before saving', async ({ page }) => {
  await useDemo(page);
  await page.goto('/shelf/printer/heron');
  await fill(page, 'Nozzle diameter', '0.6');
  await expect(page.getByText(/Saving another nozzle shakes what rests on it: Heron/)).toBeVisible();
  await page.getByRole('button', { name: 'Save changes' }).click();
  await page.getByRole('link', { name: 'Tune sheet', exact: true }).click();
  await expect(page.getByRole('row', { name: /nozzle temperature/ })).toContainText('by another nozzle');
});

test('what is removed can be put back after a reload, and edits of a printer outlive leaving its page', async ({
  page,
}) => {
  await useDemo(page);
  await page.goto('/pair/heron-marsh-petg/stop/retraction');
  const fence = page.getByRole('link', { name: /^Retraction fence/ });
  await expect(fence).toBeVisible();
  await page.getByRole('button', { name: /^Remove Retraction fence/ }).click();
  await expect(fence).toBeHidden();
  await kept(page);
  await page.reload();
  await expect(page.getByText(/Removed:\s*Retraction fence/)).toBeVisible();
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(fence).toBeVisible();
  // What stands on the tune sheet stays, and its button says why.
  await page.goto('/pair/heron-marsh-petg/stop/temperature');
  const settled = page.getByRole('button', { name: /^Remove Temperature tower/ });
  await expect(settled).toHaveAttribute('title', /It stays: its value stands on the tune sheet/);
  await settled.click({ force: true });
  await expect(page.getByRole('link', { name: /^Temperature tower/ })).toBeVisible();

  await page.goto('/shelf/printer/heron');
  await fill(page, 'Nozzle diameter', '0.6');
  await kept(page);
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  await page.getByRole('link', { name: /^Heron\s*235 × 235/ }).click();
  await expect(page.getByText('Changes of before, not saved yet, are here again.')).toBeVisible();
  await expect(page.getByLabel('Nozzle diameter', { exact: true })).toHaveValue('0.6');
  await page.getByRole('button', { name: 'Take them back' }).click();
  await expect(page.getByLabel('Nozzle diameter', { exact: true })).toHaveValue('0.4');
});
