import type { SheetReport, SheetStep, What } from '../../api/types';
import { figure } from '../../lib/format';
import { isTime } from './BoilPanel';
import { HoldPress } from './ProcessPanels';
import { StepButton } from './StepButton';

/** The entry that finishes a batch. */
export const FINISHED: What = { kind: 'closed', outcome: 'finished', reason: '', again: false };

/** The press that moves the batch on. It orders only when it is time; until then it logs what the cook did. */
export function MainPress({
  step,
  sheetNow,
  last,
  timers,
  now,
  behind,
  enter,
  onBack,
  onCloseFill,
}: {
  step: SheetStep | undefined;
  sheetNow: string | null;
  /** Whether nothing is left to do after it. */
  last: boolean;
  timers: SheetReport['timers'];
  now: number;
  behind: boolean;
  enter: (what: What) => void;
  onBack: () => void;
  onCloseFill: (step: SheetStep) => void;
}) {
  if (!sheetNow || !step)
    return (
      <StepButton means="finish" onPress={() => enter(FINISHED)}>
        Finish the batch
      </StepButton>
    );
  if (step.id !== sheetNow)
    return (
      <StepButton means={`back from ${step.id}`} variant="default" onPress={onBack}>
        Back to the current step
      </StepButton>
    );
  const done = () => enter({ kind: 'done', stage: step.id });
  const begin = () => enter({ kind: 'began', stage: step.id });
  const beginning = `begin ${step.id}`;
  const ending = `end ${step.id}`;
  if (step.boil) {
    if (!step.begun_at && step.boil.weighings.length === 0)
      return (
        <StepButton means={beginning} onPress={begin}>
          It is on the heat
        </StepButton>
      );
    const time = isTime(step.boil, now);
    return (
      <StepButton means={ending} variant={time ? 'filled' : 'default'} onPress={done}>
        {time ? 'Take it off the heat' : 'I have taken it off'}
      </StepButton>
    );
  }
  if (step.warm) {
    const warms = step.kind !== 'cool';
    const reached =
      step.warm.probe !== null &&
      (warms ? step.warm.probe.temperature_c >= step.warm.to_c : step.warm.probe.temperature_c <= step.warm.to_c);
    if (!step.begun_at && step.warm.probe === null)
      return (
        <StepButton means={beginning} onPress={begin}>
          {warms ? 'It is on the heat' : 'It is cooling'}
        </StepButton>
      );
    return (
      <StepButton means={ending} variant={reached ? 'filled' : 'default'} onPress={done}>
        {step.warm.probe === null || reached
          ? `It has reached ${figure(step.warm.to_c)} °C`
          : `Go on at ${figure(step.warm.probe.temperature_c, 1)} °C`}
      </StepButton>
    );
  }
  const unfilled = step.fill !== null && step.fill !== undefined && step.fill.filled === 0 && step.fill.full_left > 0;
  // Whether all of it is in a bottle is for the server to say: what was filled a moment ago must be with it first.
  if (step.fill && (step.fill.open_g != null || behind))
    return (
      <StepButton means={ending} variant="default" waits={behind} onPress={() => onCloseFill(step)}>
        {last ? 'Done, finish the batch' : 'Done, go on'}
      </StepButton>
    );
  if (step.hold) return <HoldPress step={step} hold={step.hold} timers={timers} now={now} enter={enter} />;
  const open = step.lines.filter((line) => !line.measured).length;
  if (step.lines.length > 0)
    return (
      <StepButton means={ending} variant={open === 0 ? 'filled' : 'default'} onPress={done}>
        {open === 0
          ? 'All in, go on'
          : open === step.lines.length
            ? 'All in as asked, not weighed here'
            : open === 1
              ? 'The last one in as asked'
              : `The other ${open} in as asked`}
      </StepButton>
    );
  if (last)
    return (
      <StepButton
        means={ending}
        variant={unfilled ? 'default' : 'filled'}
        onPress={() => {
          done();
          enter(FINISHED);
        }}
      >
        Done, finish the batch
      </StepButton>
    );
  return (
    <StepButton means={ending} onPress={done}>
      Done, go on
    </StepButton>
  );
}
