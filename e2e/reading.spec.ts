import { expect, test } from '@playwright/test';
import { estimated, kept, useDemo } from './steps';

test('eight bands on five tracks take at most 45 keys, with notes, clearing and undo', async ({ page }) => {
  await useDemo(page);
  await page.goto('/trial/demo-osprey-temperature?stage=print');
  await estimated(page);
  await page.getByRole('button', { name: 'It is printed: read it' }).click();
  await expect(page.getByText('Band 1 of 8')).toBeVisible();
  const scores = '01233444' + '01234444' + '11234443' + '12344321' + '4443321x';
  expect(scores.length).toBeLessThanOrEqual(45);
  // The stage is gone through once every band has a reading.
  const stage = page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Read' });
  await page.keyboard.type(scores.slice(0, 7));
  await expect(stage).not.toHaveClass(/past/);
  await page.keyboard.type(scores.slice(7));
  await expect(stage).toHaveClass(/past/);
  for (const track of ['stringing', 'overhang', 'bridge', 'surface', 'layer strength']) {
    await expect(page.getByRole('group', { name: track, exact: true }).locator('button')).toHaveCount(8);
    await expect(
      page.getByRole('group', { name: track, exact: true }).getByRole('button', { name: /not read/ }),
    ).toHaveCount(0);
  }
  await expect(page.getByRole('button', { name: '235 °C, layer strength: broke' })).toBeVisible();

  // Arrows move; a key clears; a note is kept; undo takes back one step at a time.
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText('Band 7 of 8 · 240 °C')).toBeVisible();
  await page.keyboard.press('Backspace');
  await expect(page.getByRole('button', { name: '240 °C, surface: not read' })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('button', { name: '240 °C, surface: cannot tell' })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('n');
  await page.getByLabel('Note on this reading').pressSequentially('a scar from the pliers');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Note: a scar from the pliers')).toBeVisible();
  await page.keyboard.press('ControlOrMeta+z');
  await page.keyboard.press('ControlOrMeta+z');
  await page.keyboard.press('ControlOrMeta+z');
  await expect(page.getByRole('button', { name: '240 °C, surface: 2 lines show' })).toBeVisible();
  // The history survives a reload.
  await kept(page);
  await page.reload();
  await expect(page.getByRole('button', { name: '240 °C, surface: 2 lines show' })).toBeVisible();
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByRole('button', { name: '240 °C, surface: not read' })).toBeVisible();
});

test('a trial that is only planned says so, in Read and in Settle', async ({ page }) => {
  await useDemo(page);
  await page.goto('/trial/demo-osprey-temperature?stage=read');
  await expect(page.getByText('There is nothing to read yet')).toBeVisible();
  await page.goto('/trial/demo-osprey-temperature?stage=settle');
  await expect(page.getByText('There is nothing to settle yet')).toBeVisible();
  await page.goto('/trial/no-such-trial');
  await expect(page.getByRole('heading', { name: 'This trial is not here' })).toBeVisible();
});

test('an answer at the edge opens an extended trial; cells that wait to be read come first', async ({ page }) => {
  await useDemo(page);
  // Half read: nothing differs so far, and the sheet says what to do first.
  await page.goto('/trial/demo-plover-temperature?stage=settle');
  await expect(
    page.getByText('no visible difference between 220 °C and 235 °C: read the other levels first'),
  ).toBeVisible();
  await expect(page.getByRole('button', { name: 'Plan the next trial' })).toBeHidden();

  await page.goto('/trial/demo-osprey-temperature?stage=print');
  await estimated(page);
  await page.getByRole('button', { name: 'It is printed: read it' }).click();
  await expect(page.getByText('Band 1 of 8')).toBeVisible();
  await page.keyboard.type('44321000');
  await page.getByRole('button', { name: 'Settle', exact: true }).click();
  await expect(page.getByText(/at the edge of the sweep, 270 °C: extend the sweep upwards/)).toBeVisible();
  await page.getByRole('button', { name: 'Plan the next trial' }).click();
  await expect(page.getByRole('button', { name: 'Plan', exact: true })).toHaveAttribute('aria-current', 'step');
  const cells = page.getByRole('group', { name: /^planned/ }).locator('.cell');
  await expect(cells.first()).toHaveText('275');
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });
  test('Read works by touch', async ({ page }) => {
    await page.goto('/');
    await page.getByRole('button', { name: 'Use the demo pairs' }).tap();
    await page.waitForURL(/\/pair\//);
    await page.goto('/trial/demo-plover-temperature?stage=read');
    await expect(page.getByText('Band 5 of 8 · 215 °C')).toBeVisible();
    for (let i = 0; i < 4; i++) await page.getByRole('button', { name: '4 clean', exact: true }).tap();
    await expect(page.locator('st-read-panel .scores')).toContainText('overhang');
    await expect(page.getByText('Band 1 of 8 · 235 °C')).toBeVisible();
    await page.locator('button[data-cell="7"][data-track="stringing"]').tap();
    await expect(page.getByRole('button', { name: '4 clean', exact: true })).toHaveAttribute('aria-pressed', 'true');
    const button = (await page.getByRole('button', { name: '0 webbed', exact: true }).boundingBox())!;
    expect(button.height).toBeGreaterThanOrEqual(44);
    expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)).toBeLessThanOrEqual(0);
  });
});
