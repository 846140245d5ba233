/** The number in a typed figure, with a comma or a point and any unit after it; NaN where there is none. */
export function numberOf(typed: string): number {
  const text = typed.trim().replace(',', '.').replace(/[^\d.]+$/, '').trim();
  return text === '' ? NaN : Number(text);
}
