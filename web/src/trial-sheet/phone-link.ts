import { ChangeDetectionStrategy, Component, effect, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { DomSanitizer } from '@angular/platform-browser';
import { MessageService } from 'primeng/api';
import { Dialog } from 'primeng/dialog';
import { DeskRelay } from '../data/desk-relay';
import { PhoneDesk } from '../data/phone-desk';
import { TrialDesk } from './trial-desk';

/** A phone at the printer: shows it the way in, shows it this sheet, and takes in what it says. */
@Component({
  selector: 'st-phone-link',
  imports: [Dialog],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (relay.there()) {
      <button type="button" class="act bare small" (click)="ask()">
        <i class="pi pi-mobile" aria-hidden="true"></i>
        {{ relay.phones() > 0 ? relay.phones() + ' at the printer' : 'Phone' }}
      </button>
      <p-dialog
        [(visible)]="open"
        header="A phone at the printer"
        [modal]="true"
        [draggable]="false"
        [style]="{ width: '420px' }"
      >
        @if (relay.door(); as d) {
          @if (d.closed || d.shutOut > 0) {
            <p role="alert">
              {{
                d.closed
                  ? 'Too many wrong codes were given, so the door is closed to all.'
                  : 'After five wrong codes the door is closed to ' +
                    (d.shutOut === 1 ? 'one phone.' : d.shutOut + ' phones.')
              }}
            </p>
            <button type="button" class="act" (click)="relay.reopen()">Open the door again, with a new code</button>
          }
          @if (!d.closed) {
            <p>On a phone in the same network open</p>
            <p class="big figures">{{ d.address }}</p>
            <p>and enter the code, which is good for one phone:</p>
            <p class="big figures">{{ d.code }}</p>
            <img [src]="picture(d.svg)" alt="The address as a QR code" width="180" height="180" />
            <p class="soft small">
              It gets the reading view of the sheet open here. The server passes on what is said and keeps nothing.
            </p>
          }
        }
      </p-dialog>
    }
  `,
  styles: `
    .big {
      font-size: 22px;
      font-weight: 650;
    }
    p {
      margin: 0 0 8px;
    }
    p + .act {
      margin-bottom: 14px;
    }
  `,
})
export class PhoneLink {
  protected readonly relay = inject(DeskRelay);
  private readonly desk = inject(TrialDesk);
  private readonly phone = inject(PhoneDesk);
  private readonly messages = inject(MessageService);
  private readonly trusted = inject(DomSanitizer);
  protected readonly open = signal(false);

  constructor() {
    this.phone.open();
    effect(() => {
      const id = this.desk.record()?.id;
      if (id !== undefined) this.phone.shown.set(id);
    });
    this.relay.hello$.pipe(takeUntilDestroyed()).subscribe(() => this.open.set(false));
    this.phone.photo$
      .pipe(takeUntilDestroyed())
      .subscribe(() =>
        this.messages.add({ severity: 'secondary', summary: 'A photo came from the phone', life: 3000 }),
      );
  }

  protected ask(): void {
    void this.relay.ask();
    this.open.set(true);
  }

  /** The server's own drawing as a picture: scripts in it would not run. */
  protected picture(svg: string): unknown {
    return this.trusted.bypassSecurityTrustUrl(`data:image/svg+xml;utf8,${encodeURIComponent(svg)}`);
  }
}
