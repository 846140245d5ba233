import type { DrinkComponent, DrinkDocument, DrinkSize } from '../../api/types';

/** A change of a drink: the old one stays as it was. */
export type DrinkEdit = (drink: DrinkDocument) => DrinkDocument;

export const ROLES: { value: NonNullable<DrinkComponent['role']>; label: string }[] = [
  { value: 'dose', label: 'dose: syrup, sauce, creamer' },
  { value: 'coffee', label: 'coffee' },
  { value: 'tea', label: 'tea' },
  { value: 'milk', label: 'milk or its alternative' },
  { value: 'foam', label: 'foam or cream on top' },
  { value: 'ice', label: 'ice' },
  { value: 'garnish', label: 'garnish' },
  { value: 'other', label: 'something else' },
];

/** The sizes a first drink starts with; a person changes them once and copies them from then on. */
export const SIZES: DrinkSize[] = [
  { id: 'short', name: 'Short', cup_ml: 180, fill_ml: 166 },
  { id: 'regular', name: 'Regular', cup_ml: 270, fill_ml: 256 },
  { id: 'long', name: 'Long', cup_ml: 360, fill_ml: 346 },
];

export const EMPTY: DrinkDocument = {
  format: 'oakenjug.drink/1',
  name: '',
  notes: '',
  sizes: SIZES,
  components: [],
  levels: [],
  substances: {},
};

/** An id nobody has yet: “dose”, “dose-2”. */
export function freshId(taken: string[], begins: string): string {
  let id = begins;
  for (let n = 2; taken.includes(id); n += 1) id = `${begins}-${n}`;
  return id;
}

/** Amounts without those of one size. */
function without(amounts: Record<string, string>, size: string): Record<string, string> {
  return Object.fromEntries(Object.entries(amounts).filter(([id]) => id !== size));
}

export function setComponent(id: string, change: Partial<DrinkComponent>): DrinkEdit {
  return (drink) => ({
    ...drink,
    components: drink.components.map((each) => (each.id === id ? { ...each, ...change } : each)),
  });
}

export function setAmount(id: string, size: string, text: string): DrinkEdit {
  return (drink) => ({
    ...drink,
    components: drink.components.map((each) => {
      if (each.id !== id) return each;
      const rest = without(each.amounts ?? {}, size);
      return { ...each, amounts: text === '' ? rest : { ...rest, [size]: text } };
    }),
  });
}

export function addComponent(component: DrinkComponent): DrinkEdit {
  return (drink) => ({ ...drink, components: [...drink.components, component] });
}

export function removeComponent(id: string): DrinkEdit {
  return (drink) => ({
    ...drink,
    components: drink.components.filter((each) => each.id !== id),
    levels: (drink.levels ?? []).filter((level) => level.component !== id),
  });
}

/** One place earlier (−1) or later (1) in the order of pouring. */
export function moveComponent(id: string, by: -1 | 1): DrinkEdit {
  return (drink) => {
    const from = drink.components.findIndex((each) => each.id === id);
    const to = from + by;
    if (from < 0 || to < 0 || to >= drink.components.length) return drink;
    const components = [...drink.components];
    components.splice(to, 0, ...components.splice(from, 1));
    return { ...drink, components };
  };
}

export function setSize(id: string, change: Partial<DrinkSize>): DrinkEdit {
  return (drink) => ({ ...drink, sizes: drink.sizes.map((each) => (each.id === id ? { ...each, ...change } : each)) });
}

export function addSize(): DrinkEdit {
  return (drink) => {
    const last = drink.sizes[drink.sizes.length - 1]!;
    const id = freshId(
      drink.sizes.map((size) => size.id),
      'size',
    );
    const cup_ml = last.cup_ml + 90;
    const name = freshId(
      drink.sizes.map((size) => size.name),
      'New size',
    );
    return { ...drink, sizes: [...drink.sizes, { id, name, cup_ml, fill_ml: cup_ml - 14 }] };
  };
}

export function removeSize(id: string): DrinkEdit {
  return (drink) =>
    drink.sizes.length < 2
      ? drink
      : {
          ...drink,
          sizes: drink.sizes.filter((each) => each.id !== id),
          components: drink.components.map((each) => ({ ...each, amounts: without(each.amounts ?? {}, id) })),
        };
}

/** What is dosed: the first dose, else the first thing in the cup. */
export function doseOf(drink: DrinkDocument): DrinkComponent | undefined {
  return drink.components.find((each) => each.role === 'dose') ?? drink.components[0];
}
