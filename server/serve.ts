import { createServer, type Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import express, { type Express } from 'express';

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

/** The application that serves the built pages, with a strict content security policy. */
export function application(root: URL): Express {
  const folder = fileURLToPath(root);
  const app = express();
  app.disable('x-powered-by');
  app.use((_, response, next) => {
    response.setHeader('Content-Security-Policy', policy);
    response.setHeader('X-Content-Type-Options', 'nosniff');
    response.setHeader('Referrer-Policy', 'no-referrer');
    next();
  });
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

/** Starts serving; rejects when the port is taken. */
export function startServer(port: number, root: URL): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer(application(root));
    server.once('error', reject);
    server.listen(port, () => {
      console.log(`Steady Tune is at http://localhost:${port}`);
      resolve(server);
    });
  });
}
