import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { batchContainersQuery } from '../../api/queries';
import { figure } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import { bottleName, placeName, until } from './words';
import classes from './Bottles.module.css';

/** What a label's code opens: the bottles of its batch, each a large press. */
export function BatchBottlesScreen() {
  const { batch = '' } = useParams();
  const found = useQuery(batchContainersQuery(batch));
  const items = found.data?.items ?? [];
  const first = items.find((each) => each.kind !== 'aside') ?? items[0];
  return (
    <div className={classes.bottle}>
      <Link to="/bottles" className={classes.back}>
        All bottles
      </Link>
      <h1>{first ? `${first.name}, batch ${String(first.batch_number).padStart(4, '0')}` : 'Bottles of this batch'}</h1>
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {found.data && items.length === 0 && <p>None of its bottles is there any more.</p>}
      <ul className={classes.large}>
        {items.map((each) => (
          <li key={each.id}>
            <Link to={`/bottles/${each.id}`}>
              <strong>{bottleName(each)}</strong>
              <span className={classes.small}>
                {placeName(found.data?.places ?? [], each.place)} · {figure(each.mass_g)} g
                {each.opened_at ? ' · open' : ''}
              </span>
              <span data-haste={each.haste} className={classes.until}>
                {until(each)}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      <Link to={`/batches/${batch}`} className={classes.back}>
        Open the batch
      </Link>
    </div>
  );
}
