import { Button, NativeSelect } from '@mantine/core';
import type { SheetFill, SheetStep, What } from '../../api/types';
import { asEntered, clock, figure, grams, range, span } from '../../lib/format';
import { BigFigure } from '../../parts/BigFigure';
import { Notice } from '../../parts/Notice';
import { probing } from './BoilPanel';
import type { Ask } from './ask';
import classes from './hob.module.css';
import { StepButton } from './StepButton';

interface PanelProps {
  step: SheetStep;
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
}

const WARM_WORDS: Record<string, string> = { heat: 'warm to', cool: 'cool to', caramelise: 'brown to' };

/** A temperature to reach. */
export function WarmPanel({ step, mayEnter, enter, ask }: PanelProps) {
  const warm = step.warm;
  if (!warm) return null;
  return (
    <>
      <div className={classes.figures}>
        <BigFigure
          huge
          label={WARM_WORDS[step.kind] ?? 'warm to'}
          value={figure(warm.to_c)}
          unit="°C"
          kind="asked"
          note={`takes ${span(step.duration.low_s, step.duration.high_s)}`}
        />
        <BigFigure
          label="probe"
          value={warm.probe ? figure(warm.probe.temperature_c, 1) : '—'}
          unit="°C"
          kind={warm.probe ? 'measured' : 'asked'}
          note={warm.probe ? `at ${clock(warm.probe.at)}` : 'not probed yet'}
        >
          {mayEnter && (
            <Button variant="default" onClick={() => ask(probing(step, enter))}>
              Probe
            </Button>
          )}
        </BigFigure>
      </div>
    </>
  );
}

/** Which of several pieces of equipment it was done with: what one met it may carry over. */
export function EquipmentPanel({
  step,
  equipment,
  mayEnter,
  enter,
}: PanelProps & { equipment: NonNullable<SheetStep['equipment']> }) {
  return (
    <NativeSelect
      size="md"
      label={equipment.said ? 'Taken for it' : 'Take for it'}
      data={equipment.pieces.map((piece) => ({ value: piece.id, label: piece.name }))}
      value={equipment.taken.id}
      disabled={!mayEnter}
      onChange={(event) => enter({ kind: 'took', stage: step.id, piece: event.currentTarget.value })}
    />
  );
}

/** What a sieve, a knife or a press should give, and what it gave. */
export function GivePanel({ step, mayEnter, enter, ask }: PanelProps) {
  if (step.expects_g === null) return null;
  const { expects_low_g: low, expects_high_g: high, gave } = step;
  const ends = low !== null && high !== null && high - low > 0.5 ? `${range(low, high)} g` : 'calculated';
  return (
    <>
      <div className={classes.figures}>
        <BigFigure huge label="should give" value={figure(step.expects_g)} unit="g" kind="computed" note={ends} />
        <BigFigure
          label="gave"
          value={gave ? grams(gave.mass_g) : '—'}
          unit="g"
          kind={gave ? 'weighed' : 'asked'}
          note={gave ? `weighed at ${clock(gave.at)}` : 'not weighed yet'}
        />
      </div>
      {mayEnter && (
        <div className={classes.buttons}>
          <Button
            variant="default"
            onClick={() =>
              ask({
                title: `What ${step.name} gave`,
                label: 'What the scale shows',
                unit: 'g',
                tares: [{ title: 'Nothing: tared to 0', grams: 0 }],
                hint: 'With the empty jug tared away.',
                keep: (value) => `Save ${asEntered(value, 0)} g`,
                onKeep: (value) => enter({ kind: 'gave', stage: step.id, reads_g: value, tare_g: 0 }),
              })
            }
          >
            Weigh what it gave
          </Button>
        </div>
      )}
    </>
  );
}

/** What a step leaves beside the product: pressed nuts, the rest of a blend. Kept, it stands among the bottles with a day of its own. */
export function AsidePanel({
  step,
  aside,
  practised,
  mayEnter,
  enter,
  ask,
}: PanelProps & { aside: NonNullable<SheetStep['kept_aside']>; practised: boolean }) {
  const keep = () =>
    ask({
      title: `Keep ${aside.title}`,
      label: 'What the scale shows',
      unit: 'g',
      tares: [{ title: 'Nothing: tared to 0', grams: 0 }],
      asked: { words: `As calculated: ${figure(aside.expects_g)} g`, value: Math.round(aside.expects_g) },
      keep: (value) => `Save ${asEntered(value, 0)} g`,
      least: 1,
      most: aside.most_g,
      tooMuch: `Only ${figure(aside.most_g)} g went in there. Weigh it again.`,
      onKeep: (value) => enter({ kind: 'kept_aside', stage: step.id, mass_g: value }),
    });
  return (
    <div className={classes.aside}>
      <p>
        <strong>Beside it: {aside.title}.</strong>{' '}
        {aside.kept_g > 0
          ? `${figure(aside.kept_g)} g kept${practised ? '' : ': its day stands under Bottles'}.`
          : `About ${figure(aside.expects_g)} g. Kept cold, it has a day of its own; else bin it.`}
      </p>
      {mayEnter && (
        <div className={classes.buttons}>
          <Button variant="default" onClick={keep}>
            Keep it aside
          </Button>
        </div>
      )}
    </div>
  );
}

