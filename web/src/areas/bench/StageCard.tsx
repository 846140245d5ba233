import { Button } from '@mantine/core';
import type { MethodDocument, StageReport, YieldReport } from '../../api/types';
import { figure, fromTo, grams, span } from '../../lib/format';
import { Card } from '../../parts/Card';
import classes from './BenchScreen.module.css';
import { BlendFacts } from './BlendFacts';
import { ProcessFacts } from './ProcessFacts';

/** What the cook needs at the stage that is looked at, with its cautions. */
export function StageCard({
  stage,
  document,
  onHolds,
}: {
  stage: StageReport;
  document: MethodDocument;
  onHolds: () => void;
}) {
  const { boil, fill, blend, gives, mill } = stage;
  return (
    <Card
      title={stage.name}
      aside={stage.duration.high_s > 0 ? span(stage.duration.low_s, stage.duration.high_s) : undefined}
      className={boil ? classes.leading : undefined}
    >
      {boil ? (
        <>
          <p className={classes.big}>
            stop at {figure(boil.pot_reads_g)} g{' '}
            <small>{boil.pot_tare_g > 0 ? `${boil.pot_name} included` : 'without the pot'}</small>
          </p>
          <p className={classes.words}>
            {grams(boil.off_g)} g of water off · probe about {figure(boil.probe_c, 1)} °C, rough
            {boil.probe_doubt_brix !== null && ` (half a degree is ${figure(boil.probe_doubt_brix, 1)} °Bx)`}
          </p>
        </>
      ) : fill ? (
        <>
          <p className={classes.big}>{fill.words}</p>
          <p className={classes.words}>
            {fill.per_container_g !== null &&
              `${figure(fill.per_container_g)} g in a full one, filled at ${figure(stage.after.temperature_c ?? 20)} °C`}
          </p>
        </>
      ) : (
        <p className={classes.words}>
          {figure(stage.after.mass_g)} g in {stage.after.name}
          {stage.after.temperature_c !== null && `, ${figure(stage.after.temperature_c)} °C`}
          {stage.after.brix !== null && `, ${figure(stage.after.brix, 1)} °Bx`}
        </p>
      )}
      {gives && gives.high_g > gives.low_g && (
        <Yields gives={gives} of={stage.kind === 'press' ? 'of juice' : 'trimmed'} />
      )}
      {mill && mill.coarse_g > 0 && (
        <p className={classes.words}>
          {grams(mill.through_g)} g through the sieve, {grams(mill.coarse_g)} g still on it, {grams(mill.dust_g)} g lost
          as dust.
        </p>
      )}
      <ProcessFacts stage={stage} />
      {stage.hold && (
        <Button size="xs" variant="default" onClick={onHolds}>
          Compare where to keep it
        </Button>
      )}
      {blend && <BlendFacts blend={blend} stage={stage.id} document={document} />}
      {stage.cautions.length > 0 && (
        <ul className={classes.cautions}>
          {stage.cautions.map((caution) => (
            <li key={caution}>{caution}</li>
          ))}
        </ul>
      )}
    </Card>
  );
}

/** What a knife or a press gives, and what its range does to the product. */
function Yields({ gives, of }: { gives: YieldReport; of: string }) {
  const others = gives.all_high_g - gives.all_low_g > 1.0001 * (gives.product_high_g - gives.product_low_g);
  return (
    <p className={classes.words}>
      {grams(gives.gives_g)} g {of}, {grams(gives.low_g)} to {grams(gives.high_g)} as the yield falls out; that makes{' '}
      {fromTo(gives.product_low_g, gives.product_high_g)} g in the end.
      {others &&
        ` With every yield of the method at its least or its most, ${fromTo(gives.all_low_g, gives.all_high_g)} g.`}
    </p>
  );
}
