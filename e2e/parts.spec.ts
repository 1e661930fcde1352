import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { axeFindings, choose, drop, estimated, fill, fitsAcross, kept, text, useDemo, usePair } from './steps';

const part = (name: string) => readFileSync(`web/public/samples/${name}`);
/** Waits until the part as it stands was looked over and made once. */
const looked = (page: Page, of = 'One print') =>
  expect(page.getByText(new RegExp(`${of}: \\d+ (min|s)`))).toBeVisible({ timeout: 60_000 });
/** From an empty browser to a part of the demo, looked over. */
const openSample = async (page: Page, name: string) => {
  await useDemo(page);
  await page.getByRole('link', { name: 'Files' }).click();
  await page.getByRole('button', { name: 'Take the sample parts' }).click();
  await page.getByRole('link', { name }).click();
  await looked(page);
};

test('a part dropped anywhere is laid on a face, cut to the piece that tells, and its variants are held against one another', async ({
  page,
}) => {
  await useDemo(page);
  await drop(page, 'dew-shield-clip.stl', part('dew-shield-clip.stl'));
  await expect(page.getByRole('heading', { name: 'dew-shield-clip.stl' })).toBeVisible();
  await looked(page);
  await expect(page.getByText('55 × 14 × 33 mm · 193 triangles')).toBeVisible();
  await expect(page.getByText(/gaps were closed, the widest of 0\.38 mm/)).toBeVisible();
  expect(await axeFindings(page)).toEqual([]);
  await fitsAcross(page);

  // On its side by the list; on its foot again by undo; by the keys of the view it is turned.
  await choose(page, 'Lie on another side', /^14 mm high/);
  await expect(page.getByText('× 14 mm · 193 triangles')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('55 × 14 × 33 mm · 193 triangles')).toBeVisible();
  // A face that is pressed comes to lie on the bed: seen from the front, the front.
  await page.getByRole('button', { name: 'from the front' }).click();
  await page.getByRole('button', { name: 'Press a face to lie on' }).click();
  const box = (await page.locator('st-part-space canvas').boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.25, box.y + box.height * 0.5);
  await expect(page.getByText('55 × 33 × 14 mm · 193 triangles')).toBeVisible();
  await page.locator('st-part-space canvas').press('ArrowLeft');
  await page.keyboard.press('ControlOrMeta+z');
  await expect(page.getByText('55 × 14 × 33 mm · 193 triangles')).toBeVisible();
  await looked(page);

  // Looked into down to the bed nothing is left to see; a piece that is cut out then is there to be seen.
  await page.getByLabel('Look into it up to this height, mm').press('Home');
  await expect(page.getByText('look into it, up to 0 mm')).toBeVisible();
  // The piece that shows the steepest overhang takes less than the whole.
  await page.getByRole('button', { name: /the steepest overhang, 76°/ }).click();
  await looked(page, 'This piece');
  await expect(page.getByText(/This piece: .* The whole part: 3\d min/)).toBeVisible();
  await expect(page.getByText('look into it, up to 33 mm')).toBeVisible();
  await kept(page);
  await page.reload();
  await looked(page, 'This piece');
  await page.getByRole('button', { name: 'all of it' }).click();
  await looked(page);

  await choose(page, 'what varies', 'infill density');
  await choose(page, 'laid out', 'by print');
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await expect(page.getByRole('heading', { name: /dew-shield-clip, infill density/ })).toBeVisible();
  await fill(page, 'from (first print)', '15');
  await fill(page, 'to (last print)', '95');
  await fill(page, 'in steps of', '40');
  await estimated(page);
  await page.getByRole('button', { name: 'what they take, beside one another' }).click();
  await expect(page.getByRole('row', { name: /^.*95 %/ })).toBeVisible({ timeout: 60_000 });
  const rows = page.locator('#variants tbody tr');
  // The three levels, and below them the part as the pair prints it, at 20 %.
  await expect(rows).toHaveCount(4, { timeout: 60_000 });
  await expect(page.getByText('Not printed')).toBeVisible();
  const mass = await rows.evaluateAll((all) => all.map((r) => parseFloat(r.querySelectorAll('td')[3]!.textContent!)));
  expect(mass[0]!).toBeLessThan(mass[1]!);
  expect(mass[1]!).toBeLessThan(mass[2]!);
  expect(mass[3]!).toBeGreaterThan(mass[0]!);
  expect(mass[3]!).toBeLessThan(mass[1]!);
  await page.getByRole('radio', { name: 'Compare with 15 %' }).check();
  expect(await axeFindings(page)).toEqual([]);
  // One laid over the other, layer by layer: the walls are alike, the fill is not.
  await page.getByRole('button', { name: 'Lay 95 % over 15 %, layer over layer' }).click();
  await expect(page.getByText(/^layer \d+ of \d+ · Z .* mm$/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/only 95 %/)).toBeVisible();
  await expect(page.getByRole('progressbar')).toHaveCount(0, { timeout: 60_000 });
  expect(await axeFindings(page)).toEqual([]);
});

