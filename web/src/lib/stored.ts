/** What this browser keeps under a key, or null: without storage, or for a copy that cannot be read, there is nothing to bring back. */
export function readStored<T>(key: string): T | null {
  try {
    const text = window.localStorage.getItem(key);
    return text ? (JSON.parse(text) as T) : null;
  } catch {
    return null;
  }
}

/** Keeps something under a key, or forgets it. Storage may be full or forbidden; what was typed is still on screen then. */
export function writeStored(key: string, value: object | null) {
  try {
    if (value) window.localStorage.setItem(key, JSON.stringify(value));
    else window.localStorage.removeItem(key);
  } catch {
    // Nothing is kept.
  }
}
