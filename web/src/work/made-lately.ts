import type { Observable } from 'rxjs';
import { finalize, share, tap } from 'rxjs';
import type { MadeFile } from './core.worker';
import type { Working } from './worker-pool';

/** Files that are kept at most, and bytes of them together; the last one always. */
const MOST = { files: 16, bytes: 32e6 };

/**
 * Files made lately, and those that are being made: what a stop costs, the plan that is opened there and a step back are
 * the same trial, and it is made once. Who asks for one that is being made waits with the others; the work ends with the
 * last of them.
 */
export class MadeLately {
  private readonly made = new Map<string, MadeFile>();
  private readonly making = new Map<string, Observable<Working<MadeFile>>>();

  constructor(private readonly most = MOST) {}

  /** The file of these words, if it was made lately. */
  known(key: string): MadeFile | undefined {
    const file = this.made.get(key);
    if (file) this.keep(key, file);
    return file;
  }

  /** The work that is going on for these words; else it is begun. */
  once(key: string, begin: () => Observable<Working<MadeFile>>): Observable<Working<MadeFile>> {
    let work = this.making.get(key);
    if (!work) {
      work = begin().pipe(
        tap((said) => {
          if ('result' in said && said.result.ok) this.keep(key, said.result.value);
        }),
        finalize(() => this.making.delete(key)),
        share(),
      );
      this.making.set(key, work);
    }
    return work;
  }

  private keep(key: string, file: MadeFile): void {
    this.made.delete(key);
    this.made.set(key, file);
    let bytes = 0;
    [...this.made].reverse().forEach(([k, { bytes: own }], i) => {
      bytes += own.byteLength;
      if (i > 0 && (i >= this.most.files || bytes > this.most.bytes)) this.made.delete(k);
    });
  }
}
