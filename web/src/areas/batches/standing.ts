import type { BatchCard } from '../../api/types';
import { clock, clockSpan, figure } from '../../lib/format';

/** “batch 0041”, “practice 0003”. */
export function called(batch: { kind: 'real' | 'practice'; number: number }): string {
  return `${batch.kind === 'practice' ? 'practice' : 'batch'} ${String(batch.number).padStart(4, '0')}`;
}

export const PRACTISED = 'This is practice: no bottle is filled, nothing is labelled, and nothing of it counts.';

/** Where a boil under way stands: grams to go, and when it is ready or to be weighed; nothing of any other step. */
export function standing(batch: BatchCard): string[] {
  const words: string[] = [];
  if (batch.to_go_g !== null && batch.to_go_g !== undefined)
    words.push(batch.to_go_g < 0 ? `${figure(-batch.to_go_g)} g past the stop` : `${figure(batch.to_go_g)} g to go`);
  if (batch.ready_low && batch.ready_high) words.push(`ready about ${clockSpan(batch.ready_low, batch.ready_high)}`);
  else if (batch.lift_weigh_at) words.push(`weigh from ${clock(batch.lift_weigh_at)}`);
  if (batch.cooling) words.push(`${figure(batch.cooling.at_most_c)} °C by ${clock(batch.cooling.by)}`);
  return words;
}
