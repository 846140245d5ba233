import { Button, Loader, Menu, Tooltip } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp, IconDots } from '@tabler/icons-react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { answer, client } from '../../api/client';
import { drinkPagesQuery, drinkQuery, keys } from '../../api/queries';
import type { DrinkDocument, DrinkOut } from '../../api/types';
import { useMay, usePerson } from '../../app/person';
import { type Shortcut, useShortcutHelp } from '../../app/shortcuts';
import { ago } from '../../lib/format';
import { keepDraft, keptDraft } from '../../lib/keptDrafts';
import { type DraftOf, useDraft } from '../../lib/useDraft';
import type { Archived } from '../../parts/JustArchived';
import { Notice } from '../../parts/Notice';
import { TheirsNotice } from '../../parts/TheirsNotice';
import { ComponentDrawer } from './ComponentDrawer';
import { DrinkVersionDialog, DrinkVersionsDrawer } from './DrinkVersions';
import { doseOf, EMPTY } from './edits';
import { EvenOutCard } from './EvenOutCard';
import { LevelsDrawer } from './LevelsDrawer';
import { ReadingsDrawer } from './ReadingsDrawer';
import { SizesCard } from './SizesCard';
import { SizesDrawer } from './SizesDrawer';
import { SugarsAxis } from './SugarsAxis';
import { SwapsDrawer } from './SwapsDrawer';
import { useSizes } from './useSizes';
import { type Asked, WaysDrawer } from './WaysDrawer';
import { WhatGoesIn } from './WhatGoesIn';
import classes from './Drinks.module.css';

/** A drink of the site, or a new one with the sizes of the last. */
export function DrinkScreen() {
  const { id } = useParams();
  return id ? <Existing key={id} id={id} /> : <Fresh />;
}

function Existing({ id }: { id: string }) {
  const drink = useQuery(drinkQuery(id));
  if (drink.isError) return <Notice tone="stop" text={drink.error.message} />;
  if (!drink.data) return <Loader aria-label="Loading the drink" />;
  return <Drink id={id} start={drink.data.document} saved={drink.data.document} base={drink.data.draft} />;
}

function Fresh() {
  const { data, isPending } = useQuery({
    queryKey: [...keys.drinks, 'last'],
    queryFn: async () => {
      const last = (await answer(client.GET('/api/v1/drinks', { params: { query: {} } }))).items[0];
      return last ? answer(client.GET('/api/v1/drinks/{drink_id}', { params: { path: { drink_id: last.id } } })) : null;
    },
    retry: false,
  });
  if (isPending) return <Loader aria-label="Loading the sizes" />;
  // The cups are the shop's; what is charged is each drink's own.
  const sizes = data?.document.sizes.map((size) => ({ ...size, price: null }));
  return <Drink id="new" start={sizes ? { ...EMPTY, sizes } : EMPTY} saved={null} base={0} />;
}

const SHORTCUTS: Shortcut[] = [
  { keys: 'Ctrl+S', does: 'Save the draft' },
  { keys: 'Ctrl+Z', does: 'Undo' },
  { keys: 'Ctrl+Shift+Z', does: 'Redo' },
];

type Overlay =
  | { over: 'component'; id: string }
  | { over: 'sizes' | 'swaps' | 'levels' | 'version' | 'versions' | 'readings' }
  | { over: 'ways'; asked: Asked };

interface DrinkProps {
  id: string;
  start: DrinkDocument;
  saved: DrinkDocument | null;
  base: number;
}

