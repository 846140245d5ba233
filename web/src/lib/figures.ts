/**
 * Figures as people type them: “1,5”, “1 888”, “1/2”, “1½”, “1.5 kg” in a field of grams, “2 quarts” in one of millilitres.
 *
 * It reads numbers as the core reads those of amounts (`jugcore/measures/amounts.lark`), and turns a unit that is written into that of
 * the field. What it cannot read, or what may mean two things, it refuses in words; it drops nothing.
 */

/** What was read, or what is wrong and what to do. */
export type Figure = { value: number; wrong?: undefined } | { value?: undefined; wrong: string };

interface Unit {
  of: string;
  times: number;
  plus?: number;
}

const US_GALLON_ML = 3785.411784;
const IMPERIAL_GALLON_ML = 4546.09;

/** Units by what they measure, in the first of each. */
const UNITS: Record<string, Unit> = {};
const know = (of: string, times: number, words: string, plus = 0) =>
  words.split(', ').forEach((word) => (UNITS[word] = { of, times, plus }));
know('mass', 0.001, 'mg, milligram, milligrams');
know('mass', 1, 'g, gr, gram, grams, gramme, grammes');
know('mass', 1000, 'kg, kgs, kilo, kilos, kilogram, kilograms');
know('mass', 28.349523125, 'oz, ounce, ounces, oz by weight');
know('mass', 453.59237, 'lb, lbs, pound, pounds');
know('volume', 1, 'ml, cc, millilitre, millilitres, milliliter, milliliters');
know('volume', 10, 'cl, centilitre, centilitres');
know('volume', 100, 'dl, decilitre, decilitres');
know('volume', 1000, 'l, litre, litres, liter, liters');
know('volume', 5, 'tsp, teaspoon, teaspoons');
know('volume', 15, 'tbsp, tablespoon, tablespoons');
know('time', 1, 's, sec, secs, second, seconds');
know('time', 60, 'min, mins, minute, minutes');
know('time', 3600, 'h, hr, hrs, hour, hours');
know('time', 86400, 'd, day, days');
know('temperature', 1, '°c, c, degrees, degrees c, °');
know('temperature', 5 / 9, '°f, f, degrees f', -32);
know('length', 1, 'cm');
know('length', 0.1, 'mm');
know('length', 100, 'm');
know('length', 2.54, 'in, inch, inches');
know('length', 30.48, 'ft, feet');
know('power', 1, 'w, watt, watts');
know('power', 1000, 'kw, kilowatt, kilowatts');
know('opening', 1, 'µm, um, micron, microns');
know('share', 1, '%, percent, per cent');
know('sugar', 1, '°bx, bx, brix, °brix');
know('acid', 1, 'ph');
know('density', 1, 'g/ml, kg/l');
know('parts', 1, 'parts, part');
know('minerals', 1, 'g/l');

/** Measures that differ by country: whose is asked, unless it is written. [ml] */
const COUNTRY: Record<string, { us: number; imperial: number; metric?: number }> = {};
const differ = (us: number, imperial: number, words: string, metric?: number) =>
  words.split(', ').forEach((word) => (COUNTRY[word] = { us, imperial, ...(metric ? { metric } : {}) }));
differ(US_GALLON_ML / 16, IMPERIAL_GALLON_ML / 16, 'cup, cups', 250);
differ(US_GALLON_ML / 128, IMPERIAL_GALLON_ML / 160, 'fl oz, floz, fluid ounce, fluid ounces');
differ(US_GALLON_ML / 8, IMPERIAL_GALLON_ML / 8, 'pint, pints, pt');
differ(US_GALLON_ML / 4, IMPERIAL_GALLON_ML / 4, 'quart, quarts, qt');
differ(US_GALLON_ML, IMPERIAL_GALLON_ML, 'gallon, gallons, gal');
/** A quart nobody says the country of is the American: elsewhere it left the kitchens. */
const AMERICAN = new Set(['quart', 'quarts', 'qt']);

const VULGAR: Record<string, number> = {
  '½': 1 / 2,
  '⅓': 1 / 3,
  '⅔': 2 / 3,
  '¼': 1 / 4,
  '¾': 3 / 4,
  '⅕': 1 / 5,
  '⅖': 2 / 5,
  '⅗': 3 / 5,
  '⅘': 4 / 5,
  '⅙': 1 / 6,
  '⅚': 5 / 6,
  '⅛': 1 / 8,
  '⅜': 3 / 8,
  '⅝': 5 / 8,
  '⅞': 7 / 8,
};
const SPACE = " \\u00a0\\u202f\\u2009'’";
const NUMBER = new RegExp(
  `^([-−–])?\\s*(?:(\\d{1,3}(?:,\\d{3})+(?:\\.\\d+)?)(?![\\d,])|(\\d{1,3}(?:[${SPACE}]\\d{3})+(?:[.,]\\d+)?)(?![\\d,/⁄])|(?:(\\d+)\\s*)?([½⅓⅔¼¾⅕⅖⅗⅘⅙⅚⅛⅜⅝⅞])|(?:(\\d+)\\s+)?(\\d+)\\s*[/⁄]\\s*(\\d+)|(\\d+(?:[.,]\\d+)?|[.,]\\d+))(?![\\d.,/])`,
);

