import { Injectable, signal } from '@angular/core';

/** Whether it is night on the page: what is not coloured by the style sheet asks here, and is drawn anew when it changes. */
@Injectable({ providedIn: 'root' })
export class Daylight {
  private readonly dark = signal(false);
  readonly night = this.dark.asReadonly();

  set(night: boolean): void {
    // First the colours, then those who read them.
    document.documentElement.classList.toggle('night', night);
    this.dark.set(night);
  }
}
