import type { BottleEntry, Container, Place } from '../../api/types';
import { day, figure } from '../../lib/format';

/** “Bottle 3” within its batch. */
export function bottleName(container: Container): string {
  if (container.kind === 'aside') return 'Kept aside';
  return container.kind === 'rest' ? 'Kept rest' : `Bottle ${container.number}`;
}

/** “batch 0041, bottle 3”. */
export function called(container: Container): string {
  const number = String(container.batch_number).padStart(4, '0');
  return `batch ${number}, ${bottleName(container).toLowerCase()}`;
}

/** Until when, in a few words. */
export function until(container: Container): string {
  const { haste, good_until, left_days } = container;
  if (container.gone) return container.gone;
  if (haste === 'throw') return good_until ? `throw away: good until ${day(good_until)}` : 'throw away';
  if (haste === 'frozen')
    return left_days === null ? 'frozen' : `frozen, ${left_days} day${left_days === 1 ? '' : 's'} once thawed`;
  if (haste === 'today') return 'use today';
  if (haste === 'soon') return 'use by tomorrow';
  return good_until ? `good until ${day(good_until)}` : 'no last day';
}

export function placeName(places: Place[], id: number | null): string {
  return places.find((each) => each.id === id)?.name ?? 'no place';
}

/** An entry as a sentence. */
export function told(what: BottleEntry['movement']['what'], places: Place[]): string {
  switch (what.kind) {
    case 'filled':
      return `filled with ${figure(what.mass_g)} g`;
    case 'moved':
      return `moved to ${placeName(places, Number(what.place))}`;
    case 'opened':
      return 'opened';
    case 'weighed':
      return `weighs ${figure(what.mass_g)} g`;
    case 'taken':
      return `${figure(what.mass_g)} g taken for a batch`;
    case 'emptied':
      return 'empty';
    case 'poured_away':
      return `${what.mass_g ? `${figure(what.mass_g)} g` : 'what was left'} poured away: ${what.reason}`;
    case 'counted':
      return what.there === false ? 'not found at a count' : 'found at a count';
    case 'frozen':
      return 'into the freezer';
    case 'thawed':
      return 'out of the freezer';
  }
}
