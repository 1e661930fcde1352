import { computed, Injectable, signal } from '@angular/core';
import { Subject } from 'rxjs';
import { fromBase64, parse } from '#core/base';
import { sayingSchema, type Heard, type Saying, type Sheet } from '#core/route';

/** What the server tells of its door for phones. */
export interface DoorWords {
  address: string;
  code: string;
  closed: boolean;
  /** Addresses to which the door is closed after too many wrong codes. */
  shutOut: number;
  phones: number;
  svg: string;
}

const marked = { 'X-Steady-Tune': '1', 'Content-Type': 'application/json' };

/** The desk's end of the relay: shows its sheet to phones, hears what they say, and answers. */
@Injectable({ providedIn: 'root' })
export class DeskRelay {
  /** The door, where the server was started with one. */
  readonly door = signal<DoorWords | undefined>(undefined);
  readonly phones = signal(0);
  readonly there = computed(() => this.door() !== undefined);
  /** What phones say, checked. */
  readonly said$ = new Subject<Saying>();
  /** A phone came in and wants to see the sheet. */
  readonly hello$ = new Subject<void>();
  private source: EventSource | undefined;

  /** Asks the server for its door and listens; without a door nothing happens. */
  async open(): Promise<void> {
    await this.ask();
    if (!this.there() || this.source) return;
    this.source = new EventSource('/relay/desk');
    this.source.addEventListener('hello', () => {
      this.hello$.next();
      void this.ask();
    });
    this.source.addEventListener('phones', (e: MessageEvent<string>) => this.phones.set(Number(e.data) || 0));
    this.source.addEventListener('say', (e: MessageEvent<string>) => {
      const value = json(e.data);
      const saying = parse(sayingSchema, value, 'phone');
      if (saying.ok) this.said$.next(saying.value);
      else {
        const id = (value as { id?: unknown } | undefined)?.id;
        // Whoever said it is told, as far as it can be known what was said.
        if (typeof id === 'string' && id.length <= 60)
          this.answer({ id, state: 'refused', why: 'the desk does not understand it; load the page anew' });
      }
    });
  }

  async ask(): Promise<void> {
    try {
      const response = await fetch('/relay/door');
      this.door.set(response.status === 200 ? ((await response.json()) as DoorWords) : undefined);
    } catch {
      this.door.set(undefined);
    }
  }

  /** Opens the door again, with a new code. */
  async reopen(): Promise<void> {
    await fetch('/relay/door/open', { method: 'POST', headers: marked }).catch(() => undefined);
    await this.ask();
  }

  /** Shows a sheet to all phones. */
  show(sheet: Sheet): void {
    this.post('/relay/sheet', sheet);
  }

  /** Tells what became of a saying. */
  answer(heard: Heard): void {
    this.post('/relay/heard', heard);
  }

  private post(path: string, body: unknown): void {
    if (!this.there()) return;
    void fetch(path, { method: 'POST', headers: marked, body: JSON.stringify(body) }).catch(() => undefined);
  }
}

/** The bytes of a photo that a phone sent; undefined where they are no JPEG. */
export function jpegOf(data: string): Blob | undefined {
  const bytes = fromBase64(data);
  return bytes && bytes[0] === 0xff && bytes[1] === 0xd8
    ? new Blob([new Uint8Array(bytes)], { type: 'image/jpeg' })
    : undefined;
}

function json(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

export { marked };
