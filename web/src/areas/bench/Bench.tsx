import { Button, TextInput, Tooltip } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { answer, client } from '../../api/client';
import { formulaQuery, keys, kitchenQuery, startersQuery } from '../../api/queries';
import type { FormulaOut, MethodDocument, VersionCard, WalkReport } from '../../api/types';
import { useMay, usePerson } from '../../app/person';
import { type Shortcut, useShortcutHelp } from '../../app/shortcuts';
import { Card } from '../../parts/Card';
import { keepDraft, keptDraft } from '../../lib/keptDrafts';
import { Jug } from '../../parts/Jug';
import { Notice } from '../../parts/Notice';
import { StageRibbon } from '../../parts/StageRibbon';
import { SweetLine } from '../../parts/SweetLine';
import { BenchOverlays, type Overlay, SavedByAnother } from './BenchOverlays';
import classes from './BenchScreen.module.css';
import { generalComplaints } from './complaints';
import { setField } from './edits';
import { FormulaMenu } from './FormulaMenu';
import { KeepingCard } from './KeepingCard';
import { MethodCard } from './MethodCard';
import { NewerVersions } from './NewerVersions';
import { Readings } from './Readings';
import { StageCard } from './StageCard';
import { type DraftOf, useDraft } from '../../lib/useDraft';
import { useWalk } from './useWalk';
import { Verdicts } from './Verdicts';

const SHORTCUTS: Shortcut[] = [
  { keys: 'Ctrl+S', does: 'Save the draft' },
  { keys: 'Enter', does: 'On a stage of the ribbon: to its first figure' },
  { keys: 'Enter', does: 'In an amount: to the next ingredient' },
  { keys: 'Ctrl+Z', does: 'Undo' },
  { keys: 'Ctrl+Shift+Z', does: 'Redo' },
];

interface BenchProps {
  id: string;
  start: MethodDocument;
  saved: MethodDocument | null;
  base: number;
}

