import { expect, test } from '@playwright/test';
import { axeFindings, choose, estimated, fitsAcross, kept, lineBesideSpecimen, text, useDemo } from './steps';

test('the demo way: from the finished trial to the tune sheet and its exports', async ({ page }) => {
  await useDemo(page);
  const rail = page.locator('st-route-rail');
  await expect(rail.getByRole('link', { name: /Temperature 245 °C/ })).toBeVisible();
  await rail.getByRole('link', { name: /Temperature/ }).click();
  await page.getByRole('link', { name: /Temperature tower, 265 → 230 °C/ }).click();
  await estimated(page);

  // The settled value stands as a line across the tracks, with its reason and interval.
  await expect(page.locator('.pill')).toHaveText(/245 °C ±/);
  expect((await lineBesideSpecimen(page)).from).toBeLessThan(2);
  await expect(page.getByText(/the combined score is highest there/)).toBeVisible();
  // Another rule moves it at once, and undo brings it back.
  await choose(page, 'Rule', 'highest before the fault');
  await expect(page.locator('.pill')).toHaveText(/230 °C/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.pill')).toHaveText(/245 °C/);
  // Weights are dragged by keyboard too.
  const strength = page.getByRole('slider', { name: /strength/ });
  await strength.focus();
  for (let i = 0; i < 4; i++) await strength.press('ArrowRight');
  await expect(page.locator('.pill')).not.toHaveText(/245 °C/);

  await page.getByRole('link', { name: 'Tune sheet', exact: true }).click();
  await expect(page.getByRole('row', { name: /nozzle temperature 245 °C/ })).toContainText(
    '40 readings on 8 cells, 1 print',
  );
  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'CSV' }).click()]);
  expect((await text(csv)).split('\r\n')[1]).toMatch(/^Heron,Marsh PETG,nozzle temperature,,245,°C,/);
  const [json] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'JSON' }).click()]);
  expect(JSON.parse(await text(json))).toMatchObject({ kind: 'steady-tune/tune-sheet', values: [{ value: 245 }] });
});

test('every stage of every demo trial stands on the one sheet', async ({ page }) => {
  await useDemo(page);
  for (const [id, band] of [
    ['demo-heron-temperature', '230'],
    ['demo-plover-temperature', '200'],
    ['demo-osprey-temperature', '235'],
  ] as const) {
    await page.goto(`/trial/${id}?stage=plan`);
    await estimated(page);
    const planned = page.getByRole('group', { name: /^planned/ });
    const inFile = page.getByRole('group', { name: /^in the file/ });
    // Read back from the text: the same values, row by row.
    await expect(planned.locator('.cell')).toHaveCount(8);
    expect(await inFile.locator('.cell').allInnerTexts()).toEqual(await planned.locator('.cell').allInnerTexts());
    await expect(planned.locator('.cell').last()).toHaveText(band);
    const specimen = await page.locator('st-specimen-drawing').boundingBox();
    for (const stage of ['Print', 'Read', 'Settle']) {
      await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: stage }).click();
      await expect(page.getByRole('button', { name: stage, exact: true })).toHaveAttribute('aria-current', 'step');
      // The specimen never moves.
      await page.waitForTimeout(150);
      const now = await page.locator('st-specimen-drawing').boundingBox();
      expect(Math.abs(now!.y - specimen!.y) + Math.abs(now!.x - specimen!.x)).toBeLessThan(2);
      await fitsAcross(page);
    }
  }
});

test('a row that is pointed at lights on the specimen and in every track', async ({ page }) => {
  await useDemo(page);
  await page.goto('/trial/demo-heron-temperature?stage=read');
  await estimated(page);
  await page
    .getByRole('group', { name: /^planned/ })
    .locator('.cell')
    .nth(2)
    .hover();
  // Photo, level and five qualities: in each the row, and no other.
  const tracks = page.locator('.track').filter({ has: page.locator('.cell') });
  await expect(tracks).toHaveCount(1 + 1 + 5);
  for (const track of await tracks.all()) await expect(track.locator('.cell.lit')).toHaveCount(1);
  await expect(page.locator('st-specimen-drawing path.body.lit')).toHaveCount(2 + 2);
});

