import { ActionIcon, NativeSelect, TextInput } from '@mantine/core';
import { IconChevronDown, IconPlus } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useId, useRef, useState } from 'react';
import type { ApiProblem } from '../../api/problem';
import { titlesQuery } from '../../api/queries';
import type { Amount, Kitchen, Line, MethodDocument, Stage, Starters, WalkReport } from '../../api/types';
import { grams } from '../../lib/format';
import { AmountField } from '../../parts/AmountField';
import { Drawing } from '../../parts/Drawing';
import { GrowingText } from '../../parts/GrowingText';
import { AddLine } from './AddLine';
import { complaintAt } from './complaints';
import { addLine, type Edit, linesOf, newId, patchStage, setField, setVessel } from './edits';
import { LineRow } from './LineRow';
import { MEASURES } from '../site/measures';
import classes from './MethodCard.module.css';
import { StageFields } from './StageFields';
import { AddStage, StageMenu } from './StageMenu';
import { VesselPick } from './VesselPick';

const NONE: Record<string, string> = {};
/** More lines than this make a method long; a blend of more than a few is folded in it. */
const LONG = 7;
const FEW = 3;

interface MethodCardProps {
  document: MethodDocument;
  report: WalkReport | null;
  problem: ApiProblem | null;
  starters: Starters | undefined;
  kitchen: Kitchen | undefined;
  selected: string | null;
  readOnly: boolean;
  onSelect: (id: string) => void;
  onEdit: (of: string, edit: Edit) => void;
  onSwap: (line: string, name: string) => void;
}

/** The method: its stages in order, what goes in at each, and when each ends. */
export function MethodCard(props: MethodCardProps) {
  const { document, starters, readOnly, onEdit, kitchen } = props;
  const [fresh, setFresh] = useState<string | null>(null);
  // A long method fits the screen: what is prepared apart shows its lines when it is looked at.
  const [folds, setFolds] = useState<Record<string, boolean>>({});
  const long = document.stages.flatMap(linesOf).length > LONG;
  const folded = (stage: Stage) =>
    folds[stage.id] ?? (long && stage.kind === 'blend' && linesOf(stage).length > FEW && stage.id !== props.selected);
  const titles =
    useQuery(titlesQuery(document.stages.flatMap((stage) => linesOf(stage).map((line) => line.substance)))).data ??
    NONE;
  return (
    <div className={classes.root}>
      <ol className={classes.stages}>
        {document.stages.map((stage, i) => (
          <StageSection
            key={stage.id}
            {...props}
            stage={stage}
            first={i === 0}
            last={i === document.stages.length - 1}
            fresh={fresh}
            onFresh={setFresh}
            titles={titles}
            folded={folded(stage)}
            onFold={(to) => setFolds((before) => ({ ...before, [stage.id]: to }))}
          />
        ))}
      </ol>
      {document.stages.length === 0 && (
        <p className={classes.empty}>No stage yet. Add the first: what goes into the pot.</p>
      )}
      {!readOnly && starters && (
        <AddStage
          starters={starters}
          label="Add a stage"
          onEdit={(of, edit) => {
            onEdit(of, edit);
            // What was just added is looked at: its ingredients are next.
            const added = edit(document).stages.at(-1);
            if (added) props.onSelect(added.id);
          }}
        />
      )}
      <details className={classes.more}>
        <summary>Vessels, measures and notes</summary>
        <fieldset className={classes.vessels}>
          <legend>Vessels</legend>
          {document.vessels.map((vessel) => (
            <div key={vessel.id} className={classes.vessel}>
              <TextInput
                size="xs"
                aria-label={`Name of vessel ${vessel.name || vessel.id}`}
                value={vessel.name ?? ''}
                readOnly={readOnly}
                onChange={(e) => onEdit(`vessel.${vessel.id}`, setVessel(vessel.id, { name: e.currentTarget.value }))}
              />
              <NativeSelect
                size="xs"
                aria-label={`Pot for ${vessel.name || vessel.id}`}
                value={vessel.pot ?? ''}
                disabled={readOnly}
                data={[
                  { value: '', label: unnamedPot(vessel.id, document, kitchen) },
                  ...(kitchen?.pots ?? []).map((pot) => ({ value: pot.id, label: pot.name })),
                ]}
                onChange={(e) =>
                  onEdit(`vessel.${vessel.id}`, setVessel(vessel.id, { pot: e.currentTarget.value || null }))
                }
              />
            </div>
          ))}
        </fieldset>
        <NativeSelect
          size="xs"
          label="Cups, spoons and pints of this formula"
          value={document.measures ?? ''}
          disabled={readOnly}
          data={[
            {
              value: '',
              label: `as in this kitchen${kitchen ? `: ${MEASURES.find((each) => each.value === kitchen.measures)?.label}` : ''}`,
            },
            ...MEASURES,
          ]}
          onChange={(e) =>
            onEdit('measures', setField('measures', (e.currentTarget.value || null) as MethodDocument['measures']))
          }
        />
        {(!readOnly || document.notes) && (
          <GrowingText
            size="xs"
            label="Notes"
            minRows={2}
            className={classes.notes}
            value={document.notes}
            readOnly={readOnly}
            onChange={(e) => onEdit('notes', setField('notes', e.currentTarget.value))}
          />
        )}
      </details>
    </div>
  );
}

