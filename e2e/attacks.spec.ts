import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, test, type Page } from '@playwright/test';
import { chromiumPath } from '../scripts/chromium.mjs';
import { DEMO_PHOTOS, fill, kept, OF_A_PRINT, useDemo } from './steps';

const PIXELS = 'iVBORw0KGgoAAAANSUhEUgAAAAoAAAAKCAIAAAACUFjqAAAAEklEQVR4nGP4z8CAB+GTG8HSALfKY52fTcuYAAAAAElFTkSuQmCC';
const photo = (name: string) => ({ name: `${name}.png`, mimeType: 'image/png', buffer: Buffer.from(PIXELS, 'base64') });
const PLOVER = '/trial/demo-plover-temperature?stage=read';

/** All that stands in the browser's database, as text; bytes by their length and sum. */
const stored = (page: Page): Promise<Record<string, unknown[]>> =>
  page.evaluate(async () => {
    const db = await new Promise<IDBDatabase>((done, fail) => {
      const request = indexedDB.open('steady-tune');
      request.onsuccess = () => done(request.result);
      request.onerror = () => fail(request.error as Error);
    });
    const plain = async (value: unknown): Promise<unknown> => {
      const bytes =
        value instanceof Blob ? await value.arrayBuffer() : value instanceof ArrayBuffer ? value : undefined;
      if (bytes) return [bytes.byteLength, new Uint8Array(bytes).reduce((a, b) => (a * 31 + b) % 1e9, 7)];
      if (Array.isArray(value)) return Promise.all(value.map(plain));
      if (typeof value !== 'object' || value === null) return value;
      const entries = await Promise.all(Object.entries(value).map(async ([k, v]) => [k, await plain(v)] as const));
      return Object.fromEntries(entries.sort(([a], [b]) => a.localeCompare(b)));
    };
    const all: Record<string, unknown[]> = {};
    for (const store of Array.from(db.objectStoreNames)) {
      const values = await new Promise<unknown[]>((done) => {
        const request = db.transaction(store).objectStore(store).getAll();
        request.onsuccess = () => done(request.result);
      });
      all[store] = (await plain(values)) as unknown[];
    }
    db.close();
    return all;
  });

interface StoredRecord {
  id: string;
  readings: { track: string; cells: number[]; value: unknown; judge: string; note?: string }[];
  notes?: { text: string }[];
  photos?: unknown[];
}
const plover = (all: Record<string, unknown[]>) =>
  (all['records'] as StoredRecord[]).find((r) => r.id === 'demo-plover-temperature')!;

// Forty in `npm run prove`.
const KILLS = Number(process.env['KILLS'] ?? 2);

