import type { Result } from './fault';

/** How far long work has come: `done` of `of` steps of the named stage. */
export interface Progress {
  stage: string;
  done: number;
  of: number;
}

/** Long work as a generator: it yields progress, returns a result, and is cancelled by `return()`. */
export type Job<T> = Generator<Progress, Result<T>, void>;

/** Runs a job to its end without looking at its progress. */
export function finish<T>(job: Job<T>): Result<T> {
  for (;;) {
    const step = job.next();
    if (step.done) return step.value;
  }
}
