import { it } from 'vitest';
import { flipEach } from '../testing/backups';

it(
  'a backup with any one byte changed is refused or taken in part, and never another without a word',
  () => flipEach(1),
  600_000,
);