test(`killed in the middle of work ${KILLS} times, nothing that was called kept is lost`, async ({ baseURL }) => {
  test.setTimeout(60_000 + KILLS * 20_000);
  const profile = mkdtempSync(join(tmpdir(), 'steady-kill-'));
  let seed = 15;
  const random = (n: number) => (seed = (seed * 48_271) % 2_147_483_647) % n;
  let browserProcess: ChildProcess | undefined;
  const open = async () => {
    const child = spawn(
      chromiumPath()!,
      [
        '--headless',
        '--no-sandbox',
        '--disable-gpu',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-sync',
        '--remote-debugging-port=0',
        `--user-data-dir=${profile}`,
        'about:blank',
      ],
      { stdio: ['ignore', 'ignore', 'pipe'], detached: true },
    );
    browserProcess = child;
    const address = await new Promise<string>((done) => {
      let said = '';
      child.stderr.on('data', (d: Buffer) => {
        said += d.toString();
        const found = /ws:\/\/\S+/.exec(said)?.[0];
        if (found) done(found);
      });
    });
    const browser = await chromium.connectOverCDP(address);
    const page = browser.contexts()[0]!.pages()[0] ?? (await browser.contexts()[0]!.newPage());
    return { browser, page };
  };
  const kill = async () => {
    const gone = new Promise((done) => browserProcess!.once('exit', done));
    process.kill(-browserProcess!.pid!, 'SIGKILL');
    await gone;
  };
  try {
    let { page } = await open();
    await useDemo(page, `${baseURL}/`);
    /** What was called kept: how many notes and photos, the last score and name. */
    const sure = { notes: 0, photos: 0, scores: new Map<number, number>(), name: 'Heron' };
    for (let n = 0; n < KILLS; n++) {
      await page.goto(`${baseURL}${PLOVER}`);
      await expect(page.getByRole('group', { name: 'surface', exact: true })).toBeVisible();
      const rows = page.getByRole('group', { name: 'surface', exact: true }).getByRole('button');
      for (let k = 0; k < 3; k++) {
        const [cell, value] = [random(8), random(5)];
        await rows.nth(cell).click();
        await page.keyboard.press(String(value));
        // First that it stands there: a moment before, what was kept is what stood there till then.
        await expect(rows.nth(cell)).toHaveAttribute('aria-label', new RegExp(`: ${value} `));
        await kept(page);
        sure.scores.set(cell, value);
      }
      await page.keyboard.press('n');
      await page.getByLabel(/^Note on/).fill(`note ${n}`);
      await page.keyboard.press('Enter');
      await kept(page);
      sure.notes++;
      await page.locator('input[aria-label^="Close-up of"]').setInputFiles(photo(`p${n}`));
      await expect(page.getByRole('button', { name: `Photos (${1 + OF_A_PRINT})` })).toBeVisible();
      await kept(page);
      sure.photos = 1;
      await page.goto(`${baseURL}/shelf/printer/heron`);
      await fill(page, 'Name', `Heron ${n}`);
      await page.getByRole('button', { name: 'Save changes' }).click();
      await kept(page);
      sure.name = `Heron ${n}`;
      // Work that nobody called kept yet, and in the middle of it the end.
      await page.goto(`${baseURL}${PLOVER}`);
      await expect(rows.first()).toBeVisible();
      await rows.nth(random(8)).click();
      const typing = (async () => {
        for (let k = 0; k < 60; k++) await page.keyboard.press(String(k % 5));
      })().catch(() => undefined);
      await new Promise((go) => setTimeout(go, 40 + random(400)));
      await kill();
      await typing;
      ({ page } = await open());
      await page.goto(`${baseURL}${PLOVER}`);
      await expect(page.getByRole('group', { name: 'surface', exact: true })).toBeVisible();
      const all = await stored(page);
      const record = plover(all);
      const texts = [...(record.notes ?? []).map((t) => t.text), ...record.readings.map((r) => r.note)];
      expect(texts).toContain(`note ${n}`);
      expect(record.photos).toHaveLength(sure.photos + OF_A_PRINT);
      expect(all['photos']).toHaveLength(sure.photos + DEMO_PHOTOS);
      expect((all['printers'] as { name: string }[]).map((p) => p.name)).toContain(sure.name);
      // What was typed last may have gone over scores; none of them is missing.
      for (const cell of sure.scores.keys())
        expect(record.readings.some((r) => r.track === 'surface' && r.cells.includes(cell))).toBe(true);
      // Record and history are of one moment: the last step can be taken back.
      await page.getByRole('button', { name: 'Undo' }).click();
      await kept(page);
    }
  } finally {
    await kill().catch(() => undefined);
    rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
  }
});