/** Everything about one drink on one screen: its cups to scale, what is read of them, and what would even them out. */
function Drink({ id, start, saved, base }: DrinkProps) {
  const { username } = usePerson();
  const [kept] = useState(() => keptDraft<DrinkDocument>(username, id, 'drink'));
  const draft = useDraft<DrinkDocument>('drink', username, id, kept?.document ?? start, saved, kept?.base ?? base);
  const { document, edit } = draft;
  const { report, problem, stale } = useSizes(document);
  const readOnly = !useMay('edit_formulas');
  const [overlay, setOverlay] = useState<Overlay | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const drink = useQuery({ ...drinkQuery(id), enabled: saved !== null }).data;
  const save = useSave(username, id, draft);
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
  const close = () => setOverlay(null);
  const use = (next: DrinkDocument) => {
    edit('whole', () => next);
    close();
  };
  const general = problem?.items.filter((item) => !item.field.startsWith('components.')) ?? [];
  const wrong = (save.error && save.error.status !== 409 ? save.error.message : null) ?? refused;
  const milk = document.components.find((each) => each.role === 'milk');
  const dose = doseOf(document);
  return (
    <div className={classes.screen}>
      <header className={classes.head}>
        <h1 className={classes.title}>
          <input
            aria-label="Drink name"
            style={{ width: `${Math.max(document.name.length, 14) + 1}ch` }}
            placeholder="Name this drink"
            autoFocus={base === 0 && start.name === ''}
            value={document.name}
            readOnly={readOnly}
            onChange={(event) => {
              const name = event.currentTarget.value;
              edit('name', (before) => ({ ...before, name }));
            }}
          />
        </h1>
        <span className={classes.aside}>{drink && served(drink)}</span>
        <div className={classes.actions}>
          <span role="status" className={classes.small}>
            {save.pending
              ? 'saving'
              : draft.changed
                ? 'not saved yet'
                : draft.base > 0
                  ? `draft ${draft.base}, saved`
                  : 'new'}
          </span>
          {!readOnly && (
            <>
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
            </>
          )}
          <Button variant="default" onClick={() => setOverlay({ over: 'sizes' })}>
            Sizes
          </Button>
          <Button variant="default" disabled={!milk || !report} onClick={() => setOverlay({ over: 'swaps' })}>
            Another milk
          </Button>
          {!readOnly && (
            <Button onClick={() => save.now(draft.base)} loading={save.pending} disabled={!draft.changed}>
              Save
            </Button>
          )}
          <More
            id={id}
            name={document.name}
            readOnly={readOnly}
            kept={draft.base > 0}
            onProblem={setRefused}
            onVersion={() => setOverlay({ over: 'version' })}
            onVersions={() => setOverlay({ over: 'versions' })}
            onReadings={report ? () => setOverlay({ over: 'readings' }) : undefined}
            onLevels={() => setOverlay({ over: 'levels' })}
          />
        </div>
      </header>
      {save.theirs && (
        <TheirsNotice
          text={`${save.error?.items[0]?.message ?? ''} Theirs is draft ${save.theirs.draft}, saved ${ago(save.theirs.touched_at)}.`}
          onTake={() => {
            draft.take(save.theirs!.document, save.theirs!.draft);
            save.forget();
          }}
          onSave={() => {
            const { draft: theirs } = save.theirs!;
            draft.rebase(theirs);
            save.now(theirs);
          }}
        />
      )}
      {wrong && <Notice tone="stop" text={wrong} />}
      {general.map((item) => (
        <Notice key={item.message} tone="stop" text={`${item.message} ${item.remedy}`} />
      ))}
      {report?.faults.map((fault) => (
        <Notice
          key={fault.code + fault.field}
          tone="stop"
          text={`${names(document, fault.sizes)}: ${fault.message} ${fault.remedy}`}
        />
      ))}
      <div className={classes.columns}>
        <div className={classes.side}>
          <SizesCard
            document={document}
            report={report}
            problem={problem}
            stale={stale}
            dose={dose?.id ?? null}
            readOnly={readOnly}
            onEdit={edit}
            onAsk={(asked) => setOverlay({ over: 'ways', asked })}
          />
          {report && document.sizes.length > 1 && <SugarsAxis report={report} />}
        </div>
        <div className={classes.side}>
          {report && dose && document.sizes.length > 1 && (
            <EvenOutCard document={document} component={dose.id} readOnly={readOnly} onUse={use} />
          )}
          <WhatGoesIn
            document={document}
            report={report}
            problem={problem}
            readOnly={readOnly}
            onEdit={edit}
            onOpen={(component) => setOverlay({ over: 'component', id: component })}
          />
          {report?.notes.map((note) => (
            <Notice key={note} tone="look" text={note} />
          ))}
          {report?.sizes
            .filter((size) => size.curdling && size.curdling.tone !== 'fine')
            .slice(0, 1)
            .map((size) => (
              <Notice key={size.id} tone={size.curdling!.tone} text={`${size.name}: ${size.curdling!.words}`} />
            ))}
          {report && caution(report) && <Notice tone="look" text={caution(report)!} />}
        </div>
      </div>
      {overlay?.over === 'component' && (
        <ComponentDrawer
          document={document}
          id={overlay.id}
          report={report}
          problem={problem}
          readOnly={readOnly}
          onEdit={edit}
          onClose={close}
        />
      )}
      {overlay?.over === 'sizes' && (
        <SizesDrawer document={document} problem={problem} readOnly={readOnly} onEdit={edit} onClose={close} />
      )}
      {overlay?.over === 'levels' && (
        <LevelsDrawer document={document} report={report} readOnly={readOnly} onEdit={edit} onClose={close} />
      )}
      {overlay?.over === 'readings' && report && <ReadingsDrawer report={report} onClose={close} />}
      {overlay?.over === 'ways' && (
        <WaysDrawer document={document} asked={overlay.asked} readOnly={readOnly} onUse={use} onClose={close} />
      )}
      {overlay?.over === 'swaps' && milk && (
        <SwapsDrawer document={document} component={milk.id} readOnly={readOnly} onUse={use} onClose={close} />
      )}
      {overlay?.over === 'version' && (
        <DrinkVersionDialog
          id={id}
          onSave={() => (draft.changed ? save.later(draft.base) : Promise.resolve(draft.base))}
          onClose={close}
        />
      )}
      {overlay?.over === 'versions' && (
        <DrinkVersionsDrawer
          id={id}
          base={draft.base}
          changed={draft.changed}
          onTake={(taken) => {
            draft.take(taken.document, taken.draft);
            close();
          }}
          onClose={close}
        />
      )}
    </div>
  );
}

