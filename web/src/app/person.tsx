import { createContext, type ReactNode, useContext } from 'react';
import type { Person } from '../api/types';

const PersonContext = createContext<Person | null>(null);

export function PersonProvider({ person, children }: { person: Person; children: ReactNode }) {
  return <PersonContext.Provider value={person}>{children}</PersonContext.Provider>;
}

/** The person signed in. */
export function usePerson(): Person {
  const person = useContext(PersonContext);
  if (!person) throw new Error('usePerson is used outside the signed-in shell.');
  return person;
}

/** Whether the person signed in may do a deed. */
export function useMay(deed: string): boolean {
  return usePerson().may.includes(deed);
}
