import { Button, Chip, Group } from '@mantine/core';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { figureIn } from '../../lib/figures';
import { figure } from '../../lib/format';
import { usePressOnce } from '../../lib/useDead';
import { useKept } from '../../lib/useKept';
import { Keypad } from '../../parts/Keypad';
import { type Ask, complaint, type Tare } from './ask';
import classes from './Entry.module.css';
import { useTare } from './useTare';

interface EntryProps {
  ask: Ask;
  batch: string;
  /** Where it stands on the screen itself and not in a dialog: what is asked for, in large. */
  head?: ReactNode;
  /** Whether the field takes the keyboard as it appears; a dialog sees to that itself. @default false */
  focused?: boolean;
  /** When something is typed: from then on it is about what stood there then. */
  onTyped?: () => void;
  onClose: () => void;
}

/** A figure entered with one finger: keys, what stands on the scale besides, and what was asked for at one press. */
export function Entry({ ask, batch, head, focused = false, onTyped, onClose: close }: EntryProps) {
  // A touch beside the dialog, or a page that is drawn anew, loses nothing that was typed.
  const kept = useKept(`hob.${batch}.${ask.id ?? ask.title}`, { typed: '' });
  const { typed } = kept.value;
  const setTyped = (next: string) => {
    kept.set({ typed: next });
    onTyped?.();
  };
  const tares = useTare(batch, ask);
  const { grams: tare } = tares.chosen;
  const [beside, setBeside] = useState(ask.beside?.options[0]?.value ?? 0);
  const [bowl, setBowl] = useState<string | null>(null);
  const [choosing, setChoosing] = useState(false);
  const [sureOf, setSureOf] = useState<string | null>(null);
  const field = useRef<HTMLDivElement>(null);
  const onScreen = head !== undefined;
  // On the screen the next line comes up under the finger: a double tap must not enter that too.
  const once = usePressOnce(onScreen ? (ask.id ?? ask.title) : null);
  useEffect(() => {
    if (focused) field.current?.querySelector('input')?.focus({ preventScroll: true });
  }, [focused]);
  const read = typed === '' ? null : figureIn(typed, ask.unit);
  const value = read?.value ?? NaN;
  const wrong = read?.wrong ? (isBegun(typed) ? null : read.wrong) : complaint(ask, value, tare);
  const ready = Number.isFinite(value) && wrong === null;
  // Whether what stands there now was asked about already.
  const slip = ready && sureOf === typed ? (ask.slip?.(value, tare) ?? null) : null;
  const save = () => {
    if (!slip && ask.slip?.(value, tare)) setSureOf(typed);
    else enter(value, tare);
  };
  const enter = (reads: number, of: number) => {
    ask.onKeep(reads, of, beside);
    setSureOf(null);
    kept.forget({ typed: '' });
    close();
  };
  const asked = ask.asked?.onlyWith === undefined || ask.asked.onlyWith === tare ? ask.asked : undefined;
  const asIs = asked && (
    <Button
      variant={onScreen && typed === '' ? 'filled' : 'default'}
      h={64}
      aria-disabled={once.dead || undefined}
      onClick={() =>
        once.press(() => {
          enter(asked.onlyWith === undefined ? asked.value + tare : asked.value, tare);
          asked.then?.();
        })
      }
    >
      {asked.words}
    </Button>
  );
  return (
    <div className={classes.entry} data-on-screen={onScreen || undefined}>
      <div className={classes.side}>
        {head}
        {onScreen && asIs && <div className={classes.asIs}>{asIs}</div>}
        {ask.hint && <p className={classes.hint}>{ask.hint}</p>}
        {kept.found && typed !== '' && <p className={classes.hint}>{typed} was typed here and not saved.</p>}
        {ask.tares && onScreen && !choosing && (
          <div className={classes.tare}>
            <span>
              On the scale besides: <strong>{tareWords(tares.chosen)}</strong>
            </span>
            <Button variant="default" h={48} onClick={() => setChoosing(true)}>
              Something else
            </Button>
          </div>
        )}
        {ask.tares && (onScreen ? choosing : ask.tares.length > 1) && (
          <Choices
            legend="On the scale besides"
            value={tares.chosen.title}
            onChoose={(title) => {
              tares.choose(title);
              setChoosing(false);
            }}
            options={tares.all.map((each) => ({ title: tareWords(each), value: each.title }))}
          >
            <Button variant="default" h={48} onClick={() => setBowl('')}>
              {tares.bowl > 0 ? 'Change the bowl' : 'Another bowl'}
            </Button>
          </Choices>
        )}
        {ask.beside && (
          <Choices
            legend={ask.beside.legend}
            value={String(beside)}
            onChoose={(chosen) => setBeside(Number(chosen))}
            options={ask.beside.options.map((each) => ({ title: each.title, value: String(each.value) }))}
          />
        )}
        {ask.quick && (
          <div className={classes.quick}>
            {ask.quick.map((each) => (
              <Button key={each.words} variant="default" h={56} onClick={() => enter(each.value, 0)}>
                {each.words}
              </Button>
            ))}
          </div>
        )}
      </div>
      <div ref={field}>
        {bowl !== null ? (
          <BowlWeight
            typed={bowl}
            onType={setBowl}
            onUse={(grams) => {
              tares.useBowl(grams);
              setBowl(null);
              setChoosing(false);
            }}
            onCancel={() => setBowl(null)}
          />
        ) : (
          <>
            <Keypad
              label={ask.label}
              unit={ask.unit}
              value={typed}
              onChange={setTyped}
              onEnter={() => ready && save()}
            />
            {(wrong ?? slip) && (
              <p role="alert" className={classes.wrong}>
                {wrong ?? slip}
              </p>
            )}
            <div className={classes.actions}>
              {!onScreen && asIs}
              {(!onScreen || typed !== '') && (
                <Button h={64} disabled={!ready || once.dead} onClick={() => once.press(save)}>
                  {ready ? ask.keep(value, tare) : 'Save'}
                </Button>
              )}
            </div>
          </>
        )}
      </div>
    </div>
  );
}

