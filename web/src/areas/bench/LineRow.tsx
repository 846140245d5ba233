import { ActionIcon, Button, Group, Popover, Select, TextInput, UnstyledButton } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useId } from 'react';
import type { ProblemItem } from '../../api/problem';
import type { Amount, Line, LineReport, Substance } from '../../api/types';
import { AmountField } from '../../parts/AmountField';
import { type Edit, moveLine, patchLine, removeLine, setAmount } from './edits';
import classes from './MethodCard.module.css';
import { NumberField } from './NumberField';

interface LineRowProps {
  id: string;
  /** What the line is called on screen. */
  name: string;
  amount: Amount;
  /** The line itself; null for what another vessel brings. */
  line: Line | null;
  substances: Substance[];
  walked: LineReport | undefined;
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
}

/** One ingredient, how much of it, and what that comes to. */
export function LineRow({ id, name, amount, line, substances, walked, error, unread, readOnly, fresh, onFocus, onDone, onEdit }: LineRowProps) {
  const text = typeof amount === 'string' ? amount : amount.kind === 'written' ? amount.text : (walked?.text ?? '');
  const share = walked?.share_started;
  return (
    <div className={classes.line} onFocus={onFocus}>
      {line ? <LineName line={line} name={name} substances={substances} readOnly={readOnly} onEdit={onEdit} /> : <span className={classes.lineName}>{name}</span>}
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
      <span className={classes.share} title="of the starting mixture">
        {share !== null && share !== undefined && `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`}
      </span>
      {!readOnly && line ? (
        <ActionIcon variant="subtle" color="gray" size={26} aria-label={`Remove ${name}`} onClick={() => onEdit(`remove.${id}`, removeLine(id))}>
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
  substances: Substance[];
  readOnly: boolean;
  onEdit: LineRowProps['onEdit'];
}

/** The name of a line; it opens to what is known of the ingredient, and to changing it. */
function LineName({ line, name, substances, readOnly, onEdit }: LineNameProps) {
  const heading = useId();
  const substance = substances.find((each) => each.id === line.substance);
  const patch = (parameter: string) => (value: unknown) => onEdit(`${line.id}.${parameter}`, patchLine(line.id, { [parameter]: value }));
  return (
    <Popover position="bottom-start" width={330} trapFocus withRoles={false} shadow="md">
      <Popover.Target>
        <UnstyledButton className={classes.lineName} aria-haspopup="dialog" aria-label={`About ${name}`}>
          {name}
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown role="dialog" aria-labelledby={heading} className={classes.about}>
        <h3 id={heading} tabIndex={-1} data-autofocus>{substance?.title ?? name}</h3>
        {substance && <Facts substance={substance} />}
        {!readOnly && (
          <>
            <Select
              size="xs"
              label="Ingredient"
              searchable
              allowDeselect={false}
              comboboxProps={{ withinPortal: false }}
              data={substances.map((each) => ({ value: each.id, label: each.title }))}
              value={line.substance}
              onChange={(value) => value && patch('substance')(value)}
            />
            {substance?.other_form && (
              <Button size="xs" variant="default" onClick={() => patch('substance')(substance.other_form)}>
                {substance.is_ground ? 'Take it whole' : 'Take it ground'}
              </Button>
            )}
            <TextInput size="xs" label="Called here" placeholder={substance?.title} value={line.name ?? ''} onChange={(e) => patch('name')(e.currentTarget.value || null)} />
            <NumberField label="Goes in at" shown value={line.temperature_c ?? null} unit="°C" placeholder={substance?.storage === 'chilled' ? 'from the fridge' : 'at room temperature'} onNumber={patch('temperature_c')} onClear={() => patch('temperature_c')(null)} />
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

const BASES = { table: 'Composition from a table', label: 'Composition from a label', estimate: 'Composition estimated' };

function Facts({ substance }: { substance: Substance }) {
  const most = Object.entries(substance.composition_g_per_100g)
    .sort(([, a], [, b]) => b - a)
    .slice(0, 4);
  return (
    <div className={classes.facts}>
      <p>
        In 100 g: {most.map(([component, grams]) => `${component.replace(/_/g, ' ')} ${grams < 10 ? grams.toFixed(1) : grams.toFixed(0)}`).join(', ')}. {substance.source ? `${BASES[substance.basis]}: ${substance.source}` : BASES[substance.basis]}.
      </p>
      <p>
        A spoon or cup holds {substance.density_g_ml} g/ml, ± {(100 * substance.density_spread).toFixed(0)} %.
      </p>
      {substance.pieces.length > 0 && (
        <p>
          {substance.pieces.map(({ word, grams, spread }) => `A ${word} weighs ${grams} g, ± ${(100 * spread).toFixed(0)} %`).join('. ')}.
        </p>
      )}
      {substance.allergens.length > 0 && (
        <p>
          Contains <strong>{substance.allergens.join(', ')}</strong>.
        </p>
      )}
      {substance.check_pack_for.length > 0 && <p>Check the pack for {substance.check_pack_for.join(', ')}.</p>}
      {substance.note && <p>{substance.note}</p>}
    </div>
  );
}
