import { useState } from 'react';
import { usePerson } from '../app/person';

function read<T extends object>(key: string | null, start: T): T | null {
  try {
    const text = key && window.localStorage.getItem(key);
    // What was kept by an older version may lack what is new.
    return text ? { ...start, ...(JSON.parse(text) as Partial<T>) } : null;
  } catch {
    // A browser without storage, or a copy that cannot be read: there is nothing to bring back.
    return null;
  }
}

interface Kept<T> {
  value: T;
  /** Whether it is what was typed before and left. */
  found: boolean;
  set: (next: T) => void;
  /** Forgets what was kept; with a value, goes on from that. */
  forget: (from?: T) => void;
}

/** What is typed on a screen, kept in this browser for this person until it is forgotten: a look elsewhere loses nothing. Without a name nothing is kept. */
export function useKept<T extends object>(name: string | null, start: T): Kept<T> {
  const { username } = usePerson();
  const key = name && `oakenjug.typed.${username}.${name}`;
  const [{ value, found }, put] = useState(() => {
    const kept = read(key, start);
    return { value: kept ?? start, found: kept !== null };
  });
  const store = (text: string | null) => {
    if (!key) return;
    try {
      if (text === null) window.localStorage.removeItem(key);
      else window.localStorage.setItem(key, text);
    } catch {
      // Storage may be full or forbidden; what was typed is still on screen.
    }
  };
  return {
    value,
    found,
    set: (next) => {
      store(JSON.stringify(next));
      put((before) => ({ ...before, value: next }));
    },
    forget: (from) => {
      store(null);
      put({ value: from ?? start, found: false });
    },
  };
}
