import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { BatchOut, LogEvent } from '../api/types';

/** An entry that waits on this tablet, and why it was not taken if it was tried. */
export interface Waiting {
  /** Its place in the order of entering; given by the store. */
  place?: number;
  batch: string;
  event: LogEvent;
  refused?: string;
  /** The number the server gave it; it stays here until that much of the log has been read. */
  seq?: number;
}

interface Kept extends DBSchema {
  outbox: { key: number; value: Waiting; indexes: { batch: string } };
  /** Batches as they were last seen, to be shown without a network. */
  batches: { key: string; value: { id: string; batch: BatchOut; seenAt: string } };
}

let opened: Promise<IDBPDatabase<Kept>> | null = null;

/** The tablet's own store. It outlives the page, the session and the server. */
export function store(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('oakenjug', 1, {
    upgrade(db) {
      const outbox = db.createObjectStore('outbox', { keyPath: 'place', autoIncrement: true });
      outbox.createIndex('batch', 'batch');
      db.createObjectStore('batches', { keyPath: 'id' });
    },
    terminated() {
      opened = null;
    },
  });
  return opened;
}
