import { describe, expect, it } from 'vitest';
import { ago, countdown, figure, fromTo, grams, range, span, when } from './format';
import { placeInLanes } from './lanes';
import { niceTicks } from './niceTicks';
import { figureIn, valueIn, wrongIn } from './figures';

describe('figures', () => {
  it('shows grams as fine as a cook can weigh them', () => {
    expect([0, 3.4444, 37.84, 430, 1404.6].map(grams)).toEqual(['0', '3.44', '37.8', '430', '1,405']);
    expect(figure(-1234.567, 1)).toBe('−1,234.6');
  });
  it('counts a timer down, and over', () => {
    expect([190_000, 59_001, 0, -1000, -61_000, 3_720_000].map(countdown)).toEqual([
      '03:10',
      '01:00',
      '00:00',
      '+00:01',
      '+01:01',
      '1:02:00',
    ]);
  });
  it('says the clock today and the day before that', () => {
    const now = new Date(2026, 2, 2, 12, 0);
    expect(when(new Date(2026, 2, 2, 6, 52).toISOString(), now)).toBe('06:52');
    expect(when(new Date(2026, 1, 27, 6, 5).toISOString(), now)).toBe('Fri 27 Feb, 06:05');
  });
  it('shows a span in one unit', () => {
    expect([span(30, 40), span(1200, 1630), span(180, 200), span(7200, 14400)]).toEqual([
      '30–40 s',
      '20–27 min',
      '3 min',
      '2.0–4.0 h',
    ]);
  });
  it('tells how long ago', () => {
    const now = new Date('2026-05-02T12:00:00Z');
    const at = (text: string) => ago(text, now);
    expect([
      at('2026-05-02T11:59:50Z'),
      at('2026-05-02T11:20:00Z'),
      at('2026-05-02T03:00:00Z'),
      at('2026-05-01T03:00:00Z'),
      at('2026-04-20T12:00:00Z'),
    ]).toEqual(['just now', '40 min ago', '9 h ago', 'yesterday', '12 days ago']);
  });
  it('reads a typed figure as people write it, in the unit of its field', () => {
    const cases: [string, string, number][] = [
      ['62', '', 62],
      ['62,5 °Bx', '°Bx', 62.5],
      [' .5 ', 'g', 0.5],
      ['-3', '°C', -3],
      ['−4', '°C', -4],
      ['1,405', 'g', 1405],
      ['12,345.5 g', 'g', 12345.5],
      ['1,4', 'g', 1.4],
      ['1 888', 'g', 1888],
      ['1\u202f888', 'g', 1888],
      ['1 888,5', 'g', 1888.5],
      ["1'250", 'g', 1250],
      ['1/2', 'l', 0.5],
      ['1 1/2', 'l', 1.5],
      ['1½', 'l', 1.5],
      ['½', 'l', 0.5],
      ['1.5 kg', 'g', 1500],
      ['1 kg', 'g', 1000],
      ['500 ml', 'l', 0.5],
      ['2 quarts', 'ml', 1892.705892],
      ['½ US pint', 'ml', 236.5882365],
      ['1 imperial pint', 'ml', 568.26125],
      ['1 metric cup', 'ml', 250],
      ['2 lb', 'g', 907.18474],
      ['212 °F', '°C', 100],
      ['2 h', 'min', 120],
      ['90 s', 'min', 1.5],
      ['1.5kW', 'W', 1500],
      ['10 in', 'cm', 25.4],
      ['2 weeks', 'days', NaN],
      ['3 days', 'days', 3],
      ['300 g off', 'g off', 300],
      ['99999', 'g', 99999],
      ['30 %', '%', 30],
      ['30%', '%', 30],
    ];
    for (const [typed, unit, value] of cases) {
      if (Number.isNaN(value)) expect(valueIn(typed, unit), typed).toBeNaN();
      else expect(valueIn(typed, unit), typed).toBeCloseTo(value, 6);
    }
  });
  it('refuses what it cannot read, and never drops a part of it', () => {
    for (const [typed, unit] of [
      ['', 'g'],
      ['abc', 'g'],
      ['1.2.3', 'g'],
      ['°Bx', '°Bx'],
      ['500 ml', 'g'],
      ['1 kg', 'ml'],
      ['½ pint', 'ml'],
      ['2 cups', 'ml'],
      ['1/0', 'g'],
      ['12 apples', ''],
      ['1,2,3', 'g'],
      ['10-20', 'g'],
      ['5 min', ''],
      ['1 1', 'g'],
      ['5x', 'g'],
    ] as const) {
      expect(figureIn(typed, unit).wrong, typed).toBeTruthy();
      expect(valueIn(typed, unit), typed).toBeNaN();
    }
    expect(figureIn('½ pint', 'ml').wrong).toMatch(/473 ml \(US\) or 568 ml \(imperial\)/);
    expect(figureIn('500 ml', 'g').wrong).toMatch(/is a volume, and this is in g/);
    expect([
      wrongIn('-5', 'g', { low: 0, high: 10 }),
      wrongIn('99999', 'g', { low: 0, high: 5000 }),
      wrongIn('', 'g', { low: 0 }),
      wrongIn('0', 'g', { above: 0 }),
      wrongIn('1.5', '', { whole: true }),
    ]).toEqual(['Write 0 to 10 g.', 'Write 0 to 5000 g.', undefined, 'Write more than 0 g.', 'Write a whole number.']);
  });
});

describe('two ends of a range', () => {
  it('are one figure where both are shown as the same', () => {
    expect(range(67.6, 68.4)).toBe('68');
    expect(fromTo(67.6, 68.4)).toBe('68');
    expect(range(67.6, 68.4, 1)).toBe('67.6–68.4');
    expect(fromTo(1204, 1311)).toBe('1,204 to 1,311');
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
    const placed = placeInLanes(
      wanted,
      (x) => x,
      () => 120,
      1000,
    );
    for (const a of placed) {
      expect(a.left).toBeGreaterThanOrEqual(0);
      expect(a.left + 120).toBeLessThanOrEqual(1000);
      for (const b of placed)
        if (a !== b && a.lane === b.lane) expect(Math.abs(a.left - b.left)).toBeGreaterThanOrEqual(130);
    }
  });
});
