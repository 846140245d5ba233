import { describe, expect, it } from 'vitest';
import { ago, countdown, figure, grams, span, when } from './format';
import { placeInLanes } from './lanes';
import { niceTicks } from './niceTicks';
import { numberOf } from './numberOf';

describe('figures', () => {
  it('shows grams as fine as a cook can weigh them', () => {
    expect([0, 3.4444, 37.84, 430, 1404.6].map(grams)).toEqual(['0', '3.44', '37.8', '430', '1,405']);
    expect(figure(-1234.567, 1)).toBe('−1,234.6');
  });
  it('counts a timer down, and over', () => {
    expect([190_000, 59_001, 0, -1000, -61_000, 3_720_000].map(countdown)).toEqual(['03:10', '01:00', '00:00', '+00:01', '+01:01', '1:02:00']);
  });
  it('says the clock today and the day before that', () => {
    const now = new Date(2026, 2, 2, 12, 0);
    expect(when(new Date(2026, 2, 2, 6, 52).toISOString(), now)).toBe('06:52');
    expect(when(new Date(2026, 1, 27, 6, 5).toISOString(), now)).toBe('Fri 27 Feb, 06:05');
  });
  it('shows a span in one unit', () => {
    expect([span(30, 40), span(1200, 1630), span(180, 200), span(7200, 14400)]).toEqual(['30–40 s', '20–27 min', '3 min', '2.0–4.0 h']);
  });
  it('tells how long ago', () => {
    const now = new Date('2026-05-02T12:00:00Z');
    const at = (text: string) => ago(text, now);
    expect([at('2026-05-02T11:59:50Z'), at('2026-05-02T11:20:00Z'), at('2026-05-02T03:00:00Z'), at('2026-05-01T03:00:00Z'), at('2026-04-20T12:00:00Z')]).toEqual([
      'just now', '40 min ago', '9 h ago', 'yesterday', '12 days ago',
    ]);
  });
  it('reads a typed figure, or says there is none', () => {
    expect([numberOf('62'), numberOf('62,5 °Bx'), numberOf(' .5 '), numberOf('-3')]).toEqual([62, 62.5, 0.5, -3]);
    expect([numberOf(''), numberOf('abc'), numberOf('1.2.3'), numberOf('°Bx')].every(Number.isNaN)).toBe(true);
    expect([numberOf('1,405'), numberOf('12,345.5 g'), numberOf('−4'), numberOf('1,4')]).toEqual([1405, 12345.5, -4, 1.4]);
  });
});

describe('niceTicks', () => {
  it('covers the top with round steps', () => {
    for (const top of [0.3, 7, 99, 1065, 1500, 12345]) {
      const ticks = niceTicks(top);
      expect(ticks[ticks.length - 1]).toBeGreaterThanOrEqual(top);
      expect(ticks.length).toBeGreaterThanOrEqual(2);
      expect(ticks.length).toBeLessThanOrEqual(6);
    }
    expect(niceTicks(0)).toEqual([]);
  });
});

describe('placeInLanes', () => {
  it('never lets two labels of a lane touch, nor leave the width', () => {
    const wanted = [648, 650, 655, 200, 990, 5, 1000];
    const placed = placeInLanes(wanted, (x) => x, () => 120, 1000);
    for (const a of placed) {
      expect(a.left).toBeGreaterThanOrEqual(0);
      expect(a.left + 120).toBeLessThanOrEqual(1000);
      for (const b of placed) if (a !== b && a.lane === b.lane) expect(Math.abs(a.left - b.left)).toBeGreaterThanOrEqual(130);
    }
  });
});
