import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, NavLink, useNavigate, useParams, useSearchParams } from 'react-router';
import { calculatorQuery, calculatorsQuery, titlesQuery } from '../../api/queries';
import type { CalculatorField, CalculatorReport } from '../../api/types';
import { useMay } from '../../app/person';
import { figure, range } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { IngredientPick } from '../pantry/IngredientPick';
import side from '../../parts/SideList.module.css';
import { MixSquare } from './MixSquare';
import classes from './Calculators.module.css';

/** The word in the address that says which field was typed last. */
const LAST = 'last';

/** Calculators, each usable alone: what is typed stands in the address, so that it can be sent on. */
export function CalculatorsScreen() {
  const { id } = useParams();
  const calculators = useQuery(calculatorsQuery);
  return (
    <>
      <ScreenHead title="Calculators" aside="nothing is saved here" />
      {calculators.isError && <Notice tone="stop" text={calculators.error.message} />}
      <div className={side.panes} data-chosen={id ? true : undefined}>
        <Card>
          <ul className={side.list} aria-label="Calculators">
            {(calculators.data ?? []).map((each) => (
              <li key={each.id}>
                <NavLink to={`/calculators/${each.id}`} className={side.row}>
                  <span className={side.name}>{each.title}</span>
                  <span className={`${side.small} ${classes.what}`}>{each.what}</span>
                </NavLink>
              </li>
            ))}
          </ul>
        </Card>
        {id ? (
          <Calculator key={id} id={id} />
        ) : (
          <p className={classes.quiet}>Choose a calculator. Type over any figure; the others follow.</p>
        )}
      </div>
    </>
  );
}

function Calculator({ id }: { id: string }) {
  const [params, setParams] = useSearchParams();
  const last = params.get(LAST) ?? '';
  const values = Object.fromEntries([...params].filter(([name]) => name !== LAST));
  const [asked] = useDebouncedValue(JSON.stringify({ values, last }), 120);
  const { values: sent, last: typed } = JSON.parse(asked) as { values: Record<string, string>; last: string };
  const found = useQuery(calculatorQuery(id, sent, typed));
  // What could be worked out last stays on screen; before anything could, the fields as they are at first.
  const first = useQuery({ ...calculatorQuery(id, {}, ''), enabled: found.isError });
  const [kept, setKept] = useState<CalculatorReport | null>(null);
  if (found.data && found.data !== kept) setKept(found.data);
  const report = found.data ?? kept ?? first.data;
  const set = (field: string, text: string) => {
    // Fields that follow are left out, but for those that are only asked: they stay as they were typed.
    const kept = new URLSearchParams();
    for (const each of report?.fields ?? [])
      if (!each.two_way && params.has(each.id)) kept.set(each.id, params.get(each.id)!);
    // A choice that is no two-way field leaves the figure that was typed last in its place.
    const twoWay = report?.fields.find((each) => each.id === field)?.two_way;
    if (!twoWay && last && params.has(last)) {
      kept.set(last, params.get(last)!);
      kept.set(LAST, last);
    }
    kept.set(field, text);
    if (twoWay || !kept.has(LAST)) kept.set(LAST, field);
    setParams(kept, { replace: true });
  };
  if (found.isError && !report) return <Notice tone="stop" text={found.error.message} />;
  if (!report) return null;
  const refused = found.isError ? found.error : null;
  const general = refused && !report.fields.some((field) => refused.itemFor(field.id)) ? refused.message : null;
  return (
    <div className={classes.calculator} data-stale={refused || found.isPlaceholderData ? true : undefined}>
      <Card title={report.title} aside={report.what}>
        <Button variant="default" component={Link} to="/calculators" hiddenFrom="md" mb={8}>
          All calculators
        </Button>
        <div className={classes.fields}>
          {report.fields.map((field) => (
            <FieldOf
              key={field.id}
              field={field}
              typed={params.get(field.id)}
              error={refused?.textFor(field.id)}
              follows={field.two_way && field.id !== last}
              onType={(text) => set(field.id, text)}
            />
          ))}
        </div>
        {general && <Notice tone="look" text={general} />}
      </Card>
      <Card title="Result" aside={refused ? 'of the last figures that could be' : undefined}>
        <Out report={report} />
        <Carry report={report} disabled={refused !== null} />
      </Card>
    </div>
  );
}

interface FieldOfProps {
  field: CalculatorField;
  /** What was typed here, if it still stands. */
  typed: string | null;
  error: string | undefined;
  follows: boolean;
  onType: (text: string) => void;
}

function FieldOf({ field, typed, error, follows, onType }: FieldOfProps) {
  const titles = useQuery({ ...titlesQuery([String(field.value)]), enabled: field.kind === 'ingredient' });
  if (field.kind === 'choice')
    return (
      <NativeSelect
        size="md"
        label={field.title}
        data={field.choices.map((each) => ({ value: each.value, label: each.title }))}
        value={String(field.value)}
        onChange={(event) => onType(event.currentTarget.value)}
      />
    );
  if (field.kind === 'ingredient') {
    const title = titles.data?.[String(field.value)];
    return (
      <IngredientPick
        key={String(field.value)}
        size="md"
        label={field.title}
        value={String(field.value)}
        title={title}
        onChoose={(hit) => onType(hit.id)}
      />
    );
  }
  const shown = typeof field.value === 'number' ? plain(field.value, field.digits) : field.value;
  return (
    <TextInput
      size="md"
      label={field.title}
      description={field.help || undefined}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      inputMode={field.kind === 'number' ? 'decimal' : undefined}
      autoComplete="off"
      data-follows={follows || undefined}
      classNames={{ input: classes.input }}
      value={typed ?? shown}
      error={error}
      rightSectionWidth={field.unit ? 74 : undefined}
      rightSection={field.unit ? <span className={classes.unit}>{field.unit}</span> : undefined}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => onType(event.currentTarget.value)}
    />
  );
}

/** A figure as it can be typed: no separators. */
const plain = (value: number, digits: number) => String(Number(value.toFixed(digits)));

function Out({ report }: { report: CalculatorReport }) {
  return (
    <>
      {report.square && <MixSquare {...report.square} first={nameOf(report, 0)} second={nameOf(report, 1)} />}
      {report.lines.length > 0 && (
        <table className={classes.table}>
          <tbody>
            {report.lines.map((line, n) => (
              <tr key={`${n}${line.title}`}>
                <th scope="row">{line.title}</th>
                <td>
                  {figure(line.value, line.digits)} <span className={classes.unit}>{line.unit}</span>
                </td>
                <td className={classes.unit}>
                  {line.low !== null && line.high !== null && range(line.low, line.high, line.digits)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {report.words.map((words) => (
        <p key={words} className={classes.words}>
          {words}
        </p>
      ))}
    </>
  );
}

const nameOf = (report: CalculatorReport, n: number) => report.fields[n]?.title ?? '';

function Carry({ report, disabled }: { report: CalculatorReport; disabled: boolean }) {
  const navigate = useNavigate();
  const mayEdit = useMay('edit_formulas');
  if (!report.document || !mayEdit) return null;
  const { document } = report;
  return (
    <Button
      mt={10}
      disabled={disabled}
      onClick={() => void navigate(`/formulas/new/calculator-${report.id}`, { state: { document } })}
    >
      Use in a new formula
    </Button>
  );
}