/** What a vessel without a named pot is taken for: the first pot where it is heated or cooled. */
function unnamedPot(vessel: string, document: MethodDocument, kitchen: Kitchen | undefined): string {
  const warmed = document.stages.some(
    (stage) => stage.vessel === vessel && ['heat', 'boil', 'cool'].includes(stage.kind),
  );
  const first = kitchen?.pots[0];
  return warmed ? `the first pot${first ? `, ${first.name}` : ''}` : 'not one of the pots';
}

interface StageSectionProps extends MethodCardProps {
  stage: Stage;
  first: boolean;
  last: boolean;
  fresh: string | null;
  onFresh: (line: string) => void;
  /** What the pantry calls each ingredient. */
  titles: Record<string, string>;
  folded: boolean;
  onFold: (to: boolean) => void;
}

function StageSection(props: StageSectionProps) {
  const {
    stage,
    document,
    report,
    problem,
    starters,
    readOnly,
    selected,
    onSelect,
    onEdit,
    onSwap,
    kitchen,
    first,
    last,
    fresh,
    onFresh,
    titles,
    onFold,
  } = props;
  const adder = useId();
  const [noting, setNoting] = useState(false);
  const walked = report?.stages.find((each) => each.id === stage.id);
  const title = stage.name ?? walked?.name ?? starters?.stages.find((s) => s.kind === stage.kind)?.title ?? stage.kind;
  const complaint = (parameter: string) => complaintAt(`stages.${stage.id}.${parameter}`, problem, report);
  const general = [...(problem?.items ?? []), ...(problem ? [] : (report?.faults ?? []))].find(
    (item) => item.field.startsWith(`stages.${stage.id}.`) && !SHOWN_AT_FIELDS.has(item.field.split('.')[2] ?? ''),
  );
  const rows = rowsOf(stage, document, report, titles);
  const errorOf = (row: Row) => complaintAt(`lines.${row.id}`, problem, report);
  const isSelected = stage.id === selected;
  const adding = useRef(false);
  useEffect(() => {
    if (!isSelected || !adding.current) return;
    adding.current = false;
    window.document.getElementById(adder)?.focus();
  }, [isSelected, adder]);
  // What is wrong in it is never folded away, nor what is being typed.
  const folded = props.folded && !rows.some((row) => errorOf(row) || fresh === row.id);
  return (
    <li
      className={classes.stage}
      id={`stage-${stage.id}`}
      data-selected={isSelected || undefined}
      onClick={() => !isSelected && onSelect(stage.id)}
    >
      <div className={classes.head} onFocus={() => onSelect(stage.id)}>
        <button
          type="button"
          className={classes.fold}
          aria-expanded={!folded}
          aria-label={`${folded ? 'Unfold' : 'Fold'} ${title}`}
          disabled={rows.length === 0}
          // Looking at a stage unfolds it: the press that does it must not fold it again.
          onFocus={(event) => event.stopPropagation()}
          onClick={(event) => {
            event.stopPropagation();
            onFold(!folded);
          }}
        >
          {rows.length > 0 && <IconChevronDown size={15} aria-hidden="true" data-folded={folded || undefined} />}
          <Drawing of={{ stage: stage.kind }} size={18} />
        </button>
        <StageName stage={stage} title={title} readOnly={readOnly} onEdit={onEdit} />
        <StageVessels
          stage={stage}
          title={title}
          document={document}
          readOnly={readOnly}
          complaint={complaint}
          always={isSelected}
          onEdit={onEdit}
        />
        <StageFields
          stage={stage}
          report={walked}
          kitchen={kitchen}
          readOnly={readOnly}
          complaint={complaint}
          onEdit={onEdit}
        />
        {!readOnly && 'lines' in stage && !isSelected && (
          <ActionIcon
            variant="subtle"
            color="gray"
            size={26}
            aria-label={`Add to ${title}`}
            title="Add an ingredient"
            onFocus={(event) => event.stopPropagation()}
            onClick={() => {
              onFold(false);
              onSelect(stage.id);
              adding.current = true;
            }}
          >
            <IconPlus size={15} />
          </ActionIcon>
        )}
        {!readOnly && starters && (
          <StageMenu
            stage={stage}
            title={title}
            starters={starters}
            first={first}
            last={last}
            onNote={() => setNoting(true)}
            onEdit={onEdit}
          />
        )}
      </div>
      {general && (
        <p className={classes.wrong} role="alert">
          {general.message} {general.remedy}
        </p>
      )}
      {folded && <p className={classes.folded}>{rows.map((row) => foldedText(row, report)).join(', ')}</p>}
      {!folded &&
        rows.map((row) => (
          <LineRow
            key={row.id}
            {...row}
            report={report}
            error={errorOf(row)}
            unread={problem?.itemFor(`lines.${row.id}`)}
            readOnly={readOnly}
            fresh={fresh === row.id}
            onFocus={() => onSelect(stage.id)}
            onDone={() => window.document.getElementById(adder)?.focus()}
            onEdit={onEdit}
            onSwap={onSwap}
          />
        ))}
      {!folded && 'lines' in stage && (stage.kind === 'blend' || stage.total) && (
        <div className={classes.line}>
          <span className={classes.lineName}>Total</span>
          <AmountField
            of={`${title}, total`}
            text={totalText(stage.total, walked?.blend?.total_text)}
            mass_g={walked?.blend?.total_g ?? null}
            error={complaint('total')}
            errorAt={problem?.itemFor(`stages.${stage.id}.total`)?.at}
            choices={problem?.itemFor(`stages.${stage.id}.total`)?.choices}
            placeholder="for lines in parts or %: 25 g"
            readOnly={readOnly}
            onType={(typed) =>
              onEdit(`${stage.id}.total`, patchStage(stage.id, { total: typed.trim() === '' ? null : typed }))
            }
          />
        </div>
      )}
      {!readOnly && !folded && isSelected && 'lines' in stage && (
        <AddLine
          title={title}
          id={adder}
          onChoose={(substance, amount) => {
            const id = newId(document, 'line');
            if (!amount) onFresh(id);
            onEdit(`add.${id}`, addLine(stage.id, { id, substance, amount }));
          }}
        />
      )}
      {(stage.note || noting) && (
        <GrowingText
          size="xs"
          aria-label={`Note on ${title}`}
          placeholder="A note for whoever cooks it"
          value={stage.note}
          readOnly={readOnly}
          autoFocus={noting}
          onChange={(e) => onEdit(`${stage.id}.note`, patchStage(stage.id, { note: e.currentTarget.value }))}
        />
      )}
    </li>
  );
}