test('a piece is cut out by hand: its sides are pulled in the view, moved by keys, or typed', async ({ page }) => {
  await useDemo(page);
  await drop(page, 'dew-shield-clip.stl', part('dew-shield-clip.stl'));
  await looked(page);
  await page.getByRole('button', { name: 'by hand' }).click();
  await page.getByRole('button', { name: 'from the front' }).click();
  // Seen from the front, front and back cannot be pulled.
  await expect(page.getByRole('button', { name: /^from front/ })).toHaveCount(0);
  const grip = page.getByRole('button', { name: 'to right: 27.5 mm' });
  const at = (await grip.boundingBox())!;
  const [x, y] = [at.x + at.width / 2, at.y + at.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 40, y, { steps: 4 });
  await page.mouse.up();
  const right = page.getByLabel('to right', { exact: true });
  await expect(right).not.toHaveValue('27.5');
  expect(Number(await right.inputValue())).toBeGreaterThan(0);
  await looked(page, 'This piece');
  const before = Number(await right.inputValue());
  await page.getByRole('button', { name: /^to right/ }).press('ArrowLeft');
  await expect.poll(async () => Number(await right.inputValue())).toBeCloseTo(before - 0.5, 6);
  await fill(page, 'from left', '30');
  await expect(page.getByText(/^give −27\.5 to .* mm: the part ends there/)).toBeVisible();
  await fill(page, 'from left', '-10');
  await expect(page.getByText(/^give −27\.5 to/)).toHaveCount(0);
  await looked(page, 'This piece');
  expect(await axeFindings(page)).toEqual([]);
  // Beneath its arch there is nothing to print.
  await fill(page, 'to right', '5');
  await fill(page, 'from left', '-5');
  await fill(page, 'to height', '8');
  await expect(page.getByText(/nothing of the part lies in the piece/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('button', { name: 'Begin the trial' })).toHaveCount(0);
  for (let k = 0; k < 3; k++) await page.getByRole('button', { name: 'Undo' }).click();
  await looked(page, 'This piece');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('from left', { exact: true })).toHaveValue('-27.5');
  await kept(page);
  await page.reload();
  // What was cut stays cut, and can be pulled on.
  await expect(page.getByRole('button', { name: /^to right/ })).toBeVisible();
  await page.getByRole('button', { name: 'all of it' }).click();
  await expect(page.getByRole('button', { name: /^to right/ })).toHaveCount(0);
  await looked(page);
});

