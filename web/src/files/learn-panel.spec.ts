import { TestBed } from '@angular/core/testing';
import { provideRouter, Router } from '@angular/router';
import { Subject } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Learnt } from '#core/carry';
import { demoData, demoPairs } from '#core/demo';
import { tunedBaseline } from '#core/route';
import { Keeper } from '../data/keeper';
import { WorkerPool, type Working } from '../work/worker-pool';
import { LearnPanel } from './learn-panel';
import { eventually } from '../testing/eventually';

const { context, baseline } = demoPairs[0]!;
const learnt: Learnt = {
  printer: context.printer,
  filament: context.filament,
  others: [],
  baseline,
  values: [
    { setting: 'layerHeight', value: 0.24, sure: 'sure', from: 'most layers' },
    { setting: 'wallCount', value: 3, sure: 'likely', from: 'loops side by side' },
    { setting: 'infillPattern', value: 'grid', sure: 'guess', from: 'two directions in each layer' },
    { setting: 'fan', value: 0.35, sure: 'sure', from: 'set on most lines' },
  ],
  open: ['nothing shows how bridges are cooled'],
};

describe('a pair learnt from a file', () => {
  let keeper: Keeper;
  let host: HTMLElement;
  let refresh: () => void;
  let said: Subject<Working<Learnt>>;
  let asked: unknown[];
  let n = 0;

  beforeEach(async () => {
    said = new Subject();
    asked = [];
    const pool = { learn: (...args: unknown[]) => (asked.push(...args), said) };
    TestBed.configureTestingModule({
      providers: [provideRouter([{ path: '**', children: [] }]), { provide: WorkerPool, useValue: pool }],
    });
    keeper = TestBed.inject(Keeper);
    await keeper.open(`learn-${n++}`);
    await keeper.addAll(demoData());
    keeper.putFile({ hash: 'h', name: 'part.gcode', length: 3, added: '' }, new Blob(['G28']));
    const fixture = TestBed.createComponent(LearnPanel);
    fixture.componentRef.setInput('hash', 'h');
    fixture.componentRef.setInput('name', 'part.gcode');
    refresh = () => fixture.detectChanges();
    refresh();
    host = fixture.nativeElement as HTMLElement;
    await eventually(() => asked.length).toBe(2);
  });
  const answer = (value = learnt) => {
    said.next({ result: { ok: true, value } });
    refresh();
  };
  const field = (id: string) => host.querySelector<HTMLInputElement>(`#${id}`)!;
  const put = (id: string, text: string) => {
    field(id).value = text;
    field(id).dispatchEvent(new Event('change'));
    refresh();
  };
  const save = () => [...host.querySelectorAll('button')].find((b) => b.textContent.includes('Save as a pair'))!;

  it('says how far it is, and what is wrong where nothing can be learnt', () => {
    said.next({ progress: { stage: 'reading', done: 40, of: 100 } });
    refresh();
    expect(host.querySelector('[role=status]')!.textContent).toContain('reading');
    expect(host.querySelector('progress')!.value).toBe(40);
    const wrong = { code: 'learn.empty', at: 'file', wrong: 'nothing is printed in it', right: 'choose a part' };
    said.next({ result: { ok: false, faults: [wrong] } } as Working<Learnt>);
    refresh();
    expect(host.querySelector('[role=alert]')!.textContent).toMatch(/nothing is printed in it.*choose a part/i);
    expect(host.querySelector('[role=status]')).toBeNull();
  });
  it('shows each value in the unit that people use, with how sure it is and from what', () => {
    answer();
    expect(field('layerHeight').value).toBe('0.24');
    // A share is kept, per cent are shown.
    expect(field('fan').value).toBe('35');
    const words = [...host.querySelectorAll('.value')].map((v) => v.textContent.replace(/\s+/g, ' '));
    expect(words[1]).toMatch(/likely: loops side by side/);
    expect(host.querySelector('.value .wrong')!.textContent).toContain('guess: two directions');
    expect(host.textContent).toContain('nothing shows how bridges are cooled; it starts from what is usual');
  });
  it('takes corrections, comma decimals too, and refuses what cannot be beside the field', () => {
    answer();
    put('layerHeight', '0,28');
    expect(host.querySelector('[role=alert]')).toBeNull();
    put('wallCount', 'many');
    expect(host.querySelector('.bad [role=alert]')!.textContent.length).toBeGreaterThan(5);
    expect(save().disabled).toBe(true);
    put('wallCount', '');
    expect(save().disabled).toBe(true);
    put('wallCount', '4');
    expect(save().disabled).toBe(false);
  });
  it('makes a filament of its own for a second tool, and says so before', () => {
    const second = { ...context.filament, material: 'TPU' as const, temperature: { min: 210, max: 235 } };
    answer({ ...learnt, others: [second] });
    expect(host.textContent).toContain('Tool 2 prints TPU, 210 to 235 °C: a filament of its own is made for it.');
    save().click();
    const pair = keeper.documents().pairs.at(-1)!;
    const [first, other] = [keeper.find('filaments', pair.filament)!, keeper.find('filaments', pair.others![0])!];
    expect([other.material, other.name]).toEqual(['TPU', `${first.name}, tool 2`]);
    expect(other.id).not.toBe(first.id);
  });
  it('saves a new printer, filament and pair with the corrections, and leaves the shelf as it was', async () => {
    answer();
    put('layerHeight', '0,28');
    put('fan', '50');
    const before = structuredClone(keeper.documents());
    save().click();
    const now = keeper.documents();
    expect(now.pairs).toHaveLength(before.pairs.length + 1);
    expect(now.printers.filter((p) => before.printers.some((q) => q.id === p.id))).toEqual(before.printers);
    const pair = now.pairs.at(-1)!;
    expect(pair.baseline).toMatchObject({ layerHeight: 0.28, fan: 0.5 });
    // What was not corrected is as learnt.
    expect(pair.baseline.outerWallSpeed).toBe(baseline.outerWallSpeed);
    expect(keeper.contextOf(pair)!.printer.name).toBe(`${context.printer.name}, learnt`);
    expect(keeper.currentPair()!.id).toBe(pair.id);
    await eventually(() => TestBed.inject(Router).url).toBe(`/pair/${pair.id}`);
  });
  it('goes into the pair in hand value by value: what differs is marked, a guess is not', async () => {
    answer();
    const pair = () => keeper.currentPair()!;
    const was = tunedBaseline(pair().baseline, pair().values);
    const into = () => [...host.querySelectorAll('button')].find((b) => b.textContent.includes('into'))!;
    const box = (id: string) => host.querySelector<HTMLInputElement>(`#into-${id}`)!;
    await eventually(() => {
      refresh();
      return box('layerHeight').checked;
    }).toBe(true);
    expect(box('infillPattern')?.checked ?? false).toBe(false);
    expect(host.textContent).toContain(`the pair has ${was.layerHeight} mm`);
    box('wallCount').click();
    refresh();
    into().click();
    const now = tunedBaseline(pair().baseline, pair().values);
    expect(now).toMatchObject({ layerHeight: 0.24, fan: 0.35, wallCount: was.wallCount });
    expect(pair().origins!['layerHeight']).toMatchObject({ from: 'learnt', words: 'part.gcode' });
    expect(now.infillPattern).toBe(was.infillPattern);
    await eventually(() => TestBed.inject(Router).url).toBe(`/pair/${pair().id}/values`);
  });
  it('says beside the value what the printer of the pair forbids, and takes nothing in', () => {
    answer({ ...learnt, values: [{ setting: 'nozzleTemperature', value: 300, sure: 'sure', from: 'most lines' }] });
    const before = keeper.currentPair();
    const into = [...host.querySelectorAll('button')].find((b) => b.textContent.includes('into'))!;
    into.click();
    refresh();
    expect(host.querySelector('.bad [role=alert]')!.textContent).toMatch(/300 °C is over .*give at most/);
    expect(keeper.currentPair()).toBe(before);
  });
});
