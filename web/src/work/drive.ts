import { fault, refuse, type Job, type Progress, type Result } from '#core/base';

/** Numbers of the jobs that are to stop. */
export const cancelled = new Set<number>();

const turn = new MessageChannel();
const waiting: (() => void)[] = [];
turn.port1.onmessage = () => waiting.shift()?.();
let turns = 0;

/**
 * Lets the messages that have come have their turn. A timer rests for 4 ms each time, which is a seventh of all work; one
 * in four stays a timer, in case a port serves itself first.
 */
const othersFirst = (): Promise<void> =>
  new Promise((go) => {
    if (++turns % 4 === 0) {
      setTimeout(go);
      return;
    }
    waiting.push(go);
    turn.port2.postMessage(undefined);
  });

/**
 * Drives a job in slices of 25 ms, so that cancelling and other calls get through. All that was reported has been heard
 * before the result goes out: the two travel by ways of their own, and the result could overtake what belongs to it.
 */
export async function drive<T>(
  id: number,
  job: Job<T>,
  report: (p: Progress) => void | Promise<void>,
  slice = 25,
): Promise<Result<T>> {
  let said: Progress | undefined;
  let heard = Promise.resolve();
  let last = performance.now();
  for (;;) {
    const step = job.next();
    if (step.done) {
      await heard;
      // What was reached since the last slice is said too.
      if (said) await report(said);
      return step.value;
    }
    said = step.value;
    if (performance.now() - last < slice) continue;
    said = undefined;
    heard = Promise.all([heard, report(step.value)]).then(() => undefined);
    await othersFirst();
    if (cancelled.delete(id)) {
      const stopped = refuse(fault('work.cancelled', 'work', 'it was cancelled', 'start it again'));
      job.return(stopped);
      return stopped;
    }
    last = performance.now();
  }
}
