import { ActionIcon, Button, Group, Popover, TextInput, UnstyledButton } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { Link } from 'react-router';
import type { ProblemItem } from '../../api/problem';
import { substanceQuery } from '../../api/queries';
import type { Amount, Line, MadeHere, WalkReport } from '../../api/types';
import { figure } from '../../lib/format';
import { AmountField } from '../../parts/AmountField';
import { Facts } from '../pantry/Facts';
import { IngredientPick } from '../pantry/IngredientPick';
import { type Edit, moveLine, patchLine, removeLine, setAmount } from './edits';
import classes from './MethodCard.module.css';
import { NumberField } from '../../parts/NumberField';

interface LineRowProps {
  id: string;
  /** What the line is called on screen. */
  name: string;
  amount: Amount;
  /** The line itself; null for what another vessel brings. */
  line: Line | null;
  report: WalkReport | null;
  error: string | undefined;
  /** What of the amount was not understood. */
  unread?: ProblemItem | undefined;
  readOnly: boolean;
  /** Just added: its amount takes the focus. */
  fresh: boolean;
  onFocus: () => void;
  /** Enter in the amount: on to the next ingredient. */
  onDone: () => void;
  onEdit: (of: string, edit: Edit) => void;
  /** Asks what else could stand in its place. */
  onSwap?: ((line: string, name: string) => void) | undefined;
}

/** One ingredient, how much of it, and what that comes to. */
export function LineRow({
  id,
  name,
  amount,
  line,
  report,
  error,
  unread,
  readOnly,
  fresh,
  onFocus,
  onDone,
  onEdit,
  onSwap,
}: LineRowProps) {
  const walked = report?.lines.find((each) => each.id === id);
  const made = report?.made_here.find((each) => each.line === id);
  const text = typeof amount === 'string' ? amount : amount.kind === 'written' ? amount.text : (walked?.text ?? '');
  const share = walked?.share;
  const started = walked?.share_started;
  return (
    <div className={classes.line} onFocus={onFocus}>
      {line ? (
        <LineName line={line} name={name} made={made} readOnly={readOnly} onEdit={onEdit} onSwap={onSwap} />
      ) : (
        <span className={classes.lineName}>{name}</span>
      )}
      <AmountField
        of={name}
        text={text}
        mass_g={walked?.mass_g ?? null}
        low_g={walked?.low_g ?? null}
        high_g={walked?.high_g ?? null}
        understood={walked?.understood}
        tied={walked?.tied ?? false}
        error={error}
        errorAt={unread?.at}
        choices={unread?.choices}
        readOnly={readOnly}
        autoFocus={fresh}
        onType={(typed) => onEdit(`amount.${id}`, setAmount(id, typed))}
        onEnter={onDone}
      />
      <span
        className={classes.share}
        title={`of all that goes in${started == null ? '' : `; ${figure(100 * started, 1)} % against the starting mixture`}`}
      >
        {share !== null && share !== undefined && `${figure(100 * share, 1)} %`}
      </span>
      {!readOnly && line ? (
        <ActionIcon
          variant="subtle"
          color="gray"
          size={26}
          aria-label={`Remove ${name}`}
          onClick={() => onEdit(`remove.${id}`, removeLine(id))}
        >
          <IconX size={15} />
        </ActionIcon>
      ) : (
        <span />
      )}
    </div>
  );
}

interface LineNameProps {
  line: Line;
  name: string;
  made: MadeHere | undefined;
  readOnly: boolean;
  onEdit: LineRowProps['onEdit'];
  onSwap: LineRowProps['onSwap'];
}

/** The name of a line; it opens to what is known of the ingredient, and to changing it. */
function LineName({ line, name, made, readOnly, onEdit, onSwap }: LineNameProps) {
  const heading = useId();
  const [opened, setOpened] = useState(false);
  const substance = useQuery({ ...substanceQuery(line.substance), enabled: opened }).data;
  const patch = (parameter: string) => (value: unknown) =>
    onEdit(`${line.id}.${parameter}`, patchLine(line.id, { [parameter]: value }));
  return (
    <Popover
      opened={opened}
      onChange={setOpened}
      position="bottom-start"
      // The head of the stage stays whole above it.
      offset={20}
      width={330}
      trapFocus
      withRoles={false}
      shadow="md"
    >
      <Popover.Target>
        <UnstyledButton
          className={classes.lineName}
          aria-haspopup="dialog"
          aria-label={`About ${name}${made ? ` made here, version ${made.version}` : ''}`}
          onClick={() => setOpened(!opened)}
        >
          {name}
          {made && <span className={classes.made}> made here, version {made.version}</span>}
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown role="dialog" aria-labelledby={heading} className={classes.about}>
        <h3 id={heading} tabIndex={-1} data-autofocus>
          {substance?.document.title ?? name}
        </h3>
        {substance && <Facts substance={substance} />}
        {made && (
          <Button size="xs" variant="default" component={Link} to={`/formulas/${made.formula}`}>
            Open its formula
          </Button>
        )}
        {!readOnly && (
          <>
            <IngredientPick
              key={line.substance}
              size="xs"
              label="Ingredient"
              withinPortal={false}
              value={line.substance}
              title={substance?.document.title}
              onChoose={(hit) => patch('substance')(hit.id)}
            />
            {substance?.document.other_form && (
              <Button size="xs" variant="default" onClick={() => patch('substance')(substance.document.other_form)}>
                {substance.document.is_ground ? 'Take it whole' : 'Take it ground'}
              </Button>
            )}
            {onSwap && (
              <Button
                size="xs"
                variant="default"
                onClick={() => {
                  setOpened(false);
                  onSwap(line.id, name);
                }}
              >
                Swap it, with readings held
              </Button>
            )}
            <TextInput
              size="xs"
              label="Called here"
              placeholder={substance?.document.title}
              value={line.name ?? ''}
              onChange={(e) => patch('name')(e.currentTarget.value || null)}
            />
            <NumberField
              label="Goes in at"
              shown
              value={line.temperature_c ?? null}
              unit="°C"
              placeholder={substance?.document.storage === 'chilled' ? 'from the fridge' : 'at room temperature'}
              onNumber={patch('temperature_c')}
              onClear={() => patch('temperature_c')(null)}
            />
            <Group gap={6}>
              <Button size="xs" variant="default" onClick={() => onEdit('move', moveLine(line.id, -1))}>
                Earlier
              </Button>
              <Button size="xs" variant="default" onClick={() => onEdit('move', moveLine(line.id, 1))}>
                Later
              </Button>
            </Group>
          </>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}
