import { Button, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { recallQuery, substanceQuery } from '../../api/queries';
import type { Recall } from '../../api/types';
import { day, figure, when } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { IngredientPick } from '../pantry/IngredientPick';
import { called, placeName, until } from './words';
import classes from './Bottles.module.css';

/** From a lot of an ingredient to every bottle that it is in or may be in. */
export function RecallScreen() {
  const [params, setParams] = useSearchParams();
  const ingredient = params.get('ingredient') ?? '';
  const lot = params.get('lot') ?? '';
  const [asked] = useDebouncedValue(lot.trim(), 250);
  const substance = useQuery({ ...substanceQuery(ingredient), enabled: ingredient !== '' });
  const found = useQuery({ ...recallQuery(ingredient, asked), enabled: ingredient !== '' && asked !== '' });
  const known = substance.data?.lots ?? [];
  const put = (next: { ingredient?: string; lot?: string }) =>
    setParams({ ingredient, lot, ...next }, { replace: true });
  return (
    <div className={classes.screen}>
      <ScreenHead title="Recall a lot">
        {found.data && (
          <Button
            size="md"
            variant="default"
            component="a"
            href={`/api/v1/stock/recall.csv?ingredient=${ingredient}&lot=${encodeURIComponent(asked)}`}
          >
            As a table
          </Button>
        )}
      </ScreenHead>
      <Card>
        <div className={classes.asks}>
          <IngredientPick
            label="Ingredient"
            size="md"
            value={ingredient || null}
            title={substance.data?.document.title}
            onChoose={(hit) => put({ ingredient: hit.id, lot: '' })}
          />
          <TextInput
            label="Code of the lot"
            size="md"
            value={lot}
            maxLength={100}
            onChange={(event) => put({ lot: event.currentTarget.value })}
          />
        </div>
        {known.length > 0 && (
          <p className={classes.small}>
            Written down:{' '}
            {known.map((each) => (
              <Button key={each.id} size="compact-md" variant="subtle" onClick={() => put({ lot: each.code })}>
                {each.code}
              </Button>
            ))}
          </p>
        )}
        {ingredient === '' && <p className={classes.quiet}>Choose the ingredient, then the code on its pack.</p>}
      </Card>
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {found.data && asked !== '' && <Found found={found.data} />}
    </div>
  );
}

const HOW = { weighed: 'weighed', 'not said': 'lot not noted', 'made with': 'made with' } as const;

function Found({ found }: { found: Recall }) {
  return (
    <>
      <Notice tone={found.batches.length > 0 ? 'look' : 'fine'} text={found.words} />
      {!found.known && (
        <Notice
          tone="look"
          text="The pantry does not know this lot: it goes by what was noted at the hob, and by no dates."
        />
      )}
      {found.containers.length > 0 && (
        <Card title="Bottles" aside="what is still here stands first">
          <ul className={classes.list}>
            {found.containers.map(({ container, sure }) => (
              <li key={container.id} className={classes.row}>
                <Link to={`/bottles/${container.id}`} className={classes.name}>
                  {container.name}
                </Link>
                <span className={classes.small}>
                  {called(container)} · {container.gone ? container.gone : placeName(found.places, container.place)}
                  {!container.gone && ` · ${figure(container.mass_g)} g`}
                </span>
                <span className={classes.until}>{sure ? 'in it' : 'may be in it'}</span>
                {!container.gone && <span className={classes.small}>{until(container)}</span>}
              </li>
            ))}
          </ul>
        </Card>
      )}
      {found.batches.length > 0 && (
        <Card
          title="Batches"
          aside={
            found.mass_g == null
              ? `${figure(found.weighed_g)} g weighed of it`
              : `${figure(found.weighed_g)} g of ${figure(found.mass_g)} g weighed`
          }
        >
          <ul className={classes.list}>
            {found.batches.map((batch) => (
              <li key={batch.id} className={classes.row}>
                <Link to={`/batches/${batch.id}`} className={classes.name}>
                  {batch.name}, {String(batch.number).padStart(4, '0')}
                </Link>
                <span className={classes.small}>
                  {when(batch.started_at)} · {figure(batch.grams)} g {HOW[batch.how]}
                  {batch.via !== null && ` batch ${String(batch.via).padStart(4, '0')}`}
                </span>
                <span className={classes.until}>{batch.sure ? 'in it' : 'may be in it'}</span>
              </li>
            ))}
          </ul>
        </Card>
      )}
      {(found.received_on || found.used_up_on || found.supplier) && (
        <p className={classes.small}>
          {[
            found.supplier && `from ${found.supplier}${found.supplier_contact ? ` (${found.supplier_contact})` : ''}`,
            found.received_on && `came ${day(found.received_on)}`,
            found.used_up_on && `used up ${day(found.used_up_on)}`,
          ]
            .filter(Boolean)
            .join(', ')}
        </p>
      )}
    </>
  );
}
