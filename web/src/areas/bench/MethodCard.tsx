import { ActionIcon, Button, Menu, NativeSelect, Select, TextInput } from '@mantine/core';
import { IconDots, IconPlus, IconX } from '@tabler/icons-react';
import { useState } from 'react';
import type { ApiProblem } from '../../api/problem';
import type { Kitchen, LineReport, MethodDocument, Stage, Starters, Substance, WalkReport } from '../../api/types';
import { AmountField } from '../../parts/AmountField';
import { complaintAt } from './complaints';
import { addLine, type Edit, insertStage, linesOf, moveStage, newId, patchStage, removeLine, removeStage, setAmount, setVessel } from './edits';
import classes from './MethodCard.module.css';
import { StageFields } from './StageFields';

interface MethodCardProps {
  document: MethodDocument;
  report: WalkReport | null;
  problem: ApiProblem | null;
  substances: Substance[];
  starters: Starters | undefined;
  kitchen: Kitchen | undefined;
  selected: string | null;
  readOnly: boolean;
  onSelect: (id: string) => void;
  onEdit: (of: string, edit: Edit) => void;
}

/** The method: its stages in order, what goes in at each, and when each ends. */
export function MethodCard(props: MethodCardProps) {
  const { document, starters, readOnly, onEdit, kitchen } = props;
  const [fresh, setFresh] = useState<string | null>(null);
  return (
    <div className={classes.root}>
      <ol className={classes.stages}>
        {document.stages.map((stage, i) => (
          <StageSection key={stage.id} {...props} stage={stage} first={i === 0} last={i === document.stages.length - 1} fresh={fresh} onFresh={setFresh} />
        ))}
      </ol>
      {document.stages.length === 0 && <p className={classes.empty}>No stage yet. Add the first: what goes into the pot.</p>}
      {!readOnly && starters && <AddStage starters={starters} after={null} onEdit={onEdit} label="Add a stage" />}
      <fieldset className={classes.vessels}>
        <legend>Vessels</legend>
        {document.vessels.map((vessel) => (
          <div key={vessel.id} className={classes.vessel}>
            <TextInput size="xs" aria-label={`Name of vessel ${vessel.name || vessel.id}`} value={vessel.name ?? ''} readOnly={readOnly} onChange={(e) => onEdit(`vessel.${vessel.id}`, setVessel(vessel.id, { name: e.currentTarget.value }))} />
            <NativeSelect
              size="xs"
              aria-label={`Pot for ${vessel.name || vessel.id}`}
              value={vessel.pot ?? ''}
              disabled={readOnly}
              data={[{ value: '', label: 'no pot of ours' }, ...(kitchen?.pots ?? []).map((pot) => ({ value: pot.id, label: pot.name }))]}
              onChange={(e) => onEdit(`vessel.${vessel.id}`, setVessel(vessel.id, { pot: e.currentTarget.value || null }))}
            />
          </div>
        ))}
      </fieldset>
    </div>
  );
}

interface StageSectionProps extends MethodCardProps {
  stage: Stage;
  first: boolean;
  last: boolean;
  fresh: string | null;
  onFresh: (line: string) => void;
}

function StageSection(props: StageSectionProps) {
  const { stage, document, report, problem, substances, starters, readOnly, selected, onSelect, onEdit, kitchen, fresh, onFresh } = props;
  const walked = report?.stages.find((each) => each.id === stage.id);
  const title = stage.name ?? walked?.name ?? starters?.stages.find((s) => s.kind === stage.kind)?.title ?? stage.kind;
  const complaint = (parameter: string) => complaintAt(`stages.${stage.id}.${parameter}`, problem, report);
  const shown = new Set(['to_c', 'until', 'brix', 'mass_g', 'temperature_c', 'minutes', 'off_g', 'yield_fraction', 'loss_fraction', 'size_ml', 'source']);
  const general = [...(problem?.items ?? []), ...(problem ? [] : (report?.faults ?? []))].find(
    (item) => item.field.startsWith(`stages.${stage.id}.`) && !shown.has(item.field.split('.')[2] ?? ''),
  );
  const items = 'lines' in stage ? linesOf(stage).map((line) => ({ id: line.id, name: line.name ?? substances.find((s) => s.id === line.substance)?.title ?? line.substance, amount: line.amount })) : stage.kind === 'join' ? [{ id: stage.id, name: document.vessels.find((v) => v.id === stage.source)?.name ?? stage.source, amount: stage.amount }] : [];
  return (
    <li className={classes.stage} id={`stage-${stage.id}`} data-selected={stage.id === selected || undefined}>
      <div className={classes.head} onFocus={() => onSelect(stage.id)}>
        <StageName stage={stage} title={title} readOnly={readOnly} onEdit={onEdit} />
        <StageFields stage={stage} report={walked} document={document} kitchen={kitchen} readOnly={readOnly} complaint={complaint} onEdit={onEdit} />
        {!readOnly && starters && <StageMenu {...props} title={title} />}
      </div>
      {general && (
        <p className={classes.wrong} role="alert">
          {general.message} {general.remedy}
        </p>
      )}
      {items.map((item) => (
        <LineRow
          key={item.id}
          id={item.id}
          name={item.name}
          amount={item.amount}
          walked={report?.lines.find((each) => each.id === item.id)}
          error={complaintAt(`lines.${item.id}`, problem, report)}
          readOnly={readOnly}
          fresh={fresh === item.id}
          removable={stage.kind !== 'join'}
          onFocus={() => onSelect(stage.id)}
          onEdit={onEdit}
        />
      ))}
      {!readOnly && 'lines' in stage && (
        <AddLine
          title={title}
          substances={substances}
          onChoose={(substance) => {
            const id = newId(document, 'line');
            onFresh(id);
            onEdit(`add.${id}`, addLine(stage.id, { id, substance, amount: '' }));
          }}
        />
      )}
    </li>
  );
}

