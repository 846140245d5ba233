import { Button } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { answer, client } from '../../api/client';
import { keys, substanceQuery } from '../../api/queries';
import type { Made, Substance } from '../../api/types';
import { useMay } from '../../app/person';
import { figure, range } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { Lots } from './Lots';
import { Packs } from './Packs';
import { BASIS_WORDS, bandOf, componentName, density, KIND_WORDS } from './words';
import classes from './Pantry.module.css';

/** One ingredient, with everything known of it and how it is known. */
export function IngredientView({ id }: { id: string }) {
  const found = useQuery(substanceQuery(id));
  if (found.isError) return <Notice tone="stop" text={found.error.message} />;
  if (!found.data) return null;
  const substance = found.data;
  const { document: s } = substance;
  return (
    <div className={classes.detail}>
      <header className={classes.title}>
        <h2>{s.title}</h2>
        <span className={classes.small}>{KIND_WORDS[s.kind]}</span>
        <Actions substance={substance} />
      </header>
      {substance.put_away && (
        <Notice
          tone="look"
          text={
            s.made_from
              ? 'Not the newest version, or its formula is archived: no list shows it. Formulas that use it keep it.'
              : 'Archived: no list shows it. Formulas that use it keep it.'
          }
        />
      )}
      <div className={classes.pair}>
        <div className={classes.detail}>
          <Composition substance={substance} />
          <Safety substance={substance} />
        </div>
        <div className={classes.detail}>
          {s.made_from && <MadeOf made={s.made_from} />}
          <InHand substance={substance} />
          {s.enzyme && <EnzymeFacts substance={substance} />}
        </div>
      </div>
      {!s.made_from && (
        <>
          <Packs substance={substance} />
          <Lots substance={substance} />
        </>
      )}
    </div>
  );
}

/** What something made here is made of, as bought. */
function MadeOf({ made }: { made: Made }) {
  return (
    <Card title="Made of" aside={`version ${made.version.version}; weighed in for a kilogram`}>
      <Rows
        rows={made.contents.map((each) => [
          each.within === made.version.name ? each.title : `${each.title} in ${each.within}`,
          `${figure(1000 * each.grams_per_g, 1)} g`,
        ])}
      />
    </Card>
  );
}

function Actions({ substance }: { substance: Substance }) {
  const made = substance.document.made_from;
  const mayEdit = useMay('edit_pantry');
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const away = useMutation({
    mutationFn: () => answer(client.DELETE('/api/v1/substances/{key}', { params: { path: { key: substance.id } } })),
    onSuccess: () => {
      void queryClient.invalidateQueries({ queryKey: keys.substances });
      if (!substance.in_library) void navigate('/pantry');
    },
  });
  return (
    <span className={classes.actions}>
      <Button variant="default" component={Link} to="/pantry" hiddenFrom="md">
        All
      </Button>
      {made && (
        <Button variant="default" component={Link} to={`/formulas/${made.version.formula}`}>
          Open its formula
        </Button>
      )}
      {mayEdit && !made && (
        <>
          <Button variant="default" component={Link} to={`/pantry/${substance.id}/edit`}>
            {substance.own ? 'Change' : 'Adapt for our kitchen'}
          </Button>
          {substance.own && !substance.put_away && (
            <Button variant="default" loading={away.isPending} onClick={() => away.mutate()}>
              {substance.in_library ? 'Use the values of the table' : 'Archive'}
            </Button>
          )}
        </>
      )}
      {away.error && <span className={classes.small}>{away.error.message}</span>}
    </span>
  );
}