/** Everything about one formula on one screen, all of it read off one walk. */
export function Bench({ id, start, saved, base }: BenchProps) {
  const { username } = usePerson();
  const [kept] = useState(() => keptDraft(username, id));
  const draft = useDraft('formula', username, id, kept?.document ?? start, saved, kept?.base ?? base);
  const [restored, setRestored] = useState(kept !== null);
  const { document } = draft;
  const { report, problem, stale } = useWalk(document);
  const readOnly = !useMay('edit_formulas');
  const starters = useQuery(startersQuery).data;
  const kitchen = useQuery(kitchenQuery).data?.kitchen;
  const [chosen, setChosen] = useState<string | null>(null);
  const selected =
    chosen ??
    report?.stages.find((stage) => stage.kind === 'boil')?.id ??
    report?.stages[report.stages.length - 1]?.id ??
    document.stages[document.stages.length - 1]?.id ??
    null;
  const [refused, setRefused] = useState<string | null>(null);
  const [held, setHeld] = useState<string[]>([]);
  const [taken, setTaken] = useState<{ title: string; document: MethodDocument } | null>(null);
  const [version, setVersion] = useState<VersionCard | null>(null);
  const benchmark = useSearchParams()[0].get('aim');
  const [overlay, setOverlay] = useState<Overlay | null>(benchmark === null ? null : { over: 'aim' });
  const mayCook = useMay('cook');
  const save = useSave(username, id, draft);
  const cooked = useQuery({ ...formulaQuery(id), enabled: saved !== null }).data?.cooked;
  useShortcutHelp(SHORTCUTS);
  useHotkeys(
    [
      ['mod+S', () => !readOnly && save.now(draft.base)],
      ['mod+Z', draft.undo],
      ['mod+shift+Z', draft.redo],
      ['mod+Y', draft.redo],
    ],
    [],
  );
  const stage = report?.stages.find((each) => each.id === selected);
  // A method without stages needs no complaint: the empty method says what to do first.
  const general = document.stages.length > 0 ? generalComplaints(problem) : [];
  const wrong = problem ? problem.items.length - general.length : (report?.faults.length ?? 0);
  const saveWrong = (save.error && save.error.status !== 409 ? save.error.message : undefined) ?? refused;
  return (
    <div className={classes.bench}>
      <header className={classes.head}>
        <h1 className={classes.title}>
          <input
            className={classes.name}
            aria-label="Formula name"
            placeholder="Name this formula"
            autoFocus={base === 0 && start.name === ''}
            value={document.name}
            readOnly={readOnly}
            onChange={(e) => draft.edit('name', setField('name', e.currentTarget.value))}
          />
        </h1>
        <TextInput
          size="xs"
          variant="unstyled"
          className={classes.chip}
          aria-label="Family"
          placeholder="family"
          value={document.family}
          readOnly={readOnly}
          onChange={(e) => draft.edit('family', setField('family', e.currentTarget.value))}
        />
        <TextInput
          size="xs"
          variant="unstyled"
          className={classes.chip}
          aria-label="School"
          placeholder="school"
          value={document.school}
          readOnly={readOnly}
          onChange={(e) => draft.edit('school', setField('school', e.currentTarget.value))}
        />
        <div className={classes.actions}>
          <span role="status" className={classes.state}>
            {save.pending
              ? 'saving'
              : draft.changed
                ? 'not saved yet'
                : draft.base > 0
                  ? `draft ${draft.base}, saved`
                  : 'new'}
          </span>
          <Tooltip label="Undo (Ctrl+Z)">
            <Button variant="default" px={10} aria-label="Undo" disabled={draft.undos === 0} onClick={draft.undo}>
              <IconArrowBackUp size={18} aria-hidden="true" />
            </Button>
          </Tooltip>
          <Tooltip label="Redo (Ctrl+Shift+Z)">
            <Button variant="default" px={10} aria-label="Redo" disabled={draft.redos === 0} onClick={draft.redo}>
              <IconArrowForwardUp size={18} aria-hidden="true" />
            </Button>
          </Tooltip>
          <Button variant="default" disabled={!report} onClick={() => setOverlay({ over: 'scale' })}>
            Scale
          </Button>
          <Button variant="default" disabled={!report} onClick={() => setOverlay({ over: 'drink' })}>
            In a drink
          </Button>
          {!readOnly && (
            <Button
              onClick={() => save.now(draft.base)}
              loading={save.pending}
              disabled={!draft.changed && draft.base > 0}
            >
              Save
            </Button>
          )}
          {mayCook && draft.base > 0 && (
            <Button variant="default" onClick={() => setOverlay({ over: 'start' })}>
              {cooked ? 'Cook again' : 'Start a batch'}
            </Button>
          )}
          <FormulaMenu
            id={id}
            family={report?.family?.id ?? null}
            document={document}
            kitchen={kitchen}
            kept={draft.base > 0}
            readOnly={readOnly}
            onProblem={setRefused}
            onVersion={() => setOverlay({ over: 'version' })}
            onUsed={() => setOverlay({ over: 'used' })}
            onCost={report ? () => setOverlay({ over: 'cost' }) : undefined}
            onAim={report ? () => setOverlay({ over: 'aim' }) : undefined}
          />
        </div>
      </header>
      {restored && draft.changed && (
        <Notice tone="look" text="Your unsaved changes are back.">
          <Button
            size="xs"
            variant="default"
            onClick={() => {
              setRestored(false);
              keepDraft(username, id, null);
              draft.take(start, base);
            }}
          >
            Discard changes
          </Button>
        </Notice>
      )}
      {taken && taken.document === document && (
        <Notice tone="fine" text={`Applied: ${taken.title}.`}>
          <Button size="xs" variant="default" onClick={draft.undo}>
            Undo
          </Button>
        </Notice>
      )}
      {version && version.draft === draft.base && !draft.changed && (
        <Notice tone="fine" text={`Saved as version ${version.number}.`}>
          <Button size="xs" variant="default" component={Link} to={`/formulas/${id}/versions`}>
            Versions, side by side
          </Button>
        </Notice>
      )}
      <NewerVersions made={report?.made_here ?? []} onLook={(made) => setOverlay({ over: 'newer', made })} />
      {saveWrong && <Notice tone="stop" text={saveWrong} />}
      {general.map((text) => (
        <Notice key={text} tone="look" text={text} />
      ))}
      <Verdicts report={report} stale={stale} jug={<JugOf report={report} size="small" />} />
      <Card className={classes.ribbon}>
        {report ? (
          <StageRibbon
            stages={report.stages}
            selected={selected}
            onSelect={(to, byKeyboard) => select(to, byKeyboard, setChosen)}
          />
        ) : (
          <p className={classes.quiet}>The stages appear here with the first ingredient.</p>
        )}
      </Card>
      <div className={classes.columns}>
        <Card
          title="Method"
          aside={wrong > 0 ? <ToComplaint count={wrong} /> : 'what goes in, and when each stage ends'}
          className={classes.method}
        >
          <MethodCard
            document={document}
            report={report}
            problem={problem}
            starters={starters}
            kitchen={kitchen}
            selected={selected}
            readOnly={readOnly}
            onSelect={setChosen}
            onEdit={draft.edit}
            onSwap={(line, name) => setOverlay({ over: 'substitute', swapping: { line, name } })}
          />
        </Card>
        <Card
          title="Readings"
          aside={
            !report
              ? undefined
              : stale && problem
                ? 'of the last method without a problem'
                : 'type over one for ways to get there'
          }
          className={classes.readingsCard}
        >
          {report ? (
            <Readings
              report={report}
              held={held}
              onHold={(id) => setHeld(held.includes(id) ? held.filter((each) => each !== id) : [...held, id])}
              onAsk={(asked) => setOverlay({ over: 'ways', asked })}
            />
          ) : (
            <p className={classes.first}>Readings appear with the first ingredient.</p>
          )}
        </Card>
        {report && stage && (
          <div className={classes.stage}>
            <StageCard
              stage={stage}
              document={document}
              onHolds={() => setOverlay({ over: 'holds', stage: stage.id })}
            />
          </div>
        )}
        {report && (
          <div className={classes.side}>
            <Consequences report={report} />
            <KeepingCard
              report={report.keeping}
              told={document.keeping}
              readOnly={readOnly}
              onTell={(keeping) => draft.edit('keeping', (before) => ({ ...before, keeping }))}
            />
          </div>
        )}
        <Card title="The jug" className={classes.jug}>
          <JugOf report={report} size="large" />
        </Card>
        {report && (
          <Card className={classes.sweet}>
            <SweetLine line={report.sweet_line} ends={report.product.brix} />
          </Card>
        )}
      </div>
      <BenchOverlays
        id={id}
        overlay={overlay}
        draft={draft}
        report={report}
        readOnly={readOnly}
        held={held}
        benchmark={benchmark}
        cookedTimes={cooked?.factor ?? undefined}
        save={() => (draft.changed ? save.later(draft.base) : Promise.resolve(draft.base))}
        onClose={() => setOverlay(null)}
        onTaken={(title, next) => setTaken({ title, document: next })}
        onVersion={setVersion}
      />
      <SavedByAnother
        theirs={save.theirs}
        message={save.error?.message ?? ''}
        draft={draft}
        onForget={save.forget}
        onSave={save.now}
      />
    </div>
  );
}

