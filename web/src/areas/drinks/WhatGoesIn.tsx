import { ActionIcon, Tooltip } from '@mantine/core';
import { IconChevronDown, IconChevronUp } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import type { ApiProblem } from '../../api/problem';
import { titlesQuery } from '../../api/queries';
import type { DrinkComponent, DrinkDocument, DrinkSizes, Hit } from '../../api/types';
import { Card } from '../../parts/Card';
import { IngredientPick } from '../pantry/IngredientPick';
import { addComponent, type DrinkEdit, freshId, moveComponent } from './edits';
import classes from './Drinks.module.css';

interface WhatGoesInProps {
  document: DrinkDocument;
  report: DrinkSizes | null;
  problem: ApiProblem | null;
  readOnly: boolean;
  onEdit: (of: string, edit: DrinkEdit) => void;
  onOpen: (component: string) => void;
}

/** Everything in the cup in the order of pouring; a press opens how much of it goes into which size. */
export function WhatGoesIn({ document, report, problem, readOnly, onEdit, onOpen }: WhatGoesInProps) {
  const titles = useQuery(titlesQuery(document.components.map((each) => each.substance))).data ?? {};
  const add = (hit: Hit) => {
    const component = fresh(document, hit);
    onEdit(`add ${component.id}`, addComponent(component));
    onOpen(component.id);
  };
  return (
    <Card title="What goes in" aside={document.components.length > 1 ? 'in the order of pouring' : undefined}>
      <ol className={classes.parts}>
        {document.components.map((component, index) => {
          const read = report?.components.find((each) => each.id === component.id);
          const title = component.name ?? read?.title ?? titles[component.substance] ?? component.substance;
          const wrong = problem?.textFor(`components.${component.id}`);
          return (
            <li key={component.id}>
              <button type="button" className={classes.part} onClick={() => onOpen(component.id)}>
                <strong>{title}</strong>
                <span className={classes.small}>
                  {[read?.version ? `version ${read.version}, made here` : '', amounts(document, component)]
                    .filter(Boolean)
                    .join(' · ')}
                </span>
                {wrong && <span className={classes.trouble}>{wrong}</span>}
              </button>
              {!readOnly && document.components.length > 1 && (
                <span className={classes.moves}>
                  <Tooltip label="Pour it earlier">
                    <ActionIcon
                      data-first={index === 0 || undefined}
                      size="lg"
                      variant="subtle"
                      color="gray"
                      aria-label={`Pour ${title} earlier`}
                      disabled={index === 0}
                      onClick={() => onEdit('order', moveComponent(component.id, -1))}
                    >
                      <IconChevronUp size={17} aria-hidden="true" />
                    </ActionIcon>
                  </Tooltip>
                  <Tooltip label="Pour it later">
                    <ActionIcon
                      data-first={index === document.components.length - 1 || undefined}
                      size="lg"
                      variant="subtle"
                      color="gray"
                      aria-label={`Pour ${title} later`}
                      disabled={index === document.components.length - 1}
                      onClick={() => onEdit('order', moveComponent(component.id, 1))}
                    >
                      <IconChevronDown size={17} aria-hidden="true" />
                    </ActionIcon>
                  </Tooltip>
                </span>
              )}
            </li>
          );
        })}
      </ol>
      {!readOnly && (
        <IngredientPick key={document.components.length} label="Add to the cup" value={null} onChoose={add} />
      )}
      {report && <Contains report={report} />}
      {report?.pouring.slice(1).map((words) => (
        <p key={words} className={classes.small}>
          {words}
        </p>
      ))}
    </Card>
  );
}

/** “Contains milk. May contain nuts: check the pack.” */
function Contains({ report }: { report: DrinkSizes }) {
  const every = report.sizes.length;
  const named = (certain: boolean) =>
    report.allergens
      .filter((each) => each.certain === certain)
      .map((each) => {
        const where = report.sizes.filter((size) => each.sizes.includes(size.id)).map((size) => size.name);
        return where.length === every ? each.allergen : `${each.allergen} (${where.join(', ')})`;
      });
  const [sure, maybe] = [named(true), named(false)];
  return (
    <p className={classes.contains}>
      {sure.length > 0 ? (
        <>
          Contains <strong>{sure.join(', ')}</strong>.
        </>
      ) : (
        'None of the listed allergens is known to be in it.'
      )}
      {maybe.length > 0 && ` Check the packs for ${maybe.join(', ')}.`} Equipment shared with other drinks is not
      counted.
    </p>
  );
}

/** “2 strokes, 3 strokes, 4 strokes”; once where all sizes have the same. */
function amounts(document: DrinkDocument, component: DrinkComponent): string {
  const each = document.sizes.map((size) => component.amounts?.[size.id]?.trim() || '—');
  if (each.every((text) => text === '—')) return 'no amount yet';
  return new Set(each).size === 1 ? each[0]! : each.join(' · ');
}

const ROLE_OF_KIND: Record<string, NonNullable<DrinkComponent['role']>> = {
  made: 'dose',
  syrup: 'dose',
  sugar: 'dose',
  coffee: 'coffee',
  tea: 'tea',
  dairy: 'milk',
  plant: 'milk',
};

/** What a new component starts as, by what kind of thing it is. */
function fresh(document: DrinkDocument, hit: Hit): DrinkComponent {
  const role = ROLE_OF_KIND[hit.kind] ?? 'other';
  const fills = role === 'milk' && !document.components.some((each) => each.role === 'milk');
  const id = freshId(
    document.components.map((each) => each.id),
    role,
  );
  const amounts = fills ? Object.fromEntries(document.sizes.map((size) => [size.id, 'to the line'])) : {};
  return { id, role, substance: hit.id, amounts };
}
