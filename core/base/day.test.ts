import { afterEach, describe, expect, it } from 'vitest';
import { dayOf, daysBetween } from '.';

describe('a day', () => {
  const zone = process.env['TZ'];
  afterEach(() => {
    if (zone === undefined) delete process.env['TZ'];
    else process.env['TZ'] = zone;
  });

  // The same moment, half past ten in the evening of the 31st in Greenwich.
  it.each([
    ['Etc/GMT-10', '2026-06-01'],
    ['UTC', '2026-05-31'],
    ['Etc/GMT+5', '2026-05-31'],
  ])('is that of the wall in %s', (tz, day) => {
    process.env['TZ'] = tz;
    expect(dayOf('2026-05-31T22:30:00Z')).toBe(day);
    expect(dayOf(new Date('2026-05-31T22:30:00Z'))).toBe(day);
  });
  it('lies whole days from another', () => {
    expect(daysBetween('2026-05-31', '2026-05-31')).toBe(0);
    expect(daysBetween('2026-05-31', '2026-06-02')).toBe(2);
    expect(daysBetween('2026-06-02', '2026-05-31')).toBe(-2);
  });
  it('that is noted as today is not yet another one, in the morning of a place far east', () => {
    process.env['TZ'] = 'Etc/GMT-10';
    const morning = new Date('2026-05-31T22:30:00Z');
    expect(daysBetween('2026-06-01', dayOf(morning))).toBe(0);
  });
});
