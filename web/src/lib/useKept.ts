import { useState } from 'react';
import { usePerson } from '../app/person';
import { readStored, writeStored } from './stored';

interface Kept<T> {
  value: T;
  /** Whether it is what was typed before and left. */
  found: boolean;
  /** Puts a value, or what a function makes of the newest one: what was typed while something was fetched stays. */
  set: (next: T | ((before: T) => T)) => void;
  /** Forgets what was kept; with a value, goes on from that. */
  forget: (from?: T) => void;
}

/** What is typed on a screen, kept in this browser for this person until it is forgotten: a look elsewhere loses nothing. Without a name nothing is kept. */
export function useKept<T extends object>(name: string | null, start: T): Kept<T> {
  const { username } = usePerson();
  const key = name && `oakenjug.typed.${username}.${name}`;
  const [{ value, found }, put] = useState(() => {
    const kept = key && readStored<Partial<T>>(key);
    // What was kept by an older version may lack what is new.
    return kept ? { value: { ...start, ...kept }, found: true } : { value: start, found: false };
  });
  return {
    value,
    found,
    set: (next) =>
      put((before) => {
        const value = typeof next === 'function' ? (next as (before: T) => T)(before.value) : next;
        if (key) writeStored(key, value);
        return { ...before, value };
      }),
    forget: (from) => {
      if (key) writeStored(key, null);
      put({ value: from ?? start, found: false });
    },
  };
}
