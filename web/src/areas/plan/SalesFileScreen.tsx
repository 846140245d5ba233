import { Button, Checkbox, FileButton } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useLocation } from 'react-router';
import { answer, client } from '../../api/client';
import { ApiProblem } from '../../api/problem';
import { keys, salesQuery } from '../../api/queries';
import type { SalesColumns, SalesImport, SalesPreview } from '../../api/types';
import { base64OfFile } from '../../lib/base64OfFile';
import { day, figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { ColumnsCard } from './ColumnsCard';
import { NamesCard, type SaidItem } from './NamesCard';
import classes from './plan.module.css';

interface Sent {
  name: string;
  base64: string;
  origin: 'file' | 'till';
}

/** Files larger than this are not sent. */
const MOST_BYTES = 1_400_000;

/** Imports what was sold: a file is read, shown with what it would change, and kept. */
export function SalesFileScreen() {
  const location = useLocation();
  const [file, setFile] = useState<Sent | null>((location.state as Sent | null) ?? null);
  const [columns, setColumns] = useState<SalesColumns | null>(null);
  const [items, setItems] = useState<Record<string, SaidItem>>({});
  const [places, setPlaces] = useState<Record<string, number>>({});
  const [over, setOver] = useState(false);
  const sales = useQuery(salesQuery);
  const queryClient = useQueryClient();
  const turn = useRef(0);
  const [shown, setShown] = useState<SalesPreview | null>(null);
  const said = {
    columns,
    items: Object.entries(items).map(([key, meant]) => ({ key, ...meant })),
    places: Object.entries(places).map(([words, place]) => ({ words, place })),
  };
  const read = useMutation({
    mutationFn: (sent: Sent & typeof said) => answer(client.POST('/api/v1/sales/read', { body: sent })),
  });
  // What was sent last is what is shown: an answer to something earlier comes too late.
  const look = (sent: Sent, change: Partial<typeof said> = {}) => {
    const mine = ++turn.current;
    keep.reset();
    read.mutate({ ...sent, ...said, ...change }, { onSuccess: (out) => mine === turn.current && setShown(out) });
  };
  const keep = useMutation({
    mutationFn: (leaveWrong: boolean) =>
      answer(
        client.POST('/api/v1/sales/import', {
          body: { ...file!, ...said, leave_wrong: leaveWrong, over_corrections: over },
        }),
      ),
    onSuccess: () => {
      for (const key of [keys.sales, keys.plan]) void queryClient.invalidateQueries({ queryKey: key });
    },
  });
  const choose = async (chosen: File | null) => {
    if (!chosen) return;
    setShown(null);
    setColumns(null);
    setItems({});
    setPlaces({});
    try {
      const sent: Sent = { name: chosen.name, base64: await base64OfFile(chosen, MOST_BYTES), origin: 'file' };
      setTooLarge(null);
      setFile(sent);
      look(sent, { columns: null, items: [], places: [] });
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      setTooLarge(error);
    }
  };
  const [tooLarge, setTooLarge] = useState<ApiProblem | null>(null);
  const first = useRef(file);
  useEffect(() => {
    if (first.current) look(first.current);
    first.current = null;
    // Only what a till handed over is read without being asked.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const put = (change: SalesColumns) => {
    setColumns(change);
    if (file) look(file, { columns: change });
  };
  return (
    <>
      <ScreenHead title="Import sales">
        <Button size="md" variant="default" component={Link} to="/plan/sales">
          Sales
        </Button>
      </ScreenHead>
      <div className={classes.column}>
        <Card title="File" aside="CSV or XLSX: a row for each drink sold, or sums by day">
          <div
            className={classes.drop}
            onDragOver={(event) => event.preventDefault()}
            onDrop={(event) => {
              event.preventDefault();
              void choose(event.dataTransfer.files[0] ?? null);
            }}
          >
            <FileButton onChange={(chosen) => void choose(chosen)} accept=".csv,.tsv,.txt,.xlsx">
              {(props) => (
                <Button size="md" {...props}>
                  Choose a file
                </Button>
              )}
            </FileButton>
            <span>{file ? file.name : 'or drop it here'}</span>
            {read.isPending && <span role="status">Reading it …</span>}
          </div>
          {(tooLarge ?? read.error) && <Notice tone="stop" text={(tooLarge ?? read.error)!.message} />}
        </Card>
        {shown && sales.data && !keep.isSuccess && (
          <>
            <ColumnsCard preview={shown} places={sales.data.places} onPut={put} />
            <NamesCard
              preview={shown}
              sales={sales.data}
              said={items}
              saidPlaces={places}
              onItem={(key, meant) => {
                const next = { ...items, [key]: meant };
                setItems(next);
                if (file) look(file, { items: Object.entries(next).map(([of, each]) => ({ key: of, ...each })) });
              }}
              onPlace={(words, place) => {
                const next = { ...places, [words]: place };
                setPlaces(next);
                if (file)
                  look(file, { places: Object.entries(next).map(([of, each]) => ({ words: of, place: each })) });
              }}
            />
            {!shown.lacking && !shown.ask_order && (
              <Changes
                preview={shown}
                over={over}
                onOver={setOver}
                pending={keep.isPending || read.isPending}
                onImport={(leaveWrong) => keep.mutate(leaveWrong)}
              />
            )}
            {keep.error && <Notice tone="stop" text={keep.error.message} />}
          </>
        )}
        {keep.data && <Done made={keep.data} />}
      </div>
    </>
  );
}

function Done({ made }: { made: SalesImport }) {
  const changed = made.added + made.changed;
  return (
    <Notice
      tone="fine"
      text={
        changed === 0
          ? `${made.name} says nothing that was not known.`
          : `${made.name} is in: ${figure(made.added)} counts added, ${figure(made.changed)} changed.`
      }
    >
      <Button size="sm" component={Link} to="/plan">
        Plan
      </Button>
    </Notice>
  );
}

interface ChangesProps {
  preview: SalesPreview;
  over: boolean;
  pending: boolean;
  onOver: (over: boolean) => void;
  onImport: (leaveWrong: boolean) => void;
}

/** What importing would change, what is wrong, and the press that does it. */
function Changes({ preview, over, pending, onOver, onImport }: ChangesProps) {
  const open = preview.items.length + preview.places.length;
  const span =
    preview.first_on && preview.last_on
      ? preview.first_on === preview.last_on
        ? day(preview.first_on)
        : `${day(preview.first_on)} to ${day(preview.last_on)}`
      : '';
  return (
    <Card
      title="What it changes"
      aside={`${figure(preview.cups)} drinks in ${figure(preview.rows)} rows${span && `, ${span}`}`}
    >
      <p>
        {figure(preview.added)} counts are new, {figure(preview.changed)} change, {figure(preview.same)} stay as they
        are.
        {preview.left_out > 0 && ` ${figure(preview.left_out)} rows are none of ours and left out.`}
      </p>
      {preview.problems.length > 0 && (
        <ul className={classes.list} aria-label="Rows that are wrong">
          {preview.problems.slice(0, 12).map((each, n) => (
            <li key={n}>
              <span>{each.row > 0 ? `Row ${each.row}` : 'The file'}</span>
              <span>
                {each.message} <span className={classes.dim}>{each.remedy}</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      {preview.wrong > 12 && <p className={classes.small}>and {figure(preview.wrong - 12)} more.</p>}
      {preview.changes.length > 0 && (
        <details>
          <summary>What changes</summary>
          <ul className={classes.list}>
            {preview.changes.map((each) => (
              <li key={`${each.on} ${each.place} ${each.drink} ${each.size}`}>
                <span>
                  {each.drink} {each.size}, {day(each.on)}, {each.place}
                  {each.by_hand && <span className={classes.small}>corrected by hand</span>}
                </span>
                <span className={classes.figure}>
                  {each.before ?? 'none'} → {each.after}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {preview.corrected > 0 && (
        <Checkbox
          size="md"
          mt="xs"
          label={`Overwrite ${preview.corrected} that somebody corrected by hand`}
          checked={over}
          onChange={(event) => onOver(event.currentTarget.checked)}
        />
      )}
      <div className={classes.buttons}>
        <Button size="md" loading={pending} disabled={open > 0} onClick={() => onImport(preview.wrong > 0)}>
          {preview.wrong > 0 ? `Import, leave out ${figure(preview.wrong)} rows` : 'Import'}
        </Button>
        {open > 0 && <span className={classes.dim}>Say first what the names above mean.</span>}
      </div>
    </Card>
  );
}
