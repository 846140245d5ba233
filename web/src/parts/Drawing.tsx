import type { Stage } from '../api/types';
import classes from './Drawing.module.css';

/** Lines in ink and what they hold, filled, in a square of 24. */
interface Strokes {
  lines: string;
  filled?: string;
}

const POT = 'M4 11h16v6a3 3 0 0 1-3 3H7a3 3 0 0 1-3-3zM4 13H2M20 13h2';
const BOWL = 'M3 11h18a9 9 0 0 1-18 0z';
const BOWL_HALF = 'M4.2 15h15.6a9 9 0 0 1-15.6 0z';
const CUP = 'M4 11h13v4a5 5 0 0 1-5 5H9a5 5 0 0 1-5-5zM17 12h2a2 2 0 0 1 0 5h-2.500';
const GLASS = 'M6 6h12l-1.500 13a2 2 0 0 1-2 2h-5a2 2 0 0 1-2-2z';
const DROP = 'M12 4c3 4.500 5 6.500 5 9.500a5 5 0 0 1-10 0c0-3 2-5 5-9.500z';
const BOTTLE = 'M10 3h4v4l2.500 3v9a2 2 0 0 1-2 2h-5a2 2 0 0 1-2-2v-9L10 7z';

/** What is done in a stage. */
const STAGES: Record<Stage['kind'], Strokes> = {
  add: { lines: `${POT}M12 2v6M9.500 5.500 12 8l2.500-2.500`, filled: 'M4 15h16v2a3 3 0 0 1-3 3H7a3 3 0 0 1-3-3z' },
  blend: { lines: `${BOWL}M8 8h.01M12 5h.01M16 8h.01M12 8.500h.01`, filled: BOWL_HALF },
  join: { lines: 'M6 3v3c0 4.500 6 4 6 8M18 3v3c0 4.500-6 4-6 8v7M9.500 18.500 12 21l2.500-2.500' },
  mix: { lines: `${BOWL}M13 11l6-8`, filled: BOWL_HALF },
  aerate: {
    lines:
      'M4 20l6-6M10 14c-1.500-5 2.500-10 9-9 1 6.500-4 10.500-9 9zM10 14c2-2.500 5-6 9-9M6 8h.01M9 5h.01M18 17h.01',
  },
  boil: {
    lines: `${POT}M8 3c-1.500 1.500 1.500 2.500 0 5M12 3c-1.500 1.500 1.500 2.500 0 5M16 3c-1.500 1.500 1.500 2.500 0 5`,
    filled: 'M4 14h16v3a3 3 0 0 1-3 3H7a3 3 0 0 1-3-3z',
  },
  caramelise: {
    lines: 'M3 14h14v2a4 4 0 0 1-4 4H7a4 4 0 0 1-4-4zM17 15h5',
    filled: 'M10 3c2 3 3 4 3 6a3 3 0 0 1-6 0c0-2 1-3 3-6z',
  },
  heat: {
    lines: 'M12 3c1 4 5 5.500 5 10.500a5 5 0 0 1-10 0c0-3 2-4 2-6.500 2 1 2.500 2.500 2.500 4C13 9 13 6.500 12 3z',
    filled: 'M12 20a3 3 0 0 1-3-3c0-1.500 3-4 3-4s3 2.500 3 4a3 3 0 0 1-3 3z',
  },
  cool: {
    lines: 'M5 8.500 12 4l7 4.500v7L12 20l-7-4.500zM5 8.500l7 4.500 7-4.500M12 13v7',
    filled: 'M5 8.500 12 13v7l-7-4.500z',
  },
  hold: { lines: 'M12 4a8.500 8.500 0 1 1-.01 0zM12 7.500v5l3.500 2' },
  steep: {
    lines: `${CUP}M10 8.500C9.500 5 12 2.500 15.500 2.500c.5 3.500-2 6-5.500 6zM10 8.500l3-3`,
    filled: 'M4 14h13v1a5 5 0 0 1-5 5H9a5 5 0 0 1-5-5z',
  },
  ice: {
    lines: `${GLASS}M9 9h3.500v3.500H9zM12 14.500h3V18h-3z`,
  },
  freeze: {
    lines:
      'M12 2.500v19M3.800 7.200l16.400 9.600M20.200 7.200 3.800 16.800M9.500 4 12 6.500 14.500 4M9.500 20l2.500-2.500 2.500 2.500',
  },
  strain: {
    lines: 'M2 7h15a7.500 7.500 0 0 1-15 0zM17 7h5M7 17v2M12 17v4',
    filled: 'M4 11h11a7.500 7.500 0 0 1-11 0z',
  },
  trim: { lines: 'M3 20 14 9l5-6c2 5 0 9-4.500 11.500L11 12' },
  press: { lines: 'M12 2v4M5 6h14v3H5zM4 17h16M12 20v2', filled: 'M12 10a3 3 0 1 1-.01 0z' },
  mill: {
    lines: 'M4 11h16l-1.500 6a4 4 0 0 1-4 3h-5a4 4 0 0 1-4-3zM12 11l5-8',
    filled: 'M4.800 14h14.400l-.7 3a4 4 0 0 1-4 3h-5a4 4 0 0 1-4-3z',
  },
  fill: { lines: BOTTLE, filled: 'M7.500 13h9v6a2 2 0 0 1-2 2h-5a2 2 0 0 1-2-2z' },
};

