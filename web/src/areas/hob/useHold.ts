import { useRef, useState } from 'react';

/** How long a press must be held to be taken back; wet fingers press by mistake. */
const HOLD_MS = 1000;

/** What a button needs that acts once it was held a second; a keyboard is not pressed by wet fingers, and one press is enough there. */
export function useHold(act: () => void) {
  const [holding, setHolding] = useState(false);
  const timer = useRef(0);
  const stop = () => {
    window.clearTimeout(timer.current);
    setHolding(false);
  };
  const done = () => {
    stop();
    act();
  };
  return {
    holding,
    onPointerDown: () => {
      setHolding(true);
      timer.current = window.setTimeout(done, HOLD_MS);
    },
    onPointerUp: stop,
    onPointerLeave: stop,
    onContextMenu: (event: { preventDefault: () => void }) => event.preventDefault(),
    onKeyDown: (event: { key: string; preventDefault: () => void }) => {
      if (event.key !== 'Enter' && event.key !== ' ') return;
      event.preventDefault();
      done();
    },
  };
}
