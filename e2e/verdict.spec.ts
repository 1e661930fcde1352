import { expect, test, type Page } from '@playwright/test';
import { choose, estimated, fitsAcross, kept, useDemo } from './steps';

const stage = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name }).click();

/** Plans a trial of a stop as a person does, with a reason where one is asked, and says that it is printed. */
async function printed(page: Page, stop: string, trial: RegExp): Promise<void> {
  await useDemo(page);
  await page.goto(`/pair/heron-marsh-petg/stop/${stop}`);
  const plan = page.getByRole('button', { name: trial }).first();
  await expect(plan).toBeVisible();
  const reason = page.getByLabel('Why go here first?');
  if (await reason.count()) await reason.fill('the printer is set up already');
  await plan.click();
  await estimated(page);
  await stage(page, 'Print');
  await page.getByRole('button', { name: 'It is printed: read it' }).click();
}

const answer = (page: Page) => page.getByRole('region', { name: 'Answer', exact: true });

test('one caliper height settles the flow limit', async ({ page }) => {
  await printed(page, 'flow-limit', /^Plan: Flow limit/);
  await page.getByLabel('caliper height').pressSequentially('10.6');
  await page.getByRole('button', { name: 'Fails from here' }).click();
  await expect(page.getByText('fails from 10.6 mm')).toBeVisible();
  const act = page.getByRole('button', { name: /^Settle 1\d/ });
  await act.click();
  await expect(answer(page)).toContainText('it fails from 10.6 mm on');
  await expect(answer(page)).toContainText('5 % less for safety');
  await page.getByRole('button', { name: /^Settle 1\d/ }).click();
  await expect(page.getByText(/stands on the tune sheet/)).toBeVisible();
  await kept(page);
  await page.reload();
  // Taken back, it decides no more.
  await stage(page, 'Read');
  await page.getByRole('button', { name: 'Take back fails from' }).click();
  await expect(page.getByRole('button', { name: 'See what it says' })).toBeVisible();
});

test('loads of bars settle by the strongest, or by what is enough', async ({ page }) => {
  await printed(page, 'strength', /^Plan: Strength along the lines/);
  const bars = page.getByRole('group', { name: /^load/ }).locator('button');
  const count = await bars.count();
  expect(count).toBeGreaterThan(1);
  for (let k = 0; k < count; k++) {
    await bars.nth(k).click();
    // Lines of the level before stand there for a moment.
    await expect(page.getByRole('group', { name: `Bars of ${235 + 10 * k} °C` })).toBeVisible();
    for (const [i, newton] of [300, 306, 294].map((v) => v + 60 * k).entries()) {
      await page.getByLabel(`Load of bar ${i + 1}, N`).fill(String(newton));
      await page.keyboard.press('Enter');
    }
  }
  // A line a bar: how it broke, and one that tells nothing left out with its reason.
  await choose(page, 'How bar 2 broke', /in the clamp/);
  await page.getByRole('button', { name: 'Leave it out for that' }).click();
  await expect(page.getByText('left out: broke in the clamp')).toBeVisible();
  await expect(page.getByText(/MPa ± .* \(2, 1 left out\); 1 in the clamp/)).toBeVisible();
  await stage(page, 'Settle');
  await expect(answer(page)).toContainText(/the most: .* ± .* MPa/);
  const strongest = await answer(page).locator('.value').innerText();
  // Less is enough: a level further down, by what it has.
  const asked = page.getByLabel(/load: at least so much is enough/);
  await asked.fill('1');
  await asked.press('Enter');
  await expect(answer(page)).toContainText(/surely at least 1 MPa/);
  await asked.fill('');
  await asked.press('Enter');
  await expect(answer(page).locator('.value')).toHaveText(strongest);
  await page.getByRole('button', { name: `Settle ${strongest.trim()}` }).click();
  await expect(page.getByText(/stands on the tune sheet/)).toBeVisible();
});

test('what is known already stands on the tune sheet with where it is from; nothing is settled without a reason', async ({
  page,
}) => {
  await useDemo(page);
  await page.goto('/pair/heron-marsh-petg/stop/pressure-advance');
  await page.getByText('I know a value of this stop already').click();
  await page.getByLabel('pressure advance').fill('0.045');
  await page.getByRole('button', { name: 'Put it on the tune sheet' }).click();
  await expect(page.getByRole('alert')).toContainText('say in a few words why');
  await page.getByLabel('From where?').fill('the same filament on the plover');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/0\.045 s.* settled on .*the same filament on the plover/)).toBeVisible();
  await page.goto('/pair/heron-marsh-petg/tune');
  const row = page.getByRole('row', { name: /^pressure advance/i });
  await expect(row).toContainText('known before');
  await expect(row).toContainText('the same filament on the plover');
});

test('a trial in which all is equal is settled by hand', async ({ page }) => {
  await useDemo(page);
  await page.goto('/trial/demo-osprey-temperature?stage=settle');
  await estimated(page);
  await page.getByText('settle by hand').first().click();
  await page.getByLabel('nozzle temperature').fill('25O');
  await page.getByLabel('Why?').fill('all are equal, I keep what the maker says');
  await page.getByRole('button', { name: 'Settle by hand' }).click();
  // The letter is no figure, and nothing that was typed is lost.
  await expect(page.getByRole('alert')).toBeVisible();
  await expect(page.getByLabel('Why?')).toHaveValue('all are equal, I keep what the maker says');
  await page.getByLabel('nozzle temperature').fill('250');
  await page.getByRole('button', { name: 'Settle by hand' }).click();
  await expect(page.getByText('250 °C stands on the tune sheet')).toBeVisible();
  await page.goto('/pair/osprey-tidewrack-asa/tune');
  await expect(page.getByRole('row', { name: /nozzle temperature/ })).toContainText('settled by hand');
});

