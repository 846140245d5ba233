import { useCallback, useEffect, useReducer } from 'react';
import { type DraftKind, keepDraft } from './keptDrafts';

interface State<D> {
  document: D;
  past: D[];
  future: D[];
  /** What the last edit was of, so that typing in one field undoes as one. */
  lastOf: string | null;
  lastAt: number;
  /** The document as the server has it. */
  saved: D | null;
  /** The draft number the document is based on; 0 for one never saved. */
  base: number;
}

type Action<D> =
  | { type: 'edit'; of: string; edit: (document: D) => D; at: number }
  | { type: 'undo' }
  | { type: 'redo' }
  | { type: 'saved'; document: D; base: number; sent: D }
  | { type: 'take'; document: D; base: number }
  | { type: 'rebase'; base: number };

const TOGETHER_MS = 1500;
const MOST = 200;

function reduce<D>(draft: State<D>, action: Action<D>): State<D> {
  switch (action.type) {
    case 'edit': {
      const document = action.edit(draft.document);
      if (document === draft.document) return draft;
      const goesOn = draft.lastOf === action.of && action.at - draft.lastAt < TOGETHER_MS && draft.past.length > 0;
      const past = goesOn ? draft.past : [...draft.past, draft.document].slice(-MOST);
      return { ...draft, document, past, future: [], lastOf: action.of, lastAt: action.at };
    }
    case 'undo': {
      const document = draft.past[draft.past.length - 1];
      if (!document) return draft;
      return {
        ...draft,
        document,
        past: draft.past.slice(0, -1),
        future: [draft.document, ...draft.future],
        lastOf: null,
      };
    }
    case 'redo': {
      const document = draft.future[0];
      if (!document) return draft;
      return { ...draft, document, past: [...draft.past, draft.document], future: draft.future.slice(1), lastOf: null };
    }
    case 'saved': {
      // Typing may have gone on while the save was under way; that stays.
      const untouched = draft.document === action.sent;
      return {
        ...draft,
        document: untouched ? action.document : draft.document,
        saved: action.document,
        base: action.base,
      };
    }
    case 'take':
      return {
        ...draft,
        document: action.document,
        saved: action.document,
        base: action.base,
        past: [...draft.past, draft.document],
        future: [],
        lastOf: null,
      };
    case 'rebase':
      return { ...draft, base: action.base };
  }
}

/** A document under edit: undo, redo, and a copy in this browser until it is saved. */
export function useDraft<D>(kind: DraftKind, username: string, id: string, start: D, saved: D | null, base: number) {
  const [draft, dispatch] = useReducer(reduce<D>, {
    document: start,
    past: [],
    future: [],
    lastOf: null,
    lastAt: 0,
    saved,
    base,
  });
  const changed = draft.saved === null ? draft.past.length > 0 : draft.document !== draft.saved;
  useEffect(() => {
    keepDraft(username, id, changed ? { document: draft.document, base: draft.base } : null, kind);
  }, [kind, username, id, changed, draft.document, draft.base]);
  const edit = useCallback(
    (of: string, change: (document: D) => D) => dispatch({ type: 'edit', of, edit: change, at: Date.now() }),
    [],
  );
  return {
    document: draft.document,
    base: draft.base,
    changed,
    undos: draft.past.length,
    redos: draft.future.length,
    edit,
    undo: useCallback(() => dispatch({ type: 'undo' }), []),
    redo: useCallback(() => dispatch({ type: 'redo' }), []),
    markSaved: useCallback(
      (document: D, at: number, sent: D) => dispatch({ type: 'saved', document, base: at, sent }),
      [],
    ),
    take: useCallback((document: D, at: number) => dispatch({ type: 'take', document, base: at }), []),
    rebase: useCallback((at: number) => dispatch({ type: 'rebase', base: at }), []),
  };
}

/** A document under edit, as a screen hands it on. */
export type DraftOf<D> = ReturnType<typeof useDraft<D>>;