test('a backup of everything is the same after it was restored in an empty browser', async ({
  page,
  browser,
}, info) => {
  await useDemo(page);
  await page.goto(PLOVER);
  await page.getByRole('group', { name: 'surface', exact: true }).getByRole('button').nth(2).click();
  await page.keyboard.press('3');
  await page.keyboard.press('n');
  await page.keyboard.type('glossy');
  await page.keyboard.press('Enter');
  await page.locator('input[aria-label^="Close-up of"]').setInputFiles(photo('one'));
  await expect(page.getByRole('button', { name: `Photos (${1 + OF_A_PRINT})` })).toBeVisible();
  // A plan that cannot be made, an edit that was not saved, files of other origin.
  await page.goto('/trial/demo-osprey-temperature?stage=plan');
  await page.getByRole('button', { name: 'All settings' }).click();
  await page.getByLabel('find').fill('walls');
  await fill(page, 'walls', '2.5');
  await expect(page.getByText(/give a whole number/).first()).toBeVisible();
  await page.keyboard.press('Escape');
  await page.goto('/shelf/printer/heron');
  await fill(page, 'Name', 'Half an edit');
  await kept(page);
  await page.goto('/files');
  await page.getByRole('button', { name: 'Take the sample files' }).click();
  await expect(page.getByRole('link', { name: /three-clips/ })).toBeVisible();
  await kept(page);

  await page.getByRole('button', { name: 'kept in this browser' }).click();
  await expect(
    page.getByText(`3 printers, 4 filaments, 3 pairs, 16 trials, ${1 + DEMO_PHOTOS} photos, 6 files`),
  ).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Keep a backup' }).click(),
  ]);
  const file = info.outputPath('backup.zip');
  await download.saveAs(file);
  await expect(page.getByText(/Made and read back/)).toBeVisible();
  const before = await stored(page);

  const other = await (await browser.newContext()).newPage();
  await other.goto('/start');
  await other.getByRole('button', { name: 'kept in this browser' }).click();
  await other.getByLabel('Backup file').setInputFiles(file);
  await expect(
    other.getByText(`holds 3 printers, 4 filaments, 3 pairs, 16 trials, ${1 + DEMO_PHOTOS} photos and 6 files`),
  ).toBeVisible();
  await other.getByRole('button', { name: 'Replace everything' }).click();
  await expect(other.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
  await kept(other);
  const after = await stored(other);
  const only = ['printers', 'filaments', 'pairs', 'records', 'histories', 'photos', 'files', 'fileBytes'];
  for (const store of only) expect(after[store], store).toEqual(before[store]);
  const drafts = (all: Record<string, unknown[]>) =>
    (all['meta'] as { key: string }[]).filter((m) => m.key.startsWith('draft/'));
  expect(drafts(after)).toEqual(drafts(before));
  await other.goto('/shelf/printer/heron');
  await expect(other.getByText('Changes of before, not saved yet, are here again.')).toBeVisible();
  // Undo goes back over the restore; what stood here before can be put back.
  await other.goto(PLOVER);
  await other.getByRole('button', { name: 'Undo' }).click();
  await expect(other.getByRole('button', { name: /^Photos \(1\)/ })).toBeHidden();
  await other.getByRole('button', { name: 'kept in this browser' }).click();
  await other.getByRole('button', { name: 'Put that back' }).click();
  await expect(other.getByRole('button', { name: 'Use the demo pairs' })).toBeVisible();
  await other.context().close();
});

test('a text too long and a figure that cannot be set neither spoil the work nor vanish without a word', async ({
  page,
}) => {
  await useDemo(page);
  await page.goto('/trial/demo-heron-flow?stage=print');
  const room = page.getByLabel('room', { exact: true });
  await room.fill('r'.repeat(70));
  await expect(page.getByText('70 of 80 letters')).toBeVisible();
  await room.focus();
  await page.keyboard.press('End');
  await page.keyboard.type('s'.repeat(20));
  await expect(page.getByText('80 letters, no more fit')).toBeVisible();
  await page.getByRole('button', { name: 'It is printed: read it' }).click();
  await kept(page);
  await page.goto('/trial/demo-osprey-temperature?stage=plan');
  await page.getByRole('button', { name: 'All settings' }).click();
  await page.getByLabel('find').fill('retraction distance');
  await fill(page, 'retraction distance', '20');
  // What cannot be set is not asked about: it is refused at once.
  await expect(page.getByText(/give at most/).first()).toBeVisible();
  await kept(page);
  // The last good plan stands beside it, and after a reload what was typed is still there.
  await page.reload();
  await page.getByRole('button', { name: 'All settings' }).click();
  await page.getByLabel('find').fill('retraction distance');
  await expect(page.getByLabel('retraction distance', { exact: true })).toHaveValue('20');
  const all = await stored(page);
  const record = (all['records'] as { id: string; trial: { frozen: object }; draft?: { frozen: object } }[]).find(
    (r) => r.id === 'demo-osprey-temperature',
  )!;
  expect(record.draft!.frozen).toMatchObject({ retractionDistance: 20 });
  expect(record.trial.frozen).not.toHaveProperty('retractionDistance');
});