/** Leads to the first field of the method that something is wrong at; it may be out of sight. */
function ToComplaint({ count }: { count: number }) {
  const show = () => {
    const first = window.document.querySelector<HTMLElement>(
      '[id^="stage-"] [aria-invalid="true"], [id^="stage-"] [role="alert"]',
    );
    first?.scrollIntoView({ block: 'center' });
    first?.focus();
  };
  return (
    <button type="button" className={classes.wrong} onClick={show}>
      {count === 1 ? '1 problem' : `${count} problems`}
    </button>
  );
}

/** Shows a stage in the method; from the keyboard its first figure takes the focus (on a tablet that would raise the keys). */
function select(id: string, byKeyboard: boolean, set: (id: string) => void) {
  set(id);
  const stage = window.document.getElementById(`stage-${id}`);
  stage?.scrollIntoView({ block: 'nearest' });
  if (!byKeyboard) return;
  const first = ['input[inputmode]', 'input[aria-label^="Amount of"]', 'input']
    .map((field) => stage?.querySelector<HTMLInputElement>(field))
    .find(Boolean);
  first?.focus();
}

/** Saving with conflict detection; a new formula moves to its own address. */
function useSave(username: string, id: string, draft: DraftOf<MethodDocument>) {
  const queryClient = useQueryClient();
  const navigate = useNavigate();
  const mutation = useMutation({
    mutationFn: async ({ base, document }: { base: number; document: MethodDocument }): Promise<FormulaOut> =>
      base === 0
        ? answer(client.POST('/api/v1/formulas', { body: { document } }))
        : answer(
            client.PUT('/api/v1/formulas/{formula_id}/draft', {
              params: { path: { formula_id: id } },
              body: { draft: base, document },
            }),
          ),
    onSuccess: (formula, { base, document }) => {
      draft.markSaved(formula.document, formula.draft, document);
      void queryClient.invalidateQueries({ queryKey: keys.formulaLists });
      if (base === 0) {
        keepDraft(username, id, null);
        queryClient.setQueryData(formulaQuery(formula.id).queryKey, formula);
        void navigate(`/formulas/${formula.id}`, { replace: true });
      }
    },
  });
  const theirs = mutation.error?.status === 409 ? (mutation.error.theirs as FormulaOut) : null;
  return {
    now: (base: number) => mutation.mutate({ base, document: draft.document }),
    /** Saves and gives the number of the draft that makes. */
    later: async (base: number) => (await mutation.mutateAsync({ base, document: draft.document })).draft,
    pending: mutation.isPending,
    error: mutation.error,
    theirs,
    forget: mutation.reset,
  };
}

