import { proxy, wrap, type Remote } from 'comlink';
import { Subject } from 'rxjs';
import type { Progress, Result } from '#core/base';
import type { PhotoWanted } from '#core/careful';
import type { Context } from '#core/context';
import type { LabFaults } from '#core/lab';
import type { Device } from './device';
import type { OffTheBed, PracticeApi } from './practice.worker';

/** The practice printer in a worker of the page: always there, no server and no cable needed. */
export class PracticeDevice implements Device {
  readonly kind = 'practice';
  private readonly said = new Subject<readonly string[]>();
  readonly lines$ = this.said.asObservable();
  private readonly worker = new Worker(new URL('./practice.worker', import.meta.url), { type: 'module' });
  private readonly api: Remote<PracticeApi> = wrap<PracticeApi>(this.worker);

  /**
   * @param today day of the print: a filament has taken up water since it was dried
   * @param faults what goes wrong
   * @param done lines that it has done before, and the number of the last: a page was loaded anew
   */
  constructor(
    private readonly context: Context,
    private readonly today: string,
    private readonly fast: boolean,
    private readonly faults: LabFaults,
    private readonly done: { lines: readonly string[]; last: number } | undefined,
  ) {}

  async connect(): Promise<void> {
    await this.api.open(
      this.context,
      this.today,
      this.faults,
      proxy((lines: string[]) => this.said.next(lines)),
    );
    await this.api.pace(this.fast);
    if (this.done) await this.api.restore(this.done.lines, this.done.last);
  }

  write(text: string): void {
    void this.api.write(text);
  }

  /** As fast as it can, or as long as it takes. */
  pace(fast: boolean): void {
    void this.api.pace(fast);
  }

  /** What lies on the bed, weighed and photographed. */
  develop(seed: number, wanted: readonly PhotoWanted[], report: (p: Progress) => void): Promise<Result<OffTheBed>> {
    return this.api.develop(1, this.today, seed, wanted, proxy(report));
  }

  close(): void {
    this.worker.terminate();
    this.said.complete();
  }
}
