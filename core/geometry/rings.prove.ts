import { expect, it } from 'vitest';
import { compareWithLibrary } from '../testing/random-rings';

it('a million rings shifted and ordered are those of the library', { timeout: 3_600_000 }, () => {
  for (let batch = 0; batch < 100; batch++) {
    const { stray, between } = compareWithLibrary(10_000, 1000 + batch);
    expect(stray).toBeLessThan(2);
    expect(between).toBeLessThan(2e-5);
  }
});