function names(document: DrinkDocument, sizes: string[]): string {
  return document.sizes
    .filter((size) => sizes.includes(size.id))
    .map((size) => size.name)
    .join(', ');
}

/** The loudest of what one cup has of caffeine and free sugars, with the sizes it is about. */
function caution(report: { sizes: { name: string; cautions: string[] }[] }): string | null {
  const loud = report.sizes.filter((size) => size.cautions.length > 0);
  const last = loud[loud.length - 1];
  return last ? `${loud.map((size) => size.name).join(', ')}: ${last.cautions[0]}` : null;
}

function served(drink: DrinkOut): string {
  if (drink.served_version) return `version ${drink.served_version}, ready for service`;
  return drink.newest_version ? `version ${drink.newest_version}, not served yet` : '';
}

/** Saves the draft; somebody else's save in between is a conflict that a person decides. */
function useSave(username: string, id: string, draft: DraftOf<DrinkDocument>) {
  const queryClient = useQueryClient();
  const navigate = useNavigate();
  const mutation = useMutation({
    mutationFn: ({ base, document }: { base: number; document: DrinkDocument }): Promise<DrinkOut> =>
      base === 0
        ? answer(client.POST('/api/v1/drinks', { body: { document } }))
        : answer(
            client.PUT('/api/v1/drinks/{drink_id}/draft', {
              params: { path: { drink_id: id } },
              body: { draft: base, document },
            }),
          ),
    onSuccess: (drink, { base, document }) => {
      draft.markSaved(drink.document, drink.draft, document);
      void queryClient.invalidateQueries({ queryKey: drinkPagesQuery('').queryKey.slice(0, 2) });
      queryClient.setQueryData(drinkQuery(drink.id).queryKey, drink);
      if (base === 0) {
        keepDraft(username, id, null, 'drink');
        void navigate(`/drinks/${drink.id}`, { replace: true });
      }
    },
  });
  return {
    now: (base: number) => mutation.mutate({ base, document: draft.document }),
    /** Saves and gives the number of the draft that makes. */
    later: async (base: number) => (await mutation.mutateAsync({ base, document: draft.document })).draft,
    pending: mutation.isPending,
    error: mutation.error,
    theirs: mutation.error?.status === 409 ? (mutation.error.theirs as DrinkOut) : null,
    forget: mutation.reset,
  };
}

interface MoreProps {
  id: string;
  name: string;
  readOnly: boolean;
  kept: boolean;
  onProblem: (text: string) => void;
  onVersion: () => void;
  onVersions: () => void;
  /** Nothing where the drink cannot be walked yet. */
  onReadings: (() => void) | undefined;
  onLevels: () => void;
}

/** What else may be done with a drink. */
function More({ id, name, readOnly, kept, onProblem, onVersion, onVersions, onReadings, onLevels }: MoreProps) {
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const archive = useMutation({
    mutationFn: () => answer(client.DELETE('/api/v1/drinks/{drink_id}', { params: { path: { drink_id: id } } })),
    onSuccess: () => {
      // Forgotten, not only out of date: the list must not show it beside the words that it is archived.
      queryClient.removeQueries({ queryKey: keys.drinkLists, type: 'inactive' });
      void queryClient.invalidateQueries({ queryKey: keys.drinkLists });
      void navigate('/drinks', { state: { archived: { id, name } } satisfies Archived });
    },
    onError: (problem) => onProblem(problem.message),
  });
  return (
    <Menu position="bottom-end" width={240}>
      <Menu.Target>
        <Button variant="default" aria-label="More for this drink">
          <IconDots size={18} aria-hidden="true" />
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {onReadings && <Menu.Item onClick={onReadings}>All readings</Menu.Item>}
        <Menu.Item onClick={onLevels}>Levels of sweetness</Menu.Item>
        {kept &&
          (['A4', 'A5', 'A6'] as const).map((paper) => (
            <Menu.Item
              key={paper}
              component="a"
              href={`/api/v1/drinks/${id}/build.pdf?paper=${paper}`}
              target="_blank"
              rel="noopener"
            >
              Build card, {paper}
            </Menu.Item>
          ))}
        {kept && <Menu.Item onClick={onVersions}>Versions and service</Menu.Item>}
        {kept && !readOnly && <Menu.Item onClick={onVersion}>Save as a version</Menu.Item>}
        {kept && !readOnly && <Menu.Item onClick={() => archive.mutate()}>Archive this drink</Menu.Item>}
      </Menu.Dropdown>
    </Menu>
  );
}
