import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from 'react';

export interface Shortcut {
  keys: string;
  does: string;
}

const ShortcutsContext = createContext<{ list: Shortcut[]; add: (own: Shortcut[]) => () => void } | null>(null);

/** Collects the shortcuts of the screen that is shown, for the list behind “?”. */
export function ShortcutsProvider({ children }: { children: ReactNode }) {
  const [list, setList] = useState<Shortcut[]>([]);
  const value = useMemo(
    () => ({
      list,
      add: (own: Shortcut[]) => {
        setList((before) => [...before, ...own]);
        return () => setList((before) => before.filter((each) => !own.includes(each)));
      },
    }),
    [list],
  );
  return <ShortcutsContext.Provider value={value}>{children}</ShortcutsContext.Provider>;
}

export function useShortcutList(): Shortcut[] {
  return useContext(ShortcutsContext)?.list ?? [];
}

/** Says which shortcuts a screen has; `own` must be a constant. */
export function useShortcutHelp(own: Shortcut[]) {
  const add = useContext(ShortcutsContext)?.add;
  // The provider makes a new `add` whenever the list changes; only `own` decides.
  const [first] = useState(() => add);
  useEffect(() => first?.(own), [first, own]);
}
