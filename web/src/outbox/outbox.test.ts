import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { client } from '../api/client';
import { Outbox } from './outbox';
import { inMemory, type Shelf } from './shelf';

interface Sent {
  events: { id: string; what: { kind: string } }[];
  marks: Record<string, string>;
  clock: string;
}

const sent: Sent[] = [];
let answers: (() => Promise<unknown>)[] = [];

/** The server: keeps what it is sent and numbers it, unless the next answer is another. */
function server(_path: string, { body }: { body: Sent }): Promise<unknown> {
  const other = answers.shift();
  if (other) return other();
  sent.push(structuredClone(body));
  const before = sent.slice(0, -1).reduce((sum, each) => sum + each.events.length, 0);
  const kept = body.events.map((event, n) => ({ id: event.id, seq: before + n + 1 }));
  return Promise.resolve({ data: { kept, seq: before + kept.length }, response: new Response('{}') });
}

const away = () => Promise.reject(new TypeError('Failed to fetch'));
const ill = () =>
  Promise.resolve({
    error: { problems: [{ code: 'database', field: '', message: 'The disk is full.', remedy: 'Make room on it.' }] },
    response: new Response('', { status: 503 }),
  });

const rafe = { username: 'rafe', mark: 'his' };
const note = (text: string) => ({ kind: 'noted', text }) as const;
const failing = (shelf: Shelf, ...names: (keyof Shelf)[]): Shelf => ({
  ...shelf,
  keeps: true,
  ...Object.fromEntries(names.map((name) => [name, () => Promise.reject(new Error('the disk is full'))])),
});

beforeEach(() => {
  sent.length = 0;
  answers = [];
  vi.spyOn(client, 'POST').mockImplementation(server as never);
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const texts = () =>
  sent.flatMap((each) => each.events.map((event) => (event.what as unknown as { text: string }).text));

describe('the outbox', () => {
  it('sends what is entered, in order, and tells its number', async () => {
    const outbox = new Outbox(undefined, () => Promise.resolve(inMemory()));
    for (const text of ['one', 'two', 'three']) await outbox.enter('b', rafe, note(text));
    await vi.waitFor(() => expect(outbox.snapshot().waiting).toEqual([]));
    expect(texts()).toEqual(['one', 'two', 'three']);
    expect(outbox.snapshot().seen).toEqual({ b: 3 });
    // Whoever is signed in when they are sent: they stay his, and say what this tablet takes the time to be.
    expect(sent.flatMap((each) => each.events.map(({ id }) => each.marks[id]))).toEqual(['his', 'his', 'his']);
    expect(sent.every((each) => Math.abs(Date.parse(each.clock) - Date.now()) < 60_000)).toBe(true);
  });

  it('keeps an entry that the server could not take, and sends it again', async () => {
    answers = [ill, away];
    const outbox = new Outbox(undefined, () => Promise.resolve(inMemory()));
    await outbox.enter('b', rafe, note('kept'));
    await vi.waitFor(() => expect(outbox.snapshot().trouble).toBe('The disk is full'));
    expect(outbox.snapshot().waiting).toHaveLength(1);
    await vi.waitFor(async () => {
      await vi.advanceTimersByTimeAsync(5000);
      expect(texts()).toEqual(['kept']);
    });
  });

  it('sets one entry aside that is not taken, sends the others, and lets it go when told to', async () => {
    const outbox = new Outbox(undefined, () => Promise.resolve(inMemory()));
    vi.spyOn(client, 'POST').mockImplementation(((path: string, given: { body: Sent }) =>
      given.body.events.some((event) => (event.what as unknown as { text: string }).text === 'bad')
        ? Promise.resolve({
            error: { problems: [{ message: 'No.', remedy: 'Other.' }] },
            response: new Response('', { status: 422 }),
          })
        : server(path, given)) as never);
    await Promise.all(['one', 'bad', 'three'].map((text) => outbox.enter('b', rafe, note(text))));
    await vi.waitFor(() => expect(texts()).toEqual(['one', 'three']));
    await vi.waitFor(() => expect(outbox.snapshot().waiting).toHaveLength(1));
    const [left] = outbox.snapshot().waiting;
    expect(left?.refused).toContain('No.');
    await outbox.enter('b', rafe, note('four'));
    await vi.waitFor(() => expect(texts()).toEqual(['one', 'three', 'four']));
    await outbox.drop(left!.place!);
    expect(outbox.snapshot().waiting).toEqual([]);
  });

  it('goes on in memory where the browser keeps nothing, and says so', async () => {
    const outbox = new Outbox(undefined, () => Promise.resolve(failing(inMemory(), 'add')));
    await outbox.enter('b', rafe, note('typed'));
    expect(outbox.snapshot().keeps).toBe(false);
    await vi.waitFor(() => expect(texts()).toEqual(['typed']));
  });

  it('loses nothing where the disk fills up half way', async () => {
    const shelf = inMemory();
    answers = [ill, away, ill];
    const outbox = new Outbox(undefined, () =>
      Promise.resolve({
        ...shelf,
        keeps: true,
        add: (entry) =>
          entry.event.what.kind === 'noted' && entry.event.what.text === 'third'
            ? Promise.reject(new Error('full'))
            : shelf.add(entry),
      }),
    );
    for (const text of ['first', 'second', 'third', 'fourth']) await outbox.enter('b', rafe, note(text));
    expect(outbox.snapshot().waiting.map((each) => each.place)).toEqual([1, 2, 3, 4]);
    await vi.waitFor(async () => {
      await vi.advanceTimersByTimeAsync(5000);
      expect(texts()).toEqual(['first', 'second', 'third', 'fourth']);
    });
  });
});