/** The stage's name, which can be typed over. */
function StageName({ stage, title, readOnly, onEdit }: { stage: Stage; title: string; readOnly: boolean; onEdit: MethodCardProps['onEdit'] }) {
  return (
    <input
      className={classes.name}
      aria-label={`Name of stage ${title}`}
      value={stage.name ?? title}
      readOnly={readOnly}
      size={Math.max(5, (stage.name ?? title).length)}
      onChange={(e) => onEdit(`${stage.id}.name`, patchStage(stage.id, { name: e.currentTarget.value || null }))}
    />
  );
}

interface LineRowProps {
  id: string;
  name: string;
  amount: LineReport['amount'] | string;
  walked: LineReport | undefined;
  error: string | undefined;
  readOnly: boolean;
  fresh: boolean;
  removable: boolean;
  onFocus: () => void;
  onEdit: MethodCardProps['onEdit'];
}

function LineRow({ id, name, amount, walked, error, readOnly, fresh, removable, onFocus, onEdit }: LineRowProps) {
  const text = typeof amount === 'string' ? amount : (walked?.text ?? (amount.kind === 'written' ? amount.text : ''));
  return (
    <div className={classes.line} onFocus={onFocus}>
      <span className={classes.lineName}>{name}</span>
      <AmountField
        of={name}
        text={text}
        mass_g={walked?.mass_g ?? null}
        low_g={walked?.low_g ?? null}
        high_g={walked?.high_g ?? null}
        understood={walked?.understood}
        tied={walked?.tied ?? false}
        error={error}
        readOnly={readOnly}
        autoFocus={fresh}
        onType={(typed) => onEdit(`amount.${id}`, setAmount(id, typed))}
      />
      {!readOnly && removable ? (
        <ActionIcon variant="subtle" color="gray" size={26} aria-label={`Remove ${name}`} onClick={() => onEdit(`remove.${id}`, removeLine(id))}>
          <IconX size={15} />
        </ActionIcon>
      ) : (
        <span />
      )}
    </div>
  );
}

function AddLine({ title, substances, onChoose }: { title: string; substances: Substance[]; onChoose: (substance: string) => void }) {
  const [words, setWords] = useState('');
  return (
    <Select
      size="xs"
      className={classes.addLine}
      aria-label={`Add an ingredient to ${title}`}
      placeholder="+ add an ingredient"
      searchable
      selectFirstOptionOnChange
      nothingFoundMessage="Nothing in the pantry by that name."
      data={substances.map((s) => ({ value: s.id, label: s.title }))}
      filter={({ options, search }) => {
        const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
        return options.filter((option) => {
          if (!('value' in option)) return false;
          const substance = substances.find((s) => s.id === option.value);
          const words = [option.label, ...(substance?.also_called ?? [])].join(' ').toLowerCase().split(/[\s,]+/);
          return wanted.every((word) => words.some((each) => each.startsWith(word)));
        });
      }}
      searchValue={words}
      onSearchChange={setWords}
      value={null}
      onChange={(value) => {
        if (value) {
          onChoose(value);
          setWords('');
        }
      }}
      limit={40}
      maxDropdownHeight={260}
    />
  );
}

function AddStage({ starters, after, onEdit, label }: { starters: Starters; after: string | null; onEdit: MethodCardProps['onEdit']; label: string }) {
  return (
    <Menu position="bottom-start" width={330}>
      <Menu.Target>
        <Button variant="subtle" size="xs" leftSection={<IconPlus size={15} />}>
          {label}
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {starters.stages.map((starter) => (
          <Menu.Item key={starter.kind} onClick={() => onEdit(`stage.${Date.now()}`, insertStage(starter, after))}>
            <strong>{starter.title}</strong> <span className={classes.dim}>{starter.words}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

function StageMenu({ stage, starters, first, last, title, onEdit }: StageSectionProps & { title: string }) {
  return (
    <Menu position="bottom-end" width={300}>
      <Menu.Target>
        <ActionIcon variant="subtle" color="gray" size={28} aria-label={`More for stage ${title}`} className={classes.more}>
          <IconDots size={17} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item disabled={first} onClick={() => onEdit('move', moveStage(stage.id, -1))}>
          Move earlier
        </Menu.Item>
        <Menu.Item disabled={last} onClick={() => onEdit('move', moveStage(stage.id, 1))}>
          Move later
        </Menu.Item>
        <Menu.Item color="red" onClick={() => onEdit('remove', removeStage(stage.id))}>
          Remove this stage
        </Menu.Item>
        <Menu.Label>Put behind it</Menu.Label>
        {starters?.stages.map((starter) => (
          <Menu.Item key={starter.kind} onClick={() => onEdit(`stage.${Date.now()}`, insertStage(starter, stage.id))}>
            {starter.title} <span className={classes.dim}>{starter.words}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
