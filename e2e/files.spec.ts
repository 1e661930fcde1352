import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { expect, test } from '@playwright/test';
import { axeFindings, choose, drop, estimated, fill, fitsAcross, kept, text, useDemo, usePair } from './steps';

const sample = (name: string) => `web/public/samples/${name}.gcode`;

test('a file dropped anywhere is checked, unpacked where it is gzip, and kept', async ({ page }) => {
  await useDemo(page);
  await drop(page, 'bracket-20.gcode.gz', gzipSync(readFileSync(sample('bracket-20'))));
  await expect(page.getByRole('heading', { name: 'bracket-20.gcode', exact: true })).toBeVisible();
  await expect(page.getByText('50 layers')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('img', { name: /Over 10 mm of height: nozzle 240/ })).toBeVisible();
  await expect(page.getByText(/Told by geometry alone/)).toBeVisible();
  expect(await axeFindings(page)).toEqual([]);
  await fitsAcross(page);
  await page.getByRole('button', { name: 'Look at the toolpath' }).click();
  await expect(page.getByText(/layer \d+ of 50 · Z/)).toBeVisible();
  await page.keyboard.press('Escape');
  await kept(page);
  await page.reload();
  await expect(page.getByText('50 layers')).toBeVisible({ timeout: 30_000 });
  // What is no G-code is refused in a sentence, and nothing is lost.
  await drop(page, 'photo.png', Buffer.from([0x89, 0x50, 0, 0, 1, 2]));
  await expect(page.getByRole('alert')).toHaveText(/photo\.png: this is no text; choose G-code as text/);
  await drop(page, 'bomb.gz', gzipSync(Buffer.alloc(40_000_000, 32)));
  await expect(page.getByRole('alert')).toHaveText(/grows beyond all measure/);
  await expect(page.getByRole('link', { name: 'bracket-20.gcode' })).toBeVisible();
});

/** A post of 10 mm with an arm of 20 mm on its eighth layer, which ends in the air. */
function postWithArm(): string {
  const lines = ['G28', 'G21', 'G90', 'M83', 'M104 S240', 'M109 S240', 'G0 X100 Y100 F6000'];
  for (let k = 1; k <= 10; k++) {
    lines.push(`G0 Z${(0.2 * k).toFixed(1)} F600`, 'G0 X100 Y100 F6000');
    for (const [x, y] of [[110, 100], [110, 110], [100, 110], [100, 100]]) lines.push(`G1 X${x} Y${y} E0.34 F1200`); // prettier-ignore
    if (k === 8) lines.push('G0 X109 Y105', 'G1 X130 Y105 E0.7');
  }
  return [...lines, 'G0 Z20 F600', 'M104 S0', 'M140 S0', ''].join('\n');
}

test('a line that ends in the air is found in a file, said with its height, and drawn', async ({ page }) => {
  await useDemo(page);
  await drop(page, 'arm.gcode', Buffer.from(postWithArm()));
  await expect(page.getByText('10 layers')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/20 mm of line on 1 layer is laid over nothing and held at one end/)).toBeVisible();
  await page.getByRole('button', { name: 'Look at the toolpath' }).click();
  await expect(page.getByText(/layer \d+ of 10 · Z/)).toBeVisible();
  await page.getByRole('slider', { name: 'Layer' }).focus();
  await page.keyboard.press('Home');
  await expect(page.getByText(/layer 1 of 10/)).toBeVisible();
  await expect(page.getByText(/over nothing, not held/)).toHaveCount(0);
  for (let k = 0; k < 7; k++) await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/over nothing, not held: 20 mm here/)).toBeVisible();
  await page.getByLabel('true widths').check();
  await expect(page.getByLabel('true widths')).toBeChecked();
});

