import { NgComponentOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  Injector,
  signal,
  untracked,
  type Type,
} from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router, RouterLink, RouterOutlet } from '@angular/router';
import { filter, map } from 'rxjs';
import { MessageService } from 'primeng/api';
import { Toast } from 'primeng/toast';
import { sentence } from '#core/base';
import { Keeper } from '../data/keeper';
import { Daylight } from '../ui/daylight';
import { FileShelf } from '../data/file-shelf';
import { LeaveGuard } from './leave-guard';
import { RouteRail } from './route-rail';
import { SafeMenu } from './safe-menu';
import { PairMenu } from './pair-menu';

/** The frame: mark and pair at the top, the route on the left, the place in hand in the middle. */
@Component({
  selector: 'st-root',
  host: {
    '[class.bare]': "url().startsWith('/phone')",
    '(document:dragover)': 'over($event)',
    '(document:dragleave)': 'dragging.set(false)',
    '(document:drop)': 'drop($event)',
  },
  imports: [RouterOutlet, RouterLink, NgComponentOutlet, Toast, RouteRail, SafeMenu, PairMenu],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <a class="skip" href="#place" (click)="skip($event)">to the sheet</a>
    <header [hidden]="url().startsWith('/phone')">
      <a class="mark" routerLink="/" aria-label="Steady Tune, home">
        <svg viewBox="0 0 24 24" width="26" height="26" aria-hidden="true">
          <path d="M6.500 3v7a5.500 5.500 0 0 0 11 0V3M12 15.500v6" />
        </svg>
        <span>Steady Tune</span>
      </a>
      @if (keeper.currentPair()) {
        <st-pair-menu />
      }
      <span class="gap"></span>
      @if (keeper.currentPair(); as pair) {
        <nav aria-label="Places">
          <a class="route" [routerLink]="['/pair', pair.id]" [class.here]="url() === '/pair/' + pair.id">Route</a>
          <a [routerLink]="['/pair', pair.id, 'values']" [class.here]="url().endsWith('/values')">Values</a>
          <a [routerLink]="['/pair', pair.id, 'tune']" [class.here]="url().endsWith('/tune')">Tune sheet</a>
          <a routerLink="/files" [class.here]="url().startsWith('/files') || url().startsWith('/parts')">Files</a>
          <a routerLink="/shelf" [class.here]="url().startsWith('/shelf')">Shelf</a>
        </nav>
      }
      <ng-container [ngComponentOutlet]="runBar() ?? null" />
      <st-safe-menu />
      <button
        type="button"
        class="act bare"
        (click)="light(!night())"
        [attr.aria-pressed]="night()"
        aria-label="Night shift"
      >
        <i class="pi" [class.pi-moon]="!night()" [class.pi-sun]="night()" aria-hidden="true"></i>
      </button>
    </header>
    @if (!keeper.writes()) {
      <p class="follows" role="status">
        Steady Tune is open in another tab. This one follows and does not write; close the other to work here.
      </p>
    }
    <div class="body" [class.railed]="railed()">
      @if (railed()) {
        <st-route-rail />
      }
      <main id="place" tabindex="-1"><router-outlet /></main>
    </div>
    @if (dragging()) {
      <p class="drop" role="status">Let go to take the file in</p>
    }
    <p-toast position="bottom-right" />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: 46px auto minmax(0, 1fr);
      height: 100vh;
      height: 100dvh;
    }
    :host(.bare) {
      grid-template-rows: 0 auto minmax(0, 1fr);
    }
    header[hidden] {
      display: none;
    }
    header:not([hidden]) {
      display: flex;
      align-items: center;
      gap: 14px;
      padding: 0 18px;
      background: var(--sheet);
      border-bottom: 1px solid var(--line);
    }
    .mark {
      display: inline-flex;
      align-items: center;
      gap: 8px;
      text-decoration: none;
      font-weight: 680;
      font-size: 17px;
      white-space: nowrap;
    }
    .mark path {
      fill: none;
      stroke: var(--madder);
      stroke-width: 2.4;
      stroke-linecap: round;
    }
    .drop {
      position: fixed;
      inset: 60px 24px 24px;
      display: grid;
      place-items: center;
      border: 2px dashed var(--madder);
      border-radius: 8px;
      background: color-mix(in oklab, var(--sheet) 88%, transparent);
      font-size: 20px;
      pointer-events: none;
      z-index: 20;
    }
    .gap {
      flex: 1;
    }
    nav {
      display: flex;
      gap: 4px;
    }
    nav a {
      padding: 6px 9px;
      text-decoration: none;
      border-bottom: 2px solid transparent;
    }
    nav a.here {
      border-color: var(--madder);
      font-weight: 600;
    }
    .follows {
      grid-row: 2;
      padding: 7px 18px;
      background: var(--well);
      border-bottom: 1px solid var(--line);
    }
    .body {
      grid-row: 3;
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      min-height: 0;
    }
    .body.railed {
      grid-template-columns: 208px minmax(0, 1fr);
    }
    main {
      min-height: 0;
      overflow: auto;
      outline: none;
      position: relative;
    }
    .skip {
      position: absolute;
      left: -999px;
    }
    .skip:focus {
      left: 12px;
      top: 8px;
      z-index: 10;
      background: var(--sheet);
      padding: 4px 10px;
    }
    nav .route {
      display: none;
    }
    @media (max-width: 760px) {
      :host {
        grid-template-rows: auto auto minmax(0, 1fr);
      }
      header:not([hidden]) {
        flex-wrap: wrap;
        gap: 0 6px;
        padding: 0 10px;
        min-height: 46px;
      }
      .mark span {
        display: none;
      }
      /* The route is folded away here: its page is one of the places. */
      nav {
        order: 1;
        flex: 1 0 100%;
        justify-content: space-between;
      }
      nav .route {
        display: block;
      }
      .body.railed {
        grid-template-columns: minmax(0, 1fr);
      }
      st-route-rail {
        display: none;
      }
    }
    @media print {
      :host {
        display: block;
        height: auto;
      }
      header,
      st-route-rail {
        display: none;
      }
      .body,
      main {
        display: block;
        overflow: visible;
      }
    }
  `,
})
export class Shell {
  protected readonly keeper = inject(Keeper);
  private readonly router = inject(Router);
  private readonly files = inject(FileShelf);
  private readonly daylight = inject(Daylight);
  protected readonly night = this.daylight.night;
  protected readonly dragging = signal(false);
  /** What prints, and the button that stops it: it comes once the page stands. */
  protected readonly runBar = signal<Type<unknown> | undefined>(undefined);
  protected readonly url = toSignal(
    this.router.events.pipe(
      filter((e) => e instanceof NavigationEnd),
      map((e) => e.urlAfterRedirects),
    ),
    { initialValue: '' },
  );
  protected readonly railed = computed(
    () => this.keeper.currentPair() !== undefined && !this.url().startsWith('/start'),
  );

  /** The pair of the place in hand, whichever way it was come to: a link, a bookmark, the way back. */
  private readonly pairHere = computed(() => {
    const [room, id] = this.url().split(/[?#]/)[0]!.split('/').slice(1).map(decodeURIComponent);
    const pair = room === 'trial' ? this.keeper.find('records', id ?? '')?.pair : room === 'pair' ? id : undefined;
    return pair !== undefined && this.keeper.find('pairs', pair) ? pair : undefined;
  });

  constructor() {
    inject(LeaveGuard).watch();
    // Phones are heard whichever page is open; a phone itself hears nobody.
    const injector = inject(Injector);
    let gone = false;
    inject(DestroyRef).onDestroy(() => (gone = true));
    if (location.pathname !== '/phone')
      void import('../data/phone-desk').then(({ PhoneDesk }) => {
        if (!gone) injector.get(PhoneDesk).open();
      });
    const messages = inject(MessageService);
    this.keeper.refused$.pipe(takeUntilDestroyed()).subscribe((faults) =>
      messages.add({
        severity: 'warn',
        summary: 'This was not kept',
        detail: `${faults.slice(0, 2).map(sentence).join('. ')}.`,
        life: 8000,
      }),
    );
    effect(() => {
      const pair = this.pairHere();
      untracked(() => {
        if (pair !== undefined && this.keeper.currentPair()?.id !== pair) this.keeper.choosePair(pair);
      });
    });
    void import('./run-bar').then((m) => this.runBar.set(m.RunBar));
    void this.keeper.recall('night').then((v) => {
      if (v === true) this.daylight.set(true);
    });
  }

  protected light(night: boolean): void {
    this.daylight.set(night);
    this.keeper.meta('night', night);
  }

  /** A file dropped anywhere is taken in; places that take files of their own say so by stopping the event. */
  protected over(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files') || event.defaultPrevented) return;
    event.preventDefault();
    this.dragging.set(true);
  }

  protected async drop(event: DragEvent): Promise<void> {
    this.dragging.set(false);
    const files = [...(event.dataTransfer?.files ?? [])];
    if (event.defaultPrevented || files.length === 0) return;
    event.preventDefault();
    const taken = await this.files.take(files);
    const [only] = taken;
    const one = taken.length === 1 && only ? [only.part ? '/parts' : '/files', only.hash] : ['/files'];
    void this.router.navigate(one);
  }

  protected skip(event: Event): void {
    event.preventDefault();
    document.getElementById('place')?.focus();
  }
}
