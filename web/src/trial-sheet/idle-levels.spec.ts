import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { demoDesk } from '../testing/demo-desk';
import type { QuietPool } from '../testing/quiet-pool';
import { IdleLevels } from './idle-levels';
import type { TrialDesk } from './trial-desk';

describe('levels that would change nothing', () => {
  let keeper: Keeper;
  let desk: TrialDesk;
  let pool: QuietPool;

  beforeEach(async () => {
    ({ keeper, desk, pool } = await demoDesk());
  });
  const open = (kind: string) => {
    const id = TestBed.inject(TrialMaker).plan('heron-marsh-petg', kind)!;
    desk.id.set(id);
    TestBed.tick();
    return id;
  };
  const show = async () => {
    const fixture = TestBed.createComponent(IdleLevels);
    await fixture.whenStable();
    const host = fixture.nativeElement as HTMLElement;
    return {
      fixture,
      words: () => host.textContent.replace(/\s+/g, ' ').trim(),
      press: async (name: RegExp) => {
        [...host.querySelectorAll('button')].find((b) => name.test(b.textContent))!.click();
        TestBed.tick();
        await fixture.whenStable();
      },
    };
  };

  it('names the setting that is off, and turns it on with one press', async () => {
    const id = open('ironing-flow');
    desk.changeTrial('ironing', (t) => ({ ...t, frozen: { ...t.frozen, ironing: 'none' } }));
    const panel = await show();
    expect(panel.words()).toContain('All levels print the same: ironing flow does nothing while ironing is none.');
    await panel.press(/Set ironing to top surfaces/);
    expect(keeper.find('records', id)!.trial.frozen.ironing).toBe('top surfaces');
    expect(panel.words()).toBe('');
  });
  it('names levels whose moves are the same once the file is made, and leaves one out', async () => {
    const id = open('top-layers');
    pool.sameLevels = [{ axis: 0, levels: [1, 2] }];
    const [, second, third] = keeper.find('records', id)!.trial.axes[0]!.levels;
    const panel = await show();
    expect(panel.words()).toBe('');
    pool.done(600, 2, 0.1);
    TestBed.tick();
    await panel.fixture.whenStable();
    expect(panel.words()).toMatch(new RegExp(`^${second} and ${third} print the same: no move differs`));
    await panel.press(/^Leave/);
    expect(keeper.find('records', id)!.trial.axes[0]!.levels).not.toContain(third);
    expect(keeper.find('records', id)!.trial.axes[0]!.levels).toContain(second);
  });
});