test('a temperature sweep carried into a two-tool file stands in every band, and comes out as a file', async ({
  page,
}) => {
  await useDemo(page);
  await usePair(page, /Osprey/);
  await page.getByRole('link', { name: 'Files', exact: true }).click();
  await page.getByLabel('Files to take in').setInputFiles(sample('two-colour-knob'));
  await expect(page.getByText('30 layers')).toBeVisible({ timeout: 30_000 });
  await choose(page, 'What to vary in the file', 'nozzle temperature');
  await page.getByRole('button', { name: 'Plan the sweep' }).click();
  await estimated(page);
  await expect(page.getByRole('heading', { name: /two-colour-knob, nozzle temperature/ })).toBeVisible();
  await fill(page, 'from (lowest band)', '265');
  await fill(page, 'to (highest band)', '245');
  await fill(page, 'in steps of', '10');
  const inFile = page.getByRole('group', { name: /^in the file/ });
  await expect(inFile).toHaveText(/265\s*255\s*245/, { timeout: 30_000 });
  await estimated(page);
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Print' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /Download the G-code/ }).click();
  const lines = (await text(await download)).split(/\r?\n/);
  // Each tool heats itself when it comes in hand: its own lines have the values of the sweep now, and none waits twice.
  const heats = lines.flatMap((l, i) =>
    i > 400 && /^M109/.test(l) ? [{ value: Number(/[SR](\d+)/.exec(l)![1]), i }] : [],
  );
  expect(new Set(heats.slice(1).map((h) => h.value))).toEqual(new Set([265, 255, 245]));
  expect(heats.every((h, k) => k === 0 || h.i - heats[k - 1]!.i > 3)).toBe(true);
  await kept(page);
  await page.reload();
  await estimated(page);
  await expect(inFile).toHaveText(/265\s*255\s*245/);
});

