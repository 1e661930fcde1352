import { expose } from 'comlink';
import type { Progress } from '#core/base';
import { keepParts, readParts, type ToKeep } from './backup-parts';

const api = {
  keep: (what: ToKeep, report: (p: Progress) => void) => keepParts(what, report),
  read: (chosen: { name: string; blob: Blob }[], report: (p: Progress) => void) => readParts(chosen, report),
};

export type BackupApi = typeof api;

expose(api);
