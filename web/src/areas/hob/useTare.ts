import { useKept } from '../../lib/useKept';
import type { Ask, Tare } from './ask';

const NOTHING: Tare = { title: 'Nothing', grams: 0 };
const BOWL = 'Bowl';

/** What stands on the scale besides: chosen once and remembered for the next figure like it, any bowl's weight too. */
export function useTare(batch: string, ask: Ask) {
  // By its title: what is in the pot grows with every line, and so does what it weighs.
  const kept = useKept(`hob.${batch}.tare.${ask.remember ?? ask.id ?? ask.title}`, { title: '', bowl: 0 });
  const { bowl } = kept.value;
  const all = [...(ask.tares ?? []), ...(bowl > 0 ? [{ title: BOWL, grams: bowl }] : [])];
  const chosen = all.find((each) => each.title === kept.value.title) ?? all[0] ?? NOTHING;
  return {
    all,
    chosen,
    bowl,
    choose: (title: string) => kept.set({ title, bowl }),
    useBowl: (grams: number) => kept.set({ title: BOWL, bowl: grams }),
  };
}
