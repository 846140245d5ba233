import { Button, Chip, Group, Modal } from '@mantine/core';
import { type ReactNode, useState } from 'react';
import { figureIn } from '../../lib/figures';
import { figure } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { useLandscape } from '../../lib/useLandscape';
import { Keypad } from '../../parts/Keypad';
import classes from './EntryDialog.module.css';

/** Something that may stand on the scale besides. */
export interface Tare {
  title: string;
  grams: number;
}

/** A figure that is asked for: of what, in what, and what it does. */
export interface Ask {
  title: string;
  /** What the field is, for a screen reader. */
  label: string;
  unit: string;
  /** Tares to choose from; none where nothing is taken off. */
  tares?: Tare[];
  /** A figure that can be taken as it is: what was asked for. */
  asked?: { words: string; value: number };
  /** Figures that are often meant: one press enters one. */
  quick?: { words: string; value: number }[];
  hint?: ReactNode;
  /** The button that keeps it: “Keep 430 g”. */
  keep: (value: number, tare: number) => string;
  onKeep: (value: number, tare: number, beside: number) => void;
  /** Something else that is chosen beside the figure; the first is taken to begin with. */
  beside?: { legend: string; options: { title: string; value: number }[] };
  /** The least it may be. @default 0 */
  least?: number;
  most?: number;
  /** What to say of more than that. */
  tooMuch?: string;
}

/** A figure, entered with one finger: what the scale, the probe or the glass shows. */
export function EntryDialog({ ask, batch, onClose }: { ask: Ask | null; batch: string; onClose: () => void }) {
  const landscape = useLandscape();
  return (
    <Modal
      opened={ask !== null}
      onClose={onClose}
      title={ask?.title}
      centered
      size={landscape ? 820 : 560}
      classNames={{ title: classes.title }}
      closeButtonProps={{ 'aria-label': 'Cancel', size: 44 }}
    >
      {ask && <Entry key={ask.title} ask={ask} batch={batch} onClose={onClose} />}
    </Modal>
  );
}

function Entry({ ask, batch, onClose: close }: { ask: Ask; batch: string; onClose: () => void }) {
  // A touch beside the dialog, or a page that is drawn anew, loses nothing that was typed.
  const kept = useKept(`hob.${batch}.${ask.title}`, { typed: '' });
  const { typed } = kept.value;
  const setTyped = (next: string) => kept.set({ typed: next });
  const onClose = () => {
    kept.forget({ typed: '' });
    close();
  };
  const [tare, setTare] = useState(ask.tares?.[0]?.grams ?? 0);
  const [beside, setBeside] = useState(ask.beside?.options[0]?.value ?? 0);
  const read = typed === '' ? null : figureIn(typed, ask.unit);
  const value = read?.value ?? NaN;
  // A figure begun is no fault: “-” and “1/” are on their way.
  const wrong = read?.wrong ? (/^[-−]?\d*[./,]?$/.test(typed.trim()) ? null : read.wrong) : complaint(ask, value, tare);
  const keep = () => {
    if (!Number.isFinite(value) || wrong) return;
    ask.onKeep(value, tare, beside);
    onClose();
  };
  return (
    <div className={classes.entry}>
      <div>
        {ask.hint && <p className={classes.hint}>{ask.hint}</p>}
        {kept.found && typed !== '' && <p className={classes.hint}>{typed} was typed here and not saved.</p>}
        {ask.tares && ask.tares.length > 1 && (
          <Choices
            legend="On the scale besides"
            value={tare}
            onChoose={setTare}
            options={ask.tares.map((each) => ({
              title: each.grams > 0 ? `${each.title}, ${figure(each.grams)} g` : each.title,
              value: each.grams,
            }))}
          />
        )}
        {ask.beside && (
          <Choices legend={ask.beside.legend} value={beside} onChoose={setBeside} options={ask.beside.options} />
        )}
        {ask.quick && (
          <div className={classes.quick}>
            {ask.quick.map((each) => (
              <Button
                key={each.words}
                variant="default"
                h={56}
                onClick={() => {
                  ask.onKeep(each.value, 0, beside);
                  onClose();
                }}
              >
                {each.words}
              </Button>
            ))}
          </div>
        )}
      </div>
      <div>
        <Keypad label={ask.label} unit={ask.unit} value={typed} onChange={setTyped} onEnter={keep} />
        {wrong && (
          <p role="alert" className={classes.wrong}>
            {wrong}
          </p>
        )}
        <div className={classes.actions}>
          {ask.asked && (
            <Button
              variant="default"
              h={64}
              onClick={() => {
                ask.onKeep(ask.asked!.value + tare, tare, beside);
                onClose();
              }}
            >
              {ask.asked.words}
            </Button>
          )}
          <Button h={64} disabled={!Number.isFinite(value) || wrong !== null} onClick={keep}>
            {Number.isFinite(value) && !wrong ? ask.keep(value, tare) : 'Save'}
          </Button>
        </div>
      </div>
    </div>
  );
}

function Choices({
  legend,
  value,
  options,
  onChoose,
}: {
  legend: string;
  value: number;
  options: { title: string; value: number }[];
  onChoose: (value: number) => void;
}) {
  return (
    <fieldset className={classes.tares}>
      <legend>{legend}</legend>
      <Chip.Group value={String(value)} onChange={(chosen) => onChoose(Number(chosen))}>
        <Group gap={8}>
          {options.map((each) => (
            <Chip key={each.title} value={String(each.value)} size="lg" radius="md" variant="outline">
              {each.title}
            </Chip>
          ))}
        </Group>
      </Chip.Group>
    </fieldset>
  );
}

/** Units in which nothing at all is no entry. */
const OF_SOMETHING = new Set(['g', 'min', 's']);
/** No scale of a kitchen shows more. */
const MOST_G = 1_000_000;

function complaint(ask: Ask, value: number, tare: number): string | null {
  if (!Number.isFinite(value)) return null;
  if (value < 0 && (ask.least ?? 0) >= 0) return `It cannot be less than ${figure(ask.least ?? 0)} ${ask.unit}.`;
  if (ask.tares && value < tare)
    return `That is less than what stands on the scale besides (${figure(tare)} g). Choose what really does.`;
  if (OF_SOMETHING.has(ask.unit) && value - tare <= 0)
    return `That is 0 ${ask.unit}, which is nothing. Enter what it was, or write a note.`;
  if (value < (ask.least ?? 0)) return `It cannot be less than ${figure(ask.least ?? 0)} ${ask.unit}.`;
  const most = ask.most ?? (ask.unit === 'g' ? MOST_G : undefined);
  if (most !== undefined && ask.tooMuch && value - tare > most) return ask.tooMuch;
  if (most !== undefined && !ask.tooMuch && value > most) return `It cannot be more than ${figure(most)} ${ask.unit}.`;
  return null;
}
