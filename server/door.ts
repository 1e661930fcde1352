import { randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import type { Request, RequestHandler, Response } from 'express';
import express from 'express';

/** Wrong codes that one address may give, and all together, before the door closes to it, or to all. */
const TRIES = 5;
const TRIES_OF_ALL = 30;
/** Phones that may be in at once. */
const MOST_PHONES = 12;
const COOKIE = 'steady-tune-phone';

/** Whether a request comes from this machine itself. */
export const fromHere = (request: Pick<Request, 'socket'>): boolean =>
  ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(request.socket.remoteAddress ?? '');

/** Where a request comes from. */
const addressOf = (request: Pick<Request, 'socket'>): string => request.socket.remoteAddress ?? '';

/**
 * The door for other machines: a code of six figures, made anew at each start and good for one phone. Without it nothing
 * is served but the page that asks for it. Five wrong codes close the door to the address they came from, thirty close
 * it to all; the desk opens it again, with a new code.
 */
export class Door {
  /** The code that is asked for; a new one after each phone that came in. */
  code = newCode();
  private readonly wrong = new Map<string, number>();
  private readonly sessions = new Set<string>();

  /**
   * @param here whether a request needs no code; left out, those of this machine
   * @param from where a request comes from
   */
  constructor(
    private readonly here: (request: Request) => boolean = fromHere,
    private readonly from: (request: Request) => string = addressOf,
  ) {}

  /** Whether it is closed to all. */
  get closed(): boolean {
    let all = 0;
    for (const n of this.wrong.values()) all += n;
    return all >= TRIES_OF_ALL;
  }

  /** How many addresses it is closed to. */
  get shutOut(): number {
    return [...this.wrong.values()].filter((n) => n >= TRIES).length;
  }

  get phones(): number {
    return this.sessions.size;
  }

  /** Opens the door again, with a new code. */
  open(): void {
    this.wrong.clear();
    this.code = newCode();
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

  private closedTo(request: Request): boolean {
    return this.closed || (this.wrong.get(this.from(request)) ?? 0) >= TRIES;
  }

  /** Lets in whoever is admitted; asks all others for the code, and serves them nothing else. */
  guard(): RequestHandler[] {
    return [
      (request, response, next) => {
        if (this.admits(request)) next();
        else if (request.method === 'POST' && request.path === '/door')
          express.urlencoded({ extended: false, limit: 1000 })(request, response, next);
        else this.ask(request, response, '');
      },
      (request, response, next) => {
        if (this.admits(request)) next();
        else this.knock(request, response);
      },
    ];
  }

  private knock(request: Request, response: Response): void {
    const said = (request.body as { code?: unknown } | undefined)?.code;
    if (this.closedTo(request) || typeof said !== 'string') {
      this.ask(request, response, '');
      return;
    }
    const from = this.from(request);
    if (!same(said.replace(/\s/g, ''), this.code)) {
      const wrong = (this.wrong.get(from) ?? 0) + 1;
      this.wrong.set(from, wrong);
      const left = TRIES - wrong;
      this.ask(request, response, `That is not the code. ${left === 1 ? '1 try is' : `${left} tries are`} left.`);
      return;
    }
    const session = randomBytes(32).toString('hex');
    this.sessions.add(session);
    // The one that came in first has been here longest.
    if (this.sessions.size > MOST_PHONES) this.sessions.delete(this.sessions.values().next().value!);
    this.code = newCode();
    this.wrong.delete(from);
    response.setHeader('Set-Cookie', `${COOKIE}=${session}; HttpOnly; SameSite=Strict; Path=/; Max-Age=43200`);
    response.redirect(303, '/phone');
  }

  private ask(request: Request, response: Response, problem: string): void {
    const closed = this.closedTo(request);
    const body = closed
      ? '<p role="alert">Too many wrong codes were given, so the door is closed. At the desk, press “Phone” and “Open the door again”; then load this page anew and enter the new code.</p>'
      : `<form method="post" action="/door"><label for="code">Code, as the desk shows it</label>
<input id="code" name="code" inputmode="numeric" autocomplete="one-time-code" maxlength="7" required autofocus><button>Come in</button></form>
<p role="alert">${problem}</p>`;
    response
      .status(closed ? 403 : 401)
      .setHeader(
        'Content-Security-Policy',
        "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'",
      )
      .setHeader('Cache-Control', 'no-store')
      .type('html')
      .send(`<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Steady Tune</title><style>body{font:17px/1.4 system-ui,sans-serif;margin:12vh auto;max-width:300px;padding:0 16px;background:#f7f3ea;color:#1f2a44}
h1{font-size:22px;border-bottom:2px solid #8a2f45;padding-bottom:8px}
input,button{font:inherit;width:100%;padding:12px;margin:8px 0;box-sizing:border-box;border:1px solid #8b8471;border-radius:5px;background:#fffdf6;color:inherit}
input{font-size:26px;letter-spacing:.2em;text-align:center}button{border-color:#8a2f45;background:#8a2f45;color:#fff;font-weight:600}
p{color:#a5342a}</style>
<h1>Steady Tune</h1>${body}</html>`);
  }
}

const newCode = (): string => String(randomInt(0, 1_000_000)).padStart(6, '0');

function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}
