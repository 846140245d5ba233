import { useEffect, useRef, useState } from 'react';
import { answer, client } from '../../api/client';
import { ApiProblem } from '../../api/problem';
import type { MethodDocument, WalkReport } from '../../api/types';

interface Walked {
  /** The last good answer; it stays while a newer one is on its way or refused. */
  report: WalkReport | null;
  /** Why the newest document cannot be walked. */
  problem: ApiProblem | null;
  /** True while the report is of an older document. */
  stale: boolean;
}

/** So long it waits for the next letter. */
const PAUSE_MS = 90;
const RETRY_MS = 3000;

/** Walks a document as it is typed. An older answer never overwrites a newer one. */
export function useWalk(document: MethodDocument): Walked {
  const [walked, setWalked] = useState<Walked>({ report: null, problem: null, stale: true });
  const newest = useRef(0);
  useEffect(() => {
    const turn = ++newest.current;
    // A page just begun: nothing to walk, and nothing wrong with it.
    if (document.stages.length === 0) {
      setWalked({ report: null, problem: null, stale: false });
      return;
    }
    const abort = new AbortController();
    let timer = 0;
    const ask = async () => {
      try {
        const report = await answer(client.POST('/api/v1/walk', { body: document, signal: abort.signal }));
        if (turn === newest.current) setWalked({ report, problem: null, stale: false });
      } catch (error) {
        if (turn !== newest.current || abort.signal.aborted) return;
        if (!(error instanceof ApiProblem)) throw error;
        setWalked((before) => ({ report: before.report, problem: error, stale: true }));
        if (error.status === 0) timer = window.setTimeout(() => void ask(), RETRY_MS);
      }
    };
    setWalked((before) => (before.stale ? before : { ...before, stale: true }));
    // Nobody is typing yet when the page is opened.
    timer = window.setTimeout(() => void ask(), turn === 1 ? 0 : PAUSE_MS);
    return () => {
      window.clearTimeout(timer);
      abort.abort();
    };
  }, [document]);
  return walked;
}
