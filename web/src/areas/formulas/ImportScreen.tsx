import { Button, Checkbox, FileButton, NativeSelect, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { ImportFormula, ImportOut, ImportRow } from '../../api/types';
import { base64OfFile } from '../../lib/base64OfFile';
import { grams } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { Card } from '../../parts/Card';
import { MEASURES, type Measures } from '../site/measures';
import { GrowingText } from '../../parts/GrowingText';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { IngredientPick } from '../pantry/IngredientPick';
import classes from './ImportScreen.module.css';

/** Files larger than this are not read. */
const MOST_BYTES = 4_000_000;

/** Brings formulas in from a file or from pasted lines: first shown, mended where it must be, then kept. */
export function ImportScreen() {
  const pasted = useKept('import', { text: '' });
  const [read, setRead] = useState<{ file: string; found: ImportOut; at: number } | null>(null);
  const running = useRef<AbortController | null>(null);
  const [stopped, setStopped] = useState(false);
  const [measures, setMeasures] = useState<Measures | ''>('');
  const look = useMutation({
    mutationFn: async (from: { name: string; text: string } | File) => {
      running.current = new AbortController();
      setStopped(false);
      const what = from instanceof File ? { name: from.name, base64: await base64OfFile(from, MOST_BYTES) } : from;
      const body = { ...what, measures: measures || null };
      const found = await answer(client.POST('/api/v1/import/read', { body, signal: running.current.signal }));
      return { file: from.name, found, at: Date.now() };
    },
    onSuccess: setRead,
  });
  const choose = (file: File | null) => file && look.mutate(file);
  return (
    <>
      <ScreenHead title="Import formulas">
        <Button size="md" variant="default" component={Link} to="/formulas">
          All formulas
        </Button>
      </ScreenHead>
      <Card
        title="Source"
        aside="JSON of this program, a schema.org recipe or a saved page that carries one, a CSV table, or lines"
      >
        <div
          className={classes.from}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            choose(event.dataTransfer.files[0] ?? null);
          }}
        >
          <GrowingText
            label="Paste it here, or drop a file"
            minRows={3}
            maxRows={12}
            placeholder={'900 g half-and-half\n230 g caster sugar\n2 tsp vanilla extract'}
            value={pasted.value.text}
            onChange={(event) => pasted.set({ text: event.currentTarget.value })}
          />
          <NativeSelect
            label="Its cups, spoons and pints are"
            data={[{ value: '', label: 'as in this kitchen' }, ...MEASURES]}
            value={measures}
            onChange={(event) => setMeasures(event.currentTarget.value as Measures | '')}
          />
          <div className={classes.buttons}>
            <Button
              size="md"
              disabled={!pasted.value.text.trim() || look.isPending}
              onClick={() => look.mutate({ name: '', text: pasted.value.text })}
            >
              Read
            </Button>
            <FileButton
              onChange={choose}
              accept=".json,.jsonld,.csv,.tsv,.txt,.html,.htm,application/json,text/csv,text/plain,text/html"
            >
              {(props) => (
                <Button size="md" variant="default" disabled={look.isPending} {...props}>
                  Choose a file
                </Button>
              )}
            </FileButton>
            {look.isPending && (
              <Button
                size="md"
                variant="default"
                onClick={() => {
                  setStopped(true);
                  running.current?.abort();
                }}
              >
                Stop
              </Button>
            )}
          </div>
        </div>
        {look.isPending && <p role="status">Reading it …</p>}
        {look.error && !stopped && <Notice tone="stop" text={look.error.message} />}
      </Card>
      {read && (
        <div className={classes.found}>
          <Notice tone="look" text={read.found.words} />
          {read.found.formulas.map((formula, place) => (
            <One
              key={`${read.file}.${place}.${read.at}`}
              start={formula}
              form={read.found.form}
              measures={formula.document?.measures ?? null}
            />
          ))}
        </div>
      )}
    </>
  );
}

