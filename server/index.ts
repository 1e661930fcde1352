import { NetworkPrinter } from './network-printer';
import { portOf } from './port';
import { startServer } from './serve';

const asked = process.env['PORT'] ?? '4310';
const port = portOf(asked);

/** `--practice` or `--practice=plover`, with `--fast` as fast as it can. */
function practicePrinter(): NetworkPrinter | undefined {
  const asked = process.argv.find((a) => a === '--practice' || a.startsWith('--practice='));
  if (asked === undefined) return undefined;
  const id = asked.split('=')[1] ?? 'heron';
  return new NetworkPrinter(id, process.argv.includes('--fast'), new Date().toISOString().slice(0, 10));
}

async function start(): Promise<void> {
  const printer = practicePrinter();
  await startServer(port, new URL('../web/', import.meta.url), {
    lan: process.argv.includes('--lan'),
    ...(printer && { printer }),
  });
}

if (!Number.isNaN(port))
  start().catch((error: NodeJS.ErrnoException) => {
    console.error(
      error.code === 'EADDRINUSE'
        ? `Port ${port} is taken by another program. Close it, or choose another port: PORT=${port === 65_535 ? 4310 : port + 1} npm start`
        : error.code === 'EACCES'
          ? `Port ${port} may not be used by you. Choose one above 1023: PORT=4310 npm start`
          : `Steady Tune could not start: ${error.message}`,
    );
    process.exitCode = 1;
  });
else {
  console.error(`PORT is “${asked}”; give a whole number from 1 to 65535, such as PORT=4310 npm start`);
  process.exitCode = 1;
}
