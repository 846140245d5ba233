import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Tasted, TastingAttribute, TastingSheet } from '../../api/types';
import { numberOf } from '../../lib/numberOf';
import { THAN_OURS } from './words';
import classes from './Tastings.module.css';

/** A line of what it is tasted beside: spices and flavours are judged by it. */
export interface OurLine {
  id: string;
  title: string;
}

interface SheetFormProps {
  sheet: TastingSheet;
  place: number;
  attributes: TastingAttribute[];
  lines: OurLine[];
  readOnly: boolean;
  onPut: (sheet: TastingSheet) => void;
  onRemove: () => void;
}

interface FigureProps {
  label?: string;
  /** What it is called where no label stands above it. */
  named?: string;
  hint?: string;
  start: number | null;
  low: number;
  high: number;
  /** Nothing where the field is empty; what cannot be stays in it and says so. */
  onNumber: (value: number | null) => void;
}

/** A figure between two ends, as it is typed. */
function Figure({ label, named, hint, start, low, high, onNumber }: FigureProps) {
  const [text, setText] = useState(start === null ? '' : String(start));
  const value = numberOf(text);
  const wrong = text.trim() !== '' && !(value >= low && value <= high);
  return (
    <TextInput
      label={label}
      aria-label={label ? undefined : named}
      placeholder={hint}
      inputMode="decimal"
      value={text}
      error={wrong ? `${low} to ${high}` : undefined}
      onChange={(event) => {
        const typed = event.currentTarget.value;
        setText(typed);
        const next = numberOf(typed);
        if (typed.trim() === '') onNumber(null);
        else if (next >= low && next <= high) onNumber(next);
      }}
    />
  );
}

/** What one person tasted: against ours, against a cup of water, or in words. */
export function SheetForm({ sheet, place, attributes, lines, readOnly, onPut, onRemove }: SheetFormProps) {
  const noted = new Map((sheet.tasted ?? []).map((each) => [each.attribute, each]));
  const put = (attribute: string, change: Partial<Tasted>) => {
    const next = { attribute, than_ours: null, cup: null, words: '', ...noted.get(attribute), ...change };
    const others = (sheet.tasted ?? []).filter((each) => each.attribute !== attribute);
    const says = next.than_ours !== null || next.cup !== null || next.words !== '';
    onPut({ ...sheet, tasted: says ? [...others, next] : others });
  };
  const spices = lines.filter((line) => noted.has(`spice:${line.id}`));
  const rows = [
    ...attributes.map(({ code, title, cup, choices }) => ({ code, title, cup, choices })),
    ...spices.map((line) => ({ code: `spice:${line.id}`, title: line.title, cup: '', choices: [] as string[] })),
  ];
  const open = lines.filter((line) => !noted.has(`spice:${line.id}`));
  const who = sheet.by ? ` by ${sheet.by}` : ` ${place}`;
  return (
    <fieldset className={classes.sheet} disabled={readOnly} aria-label={`Tasting sheet${who}`}>
      <div className={classes.form}>
        <TextInput label="Tasted by" value={sheet.by ?? ''} onChange={(event) => onPut({ ...sheet, by: event.currentTarget.value })} />
        <TextInput label="on" type="date" value={sheet.on ?? ''} onChange={(event) => onPut({ ...sheet, on: event.currentTarget.value })} />
        <Figure label="Tasted 1 g in so many g" start={sheet.in_parts ?? 1} low={1} high={100} onNumber={(parts) => onPut({ ...sheet, in_parts: parts ?? 1 })} />
      </div>
      <ul className={classes.notes}>
        <li className={classes.heads} aria-hidden="true">
          <span />
          <span>against ours</span>
          <span>or as a cup of</span>
          <span>in words</span>
        </li>
        {rows.map((row) => {
          const note = noted.get(row.code);
          return (
            <li key={row.code}>
              <span>{row.title}</span>
              <NativeSelect aria-label={`${row.title} against ours`} data={THAN_OURS} value={note?.than_ours === null || note?.than_ours === undefined ? '' : String(note.than_ours)} onChange={(event) => put(row.code, { than_ours: event.currentTarget.value === '' ? null : Number(event.currentTarget.value) })} />
              {row.cup ? (
                <Figure named={`${row.title}: as a cup of so many % ${row.cup}`} hint={`% ${row.cup}`} start={note?.cup ?? null} low={0} high={80} onNumber={(cup) => put(row.code, { cup })} />
              ) : (
                <span />
              )}
              {row.choices.length > 0 ? (
                <NativeSelect aria-label={`${row.title} in words`} data={['', ...new Set([...row.choices, ...(note?.words ? [note.words] : [])])]} value={note?.words ?? ''} onChange={(event) => put(row.code, { words: event.currentTarget.value })} />
              ) : (
                <TextInput aria-label={`${row.title} in words`} value={note?.words ?? ''} onChange={(event) => put(row.code, { words: event.currentTarget.value })} />
              )}
            </li>
          );
        })}
      </ul>
      {!readOnly && (
        <div className={classes.buttons}>
          {open.length > 0 && (
            <NativeSelect aria-label="A spice or flavour of ours" data={[{ value: '', label: 'a spice or flavour of ours …' }, ...open.map((line) => ({ value: line.id, label: line.title }))]} value="" onChange={(event) => event.currentTarget.value && put(`spice:${event.currentTarget.value}`, { than_ours: 0 })} />
          )}
          <Button size="sm" variant="default" onClick={onRemove} aria-label={`Remove this sheet${who}`}>
            Remove this sheet
          </Button>
        </div>
      )}
    </fieldset>
  );
}