/** One formula of the file: its name, its lines as they are understood, and what is wrong with them. */
function One({ start, form, measures }: { start: ImportFormula; form: ImportOut['form']; measures: Measures | null }) {
  const queryClient = useQueryClient();
  const [formula, setFormula] = useState(start);
  const [ours, setOurs] = useState(true);
  const rows = useRef(start.rows);
  const turn = useRef(0);
  const again = useMutation({
    mutationFn: (changed: ImportRow[]) =>
      answer(
        client.POST('/api/v1/import/rows', {
          body: {
            name: formula.name,
            family: formula.family,
            school: formula.school,
            notes: formula.notes,
            rows: changed,
            measures,
          },
        }),
      ),
  });
  // A change shows at once and is read anew; an older answer never replaces what was changed since.
  const send = (changed: ImportRow[]) => {
    rows.current = changed;
    setFormula((now) => ({ ...now, rows: changed }));
    const mine = ++turn.current;
    again.mutate(changed, {
      onSuccess: (made) => {
        if (mine !== turn.current) return;
        rows.current = made.rows;
        setFormula((now) => ({ ...made, name: now.name, family: now.family }));
      },
    });
  };
  const keep = useMutation({
    mutationFn: () =>
      answer(
        client.POST('/api/v1/formulas', {
          body: {
            document: {
              ...formula.document!,
              name: formula.name,
              family: formula.family,
              kitchen: ours ? null : (formula.document!.kitchen ?? null),
            },
          },
        }),
      ),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: keys.formulaLists }),
  });
  const whole = form === 'document';
  const put = (number: number, change: Partial<ImportRow>) =>
    send(rows.current.map((row) => (row.number === number ? { ...row, ...change } : row)));
  const wrong = formula.rows.filter((row) => row.problem).length;
  const open = formula.rows.filter((row) => !row.problem && !row.sure).length;
  if (keep.data) {
    return (
      <Notice tone="fine" text={`${keep.data.name} is in.`}>
        <Button size="xs" component={Link} to={`/formulas/${keep.data.id}`}>
          Open it on the bench
        </Button>
      </Notice>
    );
  }
  const blocked = formula.document === null || (!whole && wrong > 0) || !formula.name.trim();
  return (
    <Card title={formula.name || 'Without a name'} aside={verdict(formula.rows.length, wrong, open)}>
      <div className={classes.head}>
        <TextInput
          label="Name"
          value={formula.name}
          error={
            formula.taken && formula.name === start.name
              ? 'There is one of that name already: choose another.'
              : undefined
          }
          onChange={(event) => setFormula({ ...formula, name: event.currentTarget.value })}
        />
        {!whole && (
          <TextInput
            label="Family"
            value={formula.family}
            onChange={(event) => setFormula({ ...formula, family: event.currentTarget.value })}
          />
        )}
        {formula.carries_kitchen && (
          <Checkbox
            label="In our kitchen; its own is left out"
            checked={ours}
            onChange={(event) => setOurs(event.currentTarget.checked)}
          />
        )}
      </div>
      {formula.problems.map((each) => (
        <Notice
          key={each.field + each.message}
          tone={formula.document ? 'look' : 'stop'}
          text={`${each.message} ${each.remedy}`}
        />
      ))}
      {formula.carries > 0 && (
        <p className={classes.dim}>
          {formula.carries === 1 ? 'One ingredient of its own comes' : `${formula.carries} ingredients of its own come`}{' '}
          with it, and stay in it.
        </p>
      )}
      <ul className={classes.rows} aria-label={`Lines of ${formula.name || 'it'}`}>
        {formula.rows.map((row) => (
          <li key={row.number} data-wrong={row.problem ? true : undefined}>
            <span className={classes.said}>
              <span className={classes.dim}>
                {whole ? row.stage : `line ${row.number}`}
                {row.problem ? ' · wrong' : row.sure ? '' : ' · look'}
              </span>
              {!whole && <span>{row.text}</span>}
            </span>
            {whole ? (
              <>
                <span>{row.title}</span>
                <span>{row.amount}</span>
              </>
            ) : (
              <>
                <Meant row={row} onMean={(substance, title) => put(row.number, { substance, title, sure: true })} />
                <Amount key={row.amount} row={row} onPut={(amount) => put(row.number, { amount })} />
              </>
            )}
            <span className={classes.grams}>
              {row.grams === null || row.grams === undefined ? '' : `${grams(row.grams)} g`}
            </span>
            {!whole && (
              <Button
                size="xs"
                variant="default"
                aria-label={`Leave it out: line ${row.number}`}
                onClick={() => send(rows.current.filter((each) => each.number !== row.number))}
              >
                Leave it out
              </Button>
            )}
            {row.problem && (
              <p className={classes.problem} role="alert">
                {row.problem.message} {row.problem.remedy}{' '}
                {!row.substance && (
                  <Link className={classes.link} to="/pantry/new" target="_blank">
                    Add it to the pantry
                  </Link>
                )}
              </p>
            )}
          </li>
        ))}
      </ul>
      {formula.notes && !whole && (
        <details>
          <summary>Its notes</summary>
          <p className={classes.notes}>{formula.notes}</p>
        </details>
      )}
      {(again.error ?? keep.error) && <Notice tone="stop" text={(again.error ?? keep.error)!.message} />}
      <div className={classes.buttons}>
        <Button size="md" loading={keep.isPending} disabled={blocked || again.isPending} onClick={() => keep.mutate()}>
          Import
        </Button>
        {!whole && wrong > 0 && <span className={classes.dim}>Correct what is wrong, or leave the line out.</span>}
      </div>
    </Card>
  );
}

