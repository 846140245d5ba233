import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { drinksUsingQuery } from '../../api/queries';
import type { UsedIn } from '../../api/types';
import { figure, grams } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './SwapDrawer.module.css';

interface UsedInDrawerProps {
  id: string;
  opened: boolean;
  onClose: () => void;
}

/** The formulas and the drinks that this one stands in. */
export function UsedInDrawer({ id, opened, onClose }: UsedInDrawerProps) {
  const used = useQuery({
    queryKey: ['used in', id],
    queryFn: () =>
      answer(client.GET('/api/v1/formulas/{formula_id}/used-in', { params: { path: { formula_id: id } } })),
    enabled: opened,
    staleTime: 0,
  });
  const drinks = useQuery({ ...drinksUsingQuery(id), enabled: opened, staleTime: 0 });
  return (
    <SideDrawer
      opened={opened}
      title="Where it is used"
      closeLabel="Close where it is used"
      width={480}
      onClose={onClose}
    >
      {(used.error ?? drinks.error) && <Notice tone="stop" text={(used.error ?? drinks.error)!.message} />}
      {used.data?.length === 0 && drinks.data?.length === 0 && (
        <p>Nothing uses it yet. Save a version, then add it to another formula or to a drink like any ingredient.</p>
      )}
      {used.data && used.data.length > 0 && (
        <table className={classes.table}>
          <thead>
            <tr>
              <th scope="col">Formula</th>
              <th scope="col">Uses</th>
              <th scope="col">In a kilogram</th>
            </tr>
          </thead>
          <tbody>
            {used.data.map((each) => (
              <tr key={`${each.formula} ${each.version}`}>
                <th scope="row">
                  <Link to={`/formulas/${each.formula}`} onClick={onClose}>
                    {each.name}
                  </Link>
                  , {which(each)}
                </th>
                <td>version {each.uses}</td>
                <td>{each.grams_per_g === null ? '' : `${figure(1000 * each.grams_per_g)} g`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {drinks.data && drinks.data.length > 0 && (
        <table className={classes.table}>
          <thead>
            <tr>
              <th scope="col">Drink</th>
              <th scope="col">Uses</th>
              <th scope="col">In a cup</th>
            </tr>
          </thead>
          <tbody>
            {drinks.data.map((each) => (
              <tr key={`${each.drink} ${each.uses}`}>
                <th scope="row">
                  <Link to={`/drinks/${each.drink}`} onClick={onClose}>
                    {each.name}
                  </Link>
                  , {each.version === null ? 'the draft' : `version ${each.version}, served`}
                </th>
                <td>version {each.uses}</td>
                <td>
                  {each.sizes
                    .filter((size) => size.grams)
                    .map((size) => `${size.name} ${grams(size.grams!)} g`)
                    .join(', ')}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </SideDrawer>
  );
}

function which(each: UsedIn): string {
  return each.version === null ? 'the draft' : `version ${each.version}`;
}