/** Parameters whose complaints stand at their own field. */
const SHOWN_AT_FIELDS = new Set([
  'to_c',
  'until',
  'brix',
  'mass_g',
  'temperature_c',
  'minutes',
  'off_g',
  'yield_fraction',
  'yield_low',
  'yield_high',
  'loss_fraction',
  'coarse_fraction',
  'total',
  'size_ml',
  'source',
  'for_min',
  'at_c',
  'seconds',
  'holds_ml',
]);

/** What a stage makes in total, as typed or as understood. */
function totalText(total: Amount | null | undefined, understood: string | null | undefined): string {
  if (!total) return '';
  if (typeof total === 'string') return total;
  return total.kind === 'written' ? total.text : (understood ?? '');
}

interface Row {
  id: string;
  name: string;
  amount: Amount;
  line: Line | null;
}

/** The lines of a stage, or what another vessel brings. */
function rowsOf(
  stage: Stage,
  document: MethodDocument,
  report: WalkReport | null,
  titles: Record<string, string>,
): Row[] {
  // The walk may know what an ingredient is called before the pantry is here.
  const walked = (id: string) => report?.lines.find((each) => each.id === id)?.title;
  if (stage.kind === 'join') {
    return [
      {
        id: stage.id,
        name: document.vessels.find((v) => v.id === stage.source)?.name ?? stage.source,
        amount: stage.amount,
        line: null,
      },
    ];
  }
  return linesOf(stage).map((line) => ({
    id: line.id,
    name: line.name ?? titles[line.substance] ?? walked(line.id) ?? line.substance,
    amount: line.amount,
    line,
  }));
}