function verdict(lines: number, wrong: number, open: number): string {
  const parts = [lines === 1 ? 'one line' : `${lines} lines`];
  if (wrong > 0) parts.push(wrong === 1 ? 'one is not understood' : `${wrong} are not understood`);
  if (open > 0) parts.push(open === 1 ? 'one is a guess: look' : `${open} are guesses: look`);
  return parts.join(', ');
}

/** What a line is taken for; the likeliest others are at hand, all else is searched. */
function Meant({ row, onMean }: { row: ImportRow; onMean: (substance: string, title: string) => void }) {
  const [searching, setSearching] = useState(!row.substance);
  const choose = (hit: { id: string; title: string }) => {
    setSearching(false);
    onMean(hit.id, hit.title);
  };
  if (searching || !row.substance)
    return (
      <IngredientPick
        label=""
        value={row.substance || null}
        title={row.title || undefined}
        size="sm"
        onChoose={choose}
        named={`Line ${row.number} means`}
      />
    );
  const known = [
    { value: row.substance ?? '', label: row.title ?? '' },
    ...(row.others ?? [])
      .filter((each) => each.substance !== row.substance)
      .map((each) => ({ value: each.substance, label: each.title })),
  ];
  return (
    <NativeSelect
      aria-label={`Line ${row.number} means`}
      data={[...known, { value: '?', label: 'something else …' }]}
      value={row.substance ?? ''}
      onChange={(event) => {
        const value = event.currentTarget.value;
        if (value === '?') setSearching(true);
        else onMean(value, known.find((each) => each.value === value)?.label ?? '');
      }}
    />
  );
}

function Amount({ row, onPut }: { row: ImportRow; onPut: (amount: string) => void }) {
  const [text, setText] = useState(row.amount ?? '');
  return (
    <TextInput
      aria-label={`Amount of line ${row.number}`}
      value={text}
      onChange={(event) => setText(event.currentTarget.value)}
      onBlur={() => text !== row.amount && onPut(text)}
      onKeyDown={(event) => event.key === 'Enter' && text !== row.amount && onPut(text)}
    />
  );
}
