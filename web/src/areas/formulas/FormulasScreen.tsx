import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useDebouncedValue, useHotkeys } from '@mantine/hooks';
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { answer, client } from '../../api/client';
import { formulaPagesQuery, type FormulasQuery, keys, startersQuery } from '../../api/queries';
import { useMay } from '../../app/person';
import { type Shortcut, useShortcutHelp } from '../../app/shortcuts';
import { Card } from '../../parts/Card';
import { JustArchived } from '../../parts/JustArchived';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { ShowMore } from '../../parts/ShowMore';
import { FormulaRow } from './FormulaRow';
import classes from './FormulasScreen.module.css';

const STATES = [
  { value: '', label: 'every state' },
  { value: 'draft', label: 'draft only' },
  { value: 'ready', label: 'ready for service' },
  { value: 'on_hob', label: 'on the hob' },
];
const SHORTCUTS: Shortcut[] = [{ keys: 'n', does: 'New formula' }];

/** All formulas of the site, lately touched first. */
export function FormulasScreen() {
  const [words, setWords] = useState('');
  const navigate = useNavigate();
  const [q] = useDebouncedValue(words.trim(), 200);
  const [family, setFamily] = useState('');
  const [state, setState] = useState<NonNullable<FormulasQuery['state']>>('');
  const narrowed = q !== '' || family !== '' || state !== '';
  const formulas = useInfiniteQuery(
    formulaPagesQuery({ ...(q ? { q } : {}), ...(family ? { family } : {}), ...(state ? { state } : {}) }),
  );
  const families = useQuery(startersQuery).data?.families ?? [];
  const mayEdit = useMay('edit_formulas');
  useShortcutHelp(SHORTCUTS);
  useHotkeys([['n', () => mayEdit && void navigate('/formulas/new')]]);
  const queryClient = useQueryClient();
  const restore = async (formula_id: string) => {
    await answer(client.POST('/api/v1/formulas/{formula_id}/bring-back', { params: { path: { formula_id } } }));
    void queryClient.invalidateQueries({ queryKey: keys.formulas });
  };
  const shown = formulas.data?.pages.flatMap((page) => page.items) ?? [];
  return (
    <>
      <ScreenHead title="Formulas">
        <Button size="md" variant="default" component={Link} to="/costs">
          Costs
        </Button>
        {mayEdit && (
          <>
            <Button size="md" variant="default" component={Link} to="/formulas/import">
              Import
            </Button>
            <Button size="md" component={Link} to="/formulas/new">
              New formula
            </Button>
          </>
        )}
      </ScreenHead>
      <JustArchived restore={restore} />
      {formulas.isError && <Notice tone="stop" text={formulas.error.message} />}
      <Card>
        {(shown.length > 5 || words !== '' || narrowed) && (
          <div className={classes.search}>
            <TextInput
              aria-label="Search formulas"
              placeholder="Search: name, family, school"
              value={words}
              onChange={(e) => setWords(e.currentTarget.value)}
              className={classes.narrow}
            />
            <NativeSelect
              aria-label="Family"
              value={family}
              data={[
                { value: '', label: 'every family' },
                ...families.map((each) => ({ value: each.title, label: each.title })),
              ]}
              onChange={(e) => setFamily(e.currentTarget.value)}
            />
            <NativeSelect
              aria-label="State"
              value={state}
              data={STATES}
              onChange={(e) => setState(e.currentTarget.value as typeof state)}
            />
          </div>
        )}
        <ul className={classes.list}>
          {shown.map((card) => (
            <FormulaRow key={card.id} card={card} />
          ))}
        </ul>
        <ShowMore of={formulas} />
        {formulas.data && shown.length === 0 && !narrowed && (
          <p>No formula yet. {mayEdit ? 'Press New formula and say what it is to be.' : 'A lead can start one.'}</p>
        )}
        {formulas.data && shown.length === 0 && narrowed && (
          <p>No formula fits. Search for less, or choose every family and every state.</p>
        )}
      </Card>
    </>
  );
}
