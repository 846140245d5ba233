import { Button, Select } from '@mantine/core';
import { useState } from 'react';
import type { Hit, SheetReport, What } from '../../api/types';
import { IngredientPick } from '../pantry/IngredientPick';
import { NumberField } from '../../parts/NumberField';
import classes from './hob.module.css';

/** Something else went in than the formula says, or it was stronger or weaker. */
export function WentIn({
  sheet,
  enter,
  onClose,
}: {
  sheet: SheetReport;
  enter: (what: What) => void;
  onClose: () => void;
}) {
  const [line, setLine] = useState<string | null>(null);
  const [substance, setSubstance] = useState<Hit | null>(null);
  const [brix, setBrix] = useState<number | null>(null);
  const [wrong, setWrong] = useState(false);
  const lines = sheet.steps.flatMap((step) =>
    step.lines.map((each) => ({ value: each.id, label: each.title, stage: step.id })),
  );
  const chosen = lines.find((each) => each.value === line);
  return (
    <section className={classes.panel} aria-label="What really went in">
      <h2>What really went in</h2>
      <Select size="md" label="Of these" data={lines} value={line} onChange={setLine} />
      {chosen && (
        <>
          <IngredientPick
            size="md"
            label="Something else went in"
            value={substance?.id ?? null}
            title={substance?.title}
            onChoose={setSubstance}
          />
          <Button
            mt="xs"
            h={52}
            variant="default"
            fullWidth
            disabled={!substance}
            onClick={() => {
              enter({ kind: 'swapped', line: chosen.value, substance: substance?.id });
              onClose();
            }}
          >
            That went in
          </Button>
          <NumberField
            shown
            mt="sm"
            size="md"
            label="A drop of it on the refractometer, at 20 °C"
            unit="°Bx"
            low={0}
            high={95}
            value={brix}
            onNumber={setBrix}
            onClear={() => setBrix(null)}
            onWrong={setWrong}
          />
          <Button
            mt="xs"
            h={52}
            variant="default"
            fullWidth
            disabled={wrong || !(brix !== null && brix > 0)}
            onClick={() => {
              enter({
                kind: 'refracted',
                stage: chosen.stage,
                line: chosen.value,
                reading_brix: brix!,
                sample_c: 20,
                corrects_itself: false,
              });
              onClose();
            }}
          >
            Use this value
          </Button>
        </>
      )}
    </section>
  );
}
