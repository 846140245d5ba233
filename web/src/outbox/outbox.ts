import { answer, client } from '../api/client';
import { ApiProblem } from '../api/problem';
import type { LogEvent, Person, What } from '../api/types';
import { device } from './device';
import { serverNow } from '../lib/serverClock';
import { inMemory, type Shelf, shelf, type Waiting } from './shelf';

/** Entries sent at once. */
const AT_ONCE = 100;
const FIRST_PAUSE_MS = 1000;
const LONGEST_PAUSE_MS = 8000;

export interface OutboxState {
  /** Entries of every batch that wait, in the order they were made. */
  waiting: Waiting[];
  /** Entries the server has, whose reckoning has not been read yet, with their numbers. */
  sent: Waiting[];
  /** Why they wait, once sending was tried and failed. */
  trouble: string | null;
  /** When the last entry was kept by the server, for each batch. */
  savedAt: Record<string, number>;
  /** The newest number of each batch's log that this tablet knows. */
  seen: Record<string, number>;
  /** Whether entries outlive the page here; a browser may refuse to keep anything. */
  keeps: boolean;
}

type Listener = () => void;

/** Who enters: the name, and the mark of the session. */
export type Author = Pick<Person, 'username' | 'mark'>;

/**
 * Entries made on this tablet. Each is written to the tablet's own shelf before anything else and
 * leaves it only when the server has it: neither a reload nor a lost network nor a killed server
 * loses one, and the id it was made with keeps it from being kept twice.
 */
export class Outbox {
  private state: OutboxState = { waiting: [], sent: [], trouble: null, savedAt: {}, seen: {}, keeps: true };
  private readonly listeners = new Set<Listener>();
  private sending = false;
  private pause = FIRST_PAUSE_MS;
  private timer = 0;
  private readonly ready: Promise<void>;

  private shelf: Shelf = inMemory();

  constructor(
    private readonly onKept: (batch: string) => void = () => undefined,
    private readonly find: () => Promise<Shelf> = shelf,
  ) {
    this.ready = this.load();
    window.addEventListener('online', this.hurry);
    document.addEventListener('visibilitychange', this.hurry);
  }

  readonly snapshot = () => this.state;

  readonly subscribe = (listener: Listener) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** How far a batch's log is known here; entries say it, so that a correction is told from a contradiction. */
  know(batch: string, seq: number) {
    if (seq > (this.state.seen[batch] ?? 0)) this.set({ seen: { ...this.state.seen, [batch]: seq } });
  }

  /** The batch was read up to a number: what the server has reckoned with need not be laid over it any more. */
  read(batch: string, seq: number) {
    this.know(batch, seq);
    const known = this.state.sent.filter((each) => each.batch === batch && (each.seq ?? 0) <= seq);
    if (known.length > 0) void this.forget(known);
  }

  /**
   * Writes an entry down, and sends it as soon as it can be. Resolves once it is on the tablet's shelf.
   *
   * `seen` is how far the log stood on the screen at which it was thought of: what came in while a dialog was open was not known of then.
   */
  async enter(batch: string, by: Author, what: What, seen?: number): Promise<LogEvent> {
    await this.ready;
    const event = {
      id: crypto.randomUUID(),
      at: new Date(serverNow()).toISOString(),
      by: by.username,
      device: device(),
      seen: seen ?? this.state.seen[batch] ?? 0,
      what,
    } as LogEvent;
    const entry = { batch, event, mark: by.mark };
    const place = await this.written(() => this.shelf.add(entry));
    this.set({ waiting: [...this.state.waiting, { place, ...entry }] });
    this.hurry();
    return event;
  }

  /** Lets an entry go that the server will not take; nothing else of what waits is touched. */
  async drop(place: number) {
    await this.written(() => this.shelf.remove([place]));
    this.set({ waiting: this.state.waiting.filter((each) => each.place !== place) });
  }

  /** Sends at once what waits: somebody signed in, the network came back, the tablet woke. */
  readonly hurry = () => {
    window.clearTimeout(this.timer);
    this.pause = FIRST_PAUSE_MS;
    void this.send();
  };

  stop() {
    window.clearTimeout(this.timer);
    window.removeEventListener('online', this.hurry);
    document.removeEventListener('visibilitychange', this.hurry);
  }

  private set(change: Partial<OutboxState>) {
    this.state = { ...this.state, ...change };
    this.listeners.forEach((listener) => listener());
  }