test.describe('a database', () => {
  test('that is refused: the header says so whatever is done, and a backup can still be kept', async ({ page }) => {
    await page.addInitScript(() => {
      IDBFactory.prototype.open = () => {
        throw new DOMException('storage is switched off', 'SecurityError');
      };
    });
    await page.goto('/');
    await page.getByRole('button', { name: 'Use the demo pairs' }).click();
    await expect(page.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
    await page.getByRole('button', { name: 'not kept' }).click();
    await expect(page.getByText(/gives this page no database \(storage is switched off\)/)).toBeVisible();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Keep a backup' }).click(),
    ]);
    expect(readFileSync(await download.path()).length).toBeGreaterThan(2000);
    await expect(page.getByRole('button', { name: 'not kept' })).toBeVisible();
    // Nobody leaves without being asked.
    const asked = page.waitForEvent('dialog');
    const left = page.close({ runBeforeUnload: true });
    expect((await asked).type()).toBe('beforeunload');
    await (await asked).dismiss();
    await left;
    expect(page.isClosed()).toBe(false);
  });
  test('of a newer version is left alone, and said', async ({ page }) => {
    await page.goto('/favicon.ico');
    await page.evaluate(
      () =>
        new Promise<void>((done) => {
          const request = indexedDB.open('steady-tune', 99);
          request.onsuccess = () => (request.result.close(), done());
        }),
    );
    await page.goto('/');
    await page.getByRole('button', { name: 'Use the demo pairs' }).click();
    await page.getByRole('button', { name: 'not kept' }).click();
    await expect(page.getByText(/holds work of a newer Steady Tune/)).toBeVisible();
  });
  test('that is deleted meanwhile is written anew', async ({ page }) => {
    await useDemo(page);
    await page.goto(PLOVER);
    await page.getByRole('group', { name: 'surface', exact: true }).getByRole('button').nth(3).click();
    await page.keyboard.press('1');
    await kept(page);
    const before = await stored(page);
    await page.evaluate(
      () =>
        new Promise((done) => {
          const request = indexedDB.deleteDatabase('steady-tune');
          request.onsuccess = request.onerror = done;
        }),
    );
    await kept(page);
    await expect.poll(async () => (await stored(page))['records']).toEqual(before['records']);
    await page.reload();
    await expect(page.getByRole('group', { name: 'surface', exact: true }).locator('.dot')).not.toHaveCount(0);
  });
  test('without room says so, keeps what it can, and all of it once there is room', async ({ page }) => {
    await useDemo(page);
    await page.goto(PLOVER);
    const rows = page.getByRole('group', { name: 'surface', exact: true }).getByRole('button');
    await rows.nth(1).click();
    await page.evaluate(() => {
      const put = IDBObjectStore.prototype.put;
      (window as unknown as { room: () => void }).room = () => (IDBObjectStore.prototype.put = put);
      IDBObjectStore.prototype.put = () => {
        throw new DOMException('no room', 'QuotaExceededError');
      };
    });
    await page.keyboard.press('2');
    await expect(page.getByRole('button', { name: 'not kept' })).toBeVisible();
    await page.getByRole('button', { name: 'not kept' }).click();
    await expect(page.getByText(/the browser has no more room for this page/)).toBeVisible();
    await page.keyboard.press('Escape');
    await page.evaluate(() => (window as unknown as { room: () => void }).room());
    await kept(page);
    await page.reload();
    await expect(rows.nth(1)).toHaveAttribute('aria-label', /: 2 /);
  });
  test('held by an old tab lets a new page begin, and say why nothing is kept', async ({ page, context }) => {
    const old = await context.newPage();
    await old.goto('/favicon.ico');
    await old.evaluate(
      () =>
        new Promise<void>((done) => {
          const request = indexedDB.open('steady-tune', 1);
          request.onsuccess = () => ((window as unknown as { held: IDBDatabase }).held = request.result) && done();
        }),
    );
    await page.goto('/');
    await page.getByRole('button', { name: 'Use the demo pairs' }).click();
    await expect(page.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
    await page.getByRole('button', { name: 'not kept' }).click();
    await expect(page.getByText(/an older Steady Tune is open in another tab; close that tab/)).toBeVisible();
    await old.close();
    await page.keyboard.press('Escape');
    await kept(page);
    await page.reload();
    await expect(page.getByRole('heading', { name: /Heron · Marsh PETG/ })).toBeVisible();
  });
});

