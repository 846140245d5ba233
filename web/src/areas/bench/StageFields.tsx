import { Checkbox, NativeSelect } from '@mantine/core';
import type { BoilEnd, Kitchen, Stage, StageReport, YieldReport } from '../../api/types';
import { type Edit, patchStage, setBoilEnd } from './edits';
import classes from './MethodCard.module.css';
import { NumberField } from '../../parts/NumberField';

interface StageFieldsProps {
  stage: Stage;
  report: StageReport | undefined;
  kitchen: Kitchen | undefined;
  readOnly: boolean;
  complaint: (parameter: string) => string | undefined;
  onEdit: (of: string, edit: Edit) => void;
}

const ENDS = [
  { value: 'brix', label: '°Bx', unit: '°Bx' },
  { value: 'mass_g', label: 'mass', unit: 'g' },
  { value: 'temperature_c', label: 'temperature', unit: '°C' },
  { value: 'minutes', label: 'minutes', unit: 'min' },
  { value: 'off_g', label: 'grams off', unit: 'g off' },
] as const;
const HEATERS = [
  { value: 'hob', label: 'on the hob' },
  { value: 'microwave', label: 'in a microwave' },
];
const PLACES = [
  { value: 'hob', label: 'on the hob' },
  { value: 'wrapped', label: 'in a wrapped pot' },
  { value: 'flask', label: 'in a vacuum flask' },
  { value: 'air', label: 'as it stands' },
  { value: 'fridge', label: 'in the fridge' },
];
const FOAM_TOOLS = [
  { value: 'frother', label: 'with a good frother' },
  { value: 'weak_frother', label: 'with a weak frother' },
  { value: 'blender', label: 'in a blender' },
  { value: 'hand_mixer', label: 'with a hand mixer' },
  { value: 'whisk', label: 'with a whisk' },
  { value: 'jar', label: 'in a lidded jar' },
  { value: 'siphon', label: 'in a siphon' },
];
const MIX_TOOLS = [
  { value: 'spoon', label: 'with a spoon' },
  { value: 'whisk', label: 'with a whisk' },
  { value: 'stick_blender', label: 'with a stick blender' },
  { value: 'blender', label: 'in a blender' },
  { value: 'jar', label: 'in a lidded jar' },
];
const PASSES = [1, 2, 3, 4, 5].map((n) => ({ value: String(n), label: n === 1 ? 'one pass' : `${n} passes` }));
const percent = (fraction: number | null | undefined) =>
  fraction === null || fraction === undefined ? null : 100 * fraction;
type End = (typeof ENDS)[number]['value'];

