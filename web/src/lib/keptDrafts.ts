import type { MethodDocument } from '../api/types';
import { readStored, writeStored } from './stored';

/** A draft that was typed in this browser and not saved. */
export interface KeptDraft {
  document: MethodDocument;
  /** The draft number it is based on; 0 for a new formula. */
  base: number;
}

/** Where a person's drafts are kept: a shared tablet keeps those of each person apart. */
function prefix(username: string): string {
  return `oakenjug.draft.${username}.`;
}

/** What this person typed for a formula and did not save, or null. */
export function keptDraft(username: string, id: string): KeptDraft | null {
  return readStored(prefix(username) + id);
}

/** Keeps a draft, or forgets it. */
export function keepDraft(username: string, id: string, draft: KeptDraft | null) {
  writeStored(prefix(username) + id, draft);
}

/** Every draft this person has not saved, with the bench it is on. */
export function keptDrafts(username: string): (KeptDraft & { id: string })[] {
  const found: (KeptDraft & { id: string })[] = [];
  try {
    for (let i = 0; i < window.localStorage.length; i += 1) {
      const key = window.localStorage.key(i) ?? '';
      const draft = key.startsWith(prefix(username)) ? readStored<KeptDraft>(key) : null;
      if (draft) found.push({ ...draft, id: key.slice(prefix(username).length) });
    }
  } catch {
    // A browser without storage keeps nothing.
  }
  return found;
}

/** The address of the bench with this id: a formula, a new one, or a copy. */
export function benchPath(id: string): string {
  const [, kind, of] = /^(new|copy)-(.+)$/.exec(id) ?? [];
  return kind ? `/formulas/${kind}/${of}` : `/formulas/${id}`;
}