function Composition({ substance }: { substance: Substance }) {
  const { document: s } = substance;
  const parts = Object.entries(s.composition_g_per_100g).sort(([, a], [, b]) => b - a);
  return (
    <Card
      title="In 100 g"
      aside={
        s.made_from
          ? `as the walk of version ${s.made_from.version.version} gives it`
          : `${substance.own ? 'our own, ' : ''}${BASIS_WORDS[s.basis]}${s.source ? `: ${s.source}` : ''}`
      }
    >
      <div className={classes.bar} aria-hidden="true">
        {parts.map(([component, grams]) => (
          <span key={component} style={{ flexGrow: grams, background: `var(--band-${bandOf(component)})` }} />
        ))}
      </div>
      <table className={classes.table}>
        <tbody>
          {parts.map(([component, grams]) => (
            <tr key={component}>
              <th scope="row">
                <span
                  className={classes.swatch}
                  style={{ background: `var(--band-${bandOf(component)})` }}
                  aria-hidden="true"
                />
                {componentName(component)}
              </th>
              <td>
                {figure(grams, grams < 1 ? 3 : grams < 10 ? 2 : 1)} <span className={classes.unit}>g</span>
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">of which free sugars (WHO)</th>
            <td>
              {figure(s.free_sugars_g_per_100g ?? substance.sugars_g_per_100g, 1)}{' '}
              <span className={classes.unit}>g</span>
            </td>
          </tr>
          {substance.brix !== null && (
            <tr>
              <th scope="row">dissolved in its liquid</th>
              <td>
                {figure(substance.brix, 1)} <span className={classes.unit}>°Bx</span>
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {s.basis === 'estimate' && !s.made_from && (
        <p className={classes.quiet}>
          An estimate: nobody published it. What a pack or a refractometer says is better.
        </p>
      )}
      {s.note && <p className={classes.quiet}>{s.note}</p>}
    </Card>
  );
}

function InHand({ substance }: { substance: Substance }) {
  const { document: s } = substance;
  const rows: [string, string][] = [
    ['A spoon or cup holds', `${density(s)} g/ml ± ${(100 * s.density_spread).toFixed(0)} %`],
  ];
  for (const [word, piece] of Object.entries(s.pieces))
    rows.push([`A ${word} weighs`, `${piece.grams} g ± ${(100 * piece.spread).toFixed(0)} %`]);
  if (s.edible_portion)
    rows.push(['Left once trimmed', `${range(100 * s.edible_portion.low, 100 * s.edible_portion.high)} %`]);
  if (s.juice_yield) rows.push(['Juice of that', `${range(100 * s.juice_yield.low, 100 * s.juice_yield.high)} %`]);
  if (s.character) rows.push(['Tastes of', s.character]);
  if (s.strength)
    rows.push([
      'Strength against sweet bark',
      `${range(s.strength.low, s.strength.high, s.strength.high < 3 ? 1 : 0)} times, an estimate`,
    ]);
  if (s.ph != null) rows.push(['pH, measured', figure(s.ph, 2)]);
  rows.push(['Stands', s.storage === 'chilled' ? 'in the fridge' : 'at room temperature']);
  if (s.opened)
    rows.push([
      s.made_from ? 'Once made it keeps' : 'Opened it keeps',
      s.made_from
        ? `${figure(s.opened.low)} day${s.opened.low === 1 ? '' : 's'}, the day of making counted${s.made_from.days_by ? `, by ${s.made_from.days_by}` : ''}`
        : `${range(s.opened.low, s.opened.high)} days${s.opened.storage === 'chilled' ? ', chilled' : ''}, common practice`,
    ]);
  if (s.also_called.length) rows.push(['Also called', s.also_called.join(', ')]);
  return (
    <Card title="In hand">
      <Rows rows={rows} />
      {s.other_form && (
        <p>
          <Link className={classes.link} to={`/pantry/${s.other_form}`}>
            {s.is_ground ? 'The same, whole' : 'The same, ground'}
          </Link>
        </p>
      )}
    </Card>
  );
}

function Rows({ rows }: { rows: [string, string][] }) {
  return (
    <table className={classes.table}>
      <tbody>
        {rows.map(([name, words]) => (
          <tr key={name}>
            <th scope="row">{name}</th>
            <td data-words>{words}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Safety({ substance }: { substance: Substance }) {
  const { document: s, hazards, allergens_by_list } = substance;
  return (
    <Card title="Allergens and hazards">
      {Object.entries(allergens_by_list).map(([list, named]) => (
        <p key={list}>
          {named.length > 0 ? (
            <>
              Contains <strong>{named.join(', ')}</strong>
            </>
          ) : (
            'None known'
          )}{' '}
          <span className={classes.small}>{list}</span>
        </p>
      ))}
      {s.check_pack_for.length > 0 && (
        <p>
          Check the pack for <strong>{s.check_pack_for.join(', ')}</strong>.
        </p>
      )}
      {hazards.map((hazard) => (
        <p key={hazard.code} className={hazard.grave ? classes.grave : classes.mild}>
          {hazard.words}
        </p>
      ))}
      <p className={classes.small}>The pack, your local food code and a qualified person decide.</p>
    </Card>
  );
}

function EnzymeFacts({ substance }: { substance: Substance }) {
  const enzyme = substance.document.enzyme;
  if (!enzyme) return null;
  const unknown = 'not known: type it from the data sheet';
  const known =
    enzyme.activity != null &&
    enzyme.activity_unit &&
    enzyme.sheet &&
    enzyme.works_c &&
    enzyme.dies_c != null &&
    enzyme.dose_g_kg;
  return (
    <Card title="Enzyme">
      <Rows
        rows={[
          ['Source', enzyme.source],
          ['Works at', enzyme.works_c ? `${range(enzyme.works_c.low, enzyme.works_c.high)} °C` : unknown],
          ['Lost at', enzyme.dies_c != null ? `${figure(enzyme.dies_c)} °C` : unknown],
          ['pH', enzyme.ph ? range(enzyme.ph.low, enzyme.ph.high, 1) : unknown],
          ['Activity', enzyme.activity != null ? `${figure(enzyme.activity)} ${enzyme.activity_unit ?? ''}` : unknown],
          [
            'Dose',
            enzyme.dose_g_kg ? `${range(enzyme.dose_g_kg.low, enzyme.dose_g_kg.high, 1)} g per kg of starch` : unknown,
          ],
          ['Data sheet', enzyme.sheet ?? unknown],
        ]}
      />
      {!known && (
        <p className={classes.mild}>Without source, activity, dose and data sheet no hold is promised with it.</p>
      )}
    </Card>
  );
}