/** The parameters of a stage, in a row that reads like a sentence. */
export function StageFields(props: StageFieldsProps) {
  const { stage, report, readOnly, complaint, onEdit, kitchen } = props;
  const patch = (parameter: string) => (value: unknown) =>
    onEdit(`${stage.id}.${parameter}`, patchStage(stage.id, { [parameter]: value }));
  const number = (parameter: string, value: number, unit: string, label: string) => (
    <NumberField
      label={`${label} of ${titleOf(props)}`}
      value={value}
      unit={unit}
      readOnly={readOnly}
      error={complaint(parameter)}
      onNumber={patch(parameter)}
    />
  );
  switch (stage.kind) {
    case 'heat':
      return (
        <div className={classes.fields}>
          <span>to</span>
          {number('to_c', stage.to_c, '°C', 'Temperature')}
          <NativeSelect
            size="xs"
            aria-label={`Warmed by, ${titleOf(props)}`}
            value={stage.by}
            disabled={readOnly}
            data={HEATERS}
            onChange={(e) => patch('by')(e.currentTarget.value)}
          />
          {stage.by === 'hob' && (
            <Burner stage={stage} kitchen={kitchen} readOnly={readOnly} onChoose={patch('burner')} />
          )}
        </div>
      );
    case 'cool':
      return (
        <div className={classes.fields}>
          <span>to</span>
          {number('to_c', stage.to_c, '°C', 'Temperature')}
          <NativeSelect
            size="xs"
            aria-label={`Cooled in, ${titleOf(props)}`}
            value={stage.how}
            disabled={readOnly}
            data={[
              { value: 'air', label: 'in air' },
              { value: 'cold_water', label: 'in cold water' },
              { value: 'fridge', label: 'in the fridge' },
            ]}
            onChange={(e) => patch('how')(e.currentTarget.value)}
          />
        </div>
      );
    case 'boil':
      return <BoilFields {...props} stage={stage} />;
    case 'strain':
      return (
        <div className={classes.fields}>
          <NativeSelect
            size="xs"
            aria-label={`Sieve of ${titleOf(props)}`}
            value={stage.sieve ?? ''}
            disabled={readOnly}
            data={[
              { value: '', label: 'a sieve' },
              ...(kitchen?.sieves ?? []).map((s) => ({ value: s.id, label: `${s.name}, ${s.mesh_um} µm` })),
            ]}
            onChange={(e) => patch('sieve')(e.currentTarget.value || null)}
          />
          <Checkbox
            size="xs"
            label="pressed"
            checked={stage.pressed}
            disabled={readOnly}
            onChange={(e) => patch('pressed')(e.currentTarget.checked)}
          />
        </div>
      );
    case 'trim':
    case 'press':
      return (
        <div className={classes.fields}>
          <NumberField
            label={`Yield of ${titleOf(props)}`}
            value={100 * stage.yield_fraction}
            unit="%"
            readOnly={readOnly}
            error={complaint('yield_fraction')}
            onNumber={(v) => patch('yield_fraction')(v / 100)}
          />
          <span>{stage.kind === 'trim' ? 'kept, from' : 'as juice, from'}</span>
          <NumberField
            label={`Least yield of ${titleOf(props)}`}
            value={percent(stage.yield_low)}
            unit="%"
            placeholder="least"
            readOnly={readOnly}
            error={complaint('yield_low')}
            onNumber={(v) => patch('yield_low')(v / 100)}
            onClear={() => patch('yield_low')(null)}
          />
          <span>to</span>
          <NumberField
            label={`Most yield of ${titleOf(props)}`}
            value={percent(stage.yield_high)}
            unit="%"
            placeholder="most"
            readOnly={readOnly}
            error={complaint('yield_high')}
            onNumber={(v) => patch('yield_high')(v / 100)}
            onClear={() => patch('yield_high')(null)}
          />
          {!readOnly && report?.gives && (
            <Got stage={stage} gives={report.gives} title={titleOf(props)} onEdit={onEdit} />
          )}
        </div>
      );
    case 'mill':
      return (
        <div className={classes.fields}>
          <NumberField
            label={`Loss of ${titleOf(props)}`}
            value={100 * stage.loss_fraction}
            unit="%"
            readOnly={readOnly}
            error={complaint('loss_fraction')}
            onNumber={(v) => patch('loss_fraction')(v / 100)}
          />
          <span>lost, </span>
          <NumberField
            label={`Stays on the sieve, ${titleOf(props)}`}
            value={100 * stage.coarse_fraction}
            unit="%"
            readOnly={readOnly}
            error={complaint('coarse_fraction')}
            onNumber={(v) => patch('coarse_fraction')(v / 100)}
          />
          <span>stays on the sieve,</span>
          <NativeSelect
            size="xs"
            aria-label={`Passes of ${titleOf(props)}`}
            value={String(stage.passes)}
            disabled={readOnly}
            data={PASSES}
            onChange={(e) => patch('passes')(Number(e.currentTarget.value))}
          />
        </div>
      );
    case 'hold':
    case 'steep':
      return (
        <div className={classes.fields}>
          <span>for</span>
          {number('for_min', stage.for_min, 'min', 'Minutes')}
          <NativeSelect
            size="xs"
            aria-label={`Kept where, ${titleOf(props)}`}
            value={stage.where}
            disabled={readOnly}
            data={PLACES}
            onChange={(e) => patch('where')(e.currentTarget.value)}
          />
          {stage.where === 'hob' && (
            <>
              <span>at</span>
              <NumberField
                label={`Kept at, ${titleOf(props)}`}
                value={stage.at_c ?? null}
                unit="°C"
                placeholder="as it is"
                readOnly={readOnly}
                error={complaint('at_c')}
                onNumber={patch('at_c')}
                onClear={() => patch('at_c')(null)}
              />
            </>
          )}
        </div>
      );
    case 'caramelise':
      return (
        <div className={classes.fields}>
          <span>to</span>
          {number('to_c', stage.to_c, '°C', 'Temperature')}
          <span>and</span>
          {number('for_min', stage.for_min, 'min', 'Minutes there')}
          <span>there</span>
          <Burner stage={stage} kitchen={kitchen} readOnly={readOnly} onChoose={patch('burner')} />
        </div>
      );
    case 'ice':
      return (
        <div className={classes.fields}>
          <span>ice at</span>
          {number('ice_c', stage.ice_c ?? -4, '°C', 'How cold the ice is')}
        </div>
      );
    case 'aerate':
      return (
        <div className={classes.fields}>
          <NativeSelect
            size="xs"
            aria-label={`Tool of ${titleOf(props)}`}
            value={stage.tool}
            disabled={readOnly}
            data={FOAM_TOOLS}
            onChange={(e) => patch('tool')(e.currentTarget.value)}
          />
          <NumberField
            label={`Seconds of ${titleOf(props)}`}
            value={stage.seconds ?? null}
            unit="s"
            placeholder="by eye"
            readOnly={readOnly}
            error={complaint('seconds')}
            onNumber={patch('seconds')}
            onClear={() => patch('seconds')(null)}
          />
          {(stage.tool === 'siphon' || stage.tool === 'jar') && (
            <>
              <span>fill line</span>
              <NumberField
                label={`Fill line of ${titleOf(props)}`}
                value={stage.holds_ml ?? null}
                unit="ml"
                placeholder="its maker's"
                readOnly={readOnly}
                error={complaint('holds_ml')}
                onNumber={patch('holds_ml')}
                onClear={() => patch('holds_ml')(null)}
              />
            </>
          )}
        </div>
      );
    case 'mix':
      return (
        <div className={classes.fields}>
          <NativeSelect
            size="xs"
            aria-label={`Tool of ${titleOf(props)}`}
            value={stage.tool}
            disabled={readOnly}
            data={MIX_TOOLS}
            onChange={(e) => patch('tool')(e.currentTarget.value)}
          />
        </div>
      );
    case 'fill':
      return (
        <div className={classes.fields}>
          <span>each</span>
          {number('size_ml', stage.size_ml, 'ml', 'Size')}
        </div>
      );
    default:
      return null;
  }
}

