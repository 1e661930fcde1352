import { describe, expect, it } from 'vitest';
import { done, type Job, type Progress } from '#core/base';
import { cancelled, drive } from './drive';

const wait = (ms: number) => new Promise<void>((go) => setTimeout(go, ms));
/** A job of so many steps. */
function* steps(count: number): Job<string> {
  for (let k = 1; k <= count; k++) yield { stage: 'counting', done: k, of: count };
  return done('ready');
}

describe('a job driven in slices', () => {
  it('gives its result only when all that was reported has been heard, slow ears or not', async () => {
    for (const slice of [0, 1000]) {
      const heard: number[] = [];
      const report = async (p: Progress) => {
        await wait(30);
        heard.push(p.done);
      };
      const result = await drive(1, steps(4), report, slice);
      expect(result).toEqual({ ok: true, value: 'ready' });
      // With no time at all each step is a slice; with much time only what came last is said.
      expect(heard).toEqual(slice === 0 ? [1, 2, 3, 4] : [4]);
    }
  });
  it('lets others in between its slices', async () => {
    const order: string[] = [];
    // Calls come as messages: one that waits is heard before the job goes on for long.
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => order.push('other');
    const run = drive(2, steps(50), (p) => void order.push(`step ${p.done}`), 0).then(() => order.push('result'));
    port2.postMessage('hear me');
    await run;
    port1.close();
    expect(order.indexOf('other')).toBeGreaterThan(0);
    expect(order.indexOf('other')).toBeLessThan(order.indexOf('result'));
  });
  it('stops when it is told to, cleans up, and says so', async () => {
    let cleaned = false;
    function* endless(): Job<never> {
      try {
        for (let k = 0; ; k++) yield { stage: 'counting', done: k, of: Infinity };
      } finally {
        cleaned = true;
      }
    }
    const run = drive(3, endless(), () => undefined, 0);
    await wait(20);
    cancelled.add(3);
    const result = await run;
    expect(result.ok).toBe(false);
    expect(!result.ok && result.faults[0]!.wrong).toBe('it was cancelled');
    expect(cleaned).toBe(true);
    expect(cancelled.has(3)).toBe(false);
  });
  it('takes turns with another that is driven beside it', async () => {
    const order: number[] = [];
    const run = (id: number) => drive(id, steps(20), () => void order.push(id), 0);
    await Promise.all([run(5), run(6)]);
    const first = order.slice(0, 20);
    expect(first.filter((id) => id === 5).length).toBeGreaterThan(5);
    expect(first.filter((id) => id === 6).length).toBeGreaterThan(5);
  });
  it('does not stop for another’s sake', async () => {
    cancelled.add(99);
    expect((await drive(4, steps(3), () => undefined, 0)).ok).toBe(true);
    cancelled.delete(99);
  });
});
