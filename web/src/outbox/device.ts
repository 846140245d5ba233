const KEY = 'oakenjug.device';

/** What this tablet calls itself in the log: made once and kept. */
export function device(): string {
  try {
    const known = window.localStorage.getItem(KEY);
    if (known) return known;
    const made = `tablet-${crypto.randomUUID().slice(0, 8)}`;
    window.localStorage.setItem(KEY, made);
    return made;
  } catch {
    // A browser without storage is another tablet at every visit; that only makes it ask more questions.
    return `tablet-${crypto.randomUUID().slice(0, 8)}`;
  }
}
