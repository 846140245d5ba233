import { afterEach, describe, expect, it } from 'vitest';
import { learnClock, serverNow } from './serverClock';

const ahead = () => Math.round((serverNow() - Date.now()) / 100) * 100;
const said = (ms: number) => new Date(ms).toISOString();

afterEach(() => learnClock(said(1_000_000), 1_000_000, 1_000_000));

describe('the clock of a tablet', () => {
  it('goes by the server where it is off', () => {
    learnClock(said(1_000_100 + 300_000), 1_000_000, 1_000_200);
    expect(ahead()).toBe(300_000);
    learnClock(said(1_000_100 - 7000), 1_000_000, 1_000_200);
    expect(ahead()).toBe(-7000);
  });

  it('is left alone where it is near', () => {
    learnClock(said(1_001_000), 1_000_000, 1_000_200);
    expect(ahead()).toBe(0);
  });

  it('learns nothing from an answer that took long', () => {
    learnClock(said(2_000_000), 1_000_000, 1_009_000);
    expect(ahead()).toBe(0);
  });
});
