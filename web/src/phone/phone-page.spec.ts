import { TestBed } from '@angular/core/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoData } from '#core/demo';
import { judgedOn } from '#core/judge';
import { sayingSchema, type Saying, type TrialRecord } from '#core/route';
import { trialOfKind } from '#core/trial';
import { eventually } from '../testing/eventually';
import { PATIENCE } from './phone-box';
import { PhonePage } from './phone-page';

/** The desk's end of the line, in the phone's browser. */
class Line extends EventTarget {
  static last: Line;
  onerror: (() => void) | null = null;
  onopen: (() => void) | null = null;
  closed = false;
  constructor(readonly url: string) {
    super();
    Line.last = this;
  }
  close(): void {
    this.closed = true;
  }
  tell(event: string, value: unknown): void {
    this.dispatchEvent(new MessageEvent(event, { data: JSON.stringify(value) }));
  }
  sheet(record: unknown, heard: string[] = []): void {
    this.tell('sheet', { kind: 'steady-tune/sheet', record, heard });
  }
}

const plover = demoData().records.find((r) => r.id === 'demo-plover-temperature')!;

describe('the phone at the printer', () => {
  let host: HTMLElement;
  let refresh: () => void;
  let said: Saying[];
  let kept: boolean;
  let answer: () => Promise<{ ok: boolean; status: number; text: () => Promise<string> }>;

  beforeEach(() => {
    said = [];
    answer = () => Promise.resolve({ ok: true, status: 202, text: () => Promise.resolve('') });
    kept = true;
    indexedDB.deleteDatabase('steady-tune-phone');
    vi.stubGlobal('EventSource', Line);
    vi.stubGlobal('fetch', (url: string, { body, headers }: { body: string; headers: Record<string, string> }) => {
      expect(url).toBe('/relay/say');
      expect(headers['X-Steady-Tune']).toBe('1');
      // What leaves the phone is what the relay lets through.
      const saying = sayingSchema.parse(JSON.parse(body));
      said.push(saying);
      // The desk answers by the line, once it has kept it.
      if (kept) setTimeout(() => Line.last.tell('heard', { id: saying.id, state: 'kept' }));
      return answer();
    });
    TestBed.configureTestingModule({ providers: [{ provide: PATIENCE, useValue: 60 }] });
    const fixture = TestBed.createComponent(PhonePage);
    Line.last.onopen!();
    Line.last.tell('desk', 1);
    refresh = () => fixture.detectChanges();
    refresh();
    host = fixture.nativeElement as HTMLElement;
  });
  afterEach(() => vi.unstubAllGlobals());
  const show = (record: TrialRecord = plover) => {
    Line.last.sheet(record);
    refresh();
  };
  const button = (words: string | RegExp) =>
    [...host.querySelectorAll<HTMLButtonElement>('button')].find((b) =>
      typeof words === 'string' ? b.textContent.trim().startsWith(words) : words.test(b.textContent),
    )!;
  const press = async (words: string | RegExp) => {
    button(words).click();
    await new Promise((go) => setTimeout(go, 5));
    refresh();
  };
  const here = () => host.querySelector('.rows .here')!.textContent.trim();

  it('shows the sheet that is open on the desk, cell beside cell', () => {
    show();
    expect(host.querySelector('h1')!.textContent).toBe(plover.trial.title);
    expect(host.querySelectorAll('.rows button')).toHaveLength(plover.trial.axes[0]!.levels.length);
    expect(host.querySelectorAll('.scores button')).toHaveLength(5 + 3);
  });
  it('shows nothing that is no sheet, and keeps the one before', () => {
    show();
    Line.last.sheet({ ...plover, trial: { ...plover.trial, axes: 'none' } });
    refresh();
    expect(host.querySelector('h1')!.textContent).toBe(plover.trial.title);
    expect(host.querySelector('.state')!.textContent).toContain('The desk shows something newer; load this page anew.');
    // Not for good: the next one that can be read is shown.
    show({ ...plover, trial: { ...plover.trial, title: 'Another' } });
    expect(host.querySelector('h1')!.textContent).toBe('Another');
    expect(host.querySelector('.state')!.textContent.trim()).toBe('');
  });
  it('says a score for the cell in hand and steps on by itself', async () => {
    show();
    const [first, second] = [...host.querySelectorAll<HTMLButtonElement>('.rows button')].map((b) =>
      b.querySelector('b')!.textContent.trim(),
    );
    expect(here()).toContain(first);
    const cells = plover.trial.axes[0]!.levels.length;
    await press(/^\s*3 /);
    expect(said).toEqual([
      {
        id: expect.any(String),
        kind: 'score',
        record: plover.id,
        cells: [expect.any(Number)],
        track: expect.any(String),
        value: 3,
        judge: 'me',
      },
    ]);
    expect(cells).toBeGreaterThan(2);
    expect(here()).toContain(second);
  });
  it('clears without stepping on, and says what cannot be said in figures', async () => {
    show();
    const before = here();
    await press('clear');
    expect(here()).toBe(before);
    await press('broke');
    await press('cannot tell');
    expect(said.map((s) => s.kind === 'score' && s.value)).toEqual([null, 'broke', 'cannot tell']);
  });
  const status = () => host.querySelector('.state')!.textContent.trim();
  const wait = async (ms: number) => {
    await new Promise((go) => setTimeout(go, ms));
    refresh();
  };
  it('says kept only when the desk has kept it; until then it waits here and says so', async () => {
    show();
    kept = false;
    await press(/^\s*2 /);
    expect(status()).toBe('1 waits on this phone until the desk has it.');
    // It is shown all the same, as what waits.
    expect(host.querySelector('.rows .waits')!.textContent).toBe('2');
    Line.last.tell('heard', { id: said[0]!.id, state: 'kept' });
    refresh();
    expect(status()).toBe('Kept on the desk.');
    expect(host.querySelector('.rows .waits')).toBeNull();
  });
  it('says it again after a lost answer, and under the same name', async () => {
    show();
    kept = false;
    await press(/^\s*2 /);
    await eventually(() => said.length).toBeGreaterThan(2);
    expect(new Set(said.map((s) => s.id)).size).toBe(1);
    expect(status()).toMatch(/^1 waits/);
    // The desk's sheet has it already: it is not shown twice.
    const reading = {
      print: plover.prints.at(-1)!.id,
      cells: [0],
      track: 'surface',
      value: 1,
      judge: 'me',
      replicate: 1,
    };
    Line.last.sheet({ ...plover, readings: [...plover.readings, reading] }, [said[0]!.id]);
    refresh();
    Line.last.tell('heard', { id: said[0]!.id, state: 'kept' });
    refresh();
    expect(status()).toBe('Kept on the desk.');
  });
  it('keeps everything in order while the desk is out of reach or closed, and says it when it is there', async () => {
    show();
    Line.last.onerror!();
    refresh();
    expect(status()).toBe('The desk is out of reach; go on, it is said when it is there again.');
    for (const key of [/^\s*3 /, /^\s*1 /, /^\s*0 /]) await press(key);
    expect(said).toEqual([]);
    expect(status()).toBe(
      '3 wait on this phone until the desk has them. The desk is out of reach; go on, it is said when it is there again.',
    );
    Line.last.onopen!();
    Line.last.tell('desk', 0);
    refresh();
    expect(status()).toContain('Steady Tune is closed on the desk; open it there.');
    Line.last.tell('desk', 1);
    await eventually(() => said.map((s) => s.kind === 'score' && s.value)).toEqual([3, 1, 0]);
    await wait(20);
    expect(status()).toBe('Kept on the desk.');
  });
  it('does not lose what waits by a reload', async () => {
    show();
    Line.last.onerror!();
    await press(/^\s*3 /);
    await wait(40);
    const again = TestBed.createComponent(PhonePage);
    again.detectChanges();
    await wait(40);
    again.detectChanges();
    const text = () => (again.nativeElement as HTMLElement).querySelector('.state')!.textContent;
    expect(text()).toContain('1 waits on this phone');
    Line.last.onopen!();
    Line.last.tell('desk', 1);
    await eventually(() => said.map((s) => s.kind === 'score' && s.value)).toEqual([3]);
  });
  it('gives the reason where the desk does not take it, and lets the rest through', async () => {
    show();
    kept = false;
    await press(/^\s*2 /);
    await press(/^\s*4 /);
    Line.last.tell('heard', { id: said[0]!.id, state: 'gone', why: 'this trial is not on the desk' });
    refresh();
    expect(host.querySelector('[role=alert]')!.textContent).toContain('a score waits: this trial is not on the desk');
    // The next one goes on; the first is tried again after it.
    await eventually(() => new Set(said.map((s) => s.id)).size).toBe(2);
    Line.last.tell('heard', {
      id: said.find((s) => s.id !== said[0]!.id)!.id,
      state: 'refused',
      why: 'it is no score',
    });
    refresh();
    expect(host.querySelector('[role=alert]')!.textContent).toContain('The desk did not take a score: it is no score');
    expect(status()).toContain('1 waits');
    // What waits for a trial that is gone is taken back, and nothing else.
    Line.last.tell('heard', { id: said[0]!.id, state: 'gone', why: 'this trial is not on the desk' });
    refresh();
    await press(/^\s*1 /);
    expect(status()).toContain('2 wait');
    await press('Do not say it any more');
    expect(status()).toContain('1 waits');
    expect(host.querySelector('[role=alert]')).toBeNull();
    expect(button('Do not say it any more')).toBeUndefined();
    // What was taken back is not said again; what is behind it goes at once.
    expect(said.at(-1)).toMatchObject({ kind: 'score', value: 1 });
    const before = said.length;
    await wait(200);
    expect(said.slice(before).every((s) => s.kind === 'score' && s.value === 1)).toBe(true);
  });
  it('says so where nothing is open on the desk', () => {
    show();
    Line.last.tell('sheet', { kind: 'steady-tune/no-sheet' });
    refresh();
    expect(host.textContent).toContain('No trial is open on the desk. Open one there; it shows here by itself.');
  });
  it('asks which is better without telling which is which, and says the answer in cells', async () => {
    show();
    await press(/pairs|better/i);
    expect(host.querySelector('.rows')).toBeNull();
    expect(host.querySelector('.pair')!.textContent).not.toMatch(/°C/);
    await press('no difference');
    const [pair] = said;
    expect(pair).toMatchObject({ kind: 'pair', record: plover.id, result: 'tie', judge: 'me' });
    if (pair?.kind !== 'pair') throw new Error();
    expect(pair.a).not.toBe(pair.b);
  });
  it('takes a measured quantity with arithmetic and a comma, and answers a bad one beside the field', async () => {
    const own = { id: 'own-gap', label: 'gap', unit: 'mm', better: 'less' as const, error: 0.02 };
    show({ ...plover, measures: [own] });
    await press(/measure/i);
    const field = host.querySelector<HTMLInputElement>('.measure input')!;
    const put = async (text: string) => {
      field.value = text;
      field.dispatchEvent(new Event('change'));
      await new Promise((go) => setTimeout(go, 5));
      refresh();
    };
    await put('many');
    expect(host.querySelector('[role=alert]')!.textContent.length).toBeGreaterThan(8);
    expect(field.value).toBe('many');
    expect(said).toEqual([]);
    await put('0,9 + 0,1');
    expect(host.querySelector('[role=alert]')).toBeNull();
    expect(said).toMatchObject([{ kind: 'measure', record: plover.id, value: 1 }]);
    expect(field.value).toBe('');
  });
  it('shows in the cells what is measured, and takes a figure once', async () => {
    const own = { id: 'own-gap', label: 'gap', unit: 'mm', better: 'less' as const, error: 0.02 };
    const print = plover.prints.at(-1)!.id;
    const gap = { print, cells: [1], track: own.id, value: 0.35, judge: 'me', replicate: 1 };
    show({ ...plover, measures: [own], readings: [...plover.readings, gap] });
    await press(/measure/i);
    const cells = [...host.querySelectorAll('.rows button span')].map((c) => c.textContent.trim());
    expect(cells.slice(0, 3)).toEqual(['·', '0.35', '·']);
    const field = host.querySelector<HTMLInputElement>('.measure input')!;
    field.value = '0.4';
    // Out of the field by the button: said once, though the field says that it changed as well.
    field.dispatchEvent(new Event('change'));
    await press('Add');
    expect(said).toMatchObject([{ kind: 'measure', value: 0.4 }]);
    expect(field.value).toBe('');
  });
  it('goes straight to what is measured where nothing is judged', () => {
    const { context, baseline } = plover.trial;
    const trial = trialOfKind('feed-check', context, baseline)!;
    show({ ...plover, id: 'feed', trial, readings: [] });
    expect(host.querySelectorAll('.measure').length).toBeGreaterThan(0);
    expect(host.querySelector('.scores, .ways, select')).toBeNull();
  });
  it('reads each cell in its own print where every level is one', () => {
    const { context, baseline } = plover.trial;
    const trial = trialOfKind('layer-heights', context, baseline)!;
    expect(trial.axes[0]!.along).toBe('print');
    const prints = [0, 1].map((index) => ({ ...plover.prints[0]!, id: `print ${index}`, index }));
    const track = judgedOn(trial)[0]!.id;
    const read = (cell: number, print: number, value: number) => ({
      print: `print ${print}`,
      cells: [cell],
      track,
      value,
      judge: 'me',
      replicate: 1,
    });
    // The second is said of a cell that lies in the other print.
    show({ ...plover, id: 'by print', trial, prints, readings: [read(0, 0, 3), read(1, 0, 1), read(1, 1, 4)] });
    const cells = [...host.querySelectorAll('.rows button span')].map((c) => c.textContent.trim());
    expect(cells.slice(0, 2)).toEqual(['3', '4']);
  });
  it('keeps a note with its cell, and another judge’s name with what is said', async () => {
    show();
    const judge = [...host.querySelectorAll<HTMLInputElement>('input')].find((i) => i.value === 'me');
    if (judge) {
      judge.value = 'Ane';
      judge.dispatchEvent(new Event('input'));
      judge.dispatchEvent(new Event('change'));
      refresh();
    }
    const note = host.querySelector<HTMLInputElement>('[aria-label=Note]')!;
    note.value = 'a blob at the left corner';
    note.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    await new Promise((go) => setTimeout(go, 5));
    expect(said).toMatchObject([{ kind: 'note', text: 'a blob at the left corner' }]);
    expect(note.value).toBe('');
  });
  it('reads nothing of a trial that is not printed yet', () => {
    show({ ...plover, id: 'new', prints: [], readings: [] });
    expect(host.textContent).toContain('not printed yet');
    expect(host.querySelector('.scores')).toBeNull();
  });
  it('hides the values of a confirmation', () => {
    const factor = plover.trial.axes[0]!.factor;
    show({ ...plover, id: 'c', confirms: { trial: 'x', factor, old: 210, new: 205 } });
    expect(host.querySelector('.rows')?.textContent ?? '').not.toMatch(/°C/);
  });
  it('hangs up when it is left', () => {
    const line = Line.last;
    TestBed.resetTestingModule();
    expect(line.closed).toBe(true);
  });
});
