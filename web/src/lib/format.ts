/** A number with thousands separated and a fixed number of decimals. */
export function figure(value: number, digits = 0): string {
  return value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits });
}

/** Grams as a cook reads them: two figures below 10 g, one below 100, none above. */
export function grams(value: number): string {
  if (value === 0) return '0';
  if (value < 10) return figure(value, 2);
  if (value < 100) return figure(value, 1);
  return figure(value);
}

/** “20–27 min”, “3 min”, “40 s”; hours from two hours on. */
export function span(low_s: number, high_s: number): string {
  const [unit, per] = high_s < 90 ? ['s', 1] : high_s < 7200 ? ['min', 60] : ['h', 3600];
  const digits = unit === 'h' ? 1 : 0;
  const low = figure(low_s / (per as number), digits);
  const high = figure(high_s / (per as number), digits);
  return low === high ? `${high} ${unit}` : `${low}–${high} ${unit}`;
}

/** Time since, in words. */
export function ago(iso: string, now: Date = new Date()): string {
  const seconds = Math.max(0, (now.getTime() - new Date(iso).getTime()) / 1000);
  if (seconds < 60) return 'just now';
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min ago`;
  if (seconds < 86400) return `${Math.floor(seconds / 3600)} h ago`;
  const days = Math.floor(seconds / 86400);
  return days === 1 ? 'yesterday' : `${days} days ago`;
}
