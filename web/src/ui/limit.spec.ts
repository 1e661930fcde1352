import { Component, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { expect, it } from 'vitest';
import { Limit } from './limit';

@Component({ selector: 'st-host', imports: [Limit], template: '<input [stLimit]="most()" />' })
class Host {
  readonly most = signal(20);
}

it('a field says how much room it has left, and when there is none', () => {
  const fixture = TestBed.createComponent(Host);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const field = host.querySelector('input')!;
  const words = () => host.querySelector('[role=status]')?.textContent;
  const type = (n: number) => {
    field.value = 'x'.repeat(n);
    field.dispatchEvent(new Event('input'));
  };
  expect(field.maxLength).toBe(20);
  type(16);
  expect(words()).toBeUndefined();
  type(17);
  expect(words()).toBe('17 of 20 letters');
  type(20);
  expect(words()).toBe('20 letters, no more fit');
  type(3);
  expect(words()).toBeUndefined();
  fixture.componentInstance.most.set(Infinity);
  fixture.detectChanges();
  expect(field.hasAttribute('maxlength')).toBe(false);
  type(19);
  fixture.destroy();
});
