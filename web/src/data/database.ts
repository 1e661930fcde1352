import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Filament, Printer } from '#core/context';
import type { PairRecord, TrialRecord } from '#core/route';
import type { History } from './history';

export interface Meta {
  key: string;
  value: unknown;
}

/** A photo by its hash. Bytes, since not every browser keeps a Blob safely. */
export interface StoredPhoto {
  hash: string;
  bytes: ArrayBuffer;
}

/** A file of other origin as it is listed; its bytes lie apart. */
export interface KeptFile {
  hash: string;
  name: string;
  length: number;
  added: string;
}

/** The bytes of a file: a Blob, since one may be of 500 MB, which the page must not touch. Once they were bytes. */
export interface StoredFile {
  hash: string;
  bytes: Blob | ArrayBuffer;
}

interface Schema extends DBSchema {
  files: { key: string; value: KeptFile };
  fileBytes: { key: string; value: StoredFile };
  printers: { key: string; value: Printer };
  filaments: { key: string; value: Filament };
  pairs: { key: string; value: PairRecord };
  records: { key: string; value: TrialRecord };
  histories: { key: string; value: History };
  meta: { key: string; value: Meta };
  photos: { key: string; value: StoredPhoto };
}

export type Database = IDBPDatabase<Schema>;

/** Opens the browser's database; the stores are made on first use. */
export const openDatabase = (name = 'steady-tune'): Promise<Database> =>
  openDB<Schema>(name, 3, {
    upgrade(db, before) {
      if (before < 3) {
        db.createObjectStore('files', { keyPath: 'hash' });
        db.createObjectStore('fileBytes', { keyPath: 'hash' });
      }
      if (before < 2) db.createObjectStore('photos', { keyPath: 'hash' });
      if (before >= 1) return;
      for (const store of ['printers', 'filaments', 'pairs', 'records', 'histories'] as const) {
        db.createObjectStore(store, { keyPath: 'id' });
      }
      db.createObjectStore('meta', { keyPath: 'key' });
    },
  });
