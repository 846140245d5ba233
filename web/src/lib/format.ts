/** A number with thousands separated and a fixed number of decimals. */
export function figure(value: number, digits = 0): string {
  let format = formats.get(digits);
  if (!format)
    formats.set(
      digits,
      (format = new Intl.NumberFormat('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits })),
    );
  return format.format(value).replace('-', '−');
}

/** By decimals. Each takes far longer to make than to use, and a screen shows hundreds of figures. */
const formats = new Map<number, Intl.NumberFormat>();

/** A figure with as many decimals as are asked for, or up to two where it was entered finer: what was typed is what is shown. */
export function asEntered(value: number, digits: number): string {
  let fine = digits;
  while (fine < 2 && Math.abs(value - Number(value.toFixed(fine))) > 1e-6) fine += 1;
  return figure(value, fine);
}

/** Grams as a cook reads them: two figures below 10 g, one below 100, none above. */
export function grams(value: number): string {
  if (value === 0) return '0';
  if (value < 10) return figure(value, 2);
  if (value < 100) return figure(value, 1);
  return figure(value);
}

/** “61–66”, or one figure where both ends are shown as the same. */
export function range(low: number, high: number, digits = 0): string {
  const [a, b] = [figure(low, digits), figure(high, digits)];
  return a === b ? a : `${a}–${b}`;
}

/** “61 to 66” as it is read aloud, or one figure where both ends are shown as the same. */
export function fromTo(low: number, high: number, digits = 0): string {
  const [a, b] = [figure(low, digits), figure(high, digits)];
  return a === b ? a : `${a} to ${b}`;
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

function two(n: number): string {
  return String(n).padStart(2, '0');
}

/** The clock: “06:52”. */
export function clock(iso: string): string {
  const at = new Date(iso);
  return `${two(at.getHours())}:${two(at.getMinutes())}`;
}

/** “06:52–06:55”, or one time where both show the same. */
export function clockSpan(low: string, high: string): string {
  const [a, b] = [clock(low), clock(high)];
  return a === b ? a : `${a}–${b}`;
}

/** What is left on a timer: “03:10”, “1:02:00”; how long it is over with a plus before it. */
export function countdown(ms: number): string {
  const whole = Math.abs(ms < 0 ? Math.floor(ms / 1000) : Math.ceil(ms / 1000));
  const [hours, minutes, seconds] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  const text = hours > 0 ? `${hours}:${two(minutes)}:${two(seconds)}` : `${two(minutes)}:${two(seconds)}`;
  return ms < 0 ? `+${text}` : text;
}

/** A time of day today, else the day: “06:52”, “Mon 2 Mar, 06:52”. */
export function when(iso: string, now: Date = new Date()): string {
  const at = new Date(iso);
  const today = at.toDateString() === now.toDateString();
  return today
    ? clock(iso)
    : `${at.toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' })}, ${clock(iso)}`;
}

/** A day as it is read aloud: “Thu 3 Dec”. */
export function day(iso: string): string {
  return new Date(`${iso}T12:00`).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
}

/** The day of a moment where this browser is, as date fields write it: 2026-03-02. */
export function dayOf(at: Date): string {
  return [String(at.getFullYear()).padStart(4, '0'), two(at.getMonth() + 1), two(at.getDate())].join('-');
}
