import { createServer, type Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import { networkInterfaces } from 'node:os';
import { existsSync } from 'node:fs';
import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import qr from 'qrcode';
import { compressed, plainName } from './compressed';
import type { NetworkPrinter } from './network-printer';
import { Door } from './door';
import { ownHostsOnly } from './hosts';
import { relay } from './relay';

/** What a page may load and do: its own things only; the component library sets styles at run time. */
const headers = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      styleSrc: ["'self'", "'unsafe-inline'"],
      imgSrc: ["'self'", 'blob:', 'data:'],
      fontSrc: ["'self'"],
      connectSrc: ["'self'"],
      workerSrc: ["'self'"],
      objectSrc: ["'none'"],
      baseUri: ["'self'"],
      formAction: ["'none'"],
      frameAncestors: ["'none'"],
    },
  },
  // A form of our own must be able to say where it comes from.
  referrerPolicy: { policy: 'same-origin' },
  // Served without TLS on this machine and in its own network.
  strictTransportSecurity: false,
  originAgentCluster: false,
  crossOriginOpenerPolicy: false,
});

/** The door and address under which other machines come in. */
interface Lan {
  door: Door;
  address: string;
}

/** The application that serves the built pages, with a strict content security policy, and a printer where there is one. */
export function application(root: URL, lan?: Lan, printer?: NetworkPrinter): Express {
  const folder = fileURLToPath(root);
  const app = express();
  app.use(headers);
  app.use(ownHostsOnly(lan?.address));
  if (lan) {
    app.use(lan.door.guard());
    app.use('/relay', relay(lan.door, lan.address, drawn));
  } else {
    // No door: a page that asks for it is told so without an error.
    app.use('/relay', (_, response) => void response.status(204).end());
  }
  // Whether there is a printer behind this server: a page that asks where there is none is told so without an error.
  app.get('/device', printer?.here ?? ((_, response) => void response.status(204).end()));
  app.use(compressed(folder));
  app.use(
    express.static(folder, {
      index: 'index.html',
      setHeaders(response, path) {
        // Names with a hash never change their content.
        const hashed = /-[A-Z0-9]{8}\.\w+$/.test(plainName(path));
        response.setHeader('Cache-Control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    }),
  );
  app.get('/{*path}', (request, response) => {
    if (/\.\w+$/.test(request.path)) response.status(404).type('text').send('There is nothing here.');
    else response.sendFile('index.html', { root: folder });
  });
  app.use(answered);
  return app;
}

/** A request that cannot be read gets one sentence: no trace, no path of this machine. */
const answered: ErrorRequestHandler = (error: { status?: unknown; type?: unknown }, _request, response, next) => {
  if (response.headersSent) {
    next(error);
    return;
  }
  const status = typeof error.status === 'number' && error.status >= 400 && error.status < 500 ? error.status : 500;
  const words =
    status === 413
      ? 'This is too large.'
      : status === 404
        ? 'There is nothing here.'
        : status < 500
          ? 'This request cannot be read.'
          : 'The server made a mistake; try again.';
  response.status(status).type('text').send(words);
};

/** The address as a QR code, black on white. */
const drawn = (text: string): Promise<string> => qr.toString(text, { type: 'svg', margin: 1 });

/** The first address of this machine in its own network. */
export function ownAddress(): string | undefined {
  return Object.values(networkInterfaces())
    .flat()
    .find((n) => n?.family === 'IPv4' && !n.internal)?.address;
}

/**
 * Starts serving; rejects when the port is taken. On this machine alone, unless `lan` is asked for: then other machines
 * may come in by the door. With `practice` a practice printer stands behind it, for pages of this machine.
 */
export function startServer(
  port: number,
  root: URL,
  options: { lan?: boolean; printer?: NetworkPrinter } = {},
): Promise<Server> {
  if (!existsSync(new URL('index.html', root)))
    return Promise.reject(
      Object.assign(new Error('the pages are not built; run npm start, which builds them'), { code: 'NO_PAGES' }),
    );
  const host = options.lan ? (ownAddress() ?? 'localhost') : 'localhost';
  const address = `http://${host}:${port}`;
  const door = options.lan ? new Door() : undefined;
  return new Promise((resolve, reject) => {
    const server = createServer(application(root, door && { door, address }, options.printer));
    options.printer?.attach(server);
    server.once('error', reject);
    // What is not even HTTP is answered and closed.
    server.on('clientError', (_, socket) => {
      if (socket.writable) socket.end('HTTP/1.1 400 Bad Request\r\nConnection: close\r\n\r\n');
    });
    server.listen(port, options.lan ? undefined : 'localhost', () => {
      console.log(`Steady Tune is at http://localhost:${port}`);
      if (options.printer)
        console.log(`A practice printer, ${options.printer.name}, is behind it: choose it under Print.`);
      if (!door) {
        resolve(server);
        return;
      }
      console.log(`A phone in the same network: ${address}, code ${door.code}`);
      void qr.toString(address, { type: 'terminal', small: true }).then((picture) => {
        console.log(picture);
        resolve(server);
      });
    });
  });
}