/** A line of a folded stage: “mace 3.44 g”. */
function foldedText(row: Row, report: WalkReport | null): string {
  const mass_g = report?.lines.find((each) => each.id === row.id)?.mass_g;
  const name = row.name.split(',')[0]!.toLowerCase();
  return mass_g == null ? name : `${name} ${grams(mass_g)} g`;
}

interface StageVesselsProps {
  stage: Stage;
  title: string;
  document: MethodDocument;
  readOnly: boolean;
  complaint: (parameter: string) => string | undefined;
  /** Whether it is named though the stage before was in it too. */
  always: boolean;
  onEdit: MethodCardProps['onEdit'];
}

/** The vessels of a stage, as the middle of a sentence: “Strain Wide pot into Jug”. */
function StageVessels({ stage, title, document, readOnly, complaint, always, onEdit }: StageVesselsProps) {
  if (document.vessels.length < 2) return null;
  const shared = { stage: stage.id, document, readOnly, onEdit };
  switch (stage.kind) {
    case 'strain':
    case 'press':
    case 'fill':
      return (
        <>
          {(always || !inSameVessel(document, stage)) && (
            <VesselPick
              {...shared}
              word=""
              label={`Vessel of ${title}`}
              parameter="vessel"
              value={stage.vessel}
              cakes={stage.kind !== 'fill'}
            />
          )}
          <VesselPick {...shared} word="into" label={`${title} goes into`} parameter="into" value={stage.into} />
        </>
      );
    case 'join':
      return (
        <>
          <VesselPick
            {...shared}
            word="from"
            label={`Source of ${title}`}
            parameter="source"
            value={stage.source}
            cakes
            error={complaint('source')}
          />
          <VesselPick {...shared} word="into" label={`Vessel of ${title}`} parameter="vessel" value={stage.vessel} />
        </>
      );
    default:
      // What follows in the same vessel says nothing new; it is named where it can be changed.
      if (!always && inSameVessel(document, stage)) return null;
      return <VesselPick {...shared} word="in" label={`Vessel of ${title}`} parameter="vessel" value={stage.vessel} />;
  }
}

/** Whether the nearest stage before it that is in a vessel of its own list is in the same one. */
function inSameVessel(document: MethodDocument, stage: Stage): boolean {
  const i = document.stages.findIndex((each) => each.id === stage.id);
  const before = document.stages.slice(0, i).filter((each) => each.kind !== 'blend');
  const last = before[before.length - 1];
  return stage.kind !== 'blend' && last !== undefined && ('into' in last ? last.into : last.vessel) === stage.vessel;
}

/** The stage's name, which can be typed over. */
function StageName({
  stage,
  title,
  readOnly,
  onEdit,
}: {
  stage: Stage;
  title: string;
  readOnly: boolean;
  onEdit: MethodCardProps['onEdit'];
}) {
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
