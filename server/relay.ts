import express, { type Request, type Response, type Router } from 'express';
import type { Door } from './door';

/**
 * Passes what a phone says to the desk and the desk's sheet to the phones, as server-sent events. It keeps nothing: a
 * phone that comes in asks the desk, and the desk says its sheet again.
 */
export function relay(door: Door, address: string, drawn: (text: string) => Promise<string>): Router {
  const desks = new Set<Response>();
  const phones = new Set<Response>();
  const router = express.Router();
  const send = (to: ReadonlySet<Response>, event: string, data: string) => {
    for (const r of to) r.write(`event: ${event}\ndata: ${data.replace(/\r?\n/g, '')}\n\n`);
  };
  const listen = (set: Set<Response>, request: Request, response: Response) => {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
    });
    response.write(': here\n\n');
    set.add(response);
    const beat = setInterval(() => response.write(': here\n\n'), 20_000);
    request.on('close', () => {
      clearInterval(beat);
      set.delete(response);
      if (set === phones) send(desks, 'phones', String(phones.size));
    });
  };
  // Another site's page in this browser cannot send this header.
  router.use((request, response, next) => {
    if (request.method === 'POST' && request.headers['x-steady-tune'] !== '1') response.status(403).end();
    else next();
  });
  const onlyHere = (request: Request, response: Response, go: () => void) =>
    door.isHere(request) ? go() : void response.status(403).end();

  router.get('/door', (request, response) =>
    onlyHere(request, response, () => {
      void drawn(address).then((svg) =>
        response
          .setHeader('Cache-Control', 'no-store')
          .json({ address, code: door.code, closed: door.closed, phones: phones.size, svg }),
      );
    }),
  );
  router.get('/desk', (request, response) =>
    onlyHere(request, response, () => {
      listen(desks, request, response);
      send(desks, 'phones', String(phones.size));
    }),
  );
  router.post('/sheet', express.text({ type: 'application/json', limit: '4mb' }), (request, response) =>
    onlyHere(request, response, () => {
      send(phones, 'sheet', String(request.body));
      response.status(204).end();
    }),
  );
  router.get('/phone', (request, response) => {
    listen(phones, request, response);
    send(desks, 'hello', String(phones.size));
    send(desks, 'phones', String(phones.size));
  });
  router.post('/say', express.text({ type: 'application/json', limit: '8mb' }), (request, response) => {
    if (desks.size === 0) {
      response.status(503).type('text').send('no sheet is open on the desk; open the trial there');
      return;
    }
    send(desks, 'say', String(request.body));
    response.status(204).end();
  });
  return router;
}
