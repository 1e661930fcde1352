import { TestBed } from '@angular/core/testing';
import { expect, it } from 'vitest';
import { heron, plover } from '#core/demo';
import { declaredIn, MacroQuestion } from './macro-question';

it('what a file says of macros is shown word for word, and asked', () => {
  expect(declaredIn(heron)).toEqual([]);
  const quiet = { name: 'FAREWELL', homes: false, heatsNozzle: false, heatsBed: false };
  const unused = { ...quiet, name: 'NEVER_CALLED', homes: true };
  const printer = { ...plover, endCode: 'farewell\nM104 S0', macros: [...plover.macros, quiet, unused] };
  expect(declaredIn(printer).map((m) => m.name)).toEqual(['PLOVER_READY', 'FAREWELL']);
  const fixture = TestBed.createComponent(MacroQuestion);
  fixture.componentRef.setInput('printer', printer);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  expect([...host.querySelectorAll('li')].map((l) => l.textContent!.replace(/\s+/g, ' ').trim())).toEqual([
    'PLOVER_READY homes the axes, heats the nozzle and heats the bed',
    'FAREWELL homes and heats nothing',
  ]);
  const answers: boolean[] = [];
  fixture.componentInstance.answered.subscribe((a) => answers.push(a));
  for (const b of host.querySelectorAll('button')) b.click();
  expect(answers).toEqual([false, true]);
});
