import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Filament, Printer } from '#core/context';
import type { History, KeptFile, PairRecord, TrialRecord } from '#core/route';

export interface Meta {
  key: string;
  value: unknown;
}

/** A photo by its hash. Bytes, since not every browser keeps a Blob safely. */
export interface StoredPhoto {
  hash: string;
  bytes: ArrayBuffer;
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

/** The stores of the database, with the field that each is keyed by. */
export const keyPaths = {
  printers: 'id',
  filaments: 'id',
  pairs: 'id',
  records: 'id',
  histories: 'id',
  meta: 'key',
  photos: 'hash',
  files: 'hash',
  fileBytes: 'hash',
} as const;
export type StoreName = keyof typeof keyPaths;

const VERSION = 3;

/** What becomes of a connection after it was opened. */
export interface Events {
  /** Another tab still holds an older version of the database open: this one waits. */
  blocked: () => void;
  /** Another tab wants to change or delete the database: this connection must be given up. */
  blocking: () => void;
  /** The browser closed the connection. */
  terminated: () => void;
}

/** Opens the browser's database; the stores are made on first use. */
export const openDatabase = (name = 'steady-tune', events?: Events): Promise<Database> =>
  openDB<Schema>(name, VERSION, {
    ...events,
    upgrade(db) {
      for (const [store, keyPath] of Object.entries(keyPaths) as [StoreName, string][])
        if (!db.objectStoreNames.contains(store)) db.createObjectStore(store, { keyPath });
    },
  });
