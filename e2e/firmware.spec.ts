import { expect, test, type Page } from '@playwright/test';
import { estimated, kept, text, useDemo, usePair } from './steps';

/** A box of 20 mm with two walls, 15 mm high, around a middle; heated by lines of its own, with lines put in by layer. */
function box(middle: number, start: string[], put: Record<number, string[]>, end: string[]): Buffer {
  const lines = ['; made elsewhere', ...start, 'G0 Z5 F600', `G0 X${middle - 10} Y${middle - 10} F6000`];
  for (let k = 1; k <= 75; k++) {
    lines.push(`G0 Z${(k * 0.2).toFixed(2)} F600`, ...(put[k] ?? []));
    for (const o of [10, 9.55]) {
      const ring = [
        [o, -o],
        [o, o],
        [-o, o],
        [-o, -o],
      ];
      for (const [x, y] of ring) lines.push(`G1 X${middle + x!} Y${middle + y!} E${(2 * o * 0.036).toFixed(5)} F1500`);
    }
    lines.push(`G0 X${middle - 10} Y${middle - 10} F6000`);
  }
  return Buffer.from([...lines, 'G0 Z60 F600', ...end, ''].join('\n'));
}

const take = async (page: Page, name: string, buffer: Buffer) => {
  await page.getByRole('link', { name: 'Files', exact: true }).click();
  await page.getByLabel('Files to take in').setInputFiles({ name, mimeType: 'text/plain', buffer });
  await expect(page.getByText('75 layers')).toBeVisible({ timeout: 30_000 });
};

/** Lines of the file that print, each with the last temperature told before it, by height. */
function temperatures(lines: readonly string[], heats: RegExp): Map<number, Set<number>> {
  const at = new Map<number, Set<number>>();
  let [z, target] = [0, 0];
  for (const line of lines) {
    z = Number(/^G[01].* Z([\d.]+)/.exec(line)?.[1] ?? z);
    target = Number(heats.exec(line)?.[1] ?? target);
    if (/^G1 .* E/.test(line)) at.set(z, (at.get(z) ?? new Set()).add(target));
  }
  return at;
}

test('Klipper heat by its own commands is carried; a command that nobody knows is asked once, and kept with the printer', async ({
  page,
}) => {
  await useDemo(page);
  await usePair(page, /Plover/);
  const start = [
    'SET_HEATER_TEMPERATURE HEATER=heater_bed TARGET=60',
    'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=215',
    'G28',
    'G21',
    'G90',
    'M83',
    'TEMPERATURE_WAIT SENSOR=extruder MINIMUM=213',
  ];
  const again = ['SET_HEATER_TEMPERATURE HEATER=extruder TARGET=205'];
  await take(
    page,
    'own-words.gcode',
    box(0, start, { 36: ['CAMERA_SHOT NAME=side'], 60: again }, ['TURN_OFF_HEATERS']),
  );
  await expect(page.getByRole('img', { name: /nozzle 205 to 215/ })).toBeVisible();
  await expect(page.getByText('what CAMERA_SHOT (once) does is not known')).toBeVisible();
  await page.getByRole('button', { name: 'Plan the sweep' }).click();
  await estimated(page);
  const inFile = page.getByRole('group', { name: /^in the file/ });
  await expect(inFile.getByText('not proven')).toHaveCount(1);
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Print' }).click();
  await expect(page.getByText(/what CAMERA_SHOT does is not known; it stands once among the lines/)).toBeVisible();
  await page.getByRole('group', { name: 'CAMERA_SHOT' }).getByRole('button', { name: 'it does none of these' }).click();
  await expect(inFile.getByText('not proven')).toHaveCount(0, { timeout: 30_000 });
  await estimated(page);
  // Planned is in the file, and what the file says of itself in the middle is answered at once.
  const planned = await page.getByRole('group', { name: /^planned/ }).innerText();
  expect((await inFile.innerText()).match(/\d+/g)).toEqual(planned.match(/\d+/g));
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /Download the G-code/ }).click();
  const lines = (await text(await download)).split('\n');
  const heats = /^(?:M10[49] [SR]|SET_HEATER_TEMPERATURE HEATER=extruder TARGET=)([\d.]+)/;
  const at = temperatures(lines, heats);
  const levels = planned.match(/\d+/g)!.map(Number);
  for (const [z, targets] of at) {
    expect(targets.size, `at ${z} mm`).toBe(1);
    if (z > 1) expect(levels).toContain([...targets][0]);
  }
  expect(new Set([...at.values()].flatMap((t) => [...t])).size).toBeGreaterThanOrEqual(levels.length);
  // It is known for the next file too, and can be taken back where the printer is.
  await kept(page);
  await page.goto('/shelf/printer/plover');
  await expect(page.getByRole('group', { name: 'CAMERA_SHOT' })).toBeVisible();
});

test('RepRapFirmware heat by its own commands is carried, several drives by one line are read', async ({ page }) => {
  await useDemo(page);
  await usePair(page, /Osprey/);
  const start = [
    'G28',
    'G21',
    'G90',
    'M83',
    'T0',
    'M140 S90',
    'M568 P0 S255 R150',
    'M116',
    'M572 D0:1 S0.06',
    'M106 S0.3',
  ];
  const bytes = box(150, start, { 40: ['M568 P0 S250'] }, ['M568 P0 S0 R0', 'M140 S0', 'M107']);
  await take(page, 'rrf-words.gcode', bytes);
  await expect(page.getByRole('img', { name: /nozzle 250 to 255.*pressure advance 0.06/ })).toBeVisible();
  await expect(page.getByText('Nothing speaks against printing it on this pair.')).toBeVisible();
  await page.getByRole('button', { name: 'Plan the sweep' }).click();
  await estimated(page);
  const inFile = page.getByRole('group', { name: /^in the file/ });
  const planned = await page.getByRole('group', { name: /^planned/ }).innerText();
  expect((await inFile.innerText()).match(/\d+/g)).toEqual(planned.match(/\d+/g));
});
