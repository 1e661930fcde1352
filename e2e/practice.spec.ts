import { expect, test, type Page } from '@playwright/test';
import { axeFindings, choose, estimated, kept, useDemo } from './steps';

const stage = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name }).click();
const print = (page: Page) => page.getByRole('button', { name: 'Print on the practice printer' });

test('a tower is printed on the practice printer, watched, paused, loaded anew, photographed, read and settled', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await useDemo(page);
  await page.goto('/trial/demo-osprey-temperature?stage=print');
  await estimated(page);
  await print(page).click();
  const way = page.getByRole('region', { name: 'Print under way' });
  await expect(way.getByRole('heading', { name: 'Printing' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'What the printer reports' })).toContainText('practice printer');

  // Paused, the page is loaded anew: it is still paused where it was, and goes on.
  await page.getByRole('button', { name: 'Pause' }).click();
  await expect(way.getByRole('heading', { name: 'Paused' })).toBeVisible();
  expect(await axeFindings(page)).toEqual([]);
  const place = async () => Number(/(\d+) of \d+ lines/.exec(await way.innerText())?.[1] ?? 0);
  await expect(async () => {
    const before = await place();
    await page.waitForTimeout(700);
    expect(await place()).toBe(before);
  }).toPass();
  const stood = await place();
  await kept(page);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Go on' })).toBeVisible({ timeout: 30_000 });
  expect(await place()).toBeGreaterThanOrEqual(stood - 5);
  await page.getByRole('button', { name: 'Go on' }).click();

  // On another page it can be watched and stopped too; here it is let run.
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect(page.getByRole('link', { name: /printing \d+ %/ })).toBeVisible();
  await page.getByRole('link', { name: /printing \d+ %/ }).click();
  await expect(page.getByRole('heading', { name: /Printed on .*practice printer/ })).toBeVisible({ timeout: 120_000 });

  // Its photographs stand in the rows, each row with its strip.
  await stage(page, 'Read');
  await expect(page.getByRole('button', { name: 'Photos (2)' })).toBeVisible();
  await expect(page.getByRole('group', { name: 'photo' }).locator('img').first()).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('firmware practice printer')).toBeVisible();

  // Taken in hand, instruments find what they find; what the nozzle showed stands beside what was planned.
  await page.getByRole('button', { name: 'Take it in hand' }).click();
  const hand = page.getByRole('region', { name: 'In hand' });
  await hand.getByRole('button', { name: 'Snap it' }).click({ timeout: 60_000 });
  await expect(hand.getByRole('status')).toContainText(/snaps first in 2\d\d °C at \d+ N/);
  await hand.getByRole('button', { name: 'Caliper' }).click();
  const drawing = page.getByRole('img', { name: /from the side/ });
  const box = (await drawing.boundingBox())!;
  await page.mouse.click(box.x + 100, box.y + box.height / 2);
  await expect(hand.getByRole('status')).toContainText(/Caliper at [\d.]+ mm up: [\d.]+ mm across, ± 0.02 mm/);
  await hand.getByLabel('or at: across, height, mm').fill('300, 20');
  await page.keyboard.press('Enter');
  await expect(hand.getByRole('status')).toContainText('Nothing is between the jaws there');
  expect(await axeFindings(page)).toEqual([]);
  await hand.getByRole('button', { name: 'put it back' }).click();
  await expect(page.getByRole('group', { name: 'shown °C' })).toContainText('250');

  // Read by keys: clean in the middle, strings above, weak below.
  const bands = await page.getByRole('group', { name: 'stringing', exact: true }).locator('.cell').count();
  for (let track = 0; track < 5; track++)
    for (let band = 0; band < bands; band++) {
      const off = Math.abs(band - Math.floor(bands / 2));
      await page.keyboard.press(String(Math.max(0, 4 - off)));
    }
  await stage(page, 'Settle');
  await expect(page.getByText('it says nothing of your own machine')).toBeVisible();
  await page.getByRole('button', { name: /^Settle \d+ °C/ }).click();
  await page.getByRole('button', { name: 'Show what was hidden' }).click();
  await expect(page.getByText(/°C: .*(good is|wants at least) .* °C/)).toBeVisible();
  await expect(page.getByText(/Printed beside the best, your value costs|you are within it/).first()).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('link', { name: 'stands on the tune sheet' }).click();
  await expect(page.getByText(/practice printer/).first()).toBeVisible();
});

