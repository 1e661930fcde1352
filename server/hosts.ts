import { hostname, networkInterfaces } from 'node:os';
import type { Request, RequestHandler } from 'express';

/** Names by which this machine calls itself. */
const here = ['localhost', '127.0.0.1', '[::1]'];

/** Names and addresses by which its own network calls it. */
function inNetwork(): string[] {
  const addresses = Object.values(networkInterfaces()).flatMap((all) => all ?? []);
  const name = hostname().toLowerCase();
  return [
    ...addresses.map((a) => (a.family === 'IPv6' ? `[${a.address.replace(/%.*$/, '')}]` : a.address)),
    ...(name === '' ? [] : [name, `${name}.local`]),
  ];
}

/** The name in a Host header or an origin, without its port. */
const nameIn = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

/**
 * Lets only requests in that name this machine by a name of its own: another name that was made to resolve to it comes
 * from a page that wants to read what is served here. What a page of another origin sends is not taken either.
 *
 * @param address under which other machines come in (`http://192.0.2.7:4310`); left out, this machine alone does
 */
export function ownHostsOnly(address: string | undefined): RequestHandler {
  const names = new Set([...here, ...(address === undefined ? [] : [nameIn(new URL(address).host), ...inNetwork()])]);
  return (request, response, next) => {
    const host = request.headers.host;
    const { origin } = request.headers;
    const site = request.headers['sec-fetch-site'];
    if (host === undefined || !names.has(nameIn(host)))
      response.status(421).type('text').send('Steady Tune is not served under this name.');
    else if (origin !== undefined && !sameOrigin(origin, host))
      response.status(403).type('text').send('Another site cannot ask this.');
    else if (site !== undefined && !['same-origin', 'none'].includes(site) && !opensPage(request))
      response.status(403).type('text').send('Another site cannot ask this.');
    else next();
  };
}

const sameOrigin = (origin: string, host: string): boolean =>
  URL.canParse(origin) && new URL(origin).host === host.toLowerCase();

/** A link on another page may lead here, as to any page. */
const opensPage = (request: Request): boolean =>
  request.method === 'GET' && request.headers['sec-fetch-mode'] === 'navigate';
