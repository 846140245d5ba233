import { Button } from '@mantine/core';
import type { ReactNode } from 'react';
import { usePressOnce } from '../../lib/useDead';

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
  const once = usePressOnce(means);
  const dead = once.dead || waits;
  return (
    <Button variant={variant} aria-disabled={dead || undefined} onClick={dead ? undefined : () => once.press(onPress)}>
      {children}
    </Button>
  );
}
