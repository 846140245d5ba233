import type { DrinkSizes } from '../../api/types';
import { figure, range } from '../../lib/format';
import { useReadingWords } from '../../lib/useMoney';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './Drinks.module.css';

/** Every reading of the drink over its sizes, with its range and what it is worked out by. */
export function ReadingsDrawer({ report, onClose }: { report: DrinkSizes; onClose: () => void }) {
  const words = useReadingWords();
  return (
    <SideDrawer opened title="All readings" closeLabel="Close the readings" width={760} onClose={onClose}>
      <div className={classes.wide} data-sideways="">
        <table className={classes.table}>
          <thead>
            <tr>
              <th scope="col">Reading</th>
              {report.sizes.map((size) => (
                <th key={size.id} scope="col">
                  {size.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {report.readings.map((reading) => (
              <tr key={reading.id}>
                <th scope="row">
                  {reading.title}
                  {reading.unit && <span className={classes.small}> {reading.unit}</span>}
                  <span className={classes.basis}>{reading.why_not || reading.basis}</span>
                </th>
                {reading.sizes.map((value, index) => (
                  <td key={report.sizes[index]?.id}>
                    {words(reading.id, value.likely, reading.digits, '')}
                    {value.low != null && value.high != null && value.high - value.low >= 10 ** -reading.digits && (
                      <span className={classes.basis}>{range(value.low, value.high, reading.digits)}</span>
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {report.uncertain.length > 0 && (
        <p className={classes.small}>A range stands for {report.uncertain.join('; ')}.</p>
      )}
      {report.levels.length > 0 && (
        <>
          <h3>Levels of sweetness</h3>
          <ul className={classes.list}>
            {report.levels.map((level) => (
              <li key={level.name}>
                <strong>{level.name}</strong>, {level.title}:{' '}
                {report.sizes
                  .map((size, index) => {
                    const sugars = level.sugars_100ml[index];
                    return sugars == null ? '' : `${size.name} ${figure(sugars, 1)} g`;
                  })
                  .filter(Boolean)
                  .join(', ')}{' '}
                in 100 ml
                {level.share[0] != null && `, ${figure(100 * level.share[0], 0)} % of the first`}
              </li>
            ))}
          </ul>
        </>
      )}
    </SideDrawer>
  );
}
