import { answer, client } from '../api/client';
import { ApiProblem } from '../api/problem';
import type { BottleEntry, Container } from '../api/types';
import { serverNow } from '../lib/serverClock';

const KEY = 'oakenjug.bottles';
const AGAIN_MS = 4000;

export interface BottleEntriesState {
  waiting: BottleEntry[];
  /** Entries the server did not take, with its words. */
  refused: { entry: BottleEntry; why: string }[];
  /** Whether they outlive this page. */
  keeps: boolean;
}

/**
 * Entries about bottles made on this phone. Each is written down before it is sent, under the id it was made with, and leaves only
 * once the server has it: neither a reload nor a cellar without a network loses one, and none is kept twice.
 */
export class BottleEntries {
  private state: BottleEntriesState = { waiting: [], refused: [], keeps: true };
  private readonly listeners = new Set<() => void>();
  private sending = false;
  private timer = 0;

  constructor(private readonly onKept: (containers: Container[]) => void = () => undefined) {
    this.state = { ...this.state, waiting: read() };
    window.addEventListener('online', this.hurry);
    document.addEventListener('visibilitychange', this.hurry);
    this.hurry();
  }

  readonly snapshot = () => this.state;

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  enter(container: string, what: BottleEntry['movement']['what']) {
    const movement = { id: crypto.randomUUID(), at: new Date(serverNow()).toISOString(), what };
    this.keep([...this.state.waiting, { container, movement }]);
    this.hurry();
  }

  /** Lets an entry go that the server will not take. */
  drop(id: string) {
    this.set({ refused: this.state.refused.filter((each) => each.entry.movement.id !== id) });
  }

  readonly hurry = () => {
    window.clearTimeout(this.timer);
    void this.send();
  };

  stop() {
    window.clearTimeout(this.timer);
    window.removeEventListener('online', this.hurry);
    document.removeEventListener('visibilitychange', this.hurry);
  }

  private async send() {
    if (this.sending) return;
    this.sending = true;
    try {
      // One after another: what is not taken holds nothing else up.
      for (let next = this.state.waiting[0]; next; next = this.state.waiting[0]) {
        const entry = next;
        try {
          const kept = await answer(client.POST('/api/v1/stock/entries', { body: { entries: [entry] } }));
          this.forget(entry);
          this.onKept(kept.containers);
        } catch (error) {
          if (!(error instanceof ApiProblem)) throw error;
          // Without a network, a server or a person signed in it waits.
          if (error.status === 0 || error.status >= 500 || error.status === 401) {
            this.timer = window.setTimeout(this.hurry, AGAIN_MS);
            return;
          }
          this.forget(entry);
          this.set({ refused: [...this.state.refused, { entry, why: error.message }] });
        }
      }
    } finally {
      this.sending = false;
    }
  }

  private forget(entry: BottleEntry) {
    this.keep(this.state.waiting.filter((each) => each.movement.id !== entry.movement.id));
  }

  private keep(waiting: BottleEntry[]) {
    let keeps = true;
    try {
      window.localStorage.setItem(KEY, JSON.stringify(waiting));
    } catch {
      keeps = false;
    }
    this.set({ waiting, keeps });
  }

  private set(change: Partial<BottleEntriesState>) {
    this.state = { ...this.state, ...change };
    this.listeners.forEach((listener) => listener());
  }
}

/** What waited when the page was last left; nothing where the browser keeps nothing, or somebody else wrote there. */
function read(): BottleEntry[] {
  try {
    const found: unknown = JSON.parse(window.localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(found) ? (found as BottleEntry[]) : [];
  } catch {
    return [];
  }
}
