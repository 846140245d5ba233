/** How a composition is known, as a mark says it. */
export const BASIS_WORDS: Record<string, string> = { table: 'table', label: 'label', estimate: 'estimate' };

/** Kinds of ingredients, as people say them. */
export const KIND_WORDS: Record<string, string> = {
  sugar: 'Sugars',
  syrup: 'Syrups and honey',
  dairy: 'Dairy',
  plant: 'Plant dairy and oils',
  cocoa: 'Cocoa and chocolate',
  coffee: 'Coffee',
  tea: 'Tea',
  fruit: 'Fruit and purée',
  juice: 'Juice',
  nut: 'Nuts and seeds',
  spice: 'Spices',
  herb: 'Herbs and blossoms',
  extract: 'Extracts and spirits',
  acid: 'Acids',
  salt: 'Salts',
  thickener: 'Thickeners',
  enzyme: 'Enzymes',
  water: 'Water',
  made: 'Made here',
  other: 'Other',
};
/** Kinds of what is bought: what is made here comes of its formula. */
export const BOUGHT_KINDS = Object.entries(KIND_WORDS).filter(([kind]) => kind !== 'made');

/** Grams a millilitre, to what anybody weighs. */
export const density = (of: { density_g_ml: number }) => Number(of.density_g_ml.toPrecision(4));

export const COMPONENTS = [
  'water',
  'sucrose',
  'glucose',
  'fructose',
  'lactose',
  'galactose',
  'maltose',
  'dextrin',
  'sorbitol',
  'other_soluble_carbohydrate',
  'starch',
  'insoluble',
  'pectin_and_gums',
  'milk_fat',
  'cocoa_butter',
  'other_fat',
  'protein',
  'salt',
  'other_ash',
  'citric',
  'malic',
  'tartaric',
  'lactic',
  'acetic',
  'ethanol',
  'caffeine',
  'theobromine',
  'dissolved_gas',
];

export const ALLERGENS = [
  'gluten',
  'crustaceans',
  'eggs',
  'fish',
  'peanuts',
  'soybeans',
  'milk',
  'nuts',
  'celery',
  'mustard',
  'sesame',
  'sulphites',
  'lupin',
  'molluscs',
];

const NAMES: Record<string, string> = {
  other_ash: 'ash',
  insoluble: 'fibre and other insolubles',
  pectin_and_gums: 'pectin and gums',
  citric: 'citric acid',
  malic: 'malic acid',
  tartaric: 'tartaric acid',
  lactic: 'lactic acid',
  acetic: 'acetic acid',
  added_sugars: 'added sugars',
};
/** A component as a table names it. */
export const componentName = (component: string) => NAMES[component] ?? component.replace(/_/g, ' ');

const BANDS: [string, string[]][] = [
  ['sugars', ['sucrose', 'glucose', 'fructose', 'lactose', 'galactose', 'maltose']],
  ['fat', ['milk_fat', 'cocoa_butter', 'other_fat']],
  ['insoluble', ['insoluble', 'starch']],
  ['water', ['water']],
];
/** The band a component is drawn in. */
export const bandOf = (component: string) => BANDS.find(([, names]) => names.includes(component))?.[0] ?? 'other';
