import { ChangeDetectionStrategy, Component, computed, inject, signal, type OnDestroy } from '@angular/core';
import { Router } from '@angular/router';
import { MessageService } from 'primeng/api';
import { Dialog } from 'primeng/dialog';
import { Popover } from 'primeng/popover';
import type { Subscription } from 'rxjs';
import { dayOf, sentence, sizeWords, type Progress } from '#core/base';
import { shelves, type Left } from '#core/route';
import { BackupSource, type Contents } from '../data/backup';
import { download } from '../data/download';
import { Keeper } from '../data/keeper';
import { Waste } from '../data/waste';
import { BackupWork } from '../work/backup-work';
import type { Kept, Restored } from '../work/backup-parts';

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
    <p-popover #panel ariaLabel="Safety of the work" (onShow)="look()">
      <div class="panel">
        <p>{{ long() }}</p>
        @if (keeper.safety().state === 'failed') {
          <button type="button" class="act" (click)="keeper.retry()">Try again now</button>
        }
        @if (keeper.unsound().length > 0) {
          <details>
            <summary>{{ count(keeper.unsound().length, 'document') }} from before had to be mended or left</summary>
            <ul>
              @for (l of keeper.unsound(); track $index) {
                <li>
                  <b>{{ l.what }}</b>: {{ l.why }}
                </li>
              }
            </ul>
          </details>
        }
        <div class="backup">
          <b>Backup</b>
          @if (contents(); as c) {
            <p class="soft small">{{ holds(c) }}</p>
          }
          <p class="soft small">{{ backupWords() }}</p>
          @if (working(); as w) {
            <p role="status">{{ w.stage }} …</p>
            <progress [value]="w.done" [max]="w.of || 1" [attr.aria-label]="w.stage"></progress>
            <button type="button" class="act" (click)="cancel()">Cancel</button>
          } @else {
            <button type="button" class="act" (click)="keep()">
              <i class="pi pi-download" aria-hidden="true"></i>Keep a backup
            </button>
            <button type="button" class="act" (click)="chooser.click()">
              <i class="pi pi-upload" aria-hidden="true"></i>Restore a backup
            </button>
          }
          <input
            #chooser
            type="file"
            accept=".zip"
            multiple
            class="visually-hidden"
            tabindex="-1"
            aria-label="Backup file"
            (change)="restore($event)"
          />
          @if (made(); as m) {
            <p role="status">
              {{
                m.parts.length > 1
                  ? 'Made and read back, in ' + m.parts.length + ' parts; save them all:'
                  : 'Made and read back: ' + size(m.bytes) + '.'
              }}
            </p>
            @if (m.parts.length > 1) {
              @for (p of m.parts; track p.name) {
                <button type="button" class="act" (click)="savePart(p)">
                  <i class="pi" [class.pi-check]="p.saved" [class.pi-download]="!p.saved" aria-hidden="true"></i>Part
                  {{ $index + 1 }} of {{ m.parts.length }}, {{ size(p.blob.size) }}
                </button>
              }
            }
            @if (m.left.length > 0) {
              <p class="wrong small" role="alert">Not in it: {{ someOf(m.left) }}</p>
            }
          }
          @if (problem(); as p) {
            <p class="wrong small" role="alert">{{ p }} What was here is unchanged.</p>
          }
        </div>
        @if (keeper.safetyCopy(); as copy) {
          <div class="backup">
            <p class="small">
              Before the restore of {{ when(copy.at) }} there were here: {{ counted(copy.documents) }}.
            </p>
            <button type="button" class="act" (click)="putBack()">
              <i class="pi pi-undo" aria-hidden="true"></i>Put that back
            </button>
          </div>
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
        [style]="{ width: 'min(480px, 94vw)' }"
      >
        <p>
          It was made on {{ dayOf(b.made) }} and holds {{ counted(b.documents) }},
          {{ count(b.photos.length, 'photo') }} and {{ count(b.blobs.length, 'file') }}. It replaces everything in this
          browser; what is here now is kept as a copy and can be put back.
        </p>
        @for (list of lists(b); track list.title) {
          <details open>
            <summary>{{ list.title }}</summary>
            <ul class="long">
              @for (l of list.lines; track $index) {
                <li>
                  <b>{{ l.what }}</b>: {{ l.why }}
                </li>
              }
            </ul>
          </details>
        }
        <div class="choices">
          <button type="button" class="act" (click)="waiting.set(undefined)">Leave as it is</button>
          <button type="button" class="act main" (click)="replace(b)">Replace everything</button>
        </div>
      </p-dialog>
    }
  `,
  styles: `
    .panel,
    .backup {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 10px;
    }
    .panel {
      width: 310px;
      max-height: 76vh;
      overflow: auto;
    }
    .backup {
      border-top: 1px solid var(--line);
      padding-top: 10px;
    }
    p {
      margin: 0;
    }
    progress {
      width: 100%;
      height: 6px;
    }
    ul {
      margin: 4px 0 0;
      padding-left: 18px;
      font-size: 13px;
    }
    .long {
      max-height: 180px;
      overflow: auto;
    }
    details {
      margin-top: 10px;
    }
    .panel details {
      margin: 0;
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
export class SafeMenu implements OnDestroy {
  protected readonly dayOf = dayOf;
  protected readonly keeper = inject(Keeper);
  private readonly source = inject(BackupSource);
  private readonly work = inject(BackupWork);
  private readonly waste = inject(Waste);
  private readonly messages = inject(MessageService);
  private readonly router = inject(Router);
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly waiting = signal<Restored | undefined>(undefined);
  protected readonly working = signal<Progress | undefined>(undefined);
  protected readonly contents = signal<Contents | undefined>(undefined);
  protected readonly made = signal<
    | { parts: { name: string; blob: Blob; saved: boolean }[]; bytes: number; left: readonly Left[]; at: string }
    | undefined
  >(undefined);
  private running: Subscription | undefined;

  protected readonly words = computed(
    () =>
      ({ kept: 'kept in this browser', keeping: 'keeping …', failed: 'not kept', follows: 'follows another tab' })[
        this.keeper.safety().state
      ],
  );
  protected readonly long = computed(() => {
    const s = this.keeper.safety();
    switch (s.state) {
      case 'failed':
        return `Not everything is kept: ${s.problem ?? 'unknown reason'}. It is tried again by itself; keep a backup now.`;
      case 'follows':
        return 'Another tab holds the work and keeps it; this one shows what it does.';
      case 'keeping':
        return 'The last change is being kept.';
      default:
        return 'All work is kept in this browser with every edit.';
    }
  });
  protected readonly backupWords = computed(() => {
    const at = this.keeper.lastBackup();
    return at
      ? `Last backup ${this.when(at)}.`
      : 'No backup has been made yet. A browser can lose its data; a backup cannot.';
  });

  ngOnDestroy(): void {
    this.cancel();
  }

  protected when(at: string): string {
    return at.slice(0, 16).replace('T', ' at ');
  }

  protected count(n: number, what: string): string {
    return `${n} ${what}${n === 1 ? '' : 's'}`;
  }

  protected readonly size = sizeWords;

  protected counted(of: Record<(typeof shelves)[number], readonly unknown[]>): string {
    const words = { printers: 'printer', filaments: 'filament', pairs: 'pair', records: 'trial' };
    return shelves.map((s) => this.count(of[s].length, words[s])).join(', ');
  }

  protected holds(c: Contents): string {
    const parts = [
      this.count(c.printers, 'printer'),
      this.count(c.filaments, 'filament'),
      this.count(c.pairs, 'pair'),
      this.count(c.records, 'trial'),
      this.count(c.photos, 'photo'),
      this.count(c.files, 'file'),
    ];
    const gone = this.waste.last();
    const without = gone
      ? ` What was removed last (${gone.words}) is not in it; put it back first to have it there.`
      : '';
    return `In it: ${parts.join(', ')}, with all that can be undone${c.bytes > 0 ? `; about ${this.size(c.bytes)}` : ''}.${without}`;
  }

  protected someOf(left: readonly Left[]): string {
    const all = gathered(left);
    const some = all.slice(0, 4).map((l) => `${l.what} (${l.why})`);
    return `${some.join(', ')}${all.length > 4 ? ` and ${all.length - 4} more` : ''}.`;
  }

  protected lists(b: Restored): { title: string; lines: readonly Left[] }[] {
    return [
      ...(b.left.length > 0 ? [{ title: `Cannot be restored: ${b.left.length}`, lines: gathered(b.left) }] : []),
      ...(b.mended.length > 0
        ? [{ title: `Restored, but mended: ${b.mended.length}`, lines: gathered(b.mended) }]
        : []),
    ];
  }

  protected look(): void {
    this.problem.set(undefined);
    void this.source.contents().then((c) => this.contents.set(c));
  }

  protected async keep(): Promise<void> {
    this.problem.set(undefined);
    this.made.set(undefined);
    this.working.set({ stage: 'gathering', done: 0, of: 1 });
    const now = new Date().toISOString();
    const all = await this.source.gather(now);
    if (!this.working()) return;
    this.running = this.work.keep(all).subscribe({
      next: (said) => {
        if ('progress' in said) this.working.set(said.progress);
        else if (said.result.ok) this.done(said.result.value, now);
        else this.fail(said.result.faults.slice(0, 3).map(sentence).join('. '));
      },
      error: (error: unknown) => this.fail(String(error instanceof Error ? error.message : error)),
    });
  }

  private done({ parts, left }: Kept, at: string): void {
    this.working.set(undefined);
    const name = (k: number) =>
      `steady-tune-${dayOf(at)}${parts.length > 1 ? `-part-${k + 1}-of-${parts.length}` : ''}.zip`;
    const named = parts.map((blob, k) => ({ name: name(k), blob, saved: false }));
    this.made.set({ parts: named, bytes: parts.reduce((n, b) => n + b.size, 0), left, at });
    if (named.length === 1) this.savePart(named[0]!);
  }

  /** Hands a part to the browser; the backup is made once all of them were. */
  protected savePart(part: { name: string; blob: Blob }): void {
    download(part.name, part.blob, 'application/zip');
    this.made.update(
      (m) => m && { ...m, parts: m.parts.map((p) => (p.name === part.name ? { ...p, saved: true } : p)) },
    );
    const m = this.made();
    if (m?.parts.every((p) => p.saved)) this.keeper.noteBackup(m.at);
  }

  private fail(problem: string): void {
    this.working.set(undefined);
    this.problem.set(/[.!?]$/.test(problem) ? problem : `${problem}.`);
  }

  protected cancel(): void {
    this.running?.unsubscribe();
    this.running = undefined;
    this.working.set(undefined);
  }

  protected restore(event: Event): void {
    const target = event.target as HTMLInputElement;
    const chosen = [...(target.files ?? [])].map((f) => ({ name: f.name, blob: f as Blob }));
    target.value = '';
    if (chosen.length === 0) return;
    this.problem.set(undefined);
    this.made.set(undefined);
    if (!this.keeper.writes()) {
      this.fail('Another tab holds the work; restore the backup there, or close it');
      return;
    }
    this.working.set({ stage: 'reading', done: 0, of: 1 });
    this.running = this.work.read(chosen).subscribe({
      next: (said) => {
        if ('progress' in said) this.working.set(said.progress);
        else {
          this.working.set(undefined);
          if (said.result.ok) this.waiting.set(said.result.value);
          else this.fail(said.result.faults.slice(0, 3).map(sentence).join('. '));
        }
      },
      error: (error: unknown) => this.fail(String(error instanceof Error ? error.message : error)),
    });
  }

  protected async replace(backup: Restored): Promise<void> {
    this.waiting.set(undefined);
    const now = new Date().toISOString();
    // Photos first: a record must not name what is not there.
    for (const { hash, blob } of backup.photos) this.keeper.putPhoto(hash, await blob.arrayBuffer());
    for (const { file, blob } of backup.blobs) this.keeper.putFile({ ...file, added: file.added || now }, blob);
    await this.say(
      await this.keeper.replaceAll(backup, now),
      'Restored',
      `${this.count(backup.documents.records.length, 'trial')} are here. What was here before can be put back under the shield.`,
    );
  }

  protected async putBack(): Promise<void> {
    await this.say(
      await this.keeper.putBackCopy(new Date().toISOString()),
      'Put back',
      'What stood here before the restore is here again.',
    );
  }

  private async say(result: Awaited<ReturnType<Keeper['replaceAll']>>, summary: string, detail: string): Promise<void> {
    if (!result.ok) {
      this.fail(result.faults.map(sentence).join('. '));
      this.messages.add({ severity: 'error', summary: 'Nothing was replaced', detail: sentence(result.faults[0]!) });
      return;
    }
    this.look();
    this.messages.add({ severity: 'secondary', summary, detail, life: 8000 });
    await this.router.navigateByUrl('/');
  }
}

/** What is left for the same reason in one line. */
function gathered(left: readonly Left[]): Left[] {
  const lines = new Map<string, { line: Left; count: number }>();
  for (const line of left) {
    const key = `${line.what}\n${line.why}`;
    const known = lines.get(key);
    if (known) known.count++;
    else lines.set(key, { line, count: 1 });
  }
  return [...lines.values()].map(({ line, count }) =>
    count === 1 ? line : { ...line, what: `${count} × ${line.what}` },
  );
}
