import { useId } from 'react';
import { figure, grams } from '../lib/format';
import { niceTicks } from '../lib/niceTicks';
import bandColours from './bands.module.css';
import classes from './Jug.module.css';

export interface JugBand {
  band: string;
  title: string;
  /** Share of the fill, 0 to 1. */
  share: number;
  mass_g?: number;
}

interface JugProps {
  bands: JugBand[];
  /** What is in it; nothing draws an empty jug. */
  volume_ml: number | null;
  mass_g: number;
  /** Volume at which foam would reach the rim of the pot, drawn where it is on the scale. */
  headroom_ml?: number | null;
  /** Small is a formula's mark in a list: no ticks, no words. @default "large" */
  size?: 'large' | 'small';
}

const BODY = { left: 34, right: 142, top: 22, bottom: 214 };
const SHAPE = `M${BODY.left + 4} ${BODY.top} L${BODY.right - 4} ${BODY.top} C${BODY.right + 2} 70 ${BODY.right + 10} 150 ${BODY.right + 6} ${BODY.bottom - 6}
 Q${BODY.right + 4} ${BODY.bottom} ${BODY.right - 6} ${BODY.bottom} L${BODY.left + 6} ${BODY.bottom} Q${BODY.left - 4} ${BODY.bottom} ${BODY.left - 6} ${BODY.bottom - 6}
 C${BODY.left - 10} 150 ${BODY.left - 2} 70 ${BODY.left + 4} ${BODY.top} Z`;
const HANDLE = `M${BODY.right + 1} 50 C${BODY.right + 44} 44 ${BODY.right + 44} 150 ${BODY.right + 8} 156`;
const LIP = `M${BODY.left + 4} ${BODY.top} C${BODY.left - 4} 14 ${BODY.left - 10} 14 ${BODY.left - 14} 12 C${BODY.left - 2} 8 ${BODY.left + 30} 13 ${BODY.right - 2} 13 L${BODY.right - 4} ${BODY.top}`;

/** A formula as a jug filled with bands: partial volumes, so that the litre ticks hold. */
export function Jug({ bands, volume_ml, mass_g, headroom_ml = null, size = 'large' }: JugProps) {
  const clip = useId();
  const large = size === 'large';
  const ticks = volume_ml ? niceTicks(volume_ml * 1.2) : [];
  const top_ml = ticks[ticks.length - 1] ?? 1;
  const fill = volume_ml ? Math.min(1, volume_ml / top_ml) : mass_g > 0 ? 0.6 : 0;
  const height = BODY.bottom - BODY.top;
  const y = (share: number) => BODY.bottom - share * height;
  const drawn = bands
    .filter((band) => band.share > 0.0005)
    .reduce<(JugBand & { from: number; to: number })[]>((done, band) => {
      const from = done.length ? done[done.length - 1]!.to : 0;
      return [...done, { ...band, from, to: from + band.share * fill }];
    }, []);
  const words = jugText({ bands, volume_ml, mass_g });
  const litres = top_ml >= 1000;
  // The last tick is the rim itself.
  const marked = ticks.slice(0, -1);
  return (
    <svg viewBox="0 0 200 226" className={large ? classes.large : classes.small} role="img" aria-label={words}>
      <defs>
        <clipPath id={clip}>
          <path d={SHAPE} />
        </clipPath>
      </defs>
      <path d={SHAPE} className={classes.glass} />
      <g clipPath={`url(#${clip})`}>
        {drawn.map((band) => (
          <rect
            key={band.band}
            x="0"
            width="200"
            y={y(band.to)}
            height={Math.max(0.6, y(band.from) - y(band.to))}
            className={bandColours[band.band] ?? bandColours.other_solids}
          />
        ))}
        {large &&
          marked.map((tick) => (
            <line
              key={tick}
              x1={BODY.left - 12}
              x2={BODY.left + 12}
              y1={y(tick / top_ml)}
              y2={y(tick / top_ml)}
              className={classes.tick}
            />
          ))}
      </g>
      <path d={SHAPE} className={classes.outline} />
      <path d={LIP} className={classes.outline} />
      <path d={HANDLE} className={classes.handle} />
      <path d={HANDLE} className={classes.handleInner} />
      {large && (
        <g aria-hidden="true">
          {marked.map((tick) => (
            <text key={tick} x={BODY.left + 16} y={y(tick / top_ml) + 4} className={classes.tickText}>
              {litres ? `${figure(tick / 1000, tick % 1000 ? (tick % 100 ? 2 : 1) : 0)} l` : `${figure(tick)} ml`}
            </text>
          ))}
          {drawn.map((band) =>
            y(band.from) - y(band.to) >= 20 && (band.mass_g !== undefined || band.band === 'air') ? (
              <text
                key={band.band}
                x={98}
                y={
                  clearOf(
                    marked.map((tick) => y(tick / top_ml)),
                    y(band.to),
                    y(band.from),
                  ) + 5
                }
                textAnchor="middle"
                className={classes.bandText}
              >
                {band.mass_g === undefined ? band.title : `${grams(band.mass_g)} g ${shortTitle(band.title)}`}
              </text>
            ) : null,
          )}
          {headroom_ml !== null && headroom_ml < top_ml && (
            <line
              x1={BODY.left - 6}
              x2={BODY.right + 6}
              y1={y(headroom_ml / top_ml)}
              y2={y(headroom_ml / top_ml)}
              className={classes.headroom}
            />
          )}
        </g>
      )}
    </svg>
  );
}

/** What fits into the jug: the whole title stands in its text twin. */
function shortTitle(title: string): string {
  return title.length > 12 ? (title.split(' ')[0] ?? title) : title;
}

/** The height nearest to the middle of a band at which its words touch no tick's. */
function clearOf(ticks: number[], top: number, bottom: number): number {
  const middle = (top + bottom) / 2;
  const free = [0, 13, -13]
    .map((by) => middle + by)
    .find((at) => at > top + 8 && at < bottom - 8 && ticks.every((tick) => Math.abs(tick - at) >= 12));
  return free ?? middle;
}

/** The jug in words. */
export function jugText({ bands, volume_ml, mass_g }: Pick<JugProps, 'bands' | 'volume_ml' | 'mass_g'>): string {
  if (!(mass_g > 0)) return 'An empty jug.';
  const parts = bands
    .filter((band) => band.share > 0.005)
    .map((band) =>
      band.mass_g === undefined
        ? `${figure(100 * band.share)} % ${band.title}`
        : `${grams(band.mass_g)} g ${band.title}`,
    );
  const held = volume_ml ? `${figure(volume_ml / 1000, 2)} l, ${grams(mass_g)} g` : `${grams(mass_g)} g`;
  return `A jug with ${held}: ${parts.join(', ')}.`;
}
