import { Switch } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Fragment, useState } from 'react';
import { answer, client } from '../../api/client';
import type { CompareReport, CompareRow, SideCell } from '../../api/types';
import { figure } from '../../lib/format';
import { useReadingWords } from '../../lib/useMoney';
import { AxisLegend, AxisRow } from '../../parts/AxisRow';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './Comparison.module.css';

interface ComparisonProps {
  sides: { formula: string; version: number | null }[];
}

/** Two to four versions or drafts side by side: in words, on common axes, and line by line. */
export function Comparison({ sides }: ComparisonProps) {
  const [all, setAll] = useState(false);
  const compared = useQuery({
    queryKey: ['compare', sides],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/compare', { body: { sides }, signal })),
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  if (compared.isError) return <Notice tone="stop" text={compared.error.message} />;
  const found = compared.data;
  if (!found) return null;
  return (
    <>
      {found.words.length > 0 && (
        <Card title={`From ${lower(found.names[0])} to ${lower(found.names[1])}`}>
          <ul className={classes.words}>
            {found.words.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </Card>
      )}
      {found.axes.length > 0 && (
        <Card title="On common axes" aside={<AxisLegend names={found.names} />}>
          <div className={classes.axes}>
            {found.axes.map((axis) => (
              <AxisRow key={axis.reading} axis={axis} names={found.names} />
            ))}
          </div>
        </Card>
      )}
      <Card
        title="Side by side"
        aside={
          <Switch size="sm" label="all of it" checked={all} onChange={(event) => setAll(event.currentTarget.checked)} />
        }
      >
        <Table found={found} all={all} />
      </Card>
    </>
  );
}

function lower(name: string | undefined): string {
  return (name ?? '').replace(/^(Version|Draft)/, (word) => word.toLowerCase());
}

function Table({ found, all }: { found: CompareReport; all: boolean }) {
  const stages = found.stages.filter((stage) => all || stage.changed || stage.lines.some((line) => line.changed));
  const readings = found.readings.filter((row) => all || row.changed);
  const words = useReadingWords();
  return (
    <div className={classes.scroll}>
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">
              <span className={classes.dim}>Grams and readings</span>
            </th>
            {found.names.map((name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {stages.map((stage) => (
            <Fragment key={stage.id}>
              <tr className={classes.stage} data-changed={stage.changed || undefined}>
                <th scope="row">{stage.title}</th>
                {stage.cells.map((cell, side) => (
                  <td key={found.names[side]}>{cell ? cell.text : <span className={classes.dim}>not there</span>}</td>
                ))}
              </tr>
              {stage.lines
                .filter((line) => all || line.changed)
                .map((line) => (
                  <Row key={line.id} row={line} names={found.names} cell={lineCell} />
                ))}
            </Fragment>
          ))}
          {readings.map((row) => (
            <Row
              key={row.id}
              row={row}
              names={found.names}
              cell={(cell) => (cell.value === null ? cell.text : words(row.id, cell.value ?? 0, row.digits, ''))}
            />
          ))}
          {stages.length === 0 && readings.length === 0 && (
            <tr>
              <td colSpan={found.names.length + 1}>They are the same in everything shown.</td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}

function lineCell(cell: SideCell): string {
  const grams =
    cell.grams === null || cell.grams === undefined ? '' : `${figure(cell.grams, cell.grams < 100 ? 2 : 0)} g`;
  return grams && cell.text !== grams && !cell.text.startsWith(grams) ? `${grams} · ${cell.text}` : grams || cell.text;
}

function Row({ row, names, cell }: { row: CompareRow; names: string[]; cell: (cell: SideCell) => string }) {
  return (
    <tr data-changed={row.changed || undefined}>
      <th scope="row">
        {row.title}
        {row.unit && row.unit !== 'g' && <span className={classes.dim}> {row.unit}</span>}
        {row.changed && <span className={classes.mark}> differs</span>}
      </th>
      {row.cells.map((each, side) => (
        <td key={names[side]}>{each ? cell(each) : <span className={classes.dim}>not there</span>}</td>
      ))}
    </tr>
  );
}