test('values are carried in object by object, and bands are laid by layer numbers', async ({ page, browser }, info) => {
  await useDemo(page);
  await page.getByRole('link', { name: 'Files', exact: true }).click();
  await page.getByLabel('Files to take in').setInputFiles(sample('three-clips'));
  await expect(page.getByRole('img', { name: /3 objects/ })).toBeVisible({ timeout: 30_000 });
  await choose(page, 'What to vary in the file', 'pressure advance');
  await choose(page, 'How its values are laid out', /^object by object/);
  await page.getByRole('button', { name: 'Plan the sweep' }).click();
  await estimated(page);
  await expect(page.getByText('3 objects:')).toBeVisible();
  await fill(page, 'from (first object)', '0.02');
  await fill(page, 'to (last object)', '0.08');
  await fill(page, 'in steps of', '0.03');
  const inFile = page.getByRole('group', { name: /^in the file/ });
  await expect(inFile).toHaveText(/0\.02\s*0\.05\s*0\.08/, { timeout: 30_000 });
  // By height instead, with borders typed as layers: a wrong list is answered and kept to be corrected.
  await choose(page, 'Laid out', 'by height');
  await estimated(page);
  const borders = page.getByLabel('bands begin at');
  await expect(borders).toHaveValue(/^2 \d+ \d+$/);
  await borders.fill('2 9');
  await borders.press('Tab');
  await expect(page.getByText('2 figures for 3 bands; give one for each')).toBeVisible();
  await expect(borders).toHaveValue('2 9');
  await borders.fill('2 9 26');
  await borders.press('Tab');
  await estimated(page);
  await choose(page, 'Borders in', 'mm');
  // Layers of 0.2 on a first of 0.24: layer 9 begins at 1.64 mm, layer 26 at 5.04.
  await expect(borders).toHaveValue('0.24 1.64 5.04');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(borders).not.toHaveValue('0.24 1.64 5.04');

  // The file that the trial rests on goes with a backup: in an empty browser it is made as before.
  const trial = page.url();
  await page.getByRole('button', { name: 'kept in this browser' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Keep a backup' }).click(),
  ]);
  const zip = info.outputPath('with-file.zip');
  await download.saveAs(zip);
  const other = await browser.newContext();
  const fresh = await other.newPage();
  await fresh.goto('/start');
  await fresh.getByRole('button', { name: 'kept in this browser' }).click();
  await fresh.getByLabel('Backup file').setInputFiles(zip);
  await fresh.getByRole('button', { name: 'Replace everything' }).click();
  await expect(fresh.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
  await fresh.goto(trial);
  await expect(fresh.getByRole('group', { name: /^in the file/ })).toHaveText(/0\.02\s*0\.05\s*0\.08/, {
    timeout: 30_000,
  });
  await other.close();
});

test('a pair is learnt from a file, corrected and saved', async ({ page }) => {
  await useDemo(page);
  await page.getByRole('link', { name: 'Files', exact: true }).click();
  await page.getByLabel('Files to take in').setInputFiles(sample('bracket-30'));
  await page.getByRole('button', { name: 'Learn a pair' }).click({ timeout: 30_000 });
  const panel = page.getByRole('region', { name: 'A pair learnt from this file' });
  await expect(panel.getByRole('combobox', { name: /^infill pattern/ })).toHaveText('grid');
  await expect(panel.getByLabel(/^outer wall speed/)).toHaveValue('40');
  const speed = panel.getByLabel(/^outer wall speed/);
  await speed.fill('fast');
  await speed.press('Tab');
  await expect(panel.getByRole('alert')).toBeVisible();
  await expect(panel.getByRole('button', { name: 'Save as a pair' })).toBeDisabled();
  await speed.fill('36,5');
  await speed.press('Tab');
  await panel.getByLabel('printer', { exact: true }).fill('My Heron');
  await panel.getByRole('button', { name: 'Save as a pair' }).click();
  await expect(page.getByRole('heading', { name: /My Heron · Marsh PETG, learnt/ })).toBeVisible();
});

test('four files beside one another become a trial that is read and settled', async ({ page }) => {
  await useDemo(page);
  await page.getByRole('link', { name: 'Files', exact: true }).click();
  await page.getByRole('button', { name: 'Take the sample files' }).click();
  for (const k of [10, 20, 30, 40]) await page.getByRole('checkbox', { name: `Compare bracket-${k}` }).check();
  await page.getByRole('link', { name: 'Compare 4 files' }).click();
  await expect(page.getByText('Not printed')).toBeVisible();
  const row = page.getByRole('row', { name: /Compare with bracket-40/ });
  await expect(row).toContainText('+64 %', { timeout: 30_000 });
  await page.getByRole('radio', { name: 'Compare with bracket-40.gcode' }).check();
  await expect(page.getByRole('row', { name: /Compare with bracket-10/ })).toContainText('-39 %'.replace('-', '−'));
  // What else differs is read off their lines; laid over one another, the lines of each alone come forward.
  await expect(page.getByRole('row', { name: /^infill density, likely %/ })).toContainText(/10.*20.*30.*40/, {
    timeout: 30_000,
  });
  await page.getByRole('button', { name: 'Lay them over one another' }).click();
  await choose(page, 'Laid over it', 'bracket-10.gcode');
  await expect(page.getByText(/^layer \d+ of 50 · Z/)).toBeVisible({ timeout: 30_000 });
  await expect(page.locator('st-layer-overlay .legend')).toContainText(/only bracket-40\.gcode 0\.[1-9]/);
  await page.getByRole('slider', { name: 'Layer laid over' }).press('Home');
  await expect(page.getByText(/^layer 1 of 50/)).toBeVisible();
  expect(await axeFindings(page)).toEqual([]);
  await choose(page, 'What was varied', 'infill density');
  await expect(page.getByRole('textbox', { name: 'infill density of bracket-20.gcode' })).toHaveValue('20');
  expect(await axeFindings(page)).toEqual([]);
  await page.getByRole('button', { name: 'Make it a trial' }).click();
  await estimated(page);
  await expect(page.getByRole('heading', { name: 'Own files, infill density 10 → 40 %' })).toBeVisible();
  for (let print = 0; print < 3; print++) {
    await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Print' }).click();
    if (print > 0) await choose(page, 'Which print', new RegExp(`^print ${print + 1}:`));
    await estimated(page);
    await page.getByRole('button', { name: 'It is printed: on to the next' }).click();
  }
  await page.getByRole('button', { name: 'Read what is printed' }).click();
  for (const key of ['1', '3', '4', '4']) await page.keyboard.press(key);
  // The fourth is printed too, and was not noted: what is said of it waits for that, and is kept.
  await expect(page.getByText('Print 4 is not noted as printed yet, so what you said of it waits.')).toBeVisible();
  await page.getByRole('button', { name: 'It is printed: keep it' }).click();
  await expect(page.getByText(/is not noted as printed yet/)).toBeHidden();
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Settle' }).click();
  // The more the better as far as the files go: the answer says to go on, and what more costs is drawn.
  await expect(page.getByText(/at the edge of the sweep, 40 %/)).toBeVisible();
  await expect(page.getByText(/20–70 % in 10 % steps/)).toBeVisible();
  await choose(page, 'Rule', 'least time that passes');
  await expect(page.locator('st-settle-panel')).toContainText(/20 %|30 %/);
});

test('limits are taken over from what the printer reports of itself', async ({ page }) => {
  await useDemo(page);
  await page.goto('/shelf/printer/heron');
  await page.getByText('Fill in limits from the printer’s own report').click();
  const report = page.getByLabel('Report of the printer');
  await report.fill('hello');
  await page.getByRole('button', { name: 'Take the limits over' }).click();
  await expect(page.getByText(/no limit of speed or acceleration stands in it/)).toBeVisible();
  await report.fill('echo: M203 X310 Y300 Z12 E60\necho: M201 X2900 Y2800 Z110 E5000');
  await page.getByRole('button', { name: 'Take the limits over' }).click();
  await expect(page.getByText(/Taken over: speed, Z speed/)).toBeVisible();
  await expect(page.getByLabel('Acceleration limit', { exact: true })).toHaveValue('2800');
});