/** What it really gave, once it is weighed: from then on there is no range. */
function Got({
  stage,
  gives,
  title,
  onEdit,
}: {
  stage: Stage;
  gives: YieldReport;
  title: string;
  onEdit: StageFieldsProps['onEdit'];
}) {
  return (
    <span className={classes.ownRow}>
      <span>it gave</span>
      <NumberField
        label={`What ${title} gave`}
        value={gives.gives_g}
        unit="g"
        onNumber={(grams) =>
          gives.of_g > 0 &&
          onEdit(
            `${stage.id}.yield_fraction`,
            patchStage(stage.id, { yield_fraction: grams / gives.of_g, yield_low: null, yield_high: null }),
          )
        }
      />
    </span>
  );
}

function titleOf({ stage, report }: Pick<StageFieldsProps, 'stage' | 'report'>): string {
  return report?.name ?? stage.name ?? stage.kind;
}

function BoilFields({
  stage,
  report,
  readOnly,
  complaint,
  onEdit,
  kitchen,
}: Omit<StageFieldsProps, 'stage'> & { stage: Extract<Stage, { kind: 'boil' }> }) {
  const title = titleOf({ stage, report });
  const end = ENDS.find((each) => stage.until[each.value] !== null && stage.until[each.value] !== undefined) ?? ENDS[0];
  const value = stage.until[end.value] ?? 0;
  const wrong = complaint('until') ?? ENDS.map((each) => complaint(each.value)).find(Boolean);
  const set = (kind: End, to: number) => onEdit(`${stage.id}.until`, setBoilEnd(stage.id, { [kind]: to } as BoilEnd));
  return (
    <div className={classes.fields}>
      <span>to</span>
      <NumberField
        key={end.value}
        label={`End of ${title}`}
        value={value}
        unit={end.unit}
        readOnly={readOnly}
        error={wrong}
        onNumber={(v) => set(end.value, v)}
      />
      <NativeSelect
        size="xs"
        aria-label={`${title} ends by`}
        value={end.value}
        disabled={readOnly}
        data={ENDS.map((each) => ({ value: each.value, label: `by ${each.label}` }))}
        onChange={(e) => {
          const kind = e.currentTarget.value as End;
          set(kind, asItEnds(kind, report));
        }}
      />
      <NativeSelect
        size="xs"
        aria-label={`Vigour of ${title}`}
        value={stage.vigour}
        disabled={readOnly}
        data={[
          { value: 'simmer', label: 'simmer' },
          { value: 'steady', label: 'steady boil' },
          { value: 'full', label: 'full boil' },
        ]}
        onChange={(e) => onEdit(`${stage.id}.vigour`, patchStage(stage.id, { vigour: e.currentTarget.value }))}
      />
      <Burner
        stage={stage}
        kitchen={kitchen}
        readOnly={readOnly}
        onChoose={(burner) => onEdit(`${stage.id}.burner`, patchStage(stage.id, { burner }))}
      />
    </div>
  );
}

/** The same end said another way, read off the last walk. */
function asItEnds(kind: End, report: StageReport | undefined): number {
  const boil = report?.boil;
  const ends: Record<End, number | null | undefined> = {
    brix: report?.after.brix,
    mass_g: boil?.stop_g,
    temperature_c: boil?.probe_c,
    minutes: boil && boil.boil.typical_s / 60,
    off_g: boil?.off_g,
  };
  return Number((ends[kind] ?? 60).toFixed(1));
}

function Burner({
  stage,
  kitchen,
  readOnly,
  onChoose,
}: {
  stage: Extract<Stage, { burner?: string | null }>;
  kitchen: Kitchen | undefined;
  readOnly: boolean;
  onChoose: (id: string | null) => void;
}) {
  if (!kitchen || kitchen.burners.length < 2) return null;
  return (
    <NativeSelect
      size="xs"
      aria-label={`Burner of ${stage.name ?? stage.kind}`}
      value={stage.burner ?? kitchen.burners[0]!.id}
      disabled={readOnly}
      data={kitchen.burners.map((b) => ({ value: b.id, label: b.name }))}
      onChange={(e) => onChoose(e.currentTarget.value)}
    />
  );
}
