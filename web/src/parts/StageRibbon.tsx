import { VisuallyHidden } from '@mantine/core';
import type { BandMass, StageReport } from '../api/types';
import { figure, grams } from '../lib/format';
import bandColours from './bands.module.css';
import classes from './StageRibbon.module.css';
import { useWidth } from './useWidth';

interface StageRibbonProps {
  stages: StageReport[];
  /** The stage that is looked at. */
  selected: string | null;
  /** A stage was chosen, and whether by the keyboard. */
  onSelect: (id: string, byKeyboard: boolean) => void;
}

const ORDER = ['insoluble', 'sugars', 'fat', 'other_solids', 'water'];
const FLOW = { top: 60, height: 46 };
const BASE = FLOW.top + FLOW.height;
const HEIGHT = BASE + 40;
/** A stage narrower than this has no room beside its words. [px] */
const NARROW = 150;

/** Stages left to right; the height of the flow is mass, its bands what it is made of. */
export function StageRibbon({ stages, selected, onSelect }: StageRibbonProps) {
  const trunk = stages.filter((stage) => stage.trunk);
  const branches = stages.filter((stage) => !stage.trunk);
  const { ref, width } = useWidth(1130);
  const least = 100;
  const each = Math.max(least, width / Math.max(1, trunk.length));
  const whole = each * trunk.length;
  // In a narrow stage what it says takes two lines: the flow and its steam begin below them.
  const lower = each < NARROW ? 16 : 0;
  const height = HEIGHT + lower;
  const most = Math.max(1, ...trunk.map((stage) => stage.after.mass_g));
  const states = trunk.map((stage) => stacked(stage.after.bands, most));
  return (
    <div ref={ref} className={classes.root}>
      <div className={classes.scroll} data-sideways="">
        <div className={classes.inner} style={{ width: whole, height }}>
          <svg
            width={whole}
            height={height}
            viewBox={`0 ${-lower} ${whole} ${height}`}
            aria-hidden="true"
            className={classes.svg}
          >
            {ORDER.map((band) => (
              <path key={band} d={bandPath(states, band, each)} className={bandColours[band]} />
            ))}
            {trunk.map((stage, i) => (
              <g key={stage.id}>
                {i > 0 && <line x1={i * each} x2={i * each} y1={FLOW.top} y2={BASE} className={classes.divide} />}
                {leaving(stage, 'away:steam') > 0 && (
                  <Steam
                    x={(i + 0.5) * each + (lower ? 0 : 30)}
                    y={FLOW.top - 3}
                    grams={leaving(stage, 'away:steam')}
                  />
                )}
                {dropping(stage) > 0 && <Drop x={(i + 1) * each - 18} grams={dropping(stage)} />}
              </g>
            ))}
          </svg>
          {trunk.map((stage, i) => (
            <button
              key={stage.id}
              type="button"
              className={classes.stage}
              data-selected={stage.id === selected || undefined}
              data-faulty={stage.faults.length > 0 || undefined}
              style={{ left: i * each, width: each, height }}
              onClick={(event) => onSelect(stage.id, event.detail === 0)}
              aria-pressed={stage.id === selected}
            >
              <span className={classes.name}>{stage.name}</span>
              <span className={classes.summary}>{stage.summary}</span>
              <span className={classes.foot}>
                {figure(stage.after.mass_g)} g
                {stage.after.temperature_c !== null && each >= 140 && (
                  <span className={classes.warm}> · {figure(stage.after.temperature_c)} °C</span>
                )}
              </span>
            </button>
          ))}
        </div>
      </div>
      {branches.length > 0 && (
        <ul
          className={classes.branches}
          aria-label="Prepared apart"
          // Below the first masses there is room, unless something drops there.
          data-beside={trunk.findIndex((stage) => dropping(stage) > 0) >= 2 || undefined}
        >
          {branches.map((stage) => (
            <li key={stage.id}>
              <button
                type="button"
                className={classes.branch}
                data-selected={stage.id === selected || undefined}
                aria-pressed={stage.id === selected}
                onClick={(event) => onSelect(stage.id, event.detail === 0)}
              >
                <strong>{stage.name}</strong> apart{stage.after.name === stage.name ? '' : ` in ${stage.after.name}`},{' '}
                {grams(stage.after.mass_g)} g
              </button>
            </li>
          ))}
        </ul>
      )}
      <VisuallyHidden>
        <p>{ribbonText(stages)}</p>
      </VisuallyHidden>
    </div>
  );
}

