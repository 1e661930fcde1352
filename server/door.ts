import { randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import type { Request, RequestHandler, Response } from 'express';
import express from 'express';

const TRIES = 5;
const COOKIE = 'steady-tune-phone';

/** Whether a request comes from this machine itself. */
export const fromHere = (request: Pick<Request, 'socket'>): boolean =>
  ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(request.socket.remoteAddress ?? '');

/**
 * The door for other machines: a code of six figures, made anew at each start and good for one phone. Without it nothing
 * is served but the page that asks for it; five wrong codes close the door until the next start.
 */
export class Door {
  /** The code that is asked for; a new one after each phone that came in. */
  code = newCode();
  private wrong = 0;
  private readonly sessions = new Set<string>();

  /** @param here whether a request needs no code; left out, those of this machine */
  constructor(private readonly here: (request: Request) => boolean = fromHere) {}

  get closed(): boolean {
    return this.wrong >= TRIES;
  }

  get phones(): number {
    return this.sessions.size;
  }

  /** Whether a request may come in. */
  admits(request: Request): boolean {
    return this.here(request) || this.isPhone(request);
  }

  isPhone(request: Request): boolean {
    const cookie = request.headers.cookie ?? '';
    const session = new RegExp(`(?:^|; )${COOKIE}=([0-9a-f]{64})`).exec(cookie)?.[1];
    return session !== undefined && this.sessions.has(session);
  }

  isHere(request: Request): boolean {
    return this.here(request);
  }

  /** Lets in whoever is admitted; asks all others for the code, and serves them nothing else. */
  guard(): RequestHandler[] {
    return [
      (request, response, next) => {
        if (this.admits(request)) next();
        else if (request.method === 'POST' && request.path === '/door')
          express.urlencoded({ extended: false, limit: 1000 })(request, response, next);
        else this.ask(response, '');
      },
      (request, response, next) => {
        if (this.admits(request)) next();
        else this.knock(request, response);
      },
    ];
  }

  private knock(request: Request, response: Response): void {
    const said = (request.body as { code?: unknown } | undefined)?.code;
    if (this.closed || typeof said !== 'string') {
      this.ask(response, '');
      return;
    }
    if (!same(said.replace(/\s/g, ''), this.code)) {
      this.wrong++;
      this.ask(response, this.closed ? '' : `That is not the code. ${TRIES - this.wrong} tries are left.`);
      return;
    }
    const session = randomBytes(32).toString('hex');
    this.sessions.add(session);
    this.code = newCode();
    this.wrong = 0;
    response.setHeader('Set-Cookie', `${COOKIE}=${session}; HttpOnly; SameSite=Strict; Path=/; Max-Age=43200`);
    response.redirect(303, '/phone');
  }

  private ask(response: Response, problem: string): void {
    const body = this.closed
      ? '<p>Five wrong codes were given, so the door is closed. Start Steady Tune again to open it.</p>'
      : `<form method="post" action="/door"><label for="code">Code, as the desk shows it</label>
<input id="code" name="code" inputmode="numeric" autocomplete="one-time-code" maxlength="7" required autofocus><button>Come in</button></form>
<p role="alert">${problem}</p>`;
    response
      .status(this.closed ? 403 : 401)
      .setHeader(
        'Content-Security-Policy',
        "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'",
      )
      .type('html')
      .send(`<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Steady Tune</title><style>body{font:17px sans-serif;margin:12vh auto;max-width:300px;padding:0 16px;background:#f7f3ea;color:#1f2a44}
input,button{font:inherit;width:100%;padding:12px;margin:8px 0;box-sizing:border-box}p{color:#a5342a}</style>
<h1>Steady Tune</h1>${body}</html>`);
  }
}

const newCode = (): string => String(randomInt(0, 1_000_000)).padStart(6, '0');

function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}