test('a feed check that is good enough is settled, and one that is not goes into the printer', async ({ page }) => {
  await printed(page, 'feed', /^Plan: Feed check/);
  // It is told what to measure; what it finds is not asked for first, and where nothing is laid no layers are drawn.
  await expect(page.getByText('At the mark on the filament')).toBeVisible();
  await stage(page, 'Print');
  await expect(page.getByRole('checkbox', { name: /spool can finish/ })).toBeVisible();
  await expect(page.getByRole('checkbox', { name: /feed checked|bed clean/ })).toHaveCount(0);
  await expect(page.getByText('layer time over height')).toHaveCount(0);
  await stage(page, 'Read');
  const left = page.getByRole('textbox', { name: /left to the mark/ });
  await left.fill('26');
  await left.press('Enter');
  await stage(page, 'Settle');
  const act = page.getByRole('button', { name: /^Settle \d/ });
  // What is measured is not weighed.
  await expect(act).toBeVisible();
  await expect(page.getByRole('region', { name: 'Rule' })).toHaveCount(0);
  await act.click();
  await expect(page.getByText(/stands on the tune sheet/)).toBeVisible();
  const note = page.getByRole('button', { name: 'It is done: note it with the printer' });
  if (await note.count()) {
    await note.click();
    await expect(page.getByText('The printer on the shelf has it.')).toBeVisible();
  }
  // No dead end: the stop says that it is settled.
  await page.goto('/pair/heron-marsh-petg');
  await expect(page.getByRole('row', { name: /Feed check/ })).toContainText('settled');
});

test('a value is confirmed against any other that is named, and the test’s own settings stay out of the pair', async ({
  page,
}) => {
  await useDemo(page);
  await page.goto('/trial/demo-heron-temperature?stage=settle');
  await estimated(page);
  await page.getByText('confirm against another value').click();
  await page.getByLabel('against, °C').fill('245');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('cannot be printed beside 245 °C');
  await page.getByLabel('against, °C').fill('252');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('245 °C against 252 °C');
  // A kind that holds a solid inside for the test alone offers none of it to the pair.
  await page.goto('/pair/heron-marsh-petg/stop/flow');
  await expect(page.getByRole('button', { name: /^Plan: Flow/ }).first()).toBeVisible();
  const reason = page.getByLabel('Why go here first?');
  if (await reason.count()) await reason.fill('just looking');
  await page
    .getByRole('button', { name: /^Plan: Flow/ })
    .first()
    .click();
  await estimated(page);
  await page
    .getByRole('button', { name: /settings/i })
    .first()
    .click();
  await expect(page.getByText('Values of this trial only')).toBeVisible();
  await expect(page.getByRole('button', { name: /the pair’s baseline/ })).toHaveCount(0);
});

test('layers that do not hold at the flow limit lead to a trial of the temperature there, which counts with the tower', async ({
  page,
}) => {
  test.setTimeout(120_000);
  await printed(page, 'flow-limit', /^Plan: Flow limit/);
  const keys = async (...tracks: string[]) => {
    for (const scores of tracks) for (const k of scores) await page.keyboard.press(k);
  };
  // Full up to 12 mm³/s; layers hold at no flow.
  await keys('444443100', '321110000');
  await stage(page, 'Settle');
  const asks = page.getByRole('button', { name: 'Plan: Temperature at the flow limit' });
  await expect(answer(page)).toContainText('layer strength');
  // Not before the limit stands on the tune sheet: the trial is printed as fast as that allows.
  await expect(asks).toHaveCount(0);
  await page.getByRole('button', { name: /^Settle / }).click();
  await expect(page.getByText(/^Layers score .* of 4 in strength at .* and 245 °C/)).toContainText(
    'What was read on the temperature tower counts with it.',
  );
  await asks.click();
  await expect(page.getByRole('heading', { name: /Loop wall, nozzle temperature 265 → 240 °C/ })).toBeVisible();
  const planned = page.url();
  await expect(page.getByText(/Only in this trial: .*outer wall speed \d+ mm\/s/)).toBeVisible();
  // Gone back to, it waits, and is not planned twice.
  await page.goBack();
  await stage(page, 'Settle');
  await page.getByRole('link', { name: 'Temperature at the flow limit is begun' }).click();
  await expect(page).toHaveURL(new RegExp(planned.split('/').at(-1)!.split('?')[0]!));
  await estimated(page);
  await stage(page, 'Print');
  await page.getByRole('button', { name: 'It is printed: read it' }).click();
  // From the lowest band, 265 °C, up: layers that hold from 255 °C on. Nothing else is asked there.
  await keys('444210');
  await stage(page, 'Settle');
  await expect(answer(page)).toContainText('What was read of “Temperature tower, 265 → 230 °C” is counted in.');
  await page.getByRole('button', { name: /^Settle 2(5\d|6[0-5]) °C$/ }).click();
  await page.getByRole('link', { name: /stands on the tune sheet/ }).click();
  await expect(page.getByRole('row', { name: /volumetric flow|flow limit/i }).first()).toContainText(/shaken|moving/);
  await expect(page.getByText('6 readings on 6 cells, 1 print; with 40 of before')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Recheck at 8\.5, 9\.5, 10\.5 mm³\/s$/ })).toBeVisible();
  await fitsAcross(page);
});
