import express, { type Request, type Response, type Router } from 'express';
import type { Door } from './door';
import { Listeners } from './listeners';

/**
 * Passes what a phone says to the desk, the desk's answer to the phone, and the desk's sheet to the phones, as
 * server-sent events. It keeps nothing: a phone that comes in asks the desk, and the desk says its sheet again.
 */
export function relay(door: Door, address: string, drawn: (text: string) => Promise<string>): Router {
  const desks = new Listeners(() => phones.send('desk', desks.size));
  const phones = new Listeners(() => desks.send('phones', phones.size));
  const router = express.Router();
  // Another site's page in this browser cannot send this header.
  router.use((request, response, next) => {
    if (request.method === 'POST' && request.headers['x-steady-tune'] !== '1') response.status(403).end();
    else next();
  });
  const onlyHere = (request: Request, response: Response, go: () => void) =>
    door.isHere(request) ? go() : void response.status(403).end();
  // Read and written anew, so that what is passed on is JSON and nothing else.
  const json = (limit: string) => express.json({ limit, strict: true });

  const tell = async (response: Response) => {
    const svg = await drawn(address);
    const { code, closed, shutOut } = door;
    response.setHeader('Cache-Control', 'no-store').json({ address, code, closed, shutOut, phones: phones.size, svg });
  };
  router.get('/door', (request, response) => onlyHere(request, response, () => void tell(response)));
  router.post('/door/open', (request, response) =>
    onlyHere(request, response, () => {
      door.open();
      void tell(response);
    }),
  );
  router.get('/desk', (request, response) =>
    onlyHere(request, response, () => {
      desks.add(request, response);
      desks.send('phones', phones.size);
      phones.send('desk', desks.size);
    }),
  );
  router.post('/sheet', json('4mb'), (request, response) =>
    onlyHere(request, response, () => {
      phones.send('sheet', request.body as unknown);
      response.status(204).end();
    }),
  );
  router.post('/heard', json('8kb'), (request, response) =>
    onlyHere(request, response, () => {
      phones.send('heard', request.body as unknown);
      response.status(204).end();
    }),
  );
  router.get('/phone', (request, response) => {
    phones.add(request, response);
    phones.send('desk', desks.size);
    desks.send('hello', phones.size);
    desks.send('phones', phones.size);
  });
  router.post('/say', json('8mb'), (request, response) => {
    if (desks.size === 0) {
      response.status(503).type('text').send('Steady Tune is not open on the desk');
      return;
    }
    desks.send('say', request.body as unknown);
    // Passed on, no more: the desk says by itself what it has kept.
    response.status(202).end();
  });
  return router;
}
