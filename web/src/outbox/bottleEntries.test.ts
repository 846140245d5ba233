import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { client } from '../api/client';
import type { BottleEntry } from '../api/types';
import { BottleEntries } from './bottleEntries';

const sent: BottleEntry[] = [];
let answers: (() => Promise<unknown>)[] = [];

function server(_path: string, { body }: { body: { entries: BottleEntry[] } }): Promise<unknown> {
  const other = answers.shift();
  if (other) return other();
  sent.push(...structuredClone(body.entries));
  return Promise.resolve({ data: { containers: [] }, response: new Response('{}') });
}
const away = () => Promise.reject(new TypeError('Failed to fetch'));
const refused = () =>
  Promise.resolve({
    error: { problems: [{ code: 'x', field: '', message: 'No such place.', remedy: 'Choose another.' }] },
    response: new Response('', { status: 422 }),
  });

beforeEach(() => {
  sent.length = 0;
  answers = [];
  window.localStorage.clear();
  vi.spyOn(client, 'POST').mockImplementation(server as never);
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const kinds = () => sent.map((each) => each.movement.what.kind);

describe('entries about bottles', () => {
  it('are sent in the order they were made, and the screen hears of it', async () => {
    const kept = vi.fn();
    const entries = new BottleEntries(kept);
    entries.enter('a', { kind: 'opened' });
    entries.enter('a', { kind: 'weighed', mass_g: 412 });
    entries.enter('a', { kind: 'emptied' });
    await vi.waitFor(() => expect(entries.snapshot().waiting).toEqual([]));
    expect(kinds()).toEqual(['opened', 'weighed', 'emptied']);
    expect(kept).toHaveBeenCalledTimes(3);
    entries.stop();
  });

  it('wait without a network, outlive the page, and are sent under the id they were made with', async () => {
    answers = [away];
    const before = new BottleEntries();
    before.enter('a', { kind: 'opened' });
    await vi.waitFor(() => expect(answers).toEqual([]));
    const id = before.snapshot().waiting[0]!.movement.id;
    before.stop();
    const after = new BottleEntries();
    await vi.waitFor(() => expect(after.snapshot().waiting).toEqual([]));
    expect(sent.map((each) => each.movement.id)).toEqual([id]);
    after.stop();
  });

  it('are set aside with the words of whoever refused them, and hold nothing else up', async () => {
    answers = [refused];
    const entries = new BottleEntries();
    entries.enter('a', { kind: 'moved', place: '9' });
    entries.enter('a', { kind: 'emptied' });
    await vi.waitFor(() => expect(kinds()).toEqual(['emptied']));
    const [aside] = entries.snapshot().refused;
    expect(aside?.why).toContain('No such place.');
    entries.drop(aside!.entry.movement.id);
    expect(entries.snapshot().refused).toEqual([]);
    entries.stop();
  });

  it('go on where the browser keeps nothing, and say so', async () => {
    vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new Error('full');
    });
    answers = [away];
    const entries = new BottleEntries();
    entries.enter('a', { kind: 'opened' });
    expect(entries.snapshot().keeps).toBe(false);
    await vi.waitFor(async () => {
      await vi.advanceTimersByTimeAsync(5000);
      expect(kinds()).toEqual(['opened']);
    });
    entries.stop();
  });
});
