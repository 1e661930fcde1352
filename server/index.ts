import { startServer } from './serve';

const asked = process.env['PORT'] ?? '4310';
const port = /^\d{1,5}$/.test(asked) ? Number(asked) : NaN;

if (port >= 1 && port <= 65_535)
  startServer(port, new URL('../web/', import.meta.url), { lan: process.argv.includes('--lan') }).catch(
    (error: NodeJS.ErrnoException) => {
      console.error(
        error.code === 'EADDRINUSE'
          ? `Port ${port} is taken by another program. Close it, or choose another port: PORT=${port === 65_535 ? 4310 : port + 1} npm start`
          : error.code === 'EACCES'
            ? `Port ${port} may not be used by you. Choose one above 1023: PORT=4310 npm start`
            : `Steady Tune could not start: ${error.message}`,
      );
      process.exitCode = 1;
    },
  );
else {
  console.error(`PORT is “${asked}”; give a whole number from 1 to 65535, such as PORT=4310 npm start`);
  process.exitCode = 1;
}
