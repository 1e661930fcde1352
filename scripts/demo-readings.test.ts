import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { demoReadings } from './demo-readings';

it('what the demo says of its prints is what a careful person reads off them (npm run docs)', () => {
  expect(readFileSync('core/demo/read.ts', 'utf8')).toBe(demoReadings());
});
