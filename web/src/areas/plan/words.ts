import { day, figure } from '../../lib/format';

/** Kilograms of grams as a plan shows them: two decimals below one, one above. */
export function kilograms(grams: number): string {
  return grams === 0 ? '0' : figure(grams / 1000, grams < 995 ? 2 : 1);
}

/** “River festival on Sat 5 Dec and Sun 6 Dec”; nothing on ordinary days. */
export function eventsInWords(on: string[], events: string[]): string {
  const days = new Map<string, string[]>();
  events.forEach((event, n) => event && days.set(event, [...(days.get(event) ?? []), day(on[n]!)]));
  return [...days].map(([event, of]) => `${event} on ${together(of)}`).join(' · ');
}

/** “Monday, Tuesday and Friday”. */
export function together(words: string[]): string {
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;
}

/** The same in a column. */
export const METHODS_SHORT = {
  regression: 'regression',
  last_week: 'last week',
  mean_of_four: 'mean of four',
  as_elsewhere: 'other places',
  like: 'another drink',
} as const;

/** What a method of foreseeing is called. */
export const METHODS = {
  regression: 'regression on weekday, trend and events',
  last_week: 'the same weekday last week',
  mean_of_four: 'mean of the last four same weekdays',
  as_elsewhere: 'as other places sell it',
  like: 'as another drink sells',
} as const;
