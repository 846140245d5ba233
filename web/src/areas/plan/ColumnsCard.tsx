import { NativeSelect } from '@mantine/core';
import type { Sales, SalesColumns, SalesPreview } from '../../api/types';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './plan.module.css';

interface ColumnsCardProps {
  preview: SalesPreview;
  places: Sales['places'];
  onPut: (columns: SalesColumns) => void;
}

/** Which column says what: guessed or remembered, and changed here. */
export function ColumnsCard({ preview, places, onPut }: ColumnsCardProps) {
  const { columns, labels } = preview;
  const none = { value: '', label: 'none' };
  const of = labels.map((label) => ({ value: label, label }));
  const put = (change: Partial<SalesColumns>) => onPut({ ...columns, ...change });
  const select = (what: 'day' | 'drink' | 'size' | 'count', label: string) => (
    <NativeSelect
      label={label}
      size="md"
      data={[none, ...of]}
      value={columns[what] ?? ''}
      onChange={(event) => put({ [what]: event.currentTarget.value || null })}
    />
  );
  return (
    <Card
      title="Columns"
      aside={preview.remembered ? 'as you chose them for files like this' : 'guessed from the headings: look'}
    >
      <div className={classes.fields}>
        {columns.spread !== 'day' && select('day', 'Day')}
        {select('drink', 'Drink')}
        {columns.spread !== 'size' && select('size', 'Size')}
        {!columns.spread && select('count', 'How many')}
        {columns.spread !== 'place' && (
          <NativeSelect
            label="Place"
            size="md"
            data={[
              none,
              ...labels.map((label) => ({ value: `column ${label}`, label: `column ${label}` })),
              ...places.map((each) => ({ value: `place ${each.id}`, label: `all at ${each.name}` })),
            ]}
            value={columns.place ? `column ${columns.place}` : columns.place_id ? `place ${columns.place_id}` : ''}
            onChange={(event) => {
              const value = event.currentTarget.value;
              put({
                place: value.startsWith('column ') ? value.slice(7) : null,
                place_id: value.startsWith('place ') ? value.slice(6) : null,
              });
            }}
          />
        )}
        {columns.spread && (
          <NativeSelect
            label="Columns of counts"
            size="md"
            data={[
              { value: columns.spread, label: `one for each ${columns.spread}: ${(columns.counts ?? []).join(', ')}` },
              { value: '', label: 'one column says how many' },
            ]}
            value={columns.spread}
            onChange={(event) => event.currentTarget.value === '' && put({ spread: null, counts: [] })}
          />
        )}
        {(preview.ask_order || columns.order) && (
          <NativeSelect
            label="Days are written"
            size="md"
            data={[
              { value: '', label: 'choose' },
              { value: 'day first', label: 'day first: 24/5' },
              { value: 'month first', label: 'month first: 5/24' },
            ]}
            value={columns.order ?? ''}
            onChange={(event) => {
              const value = event.currentTarget.value;
              put({ order: value === 'day first' || value === 'month first' ? value : null });
            }}
          />
        )}
      </div>
      {preview.lacking && <Notice tone="look" text={`${preview.lacking} ${preview.lacking_remedy}`} />}
      {preview.ask_order && (
        <Notice tone="look" text="The days may be read in two ways. Say whether the day or the month comes first." />
      )}
      <div className={classes.wide} data-sideways="">
        <table className={classes.sample} aria-label="First rows of the file">
          <thead>
            <tr>
              {labels.map((label) => (
                <th key={label} scope="col">
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {preview.sample.slice(0, 4).map((row, n) => (
              <tr key={n}>
                {row.map((cell, at) => (
                  <td key={at}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  );
}