/** What is made. */
const FAMILIES: Record<string, Strokes> = {
  simple_syrup: { lines: BOTTLE, filled: 'M7.500 11h9v8a2 2 0 0 1-2 2h-5a2 2 0 0 1-2-2z' },
  spiced_syrup: {
    lines: 'M12 12V3M12 12l6.400-6.400M12 12h9M12 12l6.400 6.400M12 12v9M12 12l-6.400 6.400M12 12H3M12 12 5.600 5.600',
    filled: 'M12 9.500a2.500 2.500 0 1 1-.01 0z',
  },
  fruit_syrup: {
    lines:
      'M12 6c-2.500 0-2.500 3-4 5s-3 3-3 5.500S7.500 21 12 21s7-2 7-4.500-1.500-3.500-3-5.500-1.500-5-4-5zM12 6V3M12 4.500c1.500-1.500 3-1.500 4.500-1',
    filled: 'M5 16.500C5 19 7.500 21 12 21s7-2 7-4.500z',
  },
  steeped_syrup: STAGES.steep,
  microwave_syrup: {
    lines:
      'M2 5h20v14H2zM16 5v14M19 9h.01M19 12h.01M5 10c1.500-1.500 2.500 1.500 4 0s2.500 1.500 4 0M5 14c1.500-1.500 2.500 1.500 4 0s2.500 1.500 4 0',
  },
  drizzle: {
    lines: 'M3 19h18M8 3l2 4M16 3l-2 4',
    filled: 'M10 7h4c0 2-1.500 2-1.500 4s3.500 1 4.500 3 2 2 2 5H5c0-3 1-3 2-5s4.500-1 4.500-3S10 9 10 7z',
  },
  fruit_part: { lines: 'M4 8h16a8 8 0 0 1-16 0zM4 8a8 3 0 0 1 16 0', filled: 'M9 11h.01M12 12.500h.01M15 11h.01' },
  chocolate_syrup: { lines: 'M5 4h14v16H5zM12 4v16M5 9.300h14M5 14.600h14', filled: 'M5 4h7v5.300H5z' },
  caramel: { lines: DROP, filled: 'M7 13.500a5 5 0 0 0 10 0z' },
  creamer: {
    lines: 'M7 7h9l1 10a3 3 0 0 1-3 3H9a3 3 0 0 1-3-3zM7 7 4 4.500M16.300 9h1.700a2 2 0 0 1 2 2v2a2 2 0 0 1-2 2h-1.200',
    filled: 'M6.400 13h10.200l.4 4a3 3 0 0 1-3 3H9a3 3 0 0 1-3-3z',
  },
  sweet_cream: { lines: `${GLASS}M9 3l3 3`, filled: 'M6.500 10h11c-1 2-2.500-.5-4 1.500s-2.500-1-4 .5-2-.5-3-2z' },
  cold_foam: { lines: `${GLASS}M9 4.500h.01M12 3h.01M15 4.500h.01`, filled: 'M6 6h12l-.6 5H6.600z' },
  siphon_cream: {
    lines: 'M9 8h6v11a2 2 0 0 1-2 2h-2a2 2 0 0 1-2-2zM10 8V5h4v3M14 5.500h4M14 6.500 17 9',
    filled: 'M9 14h6v5a2 2 0 0 1-2 2h-2a2 2 0 0 1-2-2z',
  },
  whipped_coffee: STAGES.aerate,
  tinned_milk: {
    lines:
      'M5 6c0-1.500 3-2.500 7-2.500s7 1 7 2.500v12c0 1.500-3 2.500-7 2.500S5 19.500 5 18zM5 6c0 1.500 3 2.500 7 2.500s7-1 7-2.500',
    filled: 'M5 11c0 1.500 3 2.500 7 2.500s7-1 7-2.500v4c0 1.500-3 2.500-7 2.500S5 16.500 5 15z',
  },
  seasoning: {
    lines: 'M8 8h8l1 11a2 2 0 0 1-2 2H9a2 2 0 0 1-2-2zM8 8a4 4 0 0 1 8 0M10.500 6h.01M13.500 6h.01',
    filled: 'M7.400 14h9.200l.4 5a2 2 0 0 1-2 2H9a2 2 0 0 1-2-2z',
  },
  spice_blend: STAGES.blend,
  empty_pot: { lines: POT },
};

interface DrawingProps {
  /** A stage by its kind, or a family by its id; of one that has none nothing is drawn. */
  of: { stage: string } | { family: string };
  /** @default 24 */
  size?: number;
}

/** A small drawing of what is done or made. The words beside it say the same. */
export function Drawing({ of, size = 24 }: DrawingProps) {
  const drawn: Record<string, Strokes | undefined> = 'stage' in of ? STAGES : FAMILIES;
  const strokes = drawn['stage' in of ? of.stage : of.family];
  if (!strokes) return null;
  return (
    <svg className={classes.drawing} width={size} height={size} viewBox="0 0 24 24" aria-hidden="true">
      {strokes.filled && <path className={classes.filled} d={strokes.filled} />}
      <path className={classes.lines} d={strokes.lines} />
    </svg>
  );
}