/** A typed figure in a field's unit: '' where it is a bare number. */
export function figureIn(typed: string, unit: string): Figure {
  const text = typed.trim();
  if (text === '') return { wrong: `Write a number${unit ? ` in ${unit}` : ''}.` };
  const found = NUMBER.exec(text);
  if (!found)
    return {
      wrong: `“${short(text)}” is not a number${unit ? ` in ${unit}` : ''}. Write, for example, 1.5, 1/2 or 1,250.`,
    };
  const [whole, minus, comma, space, mixedVulgar, vulgar, mixed, top, bottom, plain] = found;
  let value: number;
  if (comma) value = Number(comma.replaceAll(',', ''));
  else if (space) value = Number(space.replace(new RegExp(`[${SPACE}]`, 'g'), '').replace(',', '.'));
  else if (vulgar) value = Number(mixedVulgar ?? 0) + VULGAR[vulgar]!;
  else if (bottom) value = Number(mixed ?? 0) + Number(top) / Number(bottom);
  else value = Number(plain!.replace(',', '.'));
  if (!Number.isFinite(value)) return { wrong: `“${short(text)}” divides by nothing. Check the fraction.` };
  if (minus) value = -value;
  return inUnit(value, text.slice(whole.length), unit, text);
}

/** The number alone; NaN where it is none, or not of that unit. */
export const valueIn = (typed: string, unit: string): number => figureIn(typed, unit).value ?? NaN;

function inUnit(value: number, rest: string, unit: string, text: string): Figure {
  const word = rest.trim().replace(/\.$/, '').toLowerCase().replace(/\s+/g, ' ').replace(/ off$/, '');
  const field = unit.trim().toLowerCase().replace(/ off$/, '');
  if (word === '' || word === field) return { value };
  const to = UNITS[field];
  const plain = `Write it in ${unit || 'figures alone'}.`;
  const country = /^(us|u\.s|american|imperial|british|uk|metric)\.? (.+)$/.exec(word);
  const measure = COUNTRY[country?.[2] ?? word];
  if (measure && to?.of === 'volume') {
    const said = country?.[1];
    const whose =
      said === 'metric'
        ? measure.metric
        : said
          ? measure[/^(us|u\.s|american)$/.test(said) ? 'us' : 'imperial']
          : AMERICAN.has(word)
            ? measure.us
            : undefined;
    if (whose === undefined)
      return {
        wrong: `A ${word.replace(/s$/, '')} is ${Math.round(measure.us)} ml (US) or ${Math.round(measure.imperial)} ml (imperial). Say which: “${short(text.slice(0, text.length - rest.length).trim())} US ${word}”, or give ${unit}.`,
      };
    return { value: (value * whose) / to.times };
  }
  const from = UNITS[word];
  if (measure || from) {
    const of = measure ? 'volume' : from!.of;
    if (!to || of !== to.of || !from)
      return {
        wrong: `“${short(rest.trim())}” is a ${of === 'share' ? 'share' : of}, and this is ${unit ? `in ${unit}` : 'a number'}. ${plain}`,
      };
    return { value: ((value + (from.plus ?? 0)) * from.times) / to.times - (to.plus ?? 0) };
  }
  return { wrong: `“${short(rest.trim())}” is not a unit known here. ${plain}` };
}

const short = (text: string) => (text.length > 40 ? `${text.slice(0, 40)} …` : text);

/** What a number must lie within. */
export interface Bounds {
  low?: number | undefined;
  high?: number | undefined;
  /** It must be more than this. */
  above?: number | undefined;
  whole?: boolean | undefined;
}

/** What is wrong with a typed figure; nothing of an empty field. */
export function wrongIn(typed: string, unit: string, bounds: Bounds = {}): string | undefined {
  if (typed.trim() === '') return undefined;
  const found = figureIn(typed, unit);
  return found.wrong ?? outside(found.value!, unit, bounds);
}

/** What is wrong with a number against its bounds. */
export function outside(
  value: number,
  unit: string,
  { low = -Infinity, high = Infinity, above = -Infinity, whole = false }: Bounds,
): string | undefined {
  const in_ = unit && unit !== 'pH' ? ` ${unit}` : '';
  if (whole && !Number.isInteger(value)) return 'Write a whole number.';
  if (value <= above) return `Write more than ${above}${in_}.`;
  if (value >= low && value <= high) return undefined;
  if (high === Infinity) return `Write ${low}${in_} or more.`;
  return low === -Infinity ? `Write ${high}${in_} or less.` : `Write ${low} to ${high}${in_}.`;
}

/** The number that is typed, where it is one within bounds; null where it is none, or nothing is typed. */
export function numberIn(typed: string, unit: string, bounds: Bounds = {}): number | null {
  return typed.trim() === '' || wrongIn(typed, unit, bounds) ? null : valueIn(typed, unit);
}
