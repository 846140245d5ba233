import { Button, NativeSelect, TextInput } from '@mantine/core';
import type { Tasted, TastingAttribute, TastingSheet } from '../../api/types';
import { NumberField } from '../../parts/NumberField';
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
        <TextInput
          label="Tasted by"
          value={sheet.by ?? ''}
          onChange={(event) => onPut({ ...sheet, by: event.currentTarget.value })}
        />
        <TextInput
          label="on"
          type="date"
          value={sheet.on ?? ''}
          onChange={(event) => onPut({ ...sheet, on: event.currentTarget.value })}
        />
        <NumberField
          shown
          size="sm"
          label="Tasted 1 g in so many g"
          value={sheet.in_parts ?? 1}
          unit="g"
          low={1}
          high={100}
          onNumber={(parts) => onPut({ ...sheet, in_parts: parts })}
        />
        <NumberField
          shown
          size="sm"
          label="Liked it, 0 to 10"
          placeholder="not answered"
          value={sheet.score ?? null}
          unit=""
          low={0}
          high={10}
          onNumber={(score) => onPut({ ...sheet, score })}
          onClear={() => onPut({ ...sheet, score: null })}
        />
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
              <NativeSelect
                aria-label={`${row.title} against ours`}
                data={THAN_OURS}
                value={note?.than_ours === null || note?.than_ours === undefined ? '' : String(note.than_ours)}
                onChange={(event) =>
                  put(row.code, {
                    than_ours: event.currentTarget.value === '' ? null : Number(event.currentTarget.value),
                  })
                }
              />
              {row.cup ? (
                <NumberField
                  size="sm"
                  label={`${row.title}: as a cup of so many % ${row.cup}`}
                  placeholder={`% ${row.cup}`}
                  value={note?.cup ?? null}
                  unit=""
                  low={0}
                  high={80}
                  onNumber={(cup) => put(row.code, { cup })}
                  onClear={() => put(row.code, { cup: null })}
                />
              ) : (
                <span />
              )}
              {row.choices.length > 0 ? (
                <NativeSelect
                  aria-label={`${row.title} in words`}
                  data={['', ...new Set([...row.choices, ...(note?.words ? [note.words] : [])])]}
                  value={note?.words ?? ''}
                  onChange={(event) => put(row.code, { words: event.currentTarget.value })}
                />
              ) : (
                <TextInput
                  aria-label={`${row.title} in words`}
                  value={note?.words ?? ''}
                  onChange={(event) => put(row.code, { words: event.currentTarget.value })}
                />
              )}
            </li>
          );
        })}
      </ul>
      {!readOnly && (
        <div className={classes.buttons}>
          {open.length > 0 && (
            <NativeSelect
              aria-label="A spice or flavour of ours"
              data={[
                { value: '', label: 'a spice or flavour of ours …' },
                ...open.map((line) => ({ value: line.id, label: line.title })),
              ]}
              value=""
              onChange={(event) =>
                event.currentTarget.value && put(`spice:${event.currentTarget.value}`, { than_ours: 0 })
              }
            />
          )}
          <Button size="sm" variant="default" onClick={onRemove} aria-label={`Remove this sheet${who}`}>
            Remove this sheet
          </Button>
        </div>
      )}
    </fieldset>
  );
}
