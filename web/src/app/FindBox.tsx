import { Modal, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { batchesQuery, findQuery, formulasQuery } from '../api/queries';
import type { BatchCard, FormulaCard, Hit as IngredientHit } from '../api/types';
import { when } from '../lib/format';
import classes from './FindBox.module.css';

interface Hit {
  id: string;
  kind: 'Formula' | 'Ingredient' | 'Batch';
  title: string;
  more: string;
  go?: string;
}

const MOST = 12;
const MOST_INGREDIENTS = 8;
const MOST_BATCHES = 6;

/** Finds any formula, any ingredient and any batch. */
export function FindBox({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="Find" size="lg" yOffset="12vh">
      {opened && <Finder onClose={onClose} />}
    </Modal>
  );
}

function Finder({ onClose }: { onClose: () => void }) {
  const [words, setWords] = useState('');
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const latest = useRef<string | null>('');
  // What is closed while Enter waits goes nowhere any more.
  useEffect(() => () => void (latest.current = null), []);
  const [asked] = useDebouncedValue(words.trim(), 200);
  // They are many: the server searches them.
  const formulas = useQuery(formulasFor(asked));
  const batches = useQuery({ ...batchesQuery({ q: asked }), enabled: asked !== '' });
  const ingredients = useQuery({ ...findQuery(asked), enabled: asked !== '' });
  const searching = words.trim() !== '' && asked !== '';
  const hits = hitsOf(formulas.data?.items, searching ? ingredients.data?.hits : [], searching ? batches.data : []);
  const settled =
    words.trim() === asked &&
    ![formulas, batches, ingredients].some((each) => each.isFetching && (each.isPlaceholderData || each.isPending));
  const failed = [formulas, batches, ingredients].find((each) => each.isError);
  const current = Math.min(at, Math.max(0, hits.length - 1));
  const choose = (hit: Hit | undefined) => {
    if (!hit?.go) return;
    onClose();
    void navigate(hit.go);
  };
  // What stands first may still be of other words; Enter means those that stand in the field.
  const takeFirst = async () => {
    if (settled || at > 0) return choose(hits[current]);
    const q = words.trim();
    const some = (): Promise<[FormulaCard[], IngredientHit[], BatchCard[]]> =>
      Promise.all([
        queryClient.fetchQuery(formulasFor(q)).then((found) => found.items),
        q ? queryClient.fetchQuery(findQuery(q)).then((found) => found.hits) : [],
        q ? queryClient.fetchQuery(batchesQuery({ q })) : [],
      ]);
    const found = await some().catch(() => null);
    if (found && latest.current === q) choose(hitsOf(...found)[0]);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setAt(Math.min(current + 1, hits.length - 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(current - 1, 0));
    else if (event.key === 'Enter') void takeFirst();
    else return;
    event.preventDefault();
  };
  return (
    <>
      <TextInput
        data-autofocus
        size="md"
        aria-label="Find a formula, an ingredient or a batch"
        placeholder="Formula, ingredient or batch"
        value={words}
        onChange={(event) => {
          latest.current = event.currentTarget.value.trim();
          setWords(event.currentTarget.value);
          setAt(0);
        }}
        onKeyDown={onKey}
      />
      <ul className={classes.hits} aria-label="Found">
        {hits.map((hit, i) => (
          <li key={`${hit.kind}${hit.id}`}>
            {hit.go ? (
              <button
                type="button"
                className={classes.hit}
                data-current={((settled || at > 0) && i === current) || undefined}
                onClick={() => choose(hit)}
              >
                <Words hit={hit} />
              </button>
            ) : (
              <div className={classes.hit} data-current={((settled || at > 0) && i === current) || undefined}>
                <Words hit={hit} />
              </div>
            )}
          </li>
        ))}
        {failed && <li className={classes.none}>{failed.error?.message}</li>}
        {hits.length === 0 && !failed && (
          <li className={classes.none}>
            {settled ? 'Nothing by that name. Try the first letters of a word in it.' : 'Looking …'}
          </li>
        )}
      </ul>
    </>
  );
}

const formulasFor = (q: string) => formulasQuery(q ? { q } : {});

function hitsOf(formulas: FormulaCard[] = [], ingredients: IngredientHit[] = [], batches: BatchCard[] = []): Hit[] {
  return [
    ...formulas.slice(0, MOST).map((f): Hit => ({
      id: f.id,
      kind: 'Formula',
      title: f.name,
      more: [f.family, f.school].filter(Boolean).join(' · '),
      go: `/formulas/${f.id}`,
    })),
    ...ingredients.slice(0, MOST_INGREDIENTS).map((s): Hit => ({
      id: s.id,
      kind: 'Ingredient',
      title: s.title,
      more: [s.kind, s.character, s.allergens.length ? `allergens: ${s.allergens.join(', ')}` : '']
        .filter(Boolean)
        .join(' · '),
      go: `/pantry/${s.id}`,
    })),
    ...batches.slice(0, MOST_BATCHES).map((b): Hit => ({
      id: b.id,
      kind: 'Batch',
      title: b.name,
      more: [`batch ${String(b.number).padStart(4, '0')}`, `${b.started_by}, ${when(b.started_at)}`, b.words]
        .filter(Boolean)
        .join(' · '),
      go: `/batches/${b.id}`,
    })),
  ];
}

function Words({ hit }: { hit: Hit }) {
  return (
    <>
      <span className={classes.title}>{hit.title}</span>
      <span className={classes.kind}>{hit.kind}</span>
      <span className={classes.more}>{hit.more}</span>
    </>
  );
}
