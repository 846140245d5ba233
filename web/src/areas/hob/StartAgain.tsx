import { Button, Chip, Group, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import type { SheetReport, What } from '../../api/types';
import { figure } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { GrowingText } from '../../parts/GrowingText';
import { NumberField } from '../../parts/NumberField';
import classes from './hob.module.css';

const REASONS = ['Burnt', 'Split', 'The wrong sugar', 'Boiled over', 'Dropped', 'Lumpy', 'Crystallised'];

interface StartAgainProps {
  /** The batch it is of: what is typed is kept for it. */
  batch: string;
  sheet: SheetReport;
  enter: (what: What) => void;
  onClose: () => void;
}

/** Gives a batch up: why, how much there was of it, and what became of that. */
export function StartAgain({ batch, sheet, enter, onClose }: StartAgainProps) {
  const kept = useKept(`hob.${batch}.stop`, { reason: '' });
  const { reason } = kept.value;
  const setReason = (next: string) => kept.set({ reason: next });
  const [fate, setFate] = useState<string>('wasted');
  const there = Math.round(sheet.there_g);
  const [mass, setMass] = useState<number | null>(there > 0 ? there : null);
  const [wrong, setWrong] = useState(false);
  const why = reason.trim();
  const more = there > 0 && (mass ?? 0) > sheet.there_most_g;
  const stop = () => {
    const stage = sheet.now ?? sheet.steps[sheet.steps.length - 1]?.id ?? null;
    if (mass !== null && mass > 0)
      enter(
        fate === 'kept' && stage
          ? { kind: 'left_over', stage, mass_g: mass, fate: 'kept' }
          : { kind: 'wasted', mass_g: mass, reason: why, stage },
      );
    enter({ kind: 'closed', outcome: 'stopped', reason: why, again: true });
    kept.forget();
    onClose();
  };
  return (
    <section className={classes.panel} aria-label="Start again">
      <h2>Start again</h2>
      <Group gap={8} mb="xs">
        {REASONS.map((each) => (
          <Chip
            key={each}
            size="md"
            radius="md"
            variant="outline"
            checked={reason === each}
            onChange={() => setReason(each)}
          >
            {each}
          </Chip>
        ))}
      </Group>
      <GrowingText
        label="Why this batch is stopped"
        placeholder="burnt, split, the wrong sugar"
        minRows={2}
        maxLength={500}
        size="md"
        value={reason}
        onChange={(event) => setReason(event.currentTarget.value)}
      />
      <NumberField
        shown
        mt="sm"
        size="md"
        label="How much of it there is"
        description={
          there > 0
            ? `${figure(there)} g by what was entered so far; weigh it if you can`
            : 'Nothing is in yet by what was entered'
        }
        unit="g"
        low={0}
        high={1_000_000}
        value={mass}
        onNumber={setMass}
        onClear={() => setMass(null)}
        onWrong={setWrong}
        error={more ? `That is more than there is by what was entered, ${figure(there)} g. Weigh it again.` : undefined}
      />
      <SegmentedControl
        mt="sm"
        fullWidth
        size="lg"
        aria-label="What becomes of it"
        value={fate}
        onChange={setFate}
        data={[
          { value: 'wasted', label: 'Thrown away' },
          { value: 'kept', label: 'Kept for something else' },
        ]}
      />
      <Button mt="sm" h={56} color="red" variant="default" disabled={why === '' || wrong || more} onClick={stop}>
        Stop this batch
      </Button>
    </section>
  );
}
