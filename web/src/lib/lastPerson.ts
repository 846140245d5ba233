import type { Person } from '../api/types';

const KEY = 'oakenjug.person';

/** Who was signed in on this tablet when the server could last be asked, or null. */
export function lastPerson(): Person | null {
  try {
    const text = window.localStorage.getItem(KEY);
    return text ? (JSON.parse(text) as Person) : null;
  } catch {
    // A browser without storage remembers nobody.
    return null;
  }
}

/** Remembers who is signed in, or that nobody is. */
export function rememberPerson(person: Person | null) {
  try {
    if (person) window.localStorage.setItem(KEY, JSON.stringify(person));
    else window.localStorage.removeItem(KEY);
  } catch {
    // Without storage a reload without a network shows the sign-in page.
  }
}
