import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { MessageService } from 'primeng/api';
import { Dialog } from 'primeng/dialog';
import { Popover } from 'primeng/popover';
import { sentence } from '#core/base';
import type { Backup } from '#core/route';
import { backupFile, readBackup } from '../data/backup-file';
import { download } from '../data/download';
import { Keeper } from '../data/keeper';

/** Says whether the work is safe; keeps and restores a backup. */
/** A backup that was read, with its photos. */
type Restorable = Backup & { photos: Record<string, Uint8Array> };

@Component({
  selector: 'st-safe-menu',
  imports: [Popover, Dialog],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      type="button"
      class="act bare small"
      [class.wrong]="keeper.safety().state === 'failed'"
      (click)="panel.toggle($event)"
      aria-haspopup="dialog"
    >
      <i class="pi pi-shield" aria-hidden="true"></i><span class="words">{{ words() }}</span>
    </button>
    <p-popover #panel ariaLabel="Safety of the work">
      <div class="panel">
        <p>{{ long() }}</p>
        <p class="soft small">{{ backupWords() }}</p>
        <button type="button" class="act" (click)="keep()">
          <i class="pi pi-download" aria-hidden="true"></i>Keep a backup
        </button>
        <button type="button" class="act" (click)="chooser.click()">
          <i class="pi pi-upload" aria-hidden="true"></i>Restore a backup
        </button>
        <input
          #chooser
          type="file"
          accept=".zip"
          class="visually-hidden"
          tabindex="-1"
          aria-label="Backup file"
          (change)="restore($event)"
        />
        @if (problem(); as p) {
          <p class="wrong small" role="alert">{{ p }} What was here is unchanged.</p>
        }
      </div>
    </p-popover>
    @if (waiting(); as b) {
      <p-dialog
        [visible]="true"
        (visibleChange)="waiting.set(undefined)"
        [modal]="true"
        [draggable]="false"
        [resizable]="false"
        header="Restore this backup?"
        [style]="{ width: 'min(430px, 94vw)' }"
      >
        <p>
          It was made on {{ b.made.slice(0, 10) }} and holds {{ b.printers.length }} printers,
          {{ b.filaments.length }} filaments and {{ b.records.length }} trials. It replaces everything in this browser.
        </p>
        <div class="choices">
          <button type="button" class="act" (click)="waiting.set(undefined)">Leave as it is</button>
          <button type="button" class="act main" (click)="replace(b)">Replace everything</button>
        </div>
      </p-dialog>
    }
  `,
  styles: `
    .panel {
      display: grid;
      gap: 10px;
      width: 290px;
    }
    .choices {
      display: flex;
      justify-content: flex-end;
      gap: 10px;
      margin-top: 16px;
    }
    @media (max-width: 760px) {
      .words {
        display: none;
      }
    }
  `,
})
export class SafeMenu {
  protected readonly keeper = inject(Keeper);
  private readonly messages = inject(MessageService);
  private readonly router = inject(Router);
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly waiting = signal<Restorable | undefined>(undefined);

  protected readonly words = computed(() => {
    const s = this.keeper.safety();
    return s.state === 'kept' ? 'kept in this browser' : s.state === 'keeping' ? 'keeping …' : 'not kept';
  });
  protected readonly long = computed(() => {
    const s = this.keeper.safety();
    return s.state === 'failed'
      ? `The last change could not be kept: ${s.problem ?? 'unknown reason'}. Keep a backup now.`
      : 'All work is kept in this browser with every edit.';
  });
  protected readonly backupWords = computed(() => {
    const at = this.keeper.lastBackup();
    return at
      ? `Last backup ${at.slice(0, 16).replace('T', ' at ')}.`
      : 'No backup has been made yet. A browser can lose its data; a backup cannot.';
  });

  protected async keep(): Promise<void> {
    const now = new Date().toISOString();
    const photos = await this.keeper.photos();
    download(
      `steady-tune-${now.slice(0, 10)}.zip`,
      backupFile(this.keeper.documents(), now, photos),
      'application/zip',
    );
    this.keeper.noteBackup(now);
  }

  protected async restore(event: Event): Promise<void> {
    const target = event.target as HTMLInputElement;
    const chosen = target.files?.[0];
    target.value = '';
    if (!chosen) return;
    this.problem.set(undefined);
    const result = readBackup(new Uint8Array(await chosen.arrayBuffer()), chosen.name);
    if (!result.ok) {
      this.problem.set(`${result.faults.slice(0, 3).map(sentence).join('. ')}.`);
      return;
    }
    this.waiting.set(result.value);
  }

  protected async replace(backup: Restorable): Promise<void> {
    this.waiting.set(undefined);
    // Photos first: a record must not name what is not there.
    for (const [hash, bytes] of Object.entries(backup.photos)) this.keeper.putPhoto(hash, new Uint8Array(bytes).buffer);
    await this.keeper.replaceAll(backup);
    this.messages.add({
      severity: 'success',
      summary: 'Restored',
      detail: `${backup.records.length} trials are back.`,
    });
    await this.router.navigateByUrl('/');
  }
}
