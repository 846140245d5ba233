import { Button, Loader, NativeSelect, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { answer, client } from '../../api/client';
import {
  attributesQuery,
  benchmarkQuery,
  formulasQuery,
  keys,
  titlesQuery,
  versionQuery,
  versionsQuery,
} from '../../api/queries';
import type { BenchmarkDoc, BenchmarkOut, BenchmarkReport, TastingSheet } from '../../api/types';
import { useMay, usePerson } from '../../app/person';
import { dayOf, fromTo } from '../../lib/format';
import { valueIn, wrongIn } from '../../lib/figures';
import { useKept } from '../../lib/useKept';
import { AxisLegend, AxisRow } from '../../parts/AxisRow';
import { Card } from '../../parts/Card';
import { GrowingText } from '../../parts/GrowingText';
import { Notice } from '../../parts/Notice';
import { FormulaPick } from '../formulas/FormulaPick';
import { ScreenHead } from '../../parts/ScreenHead';
import { BLANK_LABEL, canRead, LabelFields, labelOf, type TypedLabel, typedOf } from '../pantry/LabelFields';
import { type OurLine, SheetForm } from './SheetForm';
import { WHAT } from './words';
import classes from './Tastings.module.css';

/** What stands in the form, and the state it was begun on. */
interface Typed {
  doc: BenchmarkDoc;
  label: TypedLabel;
  size: string;
  price: string;
  number: number;
}

const BLANK: BenchmarkDoc = { name: '', what: 'bought', family: '', ingredients: '', sheets: [], note: '' };

function asTyped(kept: BenchmarkOut | null): Typed {
  const doc = kept?.document ?? BLANK;
  return {
    doc,
    label: doc.label ? typedOf(doc.label) : BLANK_LABEL,
    size: doc.pack ? String(doc.pack.size) : '',
    price: doc.pack?.price == null ? '' : String(doc.pack.price),
    number: kept?.number ?? 0,
  };
}

/** The document as it would be kept. */
function documentOf({ doc, label, size, price }: Typed): BenchmarkDoc {
  const typed = labelOf(label);
  const [grams, cost] = [valueIn(size, doc.pack?.unit ?? 'ml'), valueIn(price, '')];
  return {
    ...doc,
    label: doc.what !== 'ours' && canRead(typed) ? typed : null,
    pack: grams > 0 ? { size: grams, unit: doc.pack?.unit ?? 'ml', price: cost >= 0 ? cost : null } : null,
    version: doc.what === 'ours' ? (doc.version ?? null) : null,
  };
}

/** A benchmark: what is known of it, what was tasted, what that comes to, and how ours stands against it. */
export function BenchmarkScreen() {
  const { id } = useParams();
  const found = useQuery({ ...benchmarkQuery(id ?? ''), enabled: id !== undefined });
  if (id === undefined) return <Form key="new" id={null} kept={null} />;
  if (found.isError) return <Notice tone="stop" text={found.error.message} />;
  return found.data ? <Form key={id} id={id} kept={found.data} /> : <Loader aria-label="Loading the benchmark" />;
}

function Form({ id, kept }: { id: string | null; kept: BenchmarkOut | null }) {
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const person = usePerson();
  const readOnly = !useMay('taste');
  const typing = useKept(`benchmark.${id ?? 'new'}`, asTyped(kept));
  const { doc, label } = typing.value;
  const put = (change: Partial<Typed>) => typing.set((now) => ({ ...now, ...change }));
  const tell = (change: Partial<BenchmarkDoc>) => typing.set((now) => ({ ...now, doc: { ...now.doc, ...change } }));
  const document = documentOf(typing.value);
  const [asked] = useDebouncedValue(JSON.stringify(document), 250);
  const attributes = useQuery(attributesQuery);
  const lines = useOurLines(doc.beside ?? null);
  const [ours, setOurs] = useState<string | null>(null);
  const against = ours ?? doc.beside?.formula ?? null;
  const read = useQuery({
    queryKey: ['benchmark', 'read', asked, against],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/benchmarks/read', {
          body: { document: { ...(JSON.parse(asked) as BenchmarkDoc), name: doc.name || 'It' }, ours: against },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
  });
  const save = useMutation({
    mutationFn: () =>
      id === null
        ? answer(client.POST('/api/v1/benchmarks', { body: { number: 0, document } }))
        : answer(
            client.PUT('/api/v1/benchmarks/{benchmark_id}', {
              params: { path: { benchmark_id: id } },
              body: { number: typing.value.number, document },
            }),
          ),
    onSuccess: (now) => {
      typing.forget(asTyped(now));
      queryClient.setQueryData(benchmarkQuery(now.id).queryKey, now);
      void queryClient.invalidateQueries({ queryKey: keys.benchmarkLists });
      if (id === null) void navigate(`/tastings/benchmarks/${now.id}`, { replace: true });
    },
  });
  const theirs = save.error?.status === 409 ? (save.error.theirs as BenchmarkOut) : null;
  const putAway = useMutation({
    mutationFn: () =>
      answer(client.DELETE('/api/v1/benchmarks/{benchmark_id}', { params: { path: { benchmark_id: id ?? '' } } })),
    onSuccess: () => {
      typing.forget();
      void queryClient.invalidateQueries({ queryKey: keys.benchmarkLists });
      void navigate('/tastings');
    },
  });
  // What cannot be is not dropped silently: the first of it takes the focus.
  const keepIt = () => {
    const wrong = window.document.querySelector<HTMLElement>('main [aria-invalid="true"]');
    if (!wrong) return save.mutate();
    wrong.scrollIntoView({ block: 'center' });
    wrong.focus();
  };
  const sheets = doc.sheets ?? [];
  const putSheet = (place: number, sheet: TastingSheet) =>
    tell({ sheets: sheets.map((each, at) => (at === place ? sheet : each)) });
  const changed =
    kept === null || JSON.stringify(documentOf(typing.value)) !== JSON.stringify(documentOf(asTyped(kept)));
  const ourName =
    useQuery({ ...formulasQuery({ ids: [against ?? ''] }), enabled: against !== null }).data?.items[0]?.name ?? 'ours';
  return (
    <>
      <ScreenHead title={id === null ? 'New benchmark' : doc.name || 'Benchmark'}>
        <Button size="md" variant="default" component={Link} to="/tastings">
          All benchmarks
        </Button>
        {id !== null && !readOnly && (
          <Button size="md" variant="default" color="red" loading={putAway.isPending} onClick={() => putAway.mutate()}>
            Archive
          </Button>
        )}
        {!readOnly && (
          <Button size="md" loading={save.isPending} disabled={!changed || !doc.name.trim()} onClick={keepIt}>
            Save
          </Button>
        )}
      </ScreenHead>
      {typing.found && changed && kept !== null && !save.error && (
        <Notice tone="look" text="Your unsaved changes are back.">
          <Button size="xs" variant="default" onClick={() => typing.forget(asTyped(kept))}>
            Discard
          </Button>
        </Notice>
      )}
      {save.error && (
        <Notice tone="stop" text={save.error.message}>
          {theirs && (
            <Button
              size="xs"
              variant="default"
              onClick={() => {
                typing.forget(asTyped(theirs));
                save.reset();
              }}
            >
              Use theirs
            </Button>
          )}
        </Notice>
      )}
      {putAway.error && <Notice tone="stop" text={putAway.error.message} />}
      <div className={classes.columns}>
        <div>
          <Card title="What it is">
            <fieldset className={`${classes.plain} ${classes.form}`} disabled={readOnly}>
              <TextInput
                label="Name"
                value={doc.name}
                onChange={(event) => tell({ name: event.currentTarget.value })}
              />
              <NativeSelect
                label="It is"
                data={Object.entries(WHAT).map(([value, words]) => ({ value, label: words }))}
                value={doc.what}
                onChange={(event) => tell({ what: event.currentTarget.value as BenchmarkDoc['what'] })}
              />
              {doc.what === 'ours' ? (
                <VersionPick
                  title="The formula"
                  version="Version of it"
                  value={doc.version ?? null}
                  onPick={(version) => tell({ version })}
                />
              ) : (
                <>
                  <TextInput
                    label="A pack holds"
                    inputMode="decimal"
                    value={typing.value.size}
                    error={wrongIn(typing.value.size, doc.pack?.unit ?? 'ml', { above: 0 })}
                    onChange={(event) => put({ size: event.currentTarget.value })}
                  />
                  <NativeSelect
                    label="measured in"
                    data={['ml', 'g']}
                    value={doc.pack?.unit ?? 'ml'}
                    onChange={(event) =>
                      tell({
                        pack: { size: doc.pack?.size ?? 1, price: null, unit: event.currentTarget.value as 'ml' | 'g' },
                      })
                    }
                  />
                  <TextInput
                    label="Price of a pack"
                    inputMode="decimal"
                    value={typing.value.price}
                    error={wrongIn(typing.value.price, '', { low: 0 })}
                    onChange={(event) => put({ price: event.currentTarget.value })}
                  />
                </>
              )}
              <GrowingText
                className={classes.wide}
                label="Ingredients, in the order of the label"
                value={doc.ingredients ?? ''}
                onChange={(event) => tell({ ingredients: event.currentTarget.value })}
              />
              <TextInput
                className={classes.wide}
                label="Note"
                value={doc.note ?? ''}
                onChange={(event) => tell({ note: event.currentTarget.value })}
              />
            </fieldset>
          </Card>
          {doc.what !== 'ours' && (
            <Card title="What the pack says" aside="as it is printed: 5, 5.2, <0.5; leave it empty where there is none">
              <fieldset className={classes.plain} disabled={readOnly}>
                <LabelFields
                  typed={label}
                  problem={read.error ?? save.error}
                  within="document."
                  named={false}
                  onPut={(change) => put({ label: { ...label, ...change } })}
                />
              </fieldset>
            </Card>
          )}
          <Card title="What was tasted" aside="“more than ours” compares with this version">
            <fieldset className={`${classes.plain} ${classes.form}`} disabled={readOnly}>
              <VersionPick
                title="Tasted beside"
                version="Version tasted"
                value={doc.beside ?? null}
                onPick={(beside) => tell({ beside })}
              />
            </fieldset>
            {sheets.map((sheet, place) => (
              <SheetForm
                key={place}
                sheet={sheet}
                place={place + 1}
                attributes={attributes.data ?? []}
                lines={lines}
                readOnly={readOnly}
                onPut={(next) => putSheet(place, next)}
                onRemove={() => tell({ sheets: sheets.filter((_, at) => at !== place) })}
              />
            ))}
            {!readOnly && (
              <div className={classes.buttons}>
                <Button
                  size="md"
                  variant="default"
                  onClick={() =>
                    tell({ sheets: [...sheets, { by: person.name, on: dayOf(new Date()), in_parts: 1, tasted: [] }] })
                  }
                >
                  Add a tasting sheet
                </Button>
              </div>
            )}
          </Card>
        </div>
        <div>
          <Card title="Aim one of ours at it">
            <div className={classes.buttons}>
              <FormulaPick label="Ours" placeholder="choose a formula" clearable value={against} onPick={setOurs} />
              {against && id !== null && (
                <Button size="md" component={Link} to={`/formulas/${against}?aim=${id}`} disabled={changed}>
                  Open on the bench
                </Button>
              )}
            </div>
            {(changed || id === null) && !readOnly && (
              <p className={classes.dim}>Save the benchmark first; then the bench shows what to change.</p>
            )}
          </Card>
          <Card title="Result" aside={read.data && against && <AxisLegend names={[doc.name || 'it', ourName]} />}>
            {read.isError && <Notice tone="look" text={read.error.message} />}
            {read.data && !read.isError && <Comes report={read.data} names={[doc.name || 'it', ourName]} />}
          </Card>
        </div>
      </div>
    </>
  );
}

type Of = BenchmarkDoc['beside'] | null;

interface VersionPickProps {
  title: string;
  /** What its version is called. */
  version: string;
  value: Of;
  onPick: (version: Of) => void;
}

/** A formula and one of its versions, the newest to begin with. */
function VersionPick({ title, version, value, onPick }: VersionPickProps) {
  const queryClient = useQueryClient();
  const [formula, setFormula] = useState(value?.formula ?? '');
  const newest = useRef(formula);
  const versions = useQuery({ ...versionsQuery(formula), enabled: formula !== '' });
  const numbers = versions.data?.versions.map((each) => each.number) ?? [];
  const choose = async (id: string) => {
    setFormula(id);
    newest.current = id;
    if (!id) return onPick(null);
    const found = await queryClient.fetchQuery(versionsQuery(id)).catch(() => null);
    // Another may have been chosen meanwhile.
    if (newest.current === id) onPick(found?.versions[0] ? { formula: id, version: found.versions[0].number } : null);
  };
  return (
    <>
      <FormulaPick
        label={title}
        placeholder="nothing"
        clearable
        value={formula || null}
        error={
          formula && versions.data && numbers.length === 0
            ? 'It has no version yet: save one on its bench first.'
            : versions.error?.message
        }
        onPick={(id) => void choose(id ?? '')}
      />
      {value && value.formula === formula && (
        <NativeSelect
          label={version}
          data={(numbers.length > 0 ? numbers : [value.version]).map((number) => ({
            value: String(number),
            label: `version ${number}`,
          }))}
          value={String(value.version)}
          onChange={(event) => onPick({ formula, version: Number(event.currentTarget.value) })}
        />
      )}
    </>
  );
}

/** The lines of what it is tasted beside. */
function useOurLines(beside: BenchmarkDoc['beside'] | null): OurLine[] {
  const version = useQuery({ ...versionQuery(beside?.formula ?? '', beside?.version ?? 1), enabled: beside !== null });
  const lines = version.data?.document.stages.flatMap((stage) => ('lines' in stage ? stage.lines : [])) ?? [];
  const titles = useQuery(titlesQuery(lines.map((line) => line.substance)));
  return lines.map((line) => ({ id: line.id, title: line.name ?? titles.data?.[line.substance] ?? line.substance }));
}

function Comes({ report, names }: { report: BenchmarkReport; names: string[] }) {
  const drawn = new Set(report.axes.map((axis) => axis.reading));
  const rest = report.ranges.filter((range) => !drawn.has(range.reading));
  return (
    <>
      <div className={classes.axes}>
        {report.axes.map((axis) => (
          <AxisRow key={axis.reading} axis={axis} names={names} />
        ))}
      </div>
      {rest.length > 0 && (
        <ul className={classes.words} aria-label="Ranges">
          {rest.map((range) => (
            <li key={range.reading}>
              {range.title}: {fromTo(range.low, range.high, range.digits)} {range.unit}{' '}
              <span className={classes.dim}>by the {range.by}</span>
            </li>
          ))}
        </ul>
      )}
      <ul className={classes.words} aria-label="What that says">
        {report.words.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      {report.unread.length > 0 && (
        <details>
          <summary>Tasted, and no figure</summary>
          <ul className={classes.words}>
            {report.unread.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </details>
      )}
      {report.assumptions.length > 0 && (
        <details>
          <summary>What was assumed of the label</summary>
          <ul className={classes.words}>
            {report.assumptions.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
