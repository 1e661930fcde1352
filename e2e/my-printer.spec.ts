import { writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { choose, estimated, fill, kept, text, useDemo } from './steps';

test('my printer: from an empty browser to a settled temperature', async ({ page }) => {
  test.setTimeout(150_000);
  await page.goto('/');
  await page.getByRole('link', { name: 'My printer' }).click();

  // A bad value is answered beside the field; ten times too much is a question.
  await page.getByLabel('Name').fill('Bench seven');
  await fill(page, 'Bed width', 'wide');
  await expect(page.getByText(/“wide” is not a number/)).toBeVisible();
  await fill(page, 'Bed width', '180+20');
  await expect(page.getByLabel('Bed width', { exact: true })).toHaveValue('200');
  await fill(page, 'Nozzle diameter', '40');
  await expect(page.getByText(/40 mm is ten times off the usual/)).toBeVisible();
  await page.getByRole('button', { name: 'put back' }).click();
  await expect(page.getByLabel('Nozzle diameter')).toHaveValue('0.4');
  // An unknown placeholder is listed and mapped once; until then nothing is saved.
  await page.getByLabel('Start code').fill('BENCH_READY\nG28\nM140 S[plate_heat]\nM104 S{nozzle}\nM190 S[plate_heat]');
  await expect(page.getByRole('button', { name: 'Save the printer' })).toBeDisabled();
  await choose(page, 'Meaning of plate_heat', 'bed: bed temperature');
  // What a macro does must be said, too: no file tells it.
  await expect(page.getByRole('button', { name: 'Save the printer' })).toBeDisabled();
  await page.getByRole('group', { name: 'BENCH_READY' }).getByLabel('heats the bed').check();
  await page.getByRole('button', { name: 'Zone' }).click();
  await fill(page, 'from X', '90');
  await choose(page, 'Firmware', 'Klipper');
  await page.getByRole('button', { name: 'Save the printer' }).click();

  await expect(page.getByRole('heading', { name: 'My filament' })).toBeVisible();
  await page.getByLabel('Name').fill('Grey reel');
  await choose(page, 'Material', 'PETG');
  await expect(page.getByLabel('Lowest temperature')).toHaveValue('210');
  await fill(page, 'Highest temperature', '200');
  await expect(page.getByText(/the highest is not above the lowest/)).toBeVisible();
  await fill(page, 'Highest temperature', '265');
  await page.getByRole('button', { name: 'Save the filament' }).click();

  await expect(page.getByRole('heading', { name: /Bench seven · Grey reel/ })).toBeVisible();
  await expect(page.locator('st-route-rail').getByRole('link')).toHaveCount(17);
  await page
    .getByRole('link', { name: /Flow limit/ })
    .first()
    .click();
  await expect(page.getByText(/Feed check and Temperature are not settled yet/)).toBeVisible();
  await page
    .locator('st-route-rail')
    .getByRole('link', { name: /Temperature/ })
    .click();
  await page.getByRole('button', { name: 'Plan: Temperature tower' }).click();

  // Plan: levels and specimen follow at once; a level beyond the filament is refused in words.
  await fill(page, 'from (lowest band)', '255');
  await fill(page, 'to (highest band)', '236');
  await expect(page.getByText('by 5 the sweep ends at 240, not at 236')).toBeVisible();
  await expect(page.getByRole('group', { name: /^planned/ }).locator('.cell')).toHaveText(['255', '250', '245', '240']);
  await fill(page, 'from (lowest band)', '280');
  await expect(page.getByText(/280 °C is over the filament’s highest temperature/)).toBeVisible();
  await page.locator('main').press('ControlOrMeta+z');
  await expect(page.getByText(/280 °C is over/)).toBeHidden();
  await expect(page.getByLabel('from (lowest band)')).toHaveValue('255');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByText(/280 °C is over the filament’s highest temperature/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await fill(page, 'to (highest band)', '230');
  await page.getByRole('button', { name: 'all settings of this print' }).click();
  await fill(page, 'shortest layer time', '6');
  await expect(page.getByText('back to the baseline')).toBeVisible();
  await page.keyboard.press('Escape');
  await estimated(page);

  // Print: the file that leaves is checked, carries its trial, and no placeholder reaches it.
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  await estimated(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download the G-code' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/^[a-z0-9]+-[a-z0-9-]+-temperature-tower-255-to-230-c\.gcode$/);
  const code = await text(download);
  expect(code).toMatch(/^; Steady Tune trial file/);
  expect(code).toMatch(/BENCH_READY\nG28\nM140 S75\nM104 S\d+\nM190 S75/);
  expect(code).not.toMatch(/[[{]/);
  expect([...code.matchAll(/^M104 S(\d+)$/gm)].map((m) => Number(m[1]))).toEqual(
    expect.arrayContaining([255, 250, 245, 240, 235, 230, 0]),
  );
  await page.getByLabel('bed clean, first layer fine').check();
  await page.getByLabel('room').fill('20 °C');
  await page.getByRole('button', { name: 'It is printed: read it' }).click();

  // Read, by keyboard alone: a score steps on by itself.
  await expect(page.getByText('Band 1 of 6 · 255 °C')).toBeVisible();
  await page.keyboard.type('0123');
  await expect(page.getByText('Band 5 of 6 · 235 °C')).toBeVisible();
  await kept(page);
  await page.reload();
  // Nothing is lost: the readings are there, and reading goes on where it stopped.
  await expect(page.getByRole('button', { name: '240 °C, stringing: 3 one or two' })).toBeVisible();
  await expect(page.getByText('Band 5 of 6 · 235 °C')).toBeVisible();
  await page.keyboard.type('44');
  await expect(
    page
      .locator('.track', { hasText: 'overhang' })
      .or(page.getByText('overhang', { exact: true }))
      .first(),
  ).toBeVisible();
  await page.keyboard.type('012344');
  await page.keyboard.type('113444');
  await page.keyboard.type('234432');
  await page.keyboard.type('44432x');
  await expect(page.getByRole('button', { name: '230 °C, layer strength: broke' })).toBeVisible();
  // A caliper reading lights its row and says its value.
  await page.getByLabel(/caliper height/).fill('20,5 mm');
  await expect(page.locator('st-read-panel')).toContainText('= 240 °C');
  await page.getByLabel(/caliper height/).fill('80');
  await expect(page.locator('st-read-panel')).toContainText('off the specimen');
  await page.getByLabel(/caliper height/).fill('');

  await page.getByRole('button', { name: /^Settle 2\d\d °C$/ }).click();
  await expect(page.locator('st-settle-panel')).toContainText('95 % sure');
  await page.getByRole('button', { name: /^Settle 2\d\d °C$/ }).click();
  await expect(page.getByRole('button', { name: /^Settled: 2\d\d °C$/ })).toBeDisabled();
  await page.getByRole('link', { name: /stands on the tune sheet/ }).click();
  await expect(page.getByRole('row', { name: /nozzle temperature 2\d\d °C/ })).toContainText(
    '30 readings on 6 cells, 1 print',
  );
  await kept(page);
  await page.reload();
  await expect(page.getByRole('row', { name: /nozzle temperature 2\d\d °C/ })).toBeVisible();
});

test('a file of ours opens again as a trial; a foreign one is refused with the reason', async ({ page }, info) => {
  await useDemo(page);
  await page.goto('/trial/demo-osprey-temperature?stage=print');
  await estimated(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download the G-code' }).click(),
  ]);
  const file = info.outputPath('tower.gcode');
  await download.saveAs(file);
  await page.goto('/pair/osprey-tidewrack-asa/stop/temperature');
  const foreign = info.outputPath('foreign.gcode');
  writeFileSync(foreign, 'G28\nG1 X10 F600\n');
  await page.getByLabel('Trial file or G-code of ours').setInputFiles(foreign);
  await expect(page.getByRole('alert')).toContainText('foreign.gcode: it carries no trial');
  await page.getByLabel('Trial file or G-code of ours').setInputFiles(file);
  await expect(page.getByRole('heading', { name: 'Temperature tower, 270 → 235 °C' })).toBeVisible();
  await estimated(page);
  // The price, which the file does not carry, is back from the shelf.
  await expect(page.getByText(/g · costs 0\.[1-9]/)).toBeVisible();
  // Values of the trial can become the pair's baseline.
  await page.getByRole('button', { name: 'all settings of this print' }).click();
  await fill(page, 'outer wall speed', '33');
  await page.getByRole('button', { name: 'Make outer wall speed the pair’s baseline' }).click();
  await page.keyboard.press('Escape');
  await kept(page);
  await page.goto('/pair/osprey-tidewrack-asa/stop/temperature');
  await page.getByRole('button', { name: 'Plan: Temperature tower' }).click();
  await page.getByRole('button', { name: 'all settings of this print' }).click();
  await expect(page.getByLabel('outer wall speed', { exact: true })).toHaveValue('33');
});
