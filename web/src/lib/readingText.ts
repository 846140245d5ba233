import type { ReadingReport } from '../api/types';
import { figure, range } from './format';

/** The value of a reading as shown; an em dash where the model ends. */
export function readingValue(reading: ReadingReport): string {
  return reading.value === null ? '—' : figure(reading.value, reading.digits);
}

/** “± 0.005” where the band is even, “412–455” where it is not, nothing where exact. */
export function readingBand(reading: ReadingReport): string {
  const { value, low, high, digits } = reading;
  if (value === null || low === null || high === null) return '';
  const up = high - value;
  const down = value - low;
  const least = 0.5 * 10 ** -digits;
  if (up < least && down < least) return '';
  if (Math.abs(up - down) <= 0.2 * Math.max(up, down)) return `± ${figure(Math.max(up, down), digits)}`;
  return range(low, high, digits);
}
