import type { IncomingHttpHeaders } from 'node:http';
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

/** Names under which this server is asked: this machine’s own, and those of its network where others may come in. */
export const namesOf = (address: string | undefined): ReadonlySet<string> =>
  new Set([...here, ...(address === undefined ? [] : [nameIn(new URL(address).host), ...inNetwork()])]);

/** Why what these headers ask is not answered: a name that is not this server’s, or another site; undefined where it is. */
export function refusal(
  { host, origin, ...others }: IncomingHttpHeaders,
  names: ReadonlySet<string>,
  originNeeded = false,
): 'name' | 'site' | undefined {
  const site = others['sec-fetch-site'];
  if (host === undefined || !names.has(nameIn(host))) return 'name';
  if (origin !== undefined ? !sameOrigin(origin, host) : originNeeded) return 'site';
  return site !== undefined && !['same-origin', 'none'].includes(String(site)) ? 'site' : undefined;
}

/**
 * Lets only requests in that name this machine by a name of its own: another name that was made to resolve to it comes
 * from a page that wants to read what is served here. What a page of another origin sends is not taken either.
 *
 * @param address under which other machines come in (`http://192.0.2.7:4310`); left out, this machine alone does
 */
export function ownHostsOnly(address: string | undefined): RequestHandler {
  const names = namesOf(address);
  return (request, response, next) => {
    const { origin } = request.headers;
    const why = refusal(request.headers, names);
    if (why === 'name') response.status(421).type('text').send('Steady Tune is not served under this name.');
    else if (why === 'site' && (origin !== undefined || !opensPage(request)))
      response.status(403).type('text').send('Another site cannot ask this.');
    else next();
  };
}

const sameOrigin = (origin: string, host: string): boolean =>
  URL.canParse(origin) && new URL(origin).host === host.toLowerCase();

/** A link on another page may lead here, as to any page. */
const opensPage = (request: Request): boolean =>
  request.method === 'GET' && request.headers['sec-fetch-mode'] === 'navigate';
