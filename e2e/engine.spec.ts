import { expect, test, type Page } from '@playwright/test';
import { axeFindings, choose, estimated, fill, kept, text, useDemo } from './steps';

/** Opens an engine check of the first pair by its name. */
async function openCheck(page: Page, solid: string): Promise<void> {
  await page.getByRole('link', { name: 'engine checks' }).click();
  await expect(page.getByRole('heading', { name: 'Engine checks' })).toBeVisible();
  await page.getByRole('row').filter({ hasText: solid }).getByRole('link').first().click();
  await estimated(page);
}

const drawer = (page: Page) => page.locator('.p-drawer');

async function openToolpath(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  await page.getByRole('button', { name: 'Look at the toolpath' }).click();
  await expect(drawer(page).getByText('Point at a move')).toBeVisible();
}

test('eight infill patterns stand side by side in one print, and one is taken out', async ({ page }) => {
  await useDemo(page);
  await openCheck(page, 'A plain block');
  await expect(page.getByRole('group', { name: 'planned' })).toContainText('gyroid');
  await page.getByRole('checkbox', { name: 'triangles' }).uncheck();
  await expect(page.getByText('7 tiles:')).toBeVisible();
  await estimated(page);
  await openToolpath(page);
  await expect(drawer(page).getByText('honeycomb')).toBeVisible();
  await expect(drawer(page).getByText('triangles')).toHaveCount(0);
});

test('any setting can be varied: retraction by tile, its value read back from the file', async ({ page }) => {
  await useDemo(page);
  await openCheck(page, 'A round wall with a hole');
  await choose(page, 'What varies', /^retraction distance$/);
  await fill(page, 'from (first tile)', '0,4');
  await fill(page, 'to (last tile)', '1.2');
  await fill(page, 'in steps of', '0.4');
  await expect(page.getByText('3 tiles:')).toBeVisible();
  await estimated(page);
  const inFile = page.getByRole('group', { name: /^in the file/ });
  for (const value of ['0.4', '0.8', '1.2']) await expect(inFile.getByText(value, { exact: true })).toBeVisible();
  await kept(page);
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download the G-code' }).click(),
  ]);
  // The plain text itself: all three lengths are drawn back in it.
  const drawn = new Set([...(await text(file)).matchAll(/^G1 E-([\d.]+)/gm)].map((m) => Number(m[1]).toFixed(1)));
  for (const value of ['0.4', '0.8', '1.2']) expect(drawn).toContain(value);
});

test('temperature among tiles is refused layer by layer, with the way out, and made one after the other', async ({
  page,
}) => {
  await useDemo(page);
  await openCheck(page, 'Five sharp points');
  await choose(page, 'What varies', /^nozzle temperature$/);
  await choose(page, 'Laid out', /^as tiles$/);
  await expect(page.getByText(/print the tiles one after the other/)).toBeVisible();
  await page.getByRole('button', { name: 'all settings of this print' }).click();
  await page.getByLabel('find').fill('several objects');
  await choose(page, 'several objects', 'one after the other');
  await page.keyboard.press('Escape');
  await expect(page.getByText(/print the tiles one after the other/)).toHaveCount(0);
  await fill(page, 'to (last tile)', '255');
  await estimated(page);
});

test('the toolpath is shaded, zoomed, layered, and says what a move is', async ({ page }) => {
  await useDemo(page);
  await openCheck(page, 'Seven slabs');
  await openToolpath(page);
  const view = drawer(page);
  for (const shading of ['speed', 'flow', 'fan', 'layer time']) {
    await choose(page, 'Shade by', shading);
    await expect(view.locator('.scale')).toContainText(/mm\/s|mm³\/s|%|s/);
  }
  await view.getByLabel('wall crossings').check();
  await expect(view.getByText(/travel over an outer wall: \d+ here/)).toBeVisible();
  await choose(page, 'Layers shown', '20 down');
  await expect(view.getByText(/^layers \d+ to \d+ of 60/)).toBeVisible();
  const canvas = view.locator('.view canvas');
  const box = (await canvas.boundingBox())!;
  // The left wall of the first tile, found by running over it.
  let said = '';
  for (let x = box.x + box.width * 0.2; x < box.x + box.width * 0.35 && !/wall/.test(said); x += 2) {
    await page.mouse.move(x, box.y + box.height / 2);
    said = await view.locator('.what').innerText();
  }
  expect(said).toMatch(
    /^(outer|inner) wall of lines, 0.45 × 0.2 mm, [\d.]+ mm\/s, [\d.]+ mm³\/s, fan \d+ %, line \d+ of the file$/,
  );
  await page.mouse.wheel(0, -600);
  await canvas.focus();
  await page.keyboard.press('0');
  expect(await axeFindings(page)).toEqual([]);
});

test('a bad list of angles is answered beside the field, and the good one kept', async ({ page }) => {
  await useDemo(page);
  await openCheck(page, 'A plain block');
  await page.getByRole('button', { name: 'all settings of this print' }).click();
  await page.getByLabel('find').fill('angles');
  const field = page.getByLabel('skin angles, layer by layer');
  await field.fill('60, zero');
  await field.blur();
  await expect(page.getByText(/is no list; write up to 12 numbers/)).toBeVisible();
  await field.fill('60, 0, -60');
  await field.blur();
  await expect(page.getByText(/is no list/)).toHaveCount(0);
  await page.keyboard.press('Escape');
  await estimated(page);
  await kept(page);
  await page.reload();
  await estimated(page);
  await page.getByRole('button', { name: 'all settings of this print' }).click();
  await expect(page.getByLabel('skin angles, layer by layer')).toHaveValue('60, 0, -60');
});

test('a print with two tools takes its second filament from the shelf', async ({ page }) => {
  await useDemo(page);
  await page.getByRole('combobox', { name: 'Pair in hand' }).click();
  await page.getByRole('option', { name: /Osprey/ }).click();
  await page.getByRole('link', { name: 'engine checks' }).click();
  await page.getByRole('row').filter({ hasText: 'A plain block' }).getByRole('button', { name: 'Plan one' }).click();
  await estimated(page);
  await choose(page, 'What varies', /^nothing$/);
  await page.getByRole('button', { name: 'all settings of this print' }).click();
  await page.getByLabel('find').fill('tool');
  await fill(page, 'tool of the infill', '2');
  await choose(page, 'Filament in tool 2', 'Saltpan PLA');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  await expect(page.getByText(/changes of tool/)).toBeVisible({ timeout: 60_000 });
});