/** Containers by weight, what is left over, and what came of it all. */
export function FillPanel({ step, fill, mayEnter, enter, ask }: PanelProps & { fill: SheetFill }) {
  const each = fill.per_container_g;
  return (
    <>
      {fill.impossible && <Notice tone="stop" text={fill.impossible} />}
      <div className={classes.lead}>
        <BigFigure
          huge
          label={`in each ${figure(fill.size_ml)} ml`}
          value={each === null ? '—' : figure(each)}
          unit="g"
          kind="computed"
          note={
            fill.fill_c !== null && fill.cold_ml !== null
              ? `filled at ${figure(fill.fill_c)} °C it is ${figure(fill.cold_ml)} ml once cold`
              : undefined
          }
        />
        <BigFigure
          label="filled"
          value={String(fill.filled)}
          unit={fill.containers > 0 ? `of ${fill.containers}` : ''}
          kind={fill.filled > 0 ? 'weighed' : 'asked'}
          note={fill.filled > 0 ? `${figure(fill.filled_g)} g` : `${figure(fill.expects_g)} g to fill`}
        />
        <BigFigure
          label="left over"
          value={fill.kept_g > 0 ? figure(fill.kept_g) : figure(fill.left_over_g)}
          unit="g"
          kind={fill.kept_g > 0 ? 'weighed' : 'computed'}
        />
      </div>
      {mayEnter && (
        <div className={classes.buttons}>
          {each !== null && fill.full_left > 0 && (
            <StepButton
              means={`fill ${step.id} ${fill.filled}`}
              onPress={() =>
                enter({ kind: 'bottled', stage: step.id, count: fill.full_left, each_g: Math.round(each) })
              }
            >
              {fill.full_left} filled, {figure(each)} g each
            </StepButton>
          )}
          <Button
            variant="default"
            onClick={() =>
              ask({
                title: 'One filled',
                label: 'What is in it',
                unit: 'g',
                tares: [{ title: 'Nothing: the empty one tared away', grams: 0 }],
                ...(fill.next_g == null
                  ? {}
                  : {
                      asked: {
                        words: `${each !== null && fill.next_g < each ? 'What is left' : 'As asked'}: ${figure(fill.next_g)} g`,
                        value: Math.round(fill.next_g),
                      },
                    }),
                keep: (value) => `Save ${asEntered(value, 0)} g`,
                least: 1,
                most: fill.most_g,
                tooMuch: tooMuch(fill),
                onKeep: (value) => enter({ kind: 'bottled', stage: step.id, count: 1, each_g: value }),
              })
            }
          >
            One filled
          </Button>
          <Button variant="default" onClick={() => ask(left('Left over and kept', 'kept', step, fill, enter))}>
            Left over, kept
          </Button>
          <Button variant="default" onClick={() => ask(left('Left over and binned', 'binned', step, fill, enter))}>
            Left over, binned
          </Button>
        </div>
      )}
    </>
  );
}

function left(title: string, fate: string, step: SheetStep, fill: SheetFill, enter: (what: What) => void): Ask {
  return {
    title,
    label: 'How much was left',
    unit: 'g',
    tares: [{ title: 'Nothing: tared to 0', grams: 0 }],
    keep: (value) => `Save ${asEntered(value, 0)} g`,
    least: 0.01,
    most: fill.most_g,
    tooMuch: tooMuch(fill),
    onKeep: (value) => enter({ kind: 'left_over', stage: step.id, mass_g: value, fate }),
  };
}

/** Why more cannot be entered, where it would be more than there was. */
function tooMuch(fill: SheetFill): string {
  return `There were only ${figure(fill.expects_g)} g to fill, and ${figure(fill.filled_g + fill.kept_g)} g are entered. Weigh it again, or take back the entry that is wrong.`;
}
