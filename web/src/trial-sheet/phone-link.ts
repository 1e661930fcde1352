import { ChangeDetectionStrategy, Component, effect, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { DomSanitizer } from '@angular/platform-browser';
import { MessageService } from 'primeng/api';
import { Dialog } from 'primeng/dialog';
import { DeskRelay, jpegOf } from '../data/desk-relay';
import { Keeper } from '../data/keeper';
import { photoFile } from '../data/photo-file';
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
          @if (d.closed) {
            <p>Five wrong codes were given, so the door is closed. Start Steady Tune again to open it.</p>
          } @else {
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
  `,
})
export class PhoneLink {
  protected readonly relay = inject(DeskRelay);
  private readonly desk = inject(TrialDesk);
  private readonly keeper = inject(Keeper);
  private readonly messages = inject(MessageService);
  private readonly trusted = inject(DomSanitizer);
  protected readonly open = signal(false);

  constructor() {
    void this.relay.open();
    effect(() => {
      const record = this.desk.record();
      if (record && this.relay.there() && this.relay.phones() > 0) this.relay.show(record);
    });
    this.relay.hello$.pipe(takeUntilDestroyed()).subscribe(() => {
      const record = this.desk.record();
      if (record) this.relay.show(record);
      this.open.set(false);
    });
    this.relay.said$.pipe(takeUntilDestroyed()).subscribe((said) => {
      const record = this.desk.record();
      // A phone may still show the sheet that was open before.
      if (!record || said.record !== record.id) {
        if (record) this.relay.show(record);
        return;
      }
      if (said.kind === 'score') this.desk.hear(said.cells, said.track, said.value ?? undefined, said.judge);
      else if (said.kind === 'note') this.desk.hearNote(said.cell, said.track, said.text, said.judge);
      else if (said.kind === 'pair') this.desk.prefer(said.track, said.a, said.b, said.result, said.judge);
      else if (said.kind === 'measure') {
        // Only what is measured here, on a cell that is there.
        if (this.desk.measures().some((m) => m.id === said.track) && this.desk.rows().some((r) => r.cell === said.cell))
          this.desk.measure(said.cell, said.track, said.value);
      } else void this.take(said.name, said.data, said.cell);
    });
  }

  protected ask(): void {
    void this.relay.ask();
    this.open.set(true);
  }

  /** The server's own drawing as a picture: scripts in it would not run. */
  protected picture(svg: string): unknown {
    return this.trusted.bypassSecurityTrustUrl(`data:image/svg+xml;utf8,${encodeURIComponent(svg)}`);
  }

  private async take(name: string, data: string, cell: number | undefined): Promise<void> {
    const print = cell === undefined ? this.desk.print() : this.desk.printOfCell(cell);
    const jpeg = jpegOf(data);
    const made = jpeg && (await photoFile(jpeg, name));
    if (!print || !made?.ok) return;
    const { hash, blob, width, height } = made.value;
    this.keeper.putPhoto(hash, await blob.arrayBuffer());
    this.desk.addPhoto({ hash, print: print.id, name, width, height, ...(cell !== undefined && { cell }) });
    this.messages.add({ severity: 'secondary', summary: 'A photo came from the phone', life: 3000 });
  }
}
