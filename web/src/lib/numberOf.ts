/**
 * The number in a typed figure, with a comma or a point and any unit after it; NaN where there is none.
 * As in amounts, “1,200” is twelve hundred and “1,5” one and a half.
 */
export function numberOf(typed: string): number {
  const bare = typed.trim().replace(/[^\d.,]+$/, '').trim();
  const text = /^[-−]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(bare) ? bare.replaceAll(',', '') : bare.replace(',', '.');
  return text === '' ? NaN : Number(text.replace('−', '-'));
}
