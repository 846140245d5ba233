import type { StageReport } from '../../api/types';
import { figure, fromTo, grams, span } from '../../lib/format';
import classes from './BenchScreen.module.css';

const percent = (share: number) => figure(100 * share);

/** What a hold, a steep, a caramel or a foam comes to. All of it indicative, and it says so. */
export function ProcessFacts({ stage }: { stage: StageReport }) {
  const { hold, drawn, caramel, foam } = stage;
  if (!hold && !caramel && !foam) return null;
  return (
    <>
      {hold && (
        <p className={classes.words}>
          From {figure(hold.starts_c)} °C to {figure(hold.ends_c.likely)} °C
          {hold.ends_c.high - hold.ends_c.low >= 1 &&
            ` (${fromTo(hold.ends_c.low, hold.ends_c.high)} as it loses heat)`}
          .
        </p>
      )}
      {hold?.enzyme && <Enzyme enzyme={hold.enzyme} />}
      {drawn.map((each) => (
        <p key={each.line} className={classes.words}>
          {each.title}: usually {span(60 * each.least_min, 60 * each.most_min)} at that temperature;{' '}
          {VERDICTS[each.verdict]}
          {each.verdict === 'past' && `, it turns ${each.past}`}.
          {each.medium_words && ` In ${each.medium}: ${each.medium_words}.`}
        </p>
      ))}
      {caramel && (
        <>
          <p className={classes.big}>
            {caramel.colour}{' '}
            <small>{caramel.colours === caramel.colour ? '' : `${caramel.colours}, as pots and probes differ`}</small>
          </p>
          <p className={classes.words}>
            {percent(caramel.share.likely)} % of the sugar then in the pot turned ({percent(caramel.share.low)} to{' '}
            {percent(caramel.share.high)}), {grams(caramel.browning_off_g)} g of water lost to browning
            {caramel.water_off_g > 0.5 && `, ${grams(caramel.water_off_g)} g boiled off first`}. The climb takes{' '}
            {span(caramel.climb_low_s, caramel.climb_high_s)}.
          </p>
        </>
      )}
      {foam && (
        <>
          <p className={classes.big}>
            {foam.words} <small>{foam.why}</small>
          </p>
          <p className={classes.words}>
            overrun {fromTo(foam.overrun.low, foam.overrun.high)} %, so {fromTo(foam.air.low, foam.air.high)} % of it is
            air, {fromTo(foam.foam_ml.low, foam.foam_ml.high)} ml from {figure(foam.liquid_ml)} ml,{' '}
            {fromTo(foam.density_kg_m3.low, foam.density_kg_m3.high)} g a litre: it {foam.floats}. With {foam.tool}{' '}
            {span(foam.needs_low_s, foam.needs_high_s)}; {figure(foam.too_long_s)} s is too long.
          </p>
        </>
      )}
      {foam && foam.stages.length > 0 && (
        <p className={classes.words}>At full speed {foam.stages.join(', ')}; 20 s either way.</p>
      )}
      <p className={classes.words}>Indicative: how far to trust it stands with each reading.</p>
    </>
  );
}

const VERDICTS = { early: 'this is less', usual: 'so is this', past: 'this is past it' } as const;

function Enzyme({ enzyme }: { enzyme: NonNullable<NonNullable<StageReport['hold']>['enzyme']> }) {
  if (!enzyme.promised) return <p className={classes.words}>{enzyme.why_not}</p>;
  return (
    <p className={classes.words}>
      {enzyme.thinned &&
        `${percent(enzyme.thinned.likely)} % of the starch cut (${percent(enzyme.thinned.low)} to ${percent(enzyme.thinned.high)}), `}
      {enzyme.alive !== null &&
        enzyme.alive !== undefined &&
        `${percent(enzyme.alive)} % of the enzyme still at work. `}
      {enzyme.words}
    </p>
  );
}
