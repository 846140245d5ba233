import type { ReactNode } from 'react';
import { figure } from '../../lib/format';

/** Something that may stand on the scale besides. */
export interface Tare {
  title: string;
  grams: number;
}

/** A figure that is asked for: of what, in what, and what it does. */
export interface Ask {
  title: string;
  /** What it is about, where its title changes with what was entered. @default the title */
  id?: string;
  /** What the field is, for a screen reader. */
  label: string;
  unit: string;
  /** Tares to choose from; none where nothing is taken off. */
  tares?: Tare[];
  /** By what name the chosen tare is remembered for the next figure like this; without one it is not. */
  remember?: string;
  /** A figure that can be taken as it is: what was asked for, without the tare. With `onlyWith` it is what the scale shows with that tare on it, and with no other. */
  asked?: { words: string; value: number; onlyWith?: number; then?: () => void };
  /** Figures that are often meant: one press enters one. */
  quick?: { words: string; value: number }[];
  hint?: ReactNode;
  /** The button that saves it: “Save 430 g”. */
  keep: (value: number, tare: number) => string;
  onKeep: (value: number, tare: number, beside: number) => void;
  /** Something else that is chosen beside the figure; the first is taken to begin with. */
  beside?: { legend: string; options: { title: string; value: number }[] };
  /** The least it may be. @default 0 */
  least?: number;
  most?: number;
  /** What to say of more than that. */
  tooMuch?: string;
  /** What to ask once before a figure is saved that may be a slip; null of one that is plausible. */
  slip?: (value: number, tare: number) => string | null;
}

/** Units in which nothing at all is no entry. */
const OF_SOMETHING = new Set(['g', 'min', 's']);
/** No scale of a kitchen shows more. */
const MOST_G = 1_000_000;

/** What is wrong with a figure, in words; null where nothing is. */
export function complaint(ask: Ask, value: number, tare: number): string | null {
  if (!Number.isFinite(value)) return null;
  if (value < 0 && (ask.least ?? 0) >= 0) return `It cannot be less than ${figure(ask.least ?? 0)} ${ask.unit}.`;
  if (ask.tares && value < tare)
    return `That is less than what stands on the scale besides (${figure(tare)} g). Choose what really does.`;
  if (OF_SOMETHING.has(ask.unit) && value - tare <= 0)
    return `That is 0 ${ask.unit}, which is nothing. Enter what it was, or write a note.`;
  if (value < (ask.least ?? 0)) return `It cannot be less than ${figure(ask.least ?? 0)} ${ask.unit}.`;
  const most = ask.most ?? (ask.unit === 'g' ? MOST_G : undefined);
  if (most !== undefined && ask.tooMuch && value - tare > most) return ask.tooMuch;
  if (most !== undefined && !ask.tooMuch && value > most) return `It cannot be more than ${figure(most)} ${ask.unit}.`;
  return null;
}