  private async load() {
    this.shelf = await this.find();
    this.set({ ...apart(await this.shelf.all()), keeps: this.shelf.keeps });
    void this.send();
  }

  /** Writes to the shelf; where it refuses (a full disk, a browser that lost it), the rest of this page's life in memory. */
  private async written<T>(write: () => Promise<T>): Promise<T> {
    try {
      return await write();
    } catch (error) {
      if (!this.shelf.keeps) throw error;
      this.shelf = inMemory([...this.state.waiting, ...this.state.sent]);
      this.set({ keeps: false });
      return write();
    }
  }

  /** One sender a tablet, whatever tabs are open: the lock is the browser's. */
  private async send() {
    await this.ready;
    if (this.sending || this.state.waiting.length === 0) return;
    this.sending = true;
    try {
      if (navigator.locks) await navigator.locks.request('oakenjug.outbox', () => this.sendAll());
      else await this.sendAll();
    } finally {
      this.sending = false;
    }
    const left = this.state.waiting.filter((each) => !each.refused);
    if (left.length > 0) {
      this.timer = window.setTimeout(() => void this.send(), this.pause);
      this.pause = Math.min(this.pause * 1.6, LONGEST_PAUSE_MS);
    }
  }

  private async sendAll() {
    // Another tab may have sent some of them already.
    this.set(apart(await this.shelf.all()));
    for (const batch of new Set(this.state.waiting.map((each) => each.batch))) {
      for (;;) {
        const going = this.state.waiting.filter((each) => each.batch === batch && !each.refused).slice(0, AT_ONCE);
        if (going.length === 0) break;
        if (!(await this.sendSome(batch, going))) break;
      }
    }
  }

  private async sendSome(batch: string, going: Waiting[]): Promise<boolean> {
    try {
      const events = going.map((each) => each.event);
      const marks = Object.fromEntries(going.flatMap(({ event, mark }) => (mark ? [[event.id, mark]] : [])));
      const found = await answer(
        client.POST('/api/v1/batches/{batch_id}/entries', {
          params: { path: { batch_id: batch } },
          body: { events, marks, clock: new Date(serverNow()).toISOString() },
        }),
      );
      const numbers = new Map(found.kept.map((each) => [each.id, each.seq]));
      const sent = going.map((each) => ({ ...each, seq: numbers.get(each.event.id) ?? found.seq }));
      await this.written(() => this.shelf.put(sent));
      this.pause = FIRST_PAUSE_MS;
      this.set({
        waiting: this.state.waiting.filter((each) => !numbers.has(each.event.id)),
        sent: [...this.state.sent, ...sent],
        seen: { ...this.state.seen, [batch]: Math.max(found.seq, this.state.seen[batch] ?? 0) },
        trouble: null,
        savedAt: { ...this.state.savedAt, [batch]: serverNow() },
      });
      this.onKept(batch);
      return true;
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      if (error.status === 422 || error.status === 409) return this.oneByOne(going, error.message);
      this.set({ trouble: why(error) });
      return false;
    }
  }

  /** One of them cannot be kept: the others must not wait for it, and it stays here with the reason. */
  private async oneByOne(going: Waiting[], reason: string): Promise<boolean> {
    if (going.length > 1) {
      for (const each of going) if (!(await this.sendSome(each.batch, [each]))) return false;
      return true;
    }
    const [one] = going;
    if (!one) return true;
    await this.written(() => this.shelf.put([{ ...one, refused: reason }]));
    this.set({
      waiting: this.state.waiting.map((each) => (each.place === one.place ? { ...each, refused: reason } : each)),
    });
    return true;
  }

  private async forget(known: Waiting[]) {
    const gone = new Set(known.map((each) => each.place));
    this.set({ sent: this.state.sent.filter((each) => !gone.has(each.place)) });
    const places = [...gone].filter((place) => place !== undefined);
    await this.written(() => this.shelf.remove(places));
  }
}

/** What the tablet's shelf holds: what waits, and what the server has and was not read yet. */
function apart(all: Waiting[]): Pick<OutboxState, 'waiting' | 'sent'> {
  return { waiting: all.filter((each) => each.seq === undefined), sent: all.filter((each) => each.seq !== undefined) };
}

function why(error: ApiProblem): string {
  if (error.status === 0) return 'No connection';
  if (error.status === 401) return 'Nobody is signed in';
  if (error.status === 403) return 'This account may not enter anything';
  // In one line: at the hob nobody mends a server.
  return error.items[0]?.message.replace(/\.$/, '') ?? 'It was not taken';
}
