import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router, RouterLink } from '@angular/router';
import { filter, map } from 'rxjs';
import { effortOf, isOnRoute, stops, stopState } from '#core/route';
import { duration, show } from '#core/base';
import { Keeper } from '../data/keeper';
import { StateMark } from '../ui/state-mark';

/** The route of the pair in hand: a line with its stops, each with its value and state. */
@Component({
  selector: 'st-route-rail',
  imports: [RouterLink, StateMark],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'navigation', 'aria-label': 'Route' },
  template: `
    <h2>Route</h2>
    @if (keeper.currentPair(); as pair) {
      <ol>
        @for (s of rows(); track s.id) {
          <li>
            <a
              [routerLink]="s.link"
              [class.here]="s.here"
              [attr.aria-current]="s.here ? 'page' : null"
              [class.beside]="s.beside"
            >
              <st-state-mark [state]="s.state" />
              <span class="name">{{ s.label }}</span>
              <span class="words" [class.shaken]="s.state === 'shaken'">{{ s.words }}</span>
            </a>
          </li>
        }
      </ol>
      <p class="spent">{{ spent() }}</p>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      background: var(--rail);
      border-right: 1px solid var(--line);
      padding: 16px 8px 12px;
      overflow-y: auto;
    }
    h2 {
      font-size: 12px;
      letter-spacing: 0.12em;
      text-transform: uppercase;
      color: var(--ink-soft);
      padding: 0 12px 8px;
    }
    ol {
      list-style: none;
      margin: 0;
      padding: 0;
      position: relative;
    }
    ol::before {
      content: '';
      position: absolute;
      left: 19.25px;
      top: 18px;
      bottom: 26px;
      width: 1.5px;
      background: var(--line);
    }
    a {
      position: relative;
      display: grid;
      grid-template-columns: 16px 1fr;
      column-gap: 11px;
      padding: 4px 12px 3px;
      min-height: 34px;
      border-radius: 5px;
      text-decoration: none;
      align-items: start;
    }
    a:hover {
      background: var(--well);
    }
    a.here {
      background: var(--madder-soft);
    }
    a.here .name {
      font-weight: 640;
    }
    .beside .name {
      color: var(--ink-soft);
    }
    st-state-mark {
      margin-top: 2px;
    }
    .name {
      line-height: 1.3;
    }
    .words {
      grid-column: 2;
      font-size: 12px;
      line-height: 1.25;
      color: var(--ink-soft);
    }
    .words.shaken {
      color: var(--shaken-ink);
    }
    .spent {
      margin-top: auto;
      padding: 12px 12px 0;
      font-size: 12px;
      color: var(--ink-soft);
      border-top: 1px solid var(--line);
    }
  `,
})
export class RouteRail {
  protected readonly keeper = inject(Keeper);
  private readonly url = toSignal(
    inject(Router).events.pipe(
      filter((e) => e instanceof NavigationEnd),
      map((e) => e.urlAfterRedirects),
    ),
    { initialValue: inject(Router).url },
  );

  private readonly records = computed(() =>
    this.keeper.documents().records.filter((r) => r.pair === this.keeper.currentPair()?.id && isOnRoute(r)),
  );

  protected readonly rows = computed(() => {
    const pair = this.keeper.currentPair()!;
    const url = this.url();
    const tools = this.keeper.contextOf(pair)?.printer.tools ?? 1;
    return stops
      .filter((s) => s.id !== 'purge' || tools > 1)
      .map((stop) => {
        const own = this.records().filter((r) => r.stop === stop.id);
        const newest = own[own.length - 1];
        const inHand = newest !== undefined && newest.settledOn === undefined && newest.prints.length > 0;
        const state = stopState(stop, pair.values, inHand);
        const here =
          url.includes(`/stop/${stop.id}`) || (newest !== undefined && own.some((r) => url.includes(`/trial/${r.id}`)));
        const words = state.state === 'in hand' ? 'reading …' : state.words;
        return {
          id: stop.id,
          label: stop.label,
          link: ['/pair', pair.id, 'stop', stop.id],
          state: state.state,
          words,
          here,
          beside: stop.beside === true,
        };
      });
  });

  protected readonly spent = computed(() => {
    const e = effortOf(this.records().flatMap((r) => r.prints));
    const prints = `${e.prints} ${e.prints === 1 ? 'print' : 'prints'} on this pair so far`;
    return e.time > 0 ? `${prints} · ${duration(e.time)} · ${show(e.mass, 1)} g` : prints;
  });
}
