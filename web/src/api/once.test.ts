import { describe, expect, it } from 'vitest';
import { makes, OnceKeys } from './once';

const answers = (status: number) => Promise.resolve(new Response(null, { status }));

describe('what is to be made once', () => {
  it('is sent again with its key where no answer came, and where the server was away', async () => {
    const once = new OnceKeys();
    const keys: string[] = [];
    const sends = (answer: () => Promise<Response>) =>
      once.send('/api/v1/formulas {}', (key) => {
        keys.push(key);
        return answer();
      });
    await expect(sends(() => Promise.reject(new TypeError('no network')))).rejects.toThrow();
    await sends(() => answers(503));
    await sends(() => answers(201));
    expect(new Set(keys).size).toBe(1);
    await sends(() => answers(201));
    expect(keys[3]).not.toBe(keys[0]);
  });

  it('has a key of its own for every thing', async () => {
    const once = new OnceKeys();
    const keys = new Set<string>();
    for (const what of ['a', 'b']) await once.send(what, (key) => (keys.add(key), answers(503)));
    expect(keys.size).toBe(2);
  });

  it('is what makes something', () => {
    expect(makes('POST', '/api/v1/formulas')).toBe(true);
    expect(makes('POST', '/api/v1/substances/own_x/lots')).toBe(true);
    expect(makes('POST', '/api/v1/formulas/1/versions')).toBe(true);
    expect(makes('POST', '/api/v1/walk')).toBe(false);
    expect(makes('POST', '/api/v1/formulas/1/versions/1/ready')).toBe(false);
    expect(makes('PUT', '/api/v1/benchmarks/1')).toBe(false);
  });
});
