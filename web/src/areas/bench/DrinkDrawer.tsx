import { ActionIcon, Button, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { IconX } from '@tabler/icons-react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import type { DrinkReport, Hit, MethodDocument } from '../../api/types';
import { figure, fromTo, range } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { useMoney } from '../../lib/useMoney';
import { CurdleLine } from '../../parts/CurdleLine';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { SideDrawer } from '../../parts/SideDrawer';
import { IngredientPick } from '../pantry/IngredientPick';
import classes from './DrinkDrawer.module.css';

interface InCup {
  substance: string;
  title: string;
  amount: string;
}

const START: InCup[] = [
  { substance: 'espresso', title: 'Espresso', amount: '36 g' },
  { substance: 'whole_milk', title: 'Whole milk', amount: '180 g' },
];

/** Where a person begins; after that, with the cup they had last. */
const CUP = { dose: '20 g', warm: 60, ice: 0, cup: 0, base: START };

interface DrinkDrawerProps {
  opened: boolean;
  document: MethodDocument;
  onClose: () => void;
}

/** In the order in which people ask: sugar, caffeine, what it costs, whether it fits the cup; then the rest. */
const ASKED = ['sugars_g', 'free_g', 'added_g', 'caffeine_mg', 'dose_cost', 'cost', 'volume_ml', 'energy_kcal'];

function inOrder(figures: DrinkReport['figures']) {
  const place = (id: string) => (ASKED.includes(id) ? ASKED.indexOf(id) : ASKED.length);
  return [...figures].sort((a, b) => place(a.id) - place(b.id));
}

/** A dose of the formula in a drink: what is in the cup, how it is balanced, and what would move each side. */
export function DrinkDrawer({ opened, document, onClose }: DrinkDrawerProps) {
  const kept = useKept('cup', CUP);
  const { dose, warm, base } = kept.value;
  // A cup kept before there was ice in it has none.
  const [ice, cup] = [kept.value.ice ?? 0, kept.value.cup ?? 0];
  const put = (change: Partial<typeof CUP>) => kept.set({ ...kept.value, ...change });
  const ask = {
    dose,
    at_c: warm,
    ice_g: ice,
    cup_ml: cup > 0 ? cup : null,
    base: base.map(({ substance, amount }) => ({ substance, amount })),
  };
  const [asked] = useDebouncedValue(JSON.stringify(ask), 150);
  const found = useQuery({
    queryKey: ['drink', asked, document],
    queryFn: ({ signal }) =>
      answer(client.POST('/api/v1/drink', { body: { document, ask: JSON.parse(asked) as typeof ask }, signal })),
    enabled: opened,
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  const wrong = (field: string) => found.error?.textFor(field);
  const choose = (hit: Hit) => put({ base: [...base, { substance: hit.id, title: hit.title, amount: '100 g' }] });
  const general =
    found.error && !wrong('dose') && !base.some((_, n) => wrong(`lines.in-${n}`)) ? found.error.message : null;
  return (
    <SideDrawer opened={opened} title="In a drink" closeLabel="Close the drink" width={600} onClose={onClose}>
      <div className={classes.ask}>
        <TextInput
          size="md"
          label="Dose"
          description="20 g, 2 pumps, 1 tbsp"
          value={dose}
          error={wrong('dose')}
          onChange={(event) => put({ dose: event.currentTarget.value })}
          data-autofocus
        />
        <NumberField
          shown
          size="md"
          label="Served at"
          description="milk curdles sooner hot"
          unit="°C"
          low={0}
          high={100}
          value={warm}
          onNumber={(warm) => put({ warm })}
        />
        <NumberField
          shown
          size="md"
          label="Ice"
          description="in the cup"
          unit="g"
          low={0}
          high={5000}
          value={ice}
          onNumber={(ice) => put({ ice })}
          onClear={() => put({ ice: 0 })}
        />
        <NumberField
          shown
          size="md"
          label="The cup holds"
          description="to the brim; 0 if it does not matter"
          unit="ml"
          low={0}
          high={5000}
          value={cup}
          onNumber={(cup) => put({ cup })}
          onClear={() => put({ cup: 0 })}
        />
      </div>
      <h3 className={classes.head}>What it goes into</h3>
      <ul className={classes.base}>
        {base.map((each, n) => (
          <li key={each.substance}>
            <span>{each.title}</span>
            <TextInput
              aria-label={`How much ${each.title.toLowerCase()}`}
              value={each.amount}
              error={wrong(`lines.in-${n}`)}
              onChange={(event) =>
                put({
                  base: base.map((other, i) => (i === n ? { ...other, amount: event.currentTarget.value } : other)),
                })
              }
            />
            <ActionIcon
              variant="subtle"
              color="gray"
              size={36}
              aria-label={`Without ${each.title.toLowerCase()}`}
              onClick={() => put({ base: base.filter((_, i) => i !== n) })}
            >
              <IconX size={16} />
            </ActionIcon>
          </li>
        ))}
      </ul>
      {base.length < 8 && (
        <IngredientPick
          key={base.length}
          label="Add to the cup"
          value={null}
          onChoose={(hit) => !base.some((each) => each.substance === hit.id) && choose(hit)}
        />
      )}
      {general && <Notice tone="look" text={general} />}
      {found.data && <Cup report={found.data} stale={found.isError} />}
      {base.length === 0 && (
        <Button variant="default" mt={8} onClick={() => put({ base: START })}>
          Espresso and milk again
        </Button>
      )}
    </SideDrawer>
  );
}

function Cup({ report, stale }: { report: DrinkReport; stale: boolean }) {
  const money = useMoney();
  const titles = Object.fromEntries(report.sides.map((side) => [side.id, side]));
  return (
    <div className={classes.cup} data-stale={stale || undefined}>
      <p className={classes.dose}>
        <strong>{figure(report.dose_g, 1)} g</strong> of it
        {report.dose_ml !== null && `, ${figure(report.dose_ml, 1)} ml`}.{' '}
        {report.dose_ml !== null && report.reading.includes(',') && (
          <span className={classes.small}>{report.reading}</span>
        )}
      </p>
      <dl className={classes.figures}>
        {inOrder(report.figures).map((each) => (
          <div key={each.id}>
            <dt>{each.title}</dt>
            <dd title={each.why_not || undefined}>
              {each.value === null
                ? '—'
                : each.id.endsWith('cost')
                  ? money(each.value, each.digits)
                  : figure(each.value, each.digits)}{' '}
              <span className={classes.small}>{each.value !== null && each.unit}</span>
              {each.low !== null && each.high !== null && each.high - each.low >= 10 ** -each.digits && (
                <span className={`${classes.small} ${classes.range}`}>
                  {' '}
                  {figure(each.low, each.digits)}–{figure(each.high, each.digits)}
                </span>
              )}
            </dd>
          </div>
        ))}
      </dl>
      {report.figures
        .filter((each) => each.why_not)
        .map((each) => (
          <p key={each.id} className={classes.small}>
            {each.why_not}
          </p>
        ))}
      <h3 className={classes.head}>Balance</h3>
      <ul className={classes.sides}>
        {report.sides.map((side) => (
          <li key={side.id}>
            <span className={classes.side}>{side.title}</span>
            <Gauge side={side} />
            <span className={classes.word}>{side.word}</span>
            <span className={classes.small}>
              {figure(side.value, side.digits)} {side.unit}
            </span>
          </li>
        ))}
      </ul>
      <p className={classes.small}>
        The pale stretch is where drinks mostly stand: common practice, no source. Your tongue decides.
      </p>
      <div className={classes.notices}>
        {report.curdling && (
          <Notice
            tone={report.curdling.tone}
            text={`${report.curdling.words} That is ${fromTo(report.curdling.low, report.curdling.high, 1)} times what it takes, an estimate.`}
          />
        )}
        {report.curdling && <CurdleLine low={report.curdling.low} high={report.curdling.high} />}
        {report.cautions.map((words) => (
          <Notice key={words} tone="look" text={words} />
        ))}
        {report.advice.map((words) => (
          <Notice key={words} tone="look" text={words} />
        ))}
      </div>
      <h3 className={classes.head}>How it is built</h3>
      <ol className={classes.layers} aria-label="Layers, the top one first">
        {[...report.build.layers].reverse().map((layer) => (
          <li key={layer.title}>
            <span>{layer.title}</span>
            <span className={classes.small}>
              {figure(layer.likely)} g per litre
              {layer.high - layer.low >= 1 && `, ${range(layer.low, layer.high)}`}
            </span>
          </li>
        ))}
      </ol>
      {report.build.words.map((words) => (
        <p key={words} className={classes.small}>
          {words}
        </p>
      ))}
      <h3 className={classes.head}>What would move it</h3>
      <ul className={classes.nudges}>
        {report.nudges.map((nudge) => (
          <li key={nudge.words}>
            <strong>{nudge.words}</strong>
            <span className={classes.small}>
              {nudge.moves
                .map(
                  (move) =>
                    `${titles[move.side]?.title.toLowerCase() ?? move.side} ${figure(move.before, titles[move.side]?.digits ?? 1)} → ${figure(move.after, titles[move.side]?.digits ?? 1)}`,
                )
                .join(', ')}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Where a side stands, with its range, on an axis that holds the usual stretch. */
function Gauge({ side }: { side: DrinkReport['sides'][number] }) {
  const end = 1.25 * Math.max(side.usual_high, side.high, 1e-9);
  const at = (value: number) => `${Math.min(100, (100 * value) / end)}%`;
  return (
    <span
      className={classes.gauge}
      role="img"
      aria-label={`${side.title}: ${figure(side.value, side.digits)}, usual ${fromTo(side.usual_low, side.usual_high, side.digits)} ${side.unit}`}
    >
      <span
        className={classes.usual}
        style={{ left: at(side.usual_low), right: `calc(100% - ${at(side.usual_high)})` }}
      />
      <span className={classes.band} style={{ left: at(side.low), right: `calc(100% - ${at(side.high)})` }} />
      <span className={classes.mark} style={{ left: at(side.value) }} />
    </span>
  );
}
