/** A thing that can be named: its title and other words for it. */
export interface Named {
  id: string;
  title: string;
  also_called: string[];
}

const words = (text: string) => text.toLowerCase().split(/[\s,]+/).filter(Boolean);

type Likeness = (wanted: string, word: string) => boolean;
const begins: Likeness = (wanted, word) => word.startsWith(wanted);
const equals: Likeness = (wanted, word) => word === wanted;
/** Beside an amount a letter or two may be its unit: “g” is no ginger. */
const begunEnough: Likeness = (wanted, word) => equals(wanted, word) || (wanted.length > 2 && begins(wanted, word));

/** What of a typed line names an ingredient, and what is left of it: the amount, as typed. */
export interface TypedLine<T> {
  matches: T[];
  amount: string;
}

/**
 * Takes “2 tsp blossom water”, “demerara as the water” or just “pear” apart: the words that
 * name something are the ingredient, the rest is the amount, for the server to understand.
 * Whole words at the beginning go first, since no amount begins with an ingredient.
 * Names said in the very words come first.
 */
export function typedLine<T extends Named>(text: string, things: T[]): TypedLine<T> {
  const all = text.trim().split(/\s+/).filter(Boolean);
  if (all.length === 0) return { matches: things, amount: '' };
  const rank = (wanted: string[], thing: Named) => (thing.title.toLowerCase().startsWith(wanted.join(' ')) ? 0 : 1);
  const named = (from: number, to: number, alike: Likeness) => {
    const wanted = words(all.slice(from, to).join(' '));
    if (wanted.length === 0) return null;
    const fits = (thing: Named) => {
      const names = words([thing.title, ...thing.also_called].join(' '));
      return wanted.every((word) => names.some((each) => alike(word, each)));
    };
    const matches = things.filter(fits).sort((a, b) => rank(wanted, a) - rank(wanted, b));
    const amount = [...all.slice(0, from), ...all.slice(to)].join(' ');
    return matches.length > 0 ? { matches, amount } : null;
  };
  const shorter = Array.from({ length: all.length - 1 }, (_, i) => i + 1);
  const longestFirst = [...shorter].reverse();
  return (
    named(0, all.length, begins) ??
    firstOf(longestFirst, (to) => named(0, to, equals)) ??
    firstOf(shorter, (from) => named(from, all.length, begunEnough)) ??
    firstOf(longestFirst, (to) => named(0, to, begunEnough)) ?? { matches: [], amount: '' }
  );
}

function firstOf<T>(tries: number[], attempt: (n: number) => T | null): T | null {
  for (const n of tries) {
    const found = attempt(n);
    if (found) return found;
  }
  return null;
}