function tareWords({ title, grams }: Tare): string {
  return grams > 0 ? `${title}, ${figure(grams)} g` : title;
}

/** A figure begun is no fault: “-” and “1/” are on their way. */
function isBegun(typed: string): boolean {
  return /^[-−]?\d*[./,]?$/.test(typed.trim());
}

interface BowlWeightProps {
  typed: string;
  onType: (typed: string) => void;
  onUse: (grams: number) => void;
  onCancel: () => void;
}

/** The keys, for a moment, for what an empty bowl weighs. */
function BowlWeight({ typed, onType, onUse, onCancel }: BowlWeightProps) {
  const read = typed === '' ? null : figureIn(typed, 'g');
  const grams = read?.value ?? NaN;
  const ready = grams > 0 && grams <= BOWL_MOST_G;
  const unread = read?.wrong && (isBegun(typed) ? null : read.wrong);
  const wrong =
    typed === '' || ready || unread === null
      ? null
      : (unread ?? `A bowl weighs more than 0 g and at most ${figure(BOWL_MOST_G)} g.`);
  return (
    <>
      <Keypad
        label="What the empty bowl weighs"
        unit="g"
        value={typed}
        onChange={onType}
        onEnter={() => ready && onUse(grams)}
      />
      <p role={wrong ? 'alert' : undefined} className={wrong ? classes.wrong : classes.hint}>
        {wrong ?? 'What the empty bowl weighs. It is subtracted until you choose something else.'}
      </p>
      <div className={classes.actions}>
        <Button variant="default" h={64} onClick={onCancel}>
          Cancel
        </Button>
        <Button h={64} disabled={!ready} onClick={() => onUse(grams)}>
          {ready ? `Use ${figure(grams, grams % 1 ? 1 : 0)} g` : 'Use'}
        </Button>
      </div>
    </>
  );
}

/** Heavier is a pot, and pots are entered under Site. [g] */
const BOWL_MOST_G = 20_000;

interface ChoicesProps {
  legend: string;
  value: string;
  options: { title: string; value: string }[];
  onChoose: (value: string) => void;
  children?: ReactNode;
}

function Choices({ legend, value, options, onChoose, children }: ChoicesProps) {
  return (
    <fieldset className={classes.tares}>
      <legend>{legend}</legend>
      <Chip.Group value={value} onChange={(chosen) => onChoose(chosen as string)}>
        <Group gap={8}>
          {options.map((each) => (
            <Chip key={each.value} value={each.value} size="lg" radius="md" variant="outline">
              {each.title}
            </Chip>
          ))}
          {children}
        </Group>
      </Chip.Group>
    </fieldset>
  );
}
