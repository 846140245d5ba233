import { Button, NativeSelect } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import { benchmarksQuery, drinkPagesQuery, drinkQuery, keys, titlesQuery } from '../../api/queries';
import type { BenchmarkCard, Choice, DrinkComponent, SideBySide, Span } from '../../api/types';
import { figure } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { FormulaPick } from '../formulas/FormulaPick';
import { MakeOrBuy } from './MakeOrBuy';
import classes from './Costs.module.css';

interface Picked {
  kind: 'formula' | 'benchmark';
  id: string;
  dose: number;
}
interface Asked {
  choices: Picked[];
  drink: string | null;
  component: string | null;
}

/** A dose before anybody said: common practice, no source. */
const DOSE = 20;
const MOST = 12;

/** Ours and what can be bought side by side: what a litre and a dose cost, what a dose brings, and what a drink costs with each. */
export function SideBySideCard() {
  const kept = useKept<Asked>('costs side by side', { choices: [], drink: null, component: null });
  const asked = kept.value;
  const benchmarks = useQuery(benchmarksQuery).data?.items.filter((each) => each.pack) ?? [];
  const chosen = useQuery({ ...drinkQuery(asked.drink ?? ''), enabled: asked.drink !== null });
  const parts = (asked.drink !== null && chosen.data?.document.components) || [];
  const component = asked.component ?? (parts.find((each) => each.role === 'dose') ?? parts[0])?.id ?? null;
  const body = {
    choices: asked.choices,
    drink: asked.drink && component ? { id: asked.drink, component } : null,
  };
  const [later] = useDebouncedValue(body, 250);
  const ready = later.choices.length > 0;
  const found = useQuery({
    queryKey: [...keys.money, 'side by side', later],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/money/side-by-side', {
          body: later,
          signal,
        }),
      ),
    enabled: ready,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const set = (change: Partial<Asked>) => kept.set((before) => ({ ...before, ...change }));
  const add = (picked: Picked) =>
    !asked.choices.some((each) => each.id === picked.id) && set({ choices: [...asked.choices, picked] });
  const put = (id: string, dose: number) =>
    set({ choices: asked.choices.map((each) => (each.id === id ? { ...each, dose } : each)) });
  const full = asked.choices.length >= MOST;
  return (
    <Card title="Side by side" aside="ours and what can be bought">
      <div className={classes.picks}>
        <FormulaPick
          key={asked.choices.length}
          label="Add a formula of ours"
          placeholder={full ? 'twelve are enough' : 'letters of its name'}
          disabled={full}
          value={null}
          onPick={(id) => id && add({ kind: 'formula', id, dose: DOSE })}
        />
        <NativeSelect
          label="Add a bought pack"
          disabled={full || benchmarks.length === 0}
          value=""
          data={[
            { value: '', label: benchmarks.length === 0 ? 'none with a pack under Tastings' : 'choose …' },
            ...benchmarks.map((each) => ({ value: each.id, label: each.name })),
          ]}
          onChange={(event) => {
            const id = event.currentTarget.value;
            if (id) add({ kind: 'benchmark', id, dose: DOSE });
          }}
        />
        <DrinkPick
          drink={asked.drink}
          component={component}
          parts={parts}
          onPick={(drink, component) => set({ drink, component })}
        />
      </div>
      {!ready && asked.choices.length === 0 && (
        <p className={classes.quiet}>
          Choose formulas, and packs that are written down as benchmarks under Tastings: they stand here per litre, per
          dose and in a drink.
        </p>
      )}
      {found.isError && ready && <Notice tone="stop" text={found.error.message} />}
      {found.data && ready && (
        <Table
          found={found.data}
          asked={asked}
          onDose={put}
          onRemove={(id) => set({ choices: asked.choices.filter((each) => each.id !== id) })}
        />
      )}
      <MakeOrBuyOf asked={asked} benchmarks={benchmarks} choices={found.data?.choices ?? []} />
    </Card>
  );
}

interface DrinkPickProps {
  drink: string | null;
  component: string | null;
  parts: DrinkComponent[];
  onPick: (drink: string | null, component: string | null) => void;
}

/** In which drink, in the place of what. */
function DrinkPick({ drink, component, parts, onPick }: DrinkPickProps) {
  const drinks = useInfiniteQuery(drinkPagesQuery(''));
  const cards = drinks.data?.pages.flatMap((page) => page.items) ?? [];
  const titles =
    useQuery({ ...titlesQuery(parts.map((each) => each.substance)), enabled: parts.length > 0 }).data ?? {};
  return (
    <>
      <NativeSelect
        label="In a drink"
        value={drink ?? ''}
        data={[{ value: '', label: 'no drink' }, ...cards.map((card) => ({ value: card.id, label: card.name }))]}
        onChange={(event) => onPick(event.currentTarget.value || null, null)}
      />
      {drink !== null && parts.length > 0 && (
        <NativeSelect
          label="In place of"
          value={component ?? ''}
          data={parts.map((each) => ({ value: each.id, label: each.name ?? titles[each.substance] ?? each.id }))}
          onChange={(event) => onPick(drink, event.currentTarget.value)}
        />
      )}
    </>
  );
}

