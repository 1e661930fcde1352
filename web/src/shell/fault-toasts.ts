import { inject, Injectable, Injector, type ErrorHandler } from '@angular/core';
import { MessageService } from 'primeng/api';

/** A mistake of ours is said once, beside the work, and the work goes on. */
@Injectable()
export class FaultToasts implements ErrorHandler {
  private readonly injector = inject(Injector);

  handleError(error: unknown): void {
    console.error(error);
    const text = error instanceof Error ? error.message : String(error);
    this.injector.get(MessageService).add({
      severity: 'error',
      summary: 'Something went wrong in the program',
      detail: `${text}. Nothing that was kept is lost; reload the page to go on.`,
      life: 12_000,
    });
  }
}