test('a part in bands is printed on the practice printer, read and settled', async ({ page }) => {
  test.setTimeout(180_000);
  await openSample(page, 'focuser-ring.stl');
  await choose(page, 'what varies', 'nozzle temperature');
  await choose(page, 'laid out', 'by height');
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await estimated(page);
  // The person lays the borders.
  await fill(page, 'from (lowest band)', '250');
  await fill(page, 'to (highest band)', '240');
  await fill(page, 'in steps of', '5');
  await estimated(page);
  await fill(page, 'bands begin at', '1 16 41');
  await expect(page.getByText('the last ends with layer 60 of 60')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Print' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /^Download/ }).click(),
  ]);
  const lines = (await text(download)).split('\n');
  const heats = lines.filter((l) => /^M104 S2\d\d/.test(l)).map((l) => Number(/S(\d+)/.exec(l)![1]));
  expect(heats.slice(-2)).toEqual([245, 240]);
  await page.getByRole('button', { name: 'Print on the practice printer' }).click();
  await expect(page.getByRole('heading', { name: /^Printed on .*practice printer/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Read' }).click();
  for (const score of ['1', '4', '2']) await page.keyboard.press(score);
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Settle' }).click();
  await expect(page.getByText(/24\d °C/).first()).toBeVisible();
});

test('a trial whose part is gone asks for it, and goes on once it is given', async ({ page }) => {
  await useDemo(page);
  await drop(page, 'cable-comb.stl', part('cable-comb.stl'));
  await looked(page);
  // What cannot be seen on it is said before it is printed.
  await choose(page, 'what varies', 'shortest layer time (not seen here)');
  await expect(page.getByText(/It will not show here: no layer of it is small/)).toBeVisible();
  await choose(page, 'what varies', /^walls$/);
  await choose(page, 'laid out', 'as copies');
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await estimated(page);
  // From the plan the part is placed anew for that trial.
  await page.getByRole('link', { name: 'how the part stands' }).click();
  await looked(page);
  await fill(page, 'to height', '3');
  await looked(page, 'This piece');
  await page.getByRole('button', { name: /^Stand so in/ }).click();
  await estimated(page);
  await page.getByRole('link', { name: 'how the part stands' }).click();
  await expect(page.getByLabel('to height')).toHaveValue('3');
  await page.goBack();
  await estimated(page);
  const trial = page.url();
  await page.getByRole('link', { name: 'Files' }).click();
  const forget = page.getByRole('button', { name: 'Forget cable-comb.stl' });
  await forget.click();
  // What is said to be kept may still be the part: it is gone once it is no longer listed.
  await expect(forget).toHaveCount(0);
  await kept(page);
  await page.goto(trial);
  await expect(page.getByText(/cable-comb\.stl is not kept here; give its file again/)).toBeVisible({
    timeout: 30_000,
  });
  // By any name: it is known by what is in it.
  await drop(page, 'again.stl', part('cable-comb.stl'));
  await expect(page.getByRole('heading', { name: 'again.stl' })).toBeVisible();
  await page.goto(trial);
  await estimated(page);
});

test('a part in an empty browser leads to a printer, and waits under Files meanwhile', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { name: /Find the setting/ })).toBeVisible();
  await drop(page, 'comb.stl', part('cable-comb.stl'));
  await expect(page.getByRole('heading', { name: 'comb.stl' })).toBeVisible();
  await page.getByRole('link', { name: 'choose them first' }).click();
  await page.getByRole('button', { name: 'Practise' }).click();
  await page.getByRole('link', { name: 'Files', exact: true }).click();
  await page.getByRole('link', { name: 'comb.stl' }).click();
  await looked(page);
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await expect(page.getByRole('heading', { name: /comb, infill density/ })).toBeVisible();
});

test('a mesh that stays open says where, and is printed once wider gaps are closed', async ({ page }) => {
  await useDemo(page);
  // A box without one of its sides, as text, in inches by its size.
  const p = [0, 1].flatMap((z) => [0, 1].flatMap((y) => [0, 1].map((x) => `${x} ${y} ${z}`)));
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
  ].flatMap(([a, b, c, d]) => [
    [a, b, c],
    [a, c, d],
  ]);
  const stl = `solid box\n${faces
    .map((f) => `facet normal 0 0 0\nouter loop\n${f.map((k) => `vertex ${p[k!]}`).join('\n')}\nendloop\nendfacet`)
    .join('\n')}\nendsolid box\n`;
  await drop(page, 'open.stl', Buffer.from(stl));
  await expect(page.getByText('guessed from size')).toBeVisible();
  await expect(page.getByText('25.4 × 25.4 × 25.4 mm')).toBeVisible();
  await expect(page.getByText(/stays open in \d+ of \d+ layers: 25\.4 mm are missing/)).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByText('One print: once its outline closes, see below.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Begin the trial' })).toBeDisabled();
  // One press closes what is missing; typed it does the same.
  await page.getByRole('button', { name: 'close gaps up to 25.4 mm' }).click();
  await expect(page.getByText(/\d+ gaps were closed, the widest of 25\.4 mm/)).toBeVisible();
  await looked(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/stays open in \d+ of \d+ layers/)).toBeVisible();
  await fill(page, 'close gaps up to', '26');
  await looked(page);
  await expect(page.getByText(/stays open/)).toHaveCount(0);
  // Nonsense is answered beside its field.
  await fill(page, 'from height', '40');
  await expect(page.getByText(/give 0 to 24\.9 mm/)).toBeVisible();
  await drop(page, 'nothing.stl', Buffer.from('solid nothing\nendsolid nothing\n'));
  await expect(page.getByRole('alert')).toContainText(/nothing\.stl|triangle/);
});