test('a heater that lags shows while it prints, and what it printed at another temperature is void', async ({
  page,
}) => {
  test.setTimeout(120_000);
  await useDemo(page);
  await page.goto('/trial/demo-osprey-temperature?stage=print');
  await estimated(page);
  await choose(page, 'What goes wrong', 'heater lags');
  await print(page).click();
  await expect(
    page.getByRole('img', { name: /What the nozzle showed over the height: 2\d\d °C of 2\d\d/ }),
  ).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByRole('heading', { name: /Printed on .*practice printer/ })).toBeVisible({ timeout: 120_000 });
  await stage(page, 'Read');
  await expect(page.getByText('firmware practice printer')).toBeVisible();
  const bands = await page.getByRole('group', { name: 'stringing', exact: true }).locator('.cell').count();
  for (let band = 0; band < bands; band++) await page.keyboard.press('3');
  await stage(page, 'Settle');
  await expect(page.getByText(/printed with the nozzle at .* °C: left out; to wait/)).toBeVisible();
});

test('where it fails is marked while it prints, one key stops it, and what is printed is kept', async ({ page }) => {
  test.setTimeout(120_000);
  await useDemo(page);
  await page.goto('/trial/demo-heron-temperature?stage=print');
  await estimated(page);
  await page.getByRole('button', { name: 'Printed again' }).or(print(page)).first().waitFor();
  await print(page).click();
  const row = page.getByRole('region', { name: 'What the printer reports' });
  await expect(row).toContainText(/prints\s*2\d\d °C/, { timeout: 30_000 });
  await page.getByLabel('What fails').fill('the bridge hangs');
  await page.getByRole('button', { name: /It fails here/ }).click();
  await expect(page.getByText(/fails at [\d.]+ mm, 2\d\d °C: the bridge hangs/)).toBeVisible();
  await page.getByRole('heading', { name: 'Printing' }).click();
  await page.keyboard.press('F8');
  await expect(page.getByRole('heading', { name: 'Stopped, heaters off' })).toBeVisible();
  await page.getByRole('button', { name: 'Look at what is printed' }).click();
  await expect(page.getByRole('heading', { name: /Printed on/ })).toBeVisible({ timeout: 60_000 });
  await stage(page, 'Read');
  await expect(page.locator('st-caliper-box .kept', { hasText: 'fails from' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Photos (4)' })).toBeVisible();
});

test('practise from an empty browser, with nothing plugged in', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto('/');
  const practise = page.getByRole('button', { name: 'Practise' });
  await expect(practise).toBeVisible();
  expect(await axeFindings(page)).toEqual([]);
  await practise.click();
  await expect(page.getByRole('heading', { name: /Practice printer · Practice PLA/ })).toBeVisible();
  await page
    .locator('st-route-rail')
    .getByRole('link', { name: /Pressure advance/ })
    .click();
  await page.getByLabel('Why go here first?').fill('to see what a wrong one looks like');
  await page.getByRole('button', { name: 'Plan: Surge ribbon' }).click();
  await stage(page, 'Print');
  await estimated(page);
  await print(page).click();
  await expect(page.getByRole('heading', { name: /Printed on .*practice printer/ })).toBeVisible({ timeout: 60_000 });
  await stage(page, 'Read');
  await expect(page.getByRole('group', { name: 'photo' }).locator('img').first()).toBeVisible({ timeout: 30_000 });
});
