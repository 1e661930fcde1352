import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { MessageService } from 'primeng/api';
import { Dialog } from 'primeng/dialog';
import { Popover } from 'primeng/popover';
import { lastValueFrom } from 'rxjs';
import { sentence } from '#core/base';
import { sourcesOf } from '#core/route';
import { backupFile, readBackup, type Restorable } from '../data/backup-file';
import { download } from '../data/download';
import { Keeper } from '../data/keeper';
import { WorkerPool } from '../work/worker-pool';

/** Files of other origin take up at most so much of a backup, bytes packed. */
const MOST_FILES = 120e6;

/** Says whether the work is safe; keeps and restores a backup. */
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
  private readonly pool = inject(WorkerPool);
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly waiting = signal<Restorable | undefined>(undefined);

  protected readonly words = computed(() => {
    const s = this.keeper.safety();
    return s.state === 'kept' ? 'kept in this browser' : s.state === 'keeping' ? 'keeping …' : 'not kept';
  });
  protected readonly long = computed(() => {
    const s = this.keeper.safety();
    return s.state === 'failed'
      ? `A change could not be kept: ${s.problem ?? 'unknown reason'}. It is tried again with the next one; keep a backup now.`
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
    const { files, left } = await this.keeper.sources(MOST_FILES);
    download(
      `steady-tune-${now.slice(0, 10)}.zip`,
      backupFile(this.keeper.documents(), now, photos, files),
      'application/zip',
    );
    this.keeper.noteBackup(now);
    if (left.length > 0)
      this.messages.add({
        severity: 'warn',
        summary: 'Not all files are in it',
        detail: `${left.slice(0, 4).join(', ')}${left.length > 4 ? ` and ${left.length - 4} more` : ''} would make the backup too large, or are not kept here: keep them yourself.`,
        life: 12_000,
      });
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
    const lost = await this.filesOf(backup);
    await this.keeper.replaceAll(backup);
    this.messages.add({
      severity: 'success',
      summary: 'Restored',
      detail: `${backup.records.length} trials are back.${lost.length > 0 ? ` These files in it are damaged: ${lost.join(', ')}.` : ''}`,
    });
    await this.router.navigateByUrl('/');
  }

  /** Unpacks the files of a backup in a worker, each known by its hash. @returns the names of those that are damaged */
  private async filesOf(backup: Restorable): Promise<string[]> {
    const named = sourcesOf(backup.records);
    const lost: string[] = [];
    for (const [hash, bytes] of Object.entries(backup.files)) {
      const name = named.get(hash)?.name;
      if (name === undefined) continue;
      const said = await lastValueFrom(this.pool.take(new Blob([new Uint8Array(bytes)]), name));
      const taken = 'result' in said && said.result.ok ? said.result.value : undefined;
      if (taken?.hash !== hash) lost.push(name);
      else {
        const { blob } = taken;
        this.keeper.putFile({ hash, name, length: blob.size, added: new Date().toISOString() }, blob);
      }
    }
    return lost;
  }
}
