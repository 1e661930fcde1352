import { startServer } from './serve';

const port = Number(process.env['PORT'] ?? 4310);
startServer(port, new URL('../web/', import.meta.url), { lan: process.argv.includes('--lan') }).catch(
  (error: NodeJS.ErrnoException) => {
    console.error(
      error.code === 'EADDRINUSE'
        ? `Port ${port} is taken by another program. Close it, or choose another port: PORT=${port + 1} npm start`
        : error.code === 'ERR_SOCKET_BAD_PORT' || Number.isNaN(port)
          ? `PORT must be a whole number from 1 to 65535.`
          : `Steady Tune could not start: ${error.message}`,
    );
    process.exitCode = 1;
  },
);
