import { ScreenHead } from '../../parts/ScreenHead';
import { Button } from '@mantine/core';
import { Link } from 'react-router';
import { ChangedPrices } from './ChangedPrices';
import { SideBySideCard } from './SideBySideCard';
import classes from './Costs.module.css';

/** What prices of today do to what is served; ours beside what can be bought; and from where on making pays. */
export function CostsScreen() {
  return (
    <>
      <ScreenHead title="Costs">
        <Button size="md" variant="default" component={Link} to="/pantry/prices">
          Prices
        </Button>
      </ScreenHead>
      <div className={classes.screen}>
        <ChangedPrices />
        <SideBySideCard />
      </div>
    </>
  );
}
