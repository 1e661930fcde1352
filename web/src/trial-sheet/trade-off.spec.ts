import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { factorOf } from '#core/factors';
import type { CellScore, LevelCost } from '#core/settle';
import { TradeOff } from './trade-off';
import { TrialDesk } from './trial-desk';

const score = (
  cell: number,
  level: number,
  together: number | undefined,
  more: Partial<CellScore> = {},
): CellScore => ({
  ...{ cell, level, byQuality: {}, together, n: 1, broke: false },
  ...more,
});

/** A desk with scores and costs on it. */
class Desk {
  readonly settlement = {
    settled: signal<{ scores: CellScore[] } | undefined>(undefined),
    costs: signal<LevelCost[]>([]),
  };
  readonly factor = signal(factorOf('infill-density'));
}

describe('quality against time', () => {
  let desk: Desk;
  let host: HTMLElement;
  let refresh: () => void;
  beforeEach(() => {
    desk = new Desk();
    TestBed.configureTestingModule({ providers: [{ provide: TrialDesk, useValue: desk }] });
    const fixture = TestBed.createComponent(TradeOff);
    refresh = () => fixture.detectChanges();
    host = fixture.nativeElement as HTMLElement;
    refresh();
  });
  const put = (scores: CellScore[], costs: LevelCost[]) => {
    desk.settlement.settled.set({ scores });
    desk.settlement.costs.set(costs);
    refresh();
  };
  const words = () => [...host.querySelectorAll('li')].map((li) => li.textContent.trim());
  const hidden = () => host.querySelector<HTMLElement>('.chart')!.hidden;

  it('says what is missing while nothing is read or made', () => {
    expect(words()).toEqual(['what each level costs shows once its file is made and cells are read']);
    expect(hidden()).toBe(true);
  });
  it('says what each further gain costs, from the cheapest that nothing beats', () => {
    put(
      [score(0, 0.1, 1), score(1, 0.2, 3), score(2, 0.3, 2.5), score(3, 0.4, 3.5)],
      [
        { cell: 0, time: 600, mass: 4 },
        { cell: 1, time: 720, mass: 5 },
        // Dearer than the second, and worse.
        { cell: 2, time: 900, mass: 6 },
        { cell: 3, time: 1020, mass: 7 },
      ],
    );
    expect(words()).toEqual([
      '10 % → 20 %: 2 points more for +2 min and +1 g',
      '20 % → 40 %: 0.5 points more for +5 min and +2 g',
    ]);
    expect(hidden()).toBe(false);
  });
  it('goes by the curve where there is one, as the value does', () => {
    put(
      [score(0, 0.1, 4, { smoothed: 3 }), score(1, 0.2, 3, { smoothed: 3.4 })],
      [
        { cell: 0, time: 600, mass: 4 },
        { cell: 1, time: 900, mass: 4 },
      ],
    );
    expect(words()).toEqual(['10 % → 20 %: 0.4 points more for +5 min']);
  });
  it('trades nothing where the cheapest is the best', () => {
    put(
      [score(0, 0.1, 4), score(1, 0.2, 3)],
      [
        { cell: 0, time: 600, mass: 4 },
        { cell: 1, time: 900, mass: 5 },
      ],
    );
    expect(words()).toEqual(['10 % has the best scores and takes least: nothing is to be traded']);
  });
  it('trades nothing where all cost about the same, and draws nothing', () => {
    put(
      [score(0, 0.1, 1), score(1, 0.2, 3)],
      [
        { cell: 0, time: 600, mass: 4 },
        { cell: 1, time: 605, mass: 4.01 },
      ],
    );
    expect(words()[0]).toMatch(/about the same time and filament/);
    expect(hidden()).toBe(true);
  });
  it('leaves out what is not read', () => {
    put(
      [score(0, 0.1, 2), score(1, 0.2, undefined), score(2, 0.3, 3)],
      [
        { cell: 0, time: 600, mass: 4 },
        { cell: 1, time: 700, mass: 5 },
        { cell: 2, time: 840, mass: 6 },
      ],
    );
    expect(words()).toEqual(['10 % → 30 %: 1 points more for +4 min and +2 g']);
  });
});
