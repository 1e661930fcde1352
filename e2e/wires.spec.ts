import { expect, test, type Page, type WebSocketRoute } from '@playwright/test';
import { axeFindings, estimated, kept, useDemo } from './steps';

// The printer behind the server is one: who prints on it waits for who does already.
test.describe.configure({ mode: 'serial' });

const opened = async (page: Page, trial: string) => {
  await useDemo(page);
  await page.goto(`/trial/${trial}?stage=print`);
  await estimated(page);
};
const choose = async (page: Page, what: string | RegExp) => {
  await page.getByRole('combobox', { name: 'Where to print' }).click();
  await page.getByRole('option', { name: what }).click();
};
const way = (page: Page) => page.getByRole('region', { name: 'Print under way' });

test('another printer than the shelf’s is asked about before anything is sent', async ({ page }) => {
  await opened(page, 'demo-osprey-temperature');
  await choose(page, /Heron, network/);
  await page.getByRole('button', { name: 'Print on Heron' }).click();
  await expect(way(page).getByRole('heading', { name: 'Is this the right printer?' })).toBeVisible();
  const differences = page.getByRole('list', { name: 'It says of itself what the printer on the shelf is not' });
  await expect(differences).toContainText('this file is written for RepRapFirmware');
  await expect(differences).toContainText('it says that it has one tool; the printer on the shelf has 2 tools');
  expect(await axeFindings(page)).toEqual([]);
  await page.getByRole('button', { name: 'Do not print' }).click();
  await expect(page.getByRole('button', { name: 'Print on Heron' })).toBeVisible();
});

test('a print over the network outlives a broken wire, and lies on the sheet with its photographs', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const wires: WebSocketRoute[] = [];
  await page.routeWebSocket('**/device', (ws) => {
    wires.push(ws);
    ws.connectToServer();
  });
  await opened(page, 'demo-heron-fence');
  await page.getByRole('button', { name: 'Printed again' }).click();
  await choose(page, /Heron, network/);
  await page.getByRole('button', { name: 'Print on Heron' }).click();
  await expect(way(page).getByRole('heading', { name: 'Printing' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'What the printer reports' })).toContainText('over the network');
  await expect(page.getByRole('region', { name: 'What the printer reports' })).toContainText('practice printer');
  await wires.at(-1)!.close();
  await expect(way(page).getByRole('heading', { name: 'The wire is broken' })).toBeVisible();
  await expect(page.getByText('nothing is printed twice')).toBeVisible();
  await expect(way(page).getByRole('heading', { name: 'Printing' })).toBeVisible();
  expect(wires.length).toBeGreaterThan(1);
  await kept(page);
  await expect(page.getByRole('heading', { name: /Printed on .*practice printer/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Read' }).click();
  await expect(page.getByRole('button', { name: /Photos \([34]\)/ })).toBeVisible();
});

test('a machine at a cable prints, and is stopped by one key', async ({ page }) => {
  test.setTimeout(120_000);
  // A port as the browser gives it, with the printer behind the server at its far end; it does not say that it practises.
  await page.addInitScript(() => {
    let socket: WebSocket | undefined;
    const port = {
      readable: undefined as ReadableStream<Uint8Array> | undefined,
      writable: undefined as WritableStream<Uint8Array> | undefined,
      async open() {
        socket = new WebSocket(location.origin.replace('http', 'ws') + '/device');
        const own = socket;
        this.readable = new ReadableStream({
          start: (controller) => {
            own.onmessage = ({ data }) =>
              controller.enqueue(new TextEncoder().encode(String(data).replace(' (practice)', ' 2.1')));
          },
        });
        this.writable = new WritableStream({ write: (bytes) => own.send(new TextDecoder().decode(bytes)) });
        await new Promise((ready) => (own.onopen = ready));
      },
      close: () => Promise.resolve(socket?.close()),
    };
    Object.defineProperty(navigator, 'serial', {
      value: { requestPort: () => Promise.resolve(port), getPorts: () => Promise.resolve([port]) },
    });
  });
  await opened(page, 'demo-heron-fence');
  await page.getByRole('button', { name: 'Printed again' }).click();
  await choose(page, 'printer at a cable');
  await expect(page.getByRole('combobox', { name: 'Bits a second' })).toBeVisible();
  await page.getByRole('button', { name: 'Print over the cable' }).click();
  await expect(way(page).getByRole('heading', { name: 'Printing' })).toBeVisible();
  const reports = page.getByRole('region', { name: 'What the printer reports' });
  await expect(reports).toContainText('at a cable');
  await expect(reports).not.toContainText('practice printer');
  await expect(way(page)).toContainText(/[1-9]\d* of \d+ lines/);
  await page.keyboard.press('F8');
  await expect(way(page).getByRole('heading', { name: 'Stopped, heaters off' })).toBeVisible();
  await page.getByRole('button', { name: 'Note it as printed so far' }).click();
  await expect(page.getByText('firmware Marlin 2.1')).toBeVisible();
});
