import { Button } from '@mantine/core';
import { useState } from 'react';
import type { BatchCard } from '../../api/types';
import { useMay } from '../../app/person';
import { StartDialog } from './StartDialog';

/** Starts what was cooked before: the same formula, in its newest version, as much of it as then. */
export function CookAgain({ batch }: { batch: BatchCard }) {
  const [open, setOpen] = useState(false);
  if (!useMay('cook')) return null;
  const words = batch.kind === 'practice' ? 'Practise again' : 'Cook again';
  return (
    <>
      <Button variant="default" size="md" onClick={() => setOpen(true)} aria-label={`${words}: ${batch.name}`}>
        {words}
      </Button>
      <StartDialog
        opened={open}
        formula={batch.formula}
        times={batch.factor ?? undefined}
        practice={batch.kind === 'practice'}
        onClose={() => setOpen(false)}
      />
    </>
  );
}
