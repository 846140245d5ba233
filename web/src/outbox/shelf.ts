import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { BatchOut, LogEvent } from '../api/types';

/** An entry that waits on this tablet, and why it was not taken if it was tried. */
export interface Waiting {
  /** Its place in the order of entering; given by the shelf. */
  place?: number;
  batch: string;
  event: LogEvent;
  /** The mark of the session it was made in: it stays that person's whoever sends it. */
  mark?: string;
  refused?: string;
  /** The number the server gave it; it stays here until that much of the log has been read. */
  seq?: number;
}

/** Where a tablet keeps what must not be lost, and what it saw last. */
export interface Shelf {
  /** Whether what is put here outlives the page. */
  keeps: boolean;
  all(): Promise<Waiting[]>;
  /** Puts an entry behind those there are, and gives its place. */
  add(entry: Waiting): Promise<number>;
  put(entries: Waiting[]): Promise<void>;
  remove(places: number[]): Promise<void>;
  lastSeen(batch: string): Promise<BatchOut | undefined>;
  see(batch: BatchOut): Promise<void>;
}

interface Kept extends DBSchema {
  outbox: { key: number; value: Waiting; indexes: { batch: string } };
  /** Batches as they were last seen, to be shown without a network. */
  batches: { key: string; value: { id: string; batch: BatchOut; seenAt: string } };
}

let opened: Promise<Shelf> | null = null;

/** The tablet's own shelf. It outlives the page, the session and the server, unless the browser refuses to keep anything. */
export function shelf(): Promise<Shelf> {
  opened ??= open();
  return opened;
}

async function open(): Promise<Shelf> {
  try {
    const db = await openDB<Kept>('oakenjug', 1, {
      upgrade(made) {
        const outbox = made.createObjectStore('outbox', { keyPath: 'place', autoIncrement: true });
        outbox.createIndex('batch', 'batch');
        made.createObjectStore('batches', { keyPath: 'id' });
      },
      terminated() {
        opened = null;
      },
    });
    return inDatabase(db);
  } catch {
    // Private windows and full disks refuse. Entering goes on; the screen says that the page must stay open until it is sent.
    return inMemory();
  }
}

function inDatabase(db: IDBPDatabase<Kept>): Shelf {
  const change = async (
    run: (store: { put: (entry: Waiting) => Promise<unknown>; delete: (place: number) => Promise<unknown> }) => void,
  ) => {
    const transaction = db.transaction('outbox', 'readwrite');
    run(transaction.store);
    await transaction.done;
  };
  return {
    keeps: true,
    all: () => db.getAll('outbox'),
    add: (entry) => db.add('outbox', entry),
    put: (entries) => change((store) => entries.forEach((entry) => void store.put(entry))),
    remove: (places) => change((store) => places.forEach((place) => void store.delete(place))),
    lastSeen: async (id) => (await db.get('batches', id))?.batch,
    see: async (batch) => {
      await db.put('batches', { id: batch.id, batch, seenAt: new Date().toISOString() });
    },
  };
}

/** A shelf that lasts as long as the page, with what lay on another one at the places it had there. */
export function inMemory(before: Waiting[] = []): Shelf {
  const entries = new Map(before.flatMap((each) => (each.place === undefined ? [] : [[each.place, each] as const])));
  const batches = new Map<string, BatchOut>();
  let last = Math.max(0, ...entries.keys());
  return {
    keeps: false,
    all: () => Promise.resolve([...entries.values()].sort((a, b) => (a.place ?? 0) - (b.place ?? 0))),
    add: (entry) => {
      last += 1;
      entries.set(last, { ...entry, place: last });
      return Promise.resolve(last);
    },
    put: (changed) => {
      for (const each of changed) if (each.place !== undefined) entries.set(each.place, each);
      return Promise.resolve();
    },
    remove: (places) => {
      places.forEach((place) => entries.delete(place));
      return Promise.resolve();
    },
    lastSeen: (id) => Promise.resolve(batches.get(id)),
    see: (batch) => {
      batches.set(batch.id, batch);
      return Promise.resolve();
    },
  };
}