test('the toolpath is drawn from the text of the file', async ({ page }) => {
  await useDemo(page);
  await page.goto('/trial/demo-heron-temperature?stage=print');
  await estimated(page);
  await page.getByRole('button', { name: 'Look at the toolpath' }).click();
  const drawer = page.getByRole('complementary').or(page.getByRole('dialog'));
  await expect(drawer.getByText(/layer \d+ of 246/)).toBeVisible();
  const canvas = drawer.locator('canvas');
  const ink = () =>
    canvas.evaluate((c: HTMLCanvasElement) =>
      c
        .getContext('2d')!
        .getImageData(0, 0, c.width, c.height)
        .data.reduce((n, v, i) => n + (i % 4 === 3 && v > 40 ? 1 : 0), 0),
    );
  // The layer in hand is opened, and fills the drawing.
  await expect(drawer.getByText(/layer 22 of 246/)).toBeVisible();
  let all = 0;
  const still = async () => {
    const before = all;
    all = await ink();
    return all > 3000 && all === before;
  };
  await expect.poll(still, { intervals: [400] }).toBe(true);
  await drawer.getByLabel('travel').uncheck();
  await expect.poll(ink).toBeLessThan(all);
  await choose(page, 'Shade by', 'speed');
  await expect(drawer.getByText(/mm\/s/).first()).toBeVisible();
  // Pointing at a move tells what it is and where it stands in the file.
  const box = (await canvas.boundingBox())!;
  let told = '';
  for (let x = 0.05; x < 0.95 && !/line \d+ of the file/.test(told); x += 0.01) {
    await page.mouse.move(box.x + box.width * x, box.y + box.height * 0.5);
    told = await drawer.locator('.what').innerText();
  }
  expect(told).toMatch(/mm\/s.*line \d+ of the file/);
});

test('what is drawn by itself takes the colours of the night at once, and those of the day again', async ({ page }) => {
  await useDemo(page);
  await page.goto('/trial/demo-heron-temperature?stage=plan');
  await estimated(page);
  const chart = page.locator('st-row-chart canvas').first();
  await expect(chart).toBeVisible();
  /** The lightest of what is drawn plainly, 0–255. */
  const lightest = () =>
    chart.evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      let most = 0;
      for (let i = 0; i < data.length; i += 4)
        if (data[i + 3]! > 230) most = Math.max(most, Math.min(data[i]!, data[i + 1]!, data[i + 2]!));
      return most;
    });
  await expect.poll(lightest).toBeGreaterThan(0);
  expect(await lightest()).toBeLessThan(120);
  await page.getByRole('button', { name: 'Night shift' }).click();
  await expect.poll(lightest).toBeGreaterThan(150);
  await page.reload();
  await estimated(page);
  await expect.poll(lightest).toBeGreaterThan(150);
  await page.getByRole('button', { name: 'Night shift' }).click();
  await expect.poll(lightest).toBeLessThan(120);
});

const stages = ['plan', 'print', 'read', 'settle'].map((s) => `/trial/demo-heron-temperature?stage=${s}`);
const views = [
  '/pair/heron-marsh-petg',
  '/pair/heron-marsh-petg/tune',
  '/pair/heron-marsh-petg/stop/temperature',
  '/pair/heron-marsh-petg/stop/flow',
  '/shelf',
  '/shelf/printer/plover',
  '/shelf/filament/new',
];
for (const [shift, places] of [
  ['by day: places', views],
  ['by day: the sheet', stages],
  ['on the night shift', [views[1]!, views[5]!, ...stages.slice(2)]],
] as const)
  test(`views are clean for axe ${shift}`, async ({ page }) => {
    test.setTimeout(180_000);
    await page.goto('/');
    await expect(page.locator('main h1').first()).toBeVisible();
    // By night only the colours differ.
    const night = shift.includes('night');
    const rules = night ? ['color-contrast'] : undefined;
    const found = await axeFindings(page, rules);
    await useDemo(page);
    if (night) await page.getByRole('button', { name: 'Night shift' }).click();
    await kept(page);
    for (const view of places) {
      await page.goto(view);
      await expect(page.locator('main h1').first()).toBeVisible();
      if (view.startsWith('/trial')) await estimated(page);
      await page.waitForTimeout(300);
      found.push(...(await axeFindings(page, rules)));
      await fitsAcross(page);
    }
    expect(found).toEqual([]);
  });

test('a narrow window, and 200 % zoom, lose nothing: no page runs off the side, every place is reached', async ({
  page,
}) => {
  await useDemo(page);
  const sheets = ['plan', 'print', 'read', 'settle'].map((s) => `/trial/demo-heron-temperature?stage=${s}`);
  const pair = '/pair/heron-marsh-petg';
  // 1280 × 800 at 200 % is a page of 640 × 400.
  for (const [width, height] of [
    [1024, 768],
    [640, 400],
  ] as const) {
    await page.setViewportSize({ width, height });
    for (const at of [
      pair,
      `${pair}/stop/retraction`,
      `${pair}/values`,
      `${pair}/tune`,
      '/files',
      '/shelf',
      ...sheets,
    ]) {
      await page.goto(at);
      await expect(page.locator('main h1').first()).toBeVisible();
      await fitsAcross(page);
      // Nothing in the page is wider than its place either.
      const main = page.locator('main');
      expect(await main.evaluate((m) => m.scrollWidth - m.clientWidth), at).toBeLessThanOrEqual(1);
    }
    const places = page.getByRole('navigation', { name: 'Places' });
    for (const [name, title] of [
      ['Values', /What this pair prints with/],
      ['Tune sheet', /Tune sheet/],
      ['Files', /Files/],
      ['Shelf', /Shelf/],
    ] as const) {
      await places.getByRole('link', { name }).click();
      await expect(page.locator('main h1').first()).toHaveText(title);
    }
  }
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Route' }).click();
  await expect(page.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
});
