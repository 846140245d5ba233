import type { MethodDocument } from '../api/types';
import { readStored, writeStored } from './stored';

/** What a draft is of; each kind is kept apart. */
export type DraftKind = 'formula' | 'drink';

/** A draft that was typed in this browser and not saved. */
export interface KeptDraft<D = MethodDocument> {
  document: D;
  /** The draft number it is based on; 0 for something new. */
  base: number;
}

/** Where a person's drafts are kept: a shared tablet keeps those of each person apart. */
function prefix(username: string, kind: DraftKind): string {
  return kind === 'formula' ? `oakenjug.draft.${username}.` : `oakenjug.draft-of-${kind}.${username}.`;
}

/** What this person typed for something and did not save, or null. */
export function keptDraft<D = MethodDocument>(
  username: string,
  id: string,
  kind: DraftKind = 'formula',
): KeptDraft<D> | null {
  return readStored(prefix(username, kind) + id);
}

/** Keeps a draft, or forgets it. */
export function keepDraft<D>(username: string, id: string, draft: KeptDraft<D> | null, kind: DraftKind = 'formula') {
  writeStored(prefix(username, kind) + id, draft);
}

/** Every draft of a kind that this person has not saved, with what it is of. */
export function keptDrafts<D extends { name?: string } = MethodDocument>(
  username: string,
  kind: DraftKind = 'formula',
): (KeptDraft<D> & { id: string })[] {
  const found: (KeptDraft<D> & { id: string })[] = [];
  const begins = prefix(username, kind);
  try {
    for (let i = 0; i < window.localStorage.length; i += 1) {
      const key = window.localStorage.key(i) ?? '';
      const draft = key.startsWith(begins) ? readStored<KeptDraft<D>>(key) : null;
      if (draft) found.push({ ...draft, id: key.slice(begins.length) });
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