/** What is in it once cold; a foam's air lies on top of what carries it. */
function JugOf({ report, size }: { report: WalkReport | null; size: 'large' | 'small' }) {
  if (!report) return <Jug size={size} bands={[]} volume_ml={null} mass_g={0} />;
  const cold = report.cold_product;
  const whole = cold.volume_ml ?? cold.mass_g;
  const foam_ml = 1000 * (report.readings.find((reading) => reading.id === 'foam_l')?.value ?? 0);
  const air_ml = cold.volume_ml ? Math.max(foam_ml - cold.volume_ml, 0) : 0;
  const all = whole + air_ml;
  const liquid = cold.bands.map((band) => ({
    ...band,
    share: all > 0 ? ((cold.volume_ml ? band.volume_ml : band.mass_g) ?? 0) / all : 0,
  }));
  const bands = air_ml > 0 ? [...liquid, { band: 'air', title: 'air', share: air_ml / all }] : liquid;
  const headroom = Math.min(...report.stages.map((stage) => stage.boil?.headroom_ml ?? Infinity));
  return (
    <Jug
      size={size}
      bands={bands}
      volume_ml={cold.volume_ml && cold.volume_ml + air_ml}
      mass_g={cold.mass_g}
      headroom_ml={Number.isFinite(headroom) ? headroom : null}
    />
  );
}

function Consequences({ report }: { report: WalkReport }) {
  const boilShown = (id: string) => id.startsWith('boil-');
  return (
    <Card title="What it means">
      <ul className={classes.consequences}>
        {report.consequences
          .filter((each) => !boilShown(each.id) && each.id !== 'keeping' && each.id !== 'between')
          .map((each) => (
            <li key={each.id} data-tone={each.tone}>
              <details>
                <summary>
                  {each.tone !== 'fine' && <strong>{each.tone === 'look' ? 'Note: ' : 'Warning: '}</strong>}
                  {each.text}
                </summary>
                <p>{each.because}</p>
              </details>
            </li>
          ))}
      </ul>
      {report.flow && <p>{report.flow.words}</p>}
      {report.allergens.length > 0 ? (
        <p className={classes.allergens}>
          {report.allergens.map((each) => (
            <span key={each.allergen}>
              {each.certain ? 'Contains' : 'Check the pack for'} <strong>{each.allergen}</strong>:{' '}
              {each.lines.join(', ').toLowerCase()}.{' '}
            </span>
          ))}
        </p>
      ) : (
        <p className={classes.allergens}>No allergen of the {report.allergen_list.split(' (')[0]} is known in it.</p>
      )}
      {report.cross_contact.length > 0 && (
        <details className={classes.allergens}>
          <summary>
            <strong>Note: </strong>Equipment may carry over{' '}
            {[...new Set(report.cross_contact.map((each) => each.allergen))].join(', ')}.
          </summary>
          <ul>
            {report.cross_contact.map((each) => (
              <li key={each.equipment + each.allergen}>{each.words}</li>
            ))}
            <li>{report.cross_contact_advice}</li>
          </ul>
        </details>
      )}
    </Card>
  );
}
