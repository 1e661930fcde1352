import { createServer, type Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import { networkInterfaces } from 'node:os';
import express, { type Express } from 'express';
import qr from 'qrcode';
import { Door } from './door';
import { relay } from './relay';

const policy = [
  "default-src 'self'",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' blob: data:",
  "font-src 'self'",
  "connect-src 'self'",
  "worker-src 'self'",
  "object-src 'none'",
  "base-uri 'self'",
  "form-action 'none'",
  "frame-ancestors 'none'",
].join('; ');

/** The door and address under which other machines come in. */
interface Lan {
  door: Door;
  address: string;
}

/** The application that serves the built pages, with a strict content security policy. */
export function application(root: URL, lan?: Lan): Express {
  const folder = fileURLToPath(root);
  const app = express();
  app.disable('x-powered-by');
  app.use((_, response, next) => {
    response.setHeader('Content-Security-Policy', policy);
    response.setHeader('X-Content-Type-Options', 'nosniff');
    response.setHeader('Referrer-Policy', 'no-referrer');
    next();
  });
  if (lan) {
    app.use(lan.door.guard());
    app.use('/relay', relay(lan.door, lan.address, drawn));
  } else {
    // No door: a page that asks for it is told so without an error.
    app.use('/relay', (_, response) => void response.status(204).end());
  }
  app.use(
    express.static(folder, {
      index: 'index.html',
      setHeaders(response, path) {
        // Names with a hash never change their content.
        const hashed = /-[A-Z0-9]{8}\.\w+$/.test(path);
        response.setHeader('Cache-Control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    }),
  );
  app.get('/{*path}', (request, response) => {
    if (/\.\w+$/.test(request.path)) response.status(404).type('text').send('There is nothing here.');
    else response.sendFile('index.html', { root: folder });
  });
  return app;
}

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
 * may come in by the door.
 */
export function startServer(port: number, root: URL, options: { lan?: boolean } = {}): Promise<Server> {
  const host = options.lan ? (ownAddress() ?? 'localhost') : 'localhost';
  const address = `http://${host}:${port}`;
  const door = options.lan ? new Door() : undefined;
  return new Promise((resolve, reject) => {
    const server = createServer(application(root, door && { door, address }));
    server.once('error', reject);
    server.listen(port, options.lan ? undefined : 'localhost', () => {
      console.log(`Steady Tune is at http://localhost:${port}`);
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