interface TableProps {
  found: SideBySide;
  asked: Asked;
  onDose: (id: string, dose: number) => void;
  onRemove: (id: string) => void;
}

function Table({ found, asked, onDose, onRemove }: TableProps) {
  const money = useMoney();
  const shown = found.choices.filter((each) => asked.choices.some((picked) => picked.id === each.id));
  const scored = shown.some((each) => each.score !== null);
  const amount = (span: Span | null, digits: number, least: boolean) =>
    span === null ? '—' : `${least ? 'at least ' : ''}${money(span.likely, digits)}`;
  const band = (span: Span | null, digits: number) =>
    span !== null && span.high - span.low >= 10 ** -digits ? (
      <span className={classes.small}>
        {money(span.low, digits)} to {money(span.high, digits)}
      </span>
    ) : null;
  const missing = [...new Set([...shown.flatMap((each) => each.missing), ...found.drink_missing])];
  return (
    <>
      <div className={classes.wide} data-sideways="">
        <table className={classes.table}>
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">A dose</th>
              <th scope="col" className={classes.figure}>
                A litre
              </th>
              <th scope="col" className={classes.figure}>
                A dose costs
              </th>
              <th scope="col" className={classes.figure}>
                Sugars of a dose
              </th>
              {scored && (
                <th scope="col" className={classes.figure}>
                  Liked
                </th>
              )}
              {found.sizes.map((size) => (
                <th key={size} scope="col" className={classes.figure}>
                  {size}
                </th>
              ))}
              <th />
            </tr>
          </thead>
          <tbody>
            {shown.map((each) => {
              const least = each.missing.length > 0;
              const drink = found.in_drink.find((one) => one.choice === each.id);
              return (
                <tr key={each.id} data-first="">
                  <th scope="row">
                    {each.title}
                    <span className={classes.small}>{each.made ? 'made here' : 'bought'}</span>
                  </th>
                  <td className={classes.dose}>
                    <NumberField
                      size="md"
                      label={`A dose of ${each.title}`}
                      unit={each.dose_unit}
                      low={0.1}
                      high={100_000}
                      value={asked.choices.find((picked) => picked.id === each.id)?.dose ?? each.dose}
                      onNumber={(dose) => onDose(each.id, dose)}
                    />
                    <AsSweet choice={each} onDose={(dose) => onDose(each.id, dose)} />
                  </td>
                  <td className={classes.figure}>
                    {amount(each.per_litre, 2, least)}
                    {band(each.per_litre, 2)}
                  </td>
                  <td className={classes.figure}>
                    {amount(each.per_dose, 3, least)}
                    {band(each.per_dose, 3)}
                  </td>
                  <td className={classes.figure}>
                    {each.sugars_g === null ? '—' : `${figure(each.sugars_g.likely, 1)} g`}
                  </td>
                  {scored && (
                    <td className={classes.figure}>
                      {each.score === null ? '—' : figure(each.score, 1)}
                      {each.score !== null && <span className={classes.small}>{each.tasters} tasted</span>}
                    </td>
                  )}
                  {found.sizes.map((size, at) => (
                    <td key={size} className={classes.figure}>
                      {drink?.cost[at] == null ? '—' : money(drink.cost[at])}
                      {drink?.margin[at] != null && (
                        <span className={classes.small}>{figure(drink.margin[at])} % left</span>
                      )}
                    </td>
                  ))}
                  <td>
                    <Button
                      size="compact-md"
                      variant="subtle"
                      aria-label={`Remove ${each.title}`}
                      onClick={() => onRemove(each.id)}
                    >
                      Remove
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {found.drink_words && <p className={classes.small}>{found.drink_words}</p>}
      {missing.map((words) => (
        <Notice key={words} tone="look" text={`Not in it: ${words}`} />
      ))}
    </>
  );
}

/** How much of it is as sweet as a dose of the first, where that is another. */
function AsSweet({ choice, onDose }: { choice: Choice; onDose: (dose: number) => void }) {
  const dose = choice.as_sweet_dose;
  if (dose === null || Math.abs(dose - choice.dose) < 0.05) return null;
  const round = Number(dose.toFixed(1));
  return (
    <Button size="compact-xs" variant="subtle" onClick={() => onDose(round)}>
      as sweet: {figure(round, 1)} {choice.dose_unit}
    </Button>
  );
}

interface MakeOrBuyOfProps {
  asked: Asked;
  benchmarks: BenchmarkCard[];
  choices: Choice[];
}

/** The first of ours against the first pack that has a price. */
function MakeOrBuyOf({ asked, benchmarks, choices }: MakeOrBuyOfProps) {
  const ours = asked.choices.find((each) => each.kind === 'formula');
  const pack = asked.choices.find(
    (each) => each.kind === 'benchmark' && benchmarks.find((one) => one.id === each.id)?.pack?.price != null,
  );
  if (!ours || !pack) return null;
  const titleOf = (id: string) => choices.find((each) => each.id === id)?.title ?? '';
  return (
    <MakeOrBuy
      formula={ours.id}
      dose_g={ours.dose}
      benchmark={pack.id}
      dose={pack.dose}
      ours={titleOf(ours.id)}
      bought={titleOf(pack.id)}
    />
  );
}