test('two phones and two desks, lost answers, a desk on another page: all arrives once, or waits and says so', async ({
  browser,
}) => {
  const port = 4600 + Math.floor(Math.random() * 300);
  const server = spawn(process.execPath, ['dist/server/index.js', '--lan'], {
    env: { ...process.env, PORT: String(port) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    await new Promise((ready) => server.stdout.once('data', ready));
    const baseURL = `http://localhost:${port}`;
    const context = await browser.newContext({ baseURL });
    const desk = await context.newPage();
    await useDemo(desk);
    await desk.goto(PLOVER);
    await expect(desk.getByRole('button', { name: 'Phone' })).toBeVisible();
    // A second desk follows the first, in another tab of the same browser.
    const second = await context.newPage();
    await second.goto('/');
    await expect(second.getByText('This one follows and does not write')).toBeVisible();
    const phones = await Promise.all(
      [1, 2].map(async () => {
        const own = await browser.newContext({ baseURL, viewport: { width: 390, height: 844 } });
        const phone = await own.newPage();
        await phone.goto('/phone');
        await expect(phone.getByRole('heading', { level: 1 })).toContainText('Temperature tower');
        await phone.getByLabel('What is read').selectOption({ label: 'surface' });
        return phone;
      }),
    );
    const [one, two] = phones as [Page, Page];
    const judge = two.getByLabel('Read by');
    await judge.click();
    await judge.press('ControlOrMeta+a');
    await judge.pressSequentially('Ane');
    await judge.press('Tab');
    // The desk goes elsewhere; half of its answers are lost.
    await desk.goto('/shelf');
    let lost = 0;
    await desk.route('**/relay/heard', (route) => (lost++ % 2 === 0 ? route.abort() : route.continue()));
    for (const phone of [one, two]) for (let k = 0; k < 3; k++) await phone.getByRole('button', { name: /^3/ }).click();
    for (const phone of [one, two]) await expect(phone.getByText('Kept on the desk.')).toBeVisible({ timeout: 60_000 });
    await desk.unroute('**/relay/heard');
    const surface = async () => plover(await stored(desk)).readings.filter((r) => r.track === 'surface');
    expect((await surface()).map((r) => r.judge).sort()).toEqual(['Ane', 'Ane', 'Ane', 'me', 'me', 'me']);
    // The desk is closed: what is said waits, through a reload of the phone too, and says so.
    await second.close();
    await desk.close();
    await expect(one.getByText('Steady Tune is closed on the desk; open it there.')).toBeVisible();
    await one.getByLabel('Note').fill('strings at the bridge');
    await one.getByLabel('Note').press('Enter');
    await one.getByRole('button', { name: /^1/ }).click();
    await expect(one.getByText(/^2 wait on this phone/)).toBeVisible();
    await one.reload();
    await expect(one.getByText(/^2 wait on this phone/)).toBeVisible();
    const again = await context.newPage();
    await again.goto('/shelf');
    await expect(one.getByText(/wait on this phone/)).toBeHidden({ timeout: 30_000 });
    const all = await stored(again);
    const texts = [...(plover(all).notes ?? []).map((n) => n.text), ...plover(all).readings.map((r) => r.note)];
    expect(texts).toContain('strings at the bridge');
    expect(plover(all).readings.filter((r) => r.track === 'surface')).toHaveLength(7);
    for (const phone of phones) await phone.context().close();
    await context.close();
  } finally {
    server.kill();
  }
});
