import { Subject } from 'rxjs';
import { describe, expect, it } from 'vitest';
import { fault, refuse } from '#core/base';
import type { MadeFile } from './core.worker';
import { MadeLately } from './made-lately';
import type { Working } from './worker-pool';

const file = (bytes: number): MadeFile => ({ bytes: new Uint8Array(bytes) }) as unknown as MadeFile;

function begun() {
  const said = new Subject<Working<MadeFile>>();
  let times = 0;
  return {
    said,
    begin: () => {
      times++;
      return said.asObservable();
    },
    get times() {
      return times;
    },
    get running() {
      return said.observed;
    },
  };
}

describe('files made lately', () => {
  it('are made once, however many ask for them while they are made', () => {
    const [lately, work] = [new MadeLately(), begun()];
    const heard: string[] = [];
    lately.once('a', work.begin).subscribe((s) => heard.push('progress' in s ? 'first on' : 'first done'));
    work.said.next({ progress: { stage: 'x', done: 1, of: 2 } });
    lately.once('a', work.begin).subscribe((s) => heard.push('progress' in s ? 'second on' : 'second done'));
    const made = file(3);
    work.said.next({ result: { ok: true, value: made } });
    work.said.complete();
    expect([work.times, heard]).toEqual([1, ['first on', 'first done', 'second done']]);
    expect(lately.known('a')).toBe(made);
    expect(lately.known('b')).toBeUndefined();
  });

  it('go on being made while anybody waits, and are made anew where they were ended', () => {
    const [lately, work] = [new MadeLately(), begun()];
    const [first, second] = [lately.once('a', work.begin).subscribe(), lately.once('a', work.begin).subscribe()];
    first.unsubscribe();
    expect(work.running).toBe(true);
    second.unsubscribe();
    expect([work.running, lately.known('a')]).toEqual([false, undefined]);
    lately.once('a', work.begin).subscribe();
    expect([work.times, work.running]).toEqual([2, true]);
  });

  it('are not kept where they were refused', () => {
    const [lately, work] = [new MadeLately(), begun()];
    lately.once('a', work.begin).subscribe();
    work.said.next({ result: refuse(fault('trial.bed', 'specimen', 'it is too wide', 'take a narrower one')) });
    work.said.complete();
    expect(lately.known('a')).toBeUndefined();
    lately.once('a', work.begin).subscribe();
    expect(work.times).toBe(2);
  });

  it('are let go of by number and by size, those longest not asked for first; the last never', () => {
    const lately = new MadeLately({ files: 3, bytes: 100 });
    const make = (key: string, bytes: number) => {
      const work = begun();
      lately.once(key, work.begin).subscribe();
      work.said.next({ result: { ok: true, value: file(bytes) } });
      work.said.complete();
    };
    const kept = () => ['a', 'b', 'c', 'd', 'e'].filter((k) => lately.known(k)).join('');
    make('a', 10);
    make('b', 10);
    make('c', 80);
    expect(kept()).toBe('abc');
    lately.known('a');
    make('d', 1);
    expect(kept()).toBe('acd');
    make('b', 20);
    expect(kept()).toBe('bd');
    make('e', 1000);
    expect(kept()).toBe('e');
  });
});
