import { it } from 'vitest';
import { huntCarried, huntFiles, huntPrinters } from '../testing/hunt';

it('20,000 files with lines of any kind: what the check lets through does no harm', () => {
  const { tried, passed } = huntFiles(20_000);
  console.log(`${passed} of ${tried} were let through`);
}, 3_600_000);

it('5,000 files that a sweep is carried into do no harm where the check lets them through', () => {
  const { tried, passed } = huntCarried(5000);
  console.log(`${passed} of ${tried} were let through`);
}, 3_600_000);

it('1,000 printers with any start code, end code and macros make no file that does harm', () => {
  const { tried, passed } = huntPrinters(1000);
  console.log(`${passed} of ${tried} made a file`);
}, 3_600_000);
