import { Button, Checkbox, Modal, Select } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, client } from '../../api/client';
import { keys, needsQuery, versionsQuery } from '../../api/queries';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { FormulaPick } from '../formulas/FormulaPick';
import { OwnProducts } from './OwnProducts';
import classes from './BatchesScreen.module.css';

interface StartDialogProps {
  opened: boolean;
  /** A formula that is chosen already. */
  formula?: string;
  /** How many times its version, to begin with. @default 1 */
  times?: number | undefined;
  /** Whether it is only practised, to begin with. @default false */
  practice?: boolean;
  onClose: () => void;
}

/** Chooses what to cook and how much of it. */
export function StartDialog({ opened, formula, times, practice = false, onClose }: StartDialogProps) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title="Start a batch"
      centered
      size={520}
      closeButtonProps={{ 'aria-label': 'Close without starting', size: 44 }}
    >
      {opened && <Start given={formula} asBefore={times ?? 1} asPractice={practice} />}
    </Modal>
  );
}

interface StartProps {
  given: string | undefined;
  asBefore: number;
  asPractice: boolean;
}

function Start({ given, asBefore, asPractice }: StartProps) {
  const [formula, setFormula] = useState<string | null>(given ?? null);
  const versions = useQuery({ ...versionsQuery(formula ?? ''), enabled: formula !== null });
  const [chosen, setChosen] = useState<string | null>(null);
  const [times, setTimes] = useState(asBefore);
  const [wrong, setWrong] = useState(false);
  const [practice, setPractice] = useState(asPractice);
  // Made once for this dialog: pressing twice, or a lost answer, starts one batch.
  const [id] = useState(() => crypto.randomUUID());
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const kept = versions.data?.versions ?? [];
  const version = chosen ?? (kept[0] ? String(kept[0].number) : null);
  const needs = useQuery({
    ...needsQuery(formula ?? '', Number(version), times),
    enabled: formula !== null && version !== null && !wrong,
  });
  // Nobody has to choose: what must be used first goes in.
  const [picked, setPicked] = useState<Record<string, string[]>>({});
  const taken = Object.fromEntries((needs.data ?? []).map((need) => [need.line, picked[need.line] ?? need.offered]));
  const start = useMutation({
    mutationFn: () => {
      const factor = times;
      const scale = factor === 1 ? null : { by: 'factor' as const, value: factor };
      const body = { id, formula: formula!, version: Number(version), scale, practice };
      const takes = Object.entries(taken).flatMap(([line, containers]) =>
        containers.length > 0 ? [{ line, containers }] : [],
      );
      return answer(
        takes.length > 0 && !practice
          ? client.POST('/api/v1/stock/batches', { body: { ...body, takes } })
          : client.POST('/api/v1/batches', { body }),
      );
    },
    onSuccess: (batch) => {
      void queryClient.invalidateQueries({ queryKey: keys.batchLists });
      void navigate(`/batches/${batch.id}`);
    },
  });
  const ready = formula !== null && version !== null && !wrong;
  return (
    <form
      className={classes.start}
      tabIndex={-1}
      data-autofocus={given !== undefined || undefined}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) start.mutate();
      }}
    >
      <FormulaPick
        label="Formula"
        size="lg"
        // With a formula chosen the list stays closed: what is below it is what is looked at.
        data-autofocus={given === undefined || undefined}
        value={formula}
        onPick={(next) => {
          setFormula(next);
          setChosen(null);
          setPicked({});
        }}
      />
      {versions.data && kept.length === 0 && (
        <Notice
          tone="look"
          text={`${versions.data.name} has no version yet. A batch is cooked from what was decided: a lead saves a version on the bench.`}
        />
      )}
      {kept.length > 0 && (
        <Select
          mt="md"
          label="Version"
          size="lg"
          allowDeselect={false}
          data={kept.map((each) => ({ value: String(each.number), label: `${each.number}: ${each.note}` }))}
          value={version}
          onChange={setChosen}
        />
      )}
      <NumberField
        shown
        mt="md"
        label="How many times as much"
        description="1 is as the version says, 1/2 half of it"
        size="lg"
        unit=""
        low={0.01}
        high={100}
        value={times}
        onNumber={setTimes}
        onWrong={setWrong}
      />
      {needs.data && needs.data.length > 0 && !practice && (
        <OwnProducts
          needs={needs.data}
          taken={taken}
          onTake={(line, containers) => setPicked((before) => ({ ...before, [line]: containers }))}
        />
      )}
      <Checkbox
        mt="md"
        size="lg"
        label="Only practise it"
        description="Nothing is cooked: no bottle is filled, and nothing of it counts."
        checked={practice}
        onChange={(event) => setPractice(event.currentTarget.checked)}
      />
      {start.isError && <Notice tone="stop" text={start.error.message} />}
      <Button type="submit" h={64} mt="md" fullWidth fz={18} disabled={!ready} loading={start.isPending}>
        {practice ? 'Start to practise' : 'Start'}
      </Button>
      <p className={classes.quiet}>The pots, scales and burners are those of this kitchen today.</p>
    </form>
  );
}
