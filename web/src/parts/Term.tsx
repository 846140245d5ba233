import { Popover, UnstyledButton } from '@mantine/core';
import { GLOSSARY } from '../lib/glossary';
import classes from './Term.module.css';

/** A word of the trade; one press says what it means. */
export function Term({ id, word }: { id: string; word: string }) {
  const meaning = GLOSSARY[id];
  if (!meaning) return word;
  return (
    <Popover width={300} position="bottom-start" shadow="md" withArrow>
      <Popover.Target>
        <UnstyledButton className={classes.term} aria-label={`What ${word} means`}>
          {word}
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown>{meaning}</Popover.Dropdown>
    </Popover>
  );
}