type Stack = Record<string, { from: number; to: number }>;

/** Heights from the base line, 0 to 1, by band. */
function stacked(bands: BandMass[], most: number): Stack {
  let from = 0;
  const result: Stack = {};
  for (const name of ORDER) {
    const to = from + (bands.find((band) => band.band === name)?.mass_g ?? 0) / most;
    result[name] = { from, to };
    from = to;
  }
  return result;
}

const level = (share: number) => BASE - share * FLOW.height;

/** The outline of one band through all stages: level within a stage, easing over into the next. */
function bandPath(states: Stack[], band: string, each: number): string {
  if (states.length === 0) return '';
  const edge = (side: 'from' | 'to') => states.map((state) => level(state[band]![side]));
  const upper = edge('to');
  const lower = edge('from');
  const ease = Math.min(46, each * 0.3);
  let path = `M0 ${upper[0]}`;
  upper.forEach((y, i) => {
    const start = i * each;
    if (i > 0)
      path += ` C${start - ease / 2} ${upper[i - 1]} ${start - ease / 2 + ease * 0.4} ${y} ${start + ease} ${y}`;
    path += ` L${(i + 1) * each - (i + 1 < upper.length ? ease : 0)} ${y}`;
  });
  for (let i = lower.length - 1; i >= 0; i -= 1) {
    const start = i * each;
    const y = lower[i]!;
    path += ` L${(i + 1) * each - (i + 1 < lower.length ? ease : 0)} ${y} L${i > 0 ? start + ease : 0} ${y}`;
    if (i > 0)
      path += ` C${start - ease / 2 + ease * 0.4} ${y} ${start - ease / 2} ${lower[i - 1]} ${start - ease} ${lower[i - 1]}`;
  }
  return `${path} Z`;
}

/** Grams that leave the stage towards targets with this beginning. */
function leaving(stage: StageReport, towards: string): number {
  return stage.flows.filter((flow) => flow.target.startsWith(towards)).reduce((sum, flow) => sum + flow.mass_g, 0);
}

/** Grams that stay on a sieve or go as dust: all that leaves and is no steam. */
function dropping(stage: StageReport): number {
  return leaving(stage, 'vessel:cake') + leaving(stage, 'away:') - leaving(stage, 'away:steam');
}

function Steam({ x, y, grams: off }: { x: number; y: number; grams: number }) {
  return (
    <g className={classes.steam}>
      {[-12, 0, 12].map((dx) => (
        <path key={dx} d={`M${x + dx - 24} ${y} c-5 -6 5 -8 0 -15`} />
      ))}
      <text x={x} y={y - 3}>
        −{grams(off)} g
      </text>
    </g>
  );
}

function Drop({ x, grams: off }: { x: number; grams: number }) {
  return (
    <g className={classes.drop}>
      <line x1={x} x2={x} y1={BASE - 3} y2={BASE + 20} />
      <text x={x - 6} y={BASE + 31} textAnchor="end">
        −{grams(off)} g
      </text>
    </g>
  );
}

/** The ribbon in words. */
export function ribbonText(stages: StageReport[]): string {
  return stages
    .map((stage, i) => {
      const off = leaving(stage, 'away:');
      const cake = leaving(stage, 'vessel:cake');
      const lost = [off > 0 ? `${grams(off)} g leave` : '', cake > 0 ? `${grams(cake)} g stay behind` : '']
        .filter(Boolean)
        .join(', ');
      const warm = stage.after.temperature_c === null ? '' : `, ${figure(stage.after.temperature_c)} °C`;
      return `Stage ${i + 1}, ${stage.name}: ${stage.summary}; ${figure(stage.after.mass_g)} g${warm}${lost ? `; ${lost}` : ''}.`;
    })
    .join(' ');
}
