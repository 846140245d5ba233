/** Round tick values from 0 up to at least `top`, about `count` of them. */
export function niceTicks(top: number, count = 4): number[] {
  if (!(top > 0)) return [];
  const rough = top / count;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 2.5, 5, 10].map((m) => m * power).find((s) => s >= rough - 1e-12) ?? 10 * power;
  const ticks: number[] = [];
  for (let i = 1; ticks.length === 0 || (ticks[ticks.length - 1] ?? 0) < top - 1e-9; i += 1)
    ticks.push(Number((i * step).toPrecision(12)));
  return ticks;
}
