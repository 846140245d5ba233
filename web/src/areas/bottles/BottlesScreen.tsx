import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { containersQuery, stockQuery } from '../../api/queries';
import type { Container, OnHand, Place } from '../../api/types';
import { useMay } from '../../app/person';
import { day, figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { called, placeName, until } from './words';
import classes from './Bottles.module.css';

/** What there is, where, until when; what must be thrown away or used today stands first. */
export function BottlesScreen() {
  const stock = useQuery(stockQuery);
  const found = stock.data;
  const reads = useMay('read');
  const mayMove = useMay('move_stock');
  const here = found?.places.find((place) => place.id === found.here)?.name;
  return (
    <div className={classes.screen}>
      <ScreenHead title={here ? `Bottles at ${here}` : 'Bottles'}>
        {reads && (
          <>
            <Button size="md" variant="default" component="a" href="/api/v1/stock/containers.csv">
              As a table
            </Button>
            <Button size="md" variant="default" component={Link} to="/bottles/recall">
              Recall a lot
            </Button>
          </>
        )}
        {mayMove && (
          <Button size="md" component={Link} to="/bottles/count">
            Count
          </Button>
        )}
      </ScreenHead>
      {stock.isError && <Notice tone="stop" text={stock.error.message} />}
      {found && found.must_go.length > 0 && (
        <Card title="Must go today" aside="the first to use stands first">
          <ul className={classes.list}>
            {found.must_go.map((each) => (
              <ContainerRow key={each.id} container={each} places={found.places} why />
            ))}
          </ul>
        </Card>
      )}
      {found && found.on_hand.length === 0 && (
        <Card title="On hand">
          <p className={classes.quiet}>
            Nothing is on hand yet. What is filled at the hob stands here, bottle by bottle.
          </p>
        </Card>
      )}
      {found && found.on_hand.length > 0 && <Products onHand={found.on_hand} places={found.places} />}
    </div>
  );
}

interface ProductsProps {
  onHand: OnHand[];
  places: Place[];
}

/** By product, with a column for each place; a product opens to its bottles. */
function Products({ onHand, places }: ProductsProps) {
  const [open, setOpen] = useState<string | null>(null);
  const products = [...new Map(onHand.map((each) => [idOf(each), each])).entries()];
  const opened = products.find(([id]) => id === open)?.[1];
  const columns = [
    ...places.filter((place) => onHand.some((each) => each.place === place.id)).map((place) => place.id),
    ...(onHand.some((each) => each.place === null) ? [null] : []),
  ];
  return (
    <Card title="On hand" aside="bottles, grams and doses that may be served">
      <div className={classes.wide} data-sideways="">
        <table className={classes.table}>
          <thead>
            <tr>
              <th scope="col">Product</th>
              {columns.map((place) => (
                <th key={place ?? 'none'} scope="col">
                  {placeName(places, place)}
                </th>
              ))}
              <th scope="col">First to use</th>
            </tr>
          </thead>
          <tbody>
            {products.map(([id, { name }]) => {
              const mine = onHand.filter((each) => idOf(each) === id);
              const firsts = mine.flatMap((each) => (each.first ? [each.first] : [])).sort();
              return (
                <tr key={id}>
                  <th scope="row">
                    <button
                      type="button"
                      className={classes.product}
                      aria-expanded={open === id}
                      onClick={() => setOpen(open === id ? null : id)}
                    >
                      {name}
                    </button>
                  </th>
                  {columns.map((place) => (
                    <td key={place ?? 'none'}>{cell(mine.find((each) => each.place === place))}</td>
                  ))}
                  <td>{firsts[0] ? day(firsts[0]) : '—'}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {opened && <OfProduct product={opened} places={places} />}
    </Card>
  );
}

/** What was kept aside is a product of its own. */
const idOf = (each: OnHand) => `${each.formula} ${each.stage}`;

function cell(there: OnHand | undefined): string {
  if (!there) return '';
  const bottles = there.containers - there.rests;
  const count = [
    ...(bottles > 0 ? [bottles === 1 ? '1 bottle' : `${bottles} bottles`] : []),
    ...(there.rests > 0
      ? [there.stage ? 'kept aside' : there.rests === 1 ? 'a kept rest' : `${there.rests} kept rests`]
      : []),
  ].join(' and ');
  const words = there.containers > 0 ? [`${count}, ${figure(there.mass_g)} g`] : [];
  if (there.doses != null && there.containers > 0) words.push(there.doses === 1 ? '1 dose' : `${there.doses} doses`);
  if (there.frozen_g > 0) words.push(`${figure(there.frozen_g)} g frozen`);
  if (there.throw > 0) words.push(`${there.throw} to throw away`);
  return words.join(', ');
}

function OfProduct({ product, places }: { product: OnHand; places: Place[] }) {
  const { formula, stage, name } = product;
  const found = useQuery(containersQuery(formula, stage));
  return (
    <section aria-label={`Bottles of ${name}`} className={classes.each}>
      <h3>{name}, bottle by bottle</h3>
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      <ul className={classes.list}>
        {found.data?.items.map((each) => (
          <ContainerRow key={each.id} container={each} places={places} />
        ))}
      </ul>
      {found.data?.next && <p className={classes.quiet}>Only the first hundred to use are shown.</p>}
    </section>
  );
}

interface ContainerRowProps {
  container: Container;
  places: Place[];
  why?: boolean;
}

function ContainerRow({ container, places, why = false }: ContainerRowProps) {
  return (
    <li className={classes.row}>
      <Link to={`/bottles/${container.id}`} className={classes.name}>
        {why ? container.name : called(container)}
      </Link>
      <span className={classes.small}>
        {why ? `${called(container)} · ` : ''}
        {placeName(places, container.place)} · {figure(container.mass_g)} g{container.opened_at ? ' · open' : ''}
      </span>
      <span className={classes.until} data-haste={container.haste}>
        {until(container)}
      </span>
      {why && <span className={classes.why}>{container.why}</span>}
    </li>
  );
}
