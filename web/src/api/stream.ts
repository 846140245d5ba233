import { door } from './door';

type Heard = (moved: { entries: boolean }) => void;

/** How long a stream that came to nothing waits before it is opened again. */
const AGAIN_MS = 1500;

/**
 * One stream a tab for every batch that is followed on it, and for the list of batches. It says that
 * something moved; what it is, is read from the server, which reckons.
 */
class Stream {
  private source: EventSource | null = null;
  private readonly follows = new Map<string, { seq: number; heard: Set<Heard> }>();
  private readonly anything = new Set<Heard>();
  private timer = 0;

  /** Follow a batch from the number it is known up to; gives what ends it. */
  follow(batch: string, seq: number, heard: Heard): () => void {
    const known = this.follows.get(batch);
    if (known) known.heard.add(heard);
    else {
      this.follows.set(batch, { seq, heard: new Set([heard]) });
      this.reopen();
    }
    return () => {
      const left = this.follows.get(batch);
      left?.heard.delete(heard);
      if (left?.heard.size === 0) {
        this.follows.delete(batch);
        this.reopen();
      }
    };
  }

  /** Hear whenever any batch of the site moves. */
  all(heard: Heard): () => void {
    this.anything.add(heard);
    if (!this.source) this.reopen();
    return () => {
      this.anything.delete(heard);
      if (this.follows.size === 0 && this.anything.size === 0) this.close();
    };
  }

  private close() {
    window.clearTimeout(this.timer);
    this.timer = 0;
    this.source?.close();
    this.source = null;
  }

  private reopen() {
    this.close();
    if (this.follows.size === 0 && this.anything.size === 0) return;
    // Several parts of a screen ask in one turn: one stream for all of them.
    this.openIn(0);
  }

  private openIn(ms: number) {
    const turn = window.setTimeout(() => void door.opened().then(() => this.timer === turn && this.open()), ms);
    this.timer = turn;
  }

  private open() {
    if (typeof EventSource === 'undefined') return;
    const at = [...this.follows].map(([batch, { seq }]) => `${batch}:${seq}`).join(',');
    const source = new EventSource(`/api/v1/stream?at=${encodeURIComponent(at)}`);
    this.source = source;
    source.addEventListener('entries', (message) => {
      const { batch, entries } = JSON.parse((message as MessageEvent<string>).data) as {
        batch: string;
        entries: { seq: number }[];
      };
      const followed = this.follows.get(batch);
      if (!followed) return;
      followed.seq = Math.max(followed.seq, ...entries.map((entry) => entry.seq));
      followed.heard.forEach((heard) => heard({ entries: true }));
    });
    source.addEventListener('batches', () => this.anything.forEach((heard) => heard({ entries: false })));
    source.addEventListener('error', () => {
      // A browser comes back by itself only from a lost connection; a refusal ends the stream for good.
      if (source.readyState !== EventSource.CLOSED || this.source !== source) return;
      this.close();
      this.openIn(AGAIN_MS);
    });
  }
}

export const stream = new Stream();
