import { Button, NumberInput, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { substancesQuery } from '../../api/queries';
import type { SheetReport, What } from '../../api/types';
import classes from './hob.module.css';

/** Something else went in than the formula says, or it was stronger or weaker. */
export function WentIn({ sheet, enter, onClose }: { sheet: SheetReport; enter: (what: What) => void; onClose: () => void }) {
  const substances = useQuery(substancesQuery);
  const [line, setLine] = useState<string | null>(null);
  const [substance, setSubstance] = useState<string | null>(null);
  const [brix, setBrix] = useState<number | string>('');
  const lines = sheet.steps.flatMap((step) => step.lines.map((each) => ({ value: each.id, label: each.title, stage: step.id })));
  const chosen = lines.find((each) => each.value === line);
  return (
    <section className={classes.panel} aria-label="What really went in">
      <h2>What really went in</h2>
      <Select size="md" label="Of these" data={lines} value={line} onChange={setLine} />
      {chosen && (
        <>
          <Select mt="sm" size="md" searchable label="Something else went in" data={(substances.data ?? []).map((each) => ({ value: each.id, label: each.title }))} value={substance} onChange={setSubstance} nothingFoundMessage="The pantry has nothing of that name." />
          <Button
            mt="xs"
            h={52}
            variant="default"
            fullWidth
            disabled={!substance}
            onClick={() => {
              enter({ kind: 'swapped', line: chosen.value, substance });
              onClose();
            }}
          >
            That went in
          </Button>
          <NumberInput mt="sm" size="md" label="A drop of it on the refractometer, at 20 °C" suffix=" °Bx" min={0} max={95} value={brix} onChange={setBrix} hideControls />
          <Button
            mt="xs"
            h={52}
            variant="default"
            fullWidth
            disabled={!(Number(brix) > 0)}
            onClick={() => {
              enter({ kind: 'refracted', stage: chosen.stage, line: chosen.value, reading_brix: Number(brix), sample_c: 20, corrects_itself: false });
              onClose();
            }}
          >
            Reckon with that
          </Button>
        </>
      )}
    </section>
  );
}
