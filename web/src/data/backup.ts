import { inject, Injectable } from '@angular/core';
import { sourcesOf, type Backup, type KeptFile } from '#core/route';
import type { ToKeep } from '../work/backup-parts';
import { Keeper } from './keeper';

/** What a backup holds, counted; bytes of its photos and files. */
export interface Contents {
  printers: number;
  filaments: number;
  pairs: number;
  records: number;
  photos: number;
  files: number;
  bytes: number;
}

/** Gathers all that a backup holds. It works from memory where the database is gone. */
@Injectable({ providedIn: 'root' })
export class BackupSource {
  private readonly keeper = inject(Keeper);
  private readonly sizes = new Map<string, number>();

  private photosNamed(): Map<string, string> {
    const named = new Map<string, string>();
    for (const r of this.keeper.documents().records) for (const p of r.photos ?? []) named.set(p.hash, r.trial.title);
    return named;
  }

  /** The files kept, and those that trials rest on though they are not kept any more. */
  private async filesNamed(): Promise<KeptFile[]> {
    const files = await this.keeper.files().catch(() => []);
    const sources = sourcesOf(this.keeper.documents().records).values();
    const lost = [...sources].filter((s) => !files.some((f) => f.hash === s.hash));
    return [...files, ...lost.map((s) => ({ ...s, added: '' }))];
  }

  /** What would be in a backup made now. */
  async contents(): Promise<Contents> {
    const { printers, filaments, pairs, records } = this.keeper.documents();
    const photos = this.photosNamed();
    const files = await this.filesNamed();
    let bytes = 0;
    for (const hash of photos.keys()) {
      if (!this.sizes.has(hash)) this.sizes.set(hash, (await this.photo(hash))?.size ?? 0);
      bytes += this.sizes.get(hash)!;
    }
    for (const f of files) bytes += f.length / 4;
    return {
      printers: printers.length,
      filaments: filaments.length,
      pairs: pairs.length,
      records: records.length,
      photos: photos.size,
      files: files.length,
      bytes,
    };
  }

  /** Everything, ready to be packed. What cannot be read is there without its bytes. */
  async gather(made: string): Promise<ToKeep> {
    const files = await this.filesNamed();
    const { printers, filaments, pairs, records } = this.keeper.documents();
    const backup: Backup = {
      kind: 'steady-tune/backup',
      version: 2,
      made,
      set: crypto.getRandomValues(new Uint32Array(4)).join('-'),
      printers: [...printers],
      filaments: [...filaments],
      pairs: [...pairs],
      records: [...records],
      histories: this.keeper.allHistories(),
      drafts: await this.keeper.drafts().catch(() => []),
      files,
    };
    const photos: ToKeep['photos'] = [];
    for (const [hash, of] of this.photosNamed()) photos.push({ hash, of, blob: await this.photo(hash) });
    const blobs: ToKeep['files'] = [];
    for (const file of files) blobs.push({ file, blob: await this.keeper.file(file.hash).catch(() => undefined) });
    return { backup, photos, files: blobs };
  }

  private photo(hash: string): Promise<Blob | undefined> {
    return this.keeper.photo(hash).catch(() => undefined);
  }
}
