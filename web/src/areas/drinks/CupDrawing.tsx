import type { DrinkSizeOut } from '../../api/types';
import { figure } from '../../lib/format';
import classes from './CupDrawing.module.css';

interface CupDrawingProps {
  size: DrinkSizeOut;
  /** What the largest cup of the drink holds: all are drawn to its scale. */
  largest_ml: number;
}

const HEIGHT = 226;
const WIDTH = 162;
const FLOOR = 4;

/** A cup to scale with what lies in it; its text twin says the same. */
export function CupDrawing({ size, largest_ml }: CupDrawingProps) {
  // A cup that holds twice as much is as many times higher as it is wider.
  const scale = Math.cbrt(size.cup_ml / largest_ml);
  const tall = (HEIGHT - 2 * FLOOR) * scale;
  const wide = 100 * scale;
  const left = 6;
  const foot = wide * 0.14;
  const bottom = HEIGHT - FLOOR;
  const top = bottom - tall;
  const inset = (y: number) => (foot * (y - top)) / tall;
  const level = (ml: number) => bottom - (tall * Math.min(ml, size.cup_ml)) / size.cup_ml;
  const band = (from: number, to: number) => {
    const [low, high] = [level(from), level(to)];
    return `${left + inset(high)},${high} ${left + wide - inset(high)},${high} ${left + wide - inset(low)},${low} ${left + inset(low)},${low}`;
  };
  const poured = size.layers.reduce((sum, layer) => sum + layer.ml, 0);
  const full = size.fills_ml ?? poured;
  // What floats takes its room in what there is most of.
  const most = size.layers.reduce((found, layer) => (layer.ml > (found?.ml ?? 0) ? layer : found), size.layers[0]);
  const heights = size.layers.map((layer) => Math.max(layer.ml + (layer === most ? full - poured : 0), 0));
  const below = (index: number) => heights.slice(0, index).reduce((sum, ml) => sum + ml, 0);
  const bands = size.layers.map((layer, index) => ({ layer, points: band(below(index), below(index + 1)) }));
  const said = [
    ...size.layers.map((layer) => `${layer.title} ${figure(layer.ml)} ml`),
    ...(size.ice_g > 0 ? [`ice ${figure(size.ice_g)} g`] : []),
  ].join(', ');
  const mark = level(full);
  return (
    <svg
      className={classes.cup}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={
        full > 0
          ? `${size.name}, filled to ${figure(full)} of ${figure(size.cup_ml)} ml: from the bottom up ${said}`
          : `${size.name}, empty, ${figure(size.cup_ml)} ml`
      }
    >
      {bands.map(({ layer, points }) => (
        <polygon key={layer.component} points={points} className={classes.band} data-role={layer.role} />
      ))}
      {size.ice_g > 0 && <Ice left={left} wide={wide} top={mark} tall={bottom - mark} foot={foot} />}
      <path
        className={classes.wall}
        d={`M ${left} ${top} L ${left + foot} ${bottom - 3} Q ${left + foot} ${bottom} ${left + foot + 3} ${bottom} L ${left + wide - foot - 3} ${bottom} Q ${left + wide - foot} ${bottom} ${left + wide - foot} ${bottom - 3} L ${left + wide} ${top}`}
      />
      {full > 0 && (
        <>
          <line className={classes.mark} x1={left + wide + 3} x2={left + wide + 11} y1={mark} y2={mark} />
          <text className={classes.ml} x={left + wide + 14} y={Math.max(mark + 4, 12)}>
            {figure(full)}
          </text>
        </>
      )}
    </svg>
  );
}

/** Cubes below the surface: a sign for ice, not a count. */
function Ice({ left, wide, top, tall, foot }: { left: number; wide: number; top: number; tall: number; foot: number }) {
  const edge = Math.min(17, wide / 5);
  const cubes = [0, 1, 2, 3].map((n) => ({
    x: left + foot + 6 + (n % 2) * (edge + 8) + (n > 1 ? 5 : 0),
    y: top + Math.min(14, tall / 8) + Math.floor(n / 2) * (edge + 6),
    turn: [-8, 9, 6, -5][n]!,
  }));
  return (
    <>
      {cubes.map(({ x, y, turn }) => (
        <rect
          key={`${x} ${y}`}
          className={classes.ice}
          x={x}
          y={y}
          width={edge}
          height={edge}
          rx={2.5}
          transform={`rotate(${turn} ${x + edge / 2} ${y + edge / 2})`}
        />
      ))}
    </>
  );
}
