import { Button } from '@mantine/core';
import { useRef, type ReactNode } from 'react';
import { DOUBLE_TAP_MS, useDead } from '../../lib/useDead';

interface StepButtonProps {
  /** What a press means now: while this is new the button does nothing. */
  means: string;
  /** @default 'filled' */
  variant?: 'filled' | 'default';
  /** Whether it must wait for something before it can be pressed. @default false */
  waits?: boolean;
  children: ReactNode;
  onPress: () => void;
}

/** The button that moves a batch on; a double tap never does two steps. */
export function StepButton({ means, variant = 'filled', waits = false, children, onPress }: StepButtonProps) {
  const fresh = useDead(means);
  const dead = fresh || waits;
  // What was pressed takes a moment to be kept and shown: until then the button still means what has just been done.
  const pressedAt = useRef(-Infinity);
  const press = () => {
    const at = performance.now();
    if (at - pressedAt.current < DOUBLE_TAP_MS) return;
    pressedAt.current = at;
    onPress();
  };
  return (
    <Button variant={variant} aria-disabled={dead || undefined} onClick={dead ? undefined : press}>
      {children}
    </Button>
  );
}
