import { IconBackspace } from '@tabler/icons-react';
import classes from './Keypad.module.css';

interface KeypadProps {
  /** What is typed, for a screen reader: “What the scale shows”. */
  label: string;
  unit: string;
  value: string;
  /** Shown as dots. @default false */
  secret?: boolean;
  onChange: (value: string) => void;
  /** Enter on a keyboard. */
  onEnter: () => void;
}

const KEYS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '.', '0'];

/** A figure entered with one wet finger, or typed. */
export function Keypad({ label, unit, value, secret = false, onChange, onEnter }: KeypadProps) {
  const press = (key: string) => onChange(key === '.' && value.includes('.') ? value : value + key);
  return (
    <div>
      <div className={classes.shown}>
        <input
          className={classes.input}
          aria-label={label}
          // The keys below are larger than those of a tablet's own keyboard.
          inputMode="none"
          type={secret ? 'password' : 'text'}
          data-autofocus
          autoComplete="off"
          value={value}
          onChange={(event) => onChange(event.currentTarget.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') {
              event.preventDefault();
              onEnter();
            }
          }}
        />
        <span className={classes.unit}>{unit}</span>
      </div>
      <div className={classes.keys}>
        {KEYS.map((key) => (
          <button
            key={key}
            type="button"
            className={classes.key}
            onClick={() => press(key)}
            aria-label={key === '.' ? 'point' : key}
          >
            {key}
          </button>
        ))}
        <button
          type="button"
          className={classes.key}
          aria-label="Take the last figure back"
          onClick={() => onChange(value.slice(0, -1))}
        >
          <IconBackspace size={26} aria-hidden="true" />
        </button>
      </div>
    </div>
  );
}
