import { BehaviorSubject, type Observable } from 'rxjs';

/** One tab writes; others follow and take over when it closes. */
export class TabLock {
  private readonly held = new BehaviorSubject(true);
  /** Whether this tab may write. */
  readonly writes$: Observable<boolean> = this.held;
  private channel = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('steady-tune');
  private free: () => void = () => undefined;

  /** @param onNews called when another tab has saved something */
  constructor(onNews: () => void) {
    if (this.channel) this.channel.onmessage = onNews;
    if (typeof navigator === 'undefined' || !navigator.locks) return;
    this.held.next(false);
    // Held until the tab closes, or gives it back.
    const hold = () => {
      this.held.next(true);
      return new Promise<void>((free) => (this.free = free));
    };
    void navigator.locks.request('steady-tune-writer', hold).catch(() => this.held.next(true));
  }

  get writes(): boolean {
    return this.held.value;
  }

  /** Tells the other tabs that something was saved. */
  tell(): void {
    this.channel?.postMessage('saved');
  }

  release(): void {
    this.free();
    this.channel?.close();
    this.channel = undefined;
  }
}
