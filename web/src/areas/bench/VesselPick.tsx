import { NativeSelect } from '@mantine/core';
import type { MethodDocument } from '../../api/types';
import { cakesBefore, type Edit, intoNewVessel, patchStage } from './edits';
import classes from './MethodCard.module.css';

interface VesselPickProps {
  /** The word before it: in, into, from. */
  word: string;
  label: string;
  stage: string;
  parameter: 'vessel' | 'into' | 'source';
  value: string;
  document: MethodDocument;
  /** Whether what a sieve or a press kept back may be chosen. */
  cakes?: boolean;
  readOnly: boolean;
  error?: string | undefined;
  onEdit: (of: string, edit: Edit) => void;
}

const NEW = ' new';

/** Which vessel a stage works on, pours into or takes from. */
export function VesselPick({
  word,
  label,
  stage,
  parameter,
  value,
  document,
  cakes = false,
  readOnly,
  error,
  onEdit,
}: VesselPickProps) {
  const of = `${stage}.${parameter}`;
  const kept = cakes ? cakesBefore(document, stage) : [];
  const known = [
    ...document.vessels.map((each) => ({ value: each.id, label: each.name || each.id })),
    ...kept.map((each) => ({ value: each.id, label: each.name })),
  ];
  return (
    <label className={classes.pick}>
      <span>{word}</span>
      <NativeSelect
        size="xs"
        variant="unstyled"
        classNames={{ input: classes.pickInput }}
        aria-label={label}
        value={value}
        disabled={readOnly}
        error={error}
        data={[
          ...(known.some((each) => each.value === value) ? [] : [{ value, label: value }]),
          ...known,
          { value: NEW, label: 'another vessel' },
        ]}
        onChange={(e) => {
          const chosen = e.currentTarget.value;
          onEdit(of, chosen === NEW ? intoNewVessel(stage, parameter) : patchStage(stage, { [parameter]: chosen }));
        }}
      />
    </label>
  );
}