test('a file of two colours is printed by two tools where the printer has them', async ({ page }) => {
  await useDemo(page);
  await usePair(page, /Osprey/);
  await drop(page, 'two-colour-dial.3mf', part('two-colour-dial.3mf'));
  await looked(page);
  await expect(page.getByText('as the file says')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'scale is printed by' })).toHaveText('tool 2');
  await choose(page, 'what varies', 'purge strength');
  await choose(page, 'laid out', 'by print');
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await estimated(page);
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Print' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /^Download/ }).click(),
  ]);
  const lines = (await text(download)).split('\n');
  expect(lines.filter((l) => /^T1\b/.test(l)).length).toBeGreaterThan(0);
  // With one tool for both nothing is changed.
  await page.goBack();
  await page.goto('/files');
  await page.getByRole('link', { name: 'two-colour-dial.3mf' }).click();
  await looked(page);
  await choose(page, 'scale is printed by', 'tool 1');
  await expect(page.getByRole('combobox', { name: 'scale is printed by' })).toHaveText('tool 1');
  await looked(page);
});

test('several parts stand on one plate, each with settings and a level of its own, and are read part by part', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openSample(page, 'cable-comb.stl');
  await choose(page, 'what varies', 'infill density');
  await choose(page, 'laid out', 'as copies');
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await estimated(page);
  const plate = page.getByRole('region', { name: 'Parts on the plate' });
  await choose(page, 'Put another part beside it', 'focuser-ring.stl');
  await expect(page.getByRole('heading', { name: /^cable-comb and 1 more, infill density/ })).toBeVisible();
  await estimated(page);
  // A level for each part; more or fewer are answered.
  await fill(page, 'from (first part)', '10');
  await fill(page, 'to (last part)', '50');
  await fill(page, 'in steps of', '20');
  await expect(page.getByText(/3 values, and 2 parts stand on the plate/).first()).toBeVisible();
  await fill(page, 'in steps of', '40');
  await estimated(page);

  // What holds for the whole print is not offered; a value that cannot be is answered at its place, and nothing is lost.
  await page.getByRole('combobox', { name: 'What part 2 sets for itself' }).click();
  await expect(page.getByRole('option', { name: 'layer height', exact: true })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await choose(page, 'What part 2 sets for itself', 'outer wall speed');
  await fill(page, 'outer wall speed', '2000');
  await expect(plate.getByText(/give at most/)).toBeVisible();
  await fill(page, 'outer wall speed', '25');
  await estimated(page);
  expect(await axeFindings(page)).toEqual([]);
  await fitsAcross(page);

  // A third comes from its own page, and goes again; undo brings it back.
  await page.getByRole('link', { name: 'Files' }).click();
  await page.getByRole('link', { name: 'two-colour-dial.3mf' }).click();
  await looked(page);
  await choose(page, 'or put it on the plate of', /^cable-comb and 1 more/);
  await expect(page.getByRole('heading', { name: /^cable-comb and 2 more/ })).toBeVisible();
  await plate.getByRole('button', { name: 'Take part 3 off the plate' }).click();
  await expect(page.getByRole('heading', { name: /^cable-comb and 1 more/ })).toBeVisible();
  await page.keyboard.press('ControlOrMeta+z');
  await expect(page.getByRole('heading', { name: /^cable-comb and 2 more/ })).toBeVisible();
  await plate.getByRole('button', { name: 'Take part 3 off the plate' }).click();
  await estimated(page);
  // From the plate a part is placed anew, and stays the second.
  await plate.getByRole('link', { name: 'how the part stands' }).nth(1).click();
  await expect(page.getByRole('heading', { name: 'focuser-ring.stl' })).toBeVisible();
  await looked(page);
  await fill(page, 'to height', '6');
  await looked(page, 'This piece');
  await page.getByRole('button', { name: /^Stand so in/ }).click();
  await expect(plate.getByText(/focuser-ring\.stl .* × 6 mm/)).toBeVisible();
  await estimated(page);
  await kept(page);
  await page.reload();
  await estimated(page);
  await expect(page.getByLabel('outer wall speed')).toHaveValue('25');

  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Print' }).click();
  await page.getByRole('button', { name: 'Print on the practice printer' }).click();
  await expect(page.getByRole('heading', { name: /^Printed on .*practice printer/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Read' }).click();
  for (const score of ['2', '4']) await page.keyboard.press(score);
  await expect(page.getByText(/^Part/).first()).toBeVisible();
});

test('the slimmest wall of a part is printed two ways in two widths, read as a map and settled', async ({ page }) => {
  test.setTimeout(180_000);
  await openSample(page, 'dew-shield-clip.stl');
  await page.getByRole('button', { name: 'the slimmest wall' }).click();
  await looked(page, 'This piece');
  await choose(page, 'what varies', 'where two lines do not fit');
  await choose(page, 'laid out', 'as copies');
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await estimated(page);
  // A line narrower than its layer is high is no level to begin with.
  await choose(page, 'What varies too', 'line width');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/single line, leave out × line width 0\.[34]/);
  await estimated(page);
  await fill(page, 'to (last copy)', '0.5');
  await fill(page, 'from (first copy)', '0.4');
  await fill(page, 'in steps of', '0.1');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/line width 0\.4 → 0\.5 mm/);
  await estimated(page);
  const stages = page.getByRole('navigation', { name: 'Stages' });
  await stages.getByRole('button', { name: 'Print' }).click();
  await page.getByRole('button', { name: 'Print on the practice printer' }).click();
  await expect(page.getByRole('heading', { name: /^Printed on .*practice printer/ })).toBeVisible({ timeout: 120_000 });
  await stages.getByRole('button', { name: 'Read' }).click();
  await expect(page.getByText('Cell 1 of 4 · single line, 0.4 mm')).toBeVisible();
  for (let quality = 0; quality < 4; quality++) for (const key of '4321') await page.keyboard.press(key);
  await stages.getByRole('button', { name: 'Settle' }).click();
  await page.getByRole('button', { name: 'Settle single line, 0.4 mm' }).click();
  await kept(page);
  await page.getByRole('link', { name: 'Tune sheet', exact: true }).click();
  await expect(page.getByRole('row', { name: /line width 0\.4 mm/ })).toBeVisible();
});

test('adaptive heights at four finenesses are held against the even layers that the pair prints with', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openSample(page, 'focuser-ring.stl');
  await choose(page, 'what varies', 'stair on a slope at most');
  await page.getByRole('button', { name: 'Begin the trial' }).click();
  await expect(page.getByText(/stair on a slope at most does nothing while layer heights is even/)).toBeVisible();
  await page.getByRole('button', { name: 'Set layer heights to adaptive' }).click();
  await estimated(page);
  await page.getByRole('button', { name: 'what they take, beside one another' }).click();
  const rows = page.locator('#variants tbody tr');
  await expect(rows).toHaveCount(5, { timeout: 120_000 });
  const even = page.getByRole('radio', { name: 'Compare with as the pair prints it' });
  await expect(even).toBeChecked();
  // All layers of one height there; the finest stair has others, and takes longest.
  const column = async (name: RegExp) => {
    const heads = await page.locator('#variants thead th').allInnerTexts();
    const at = heads.findIndex((h) => name.test(h));
    return rows.evaluateAll((all, k) => all.map((r) => parseFloat((r.children[k] as HTMLElement).innerText)), at);
  };
  const [times, other] = [await column(/^time/), await column(/^in other layers/)];
  expect(other[4]).toBe(0);
  expect(other[0]!).toBeGreaterThan(0);
  expect(times[0]!).toBeGreaterThan(times[3]!);
  await page.getByRole('button', { name: /^Lay 0\.18 mm over as the pair prints it/ }).click();
  await expect(page.getByText(/^layer \d+ of \d+ · Z .* mm$/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/only as the pair prints it/)).toBeVisible();
  expect(await axeFindings(page)).toEqual([]);
});
