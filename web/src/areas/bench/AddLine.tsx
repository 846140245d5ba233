import { Select } from '@mantine/core';
import { type KeyboardEvent, useRef, useState } from 'react';
import type { Substance } from '../../api/types';
import { typedLine } from '../../lib/ingredients';
import classes from './MethodCard.module.css';

interface AddLineProps {
  /** The stage's name. */
  title: string;
  id: string;
  substances: Substance[];
  onChoose: (substance: string, amount: string) => void;
}

/** Adds an ingredient: its name, or a whole line such as “2 tsp blossom water”. */
export function AddLine({ title, id, substances, onChoose }: AddLineProps) {
  const [words, setWords] = useState('');
  const [opened, setOpened] = useState(false);
  const leaving = useRef(false);
  const choose = (substance: string) => {
    onChoose(substance, typedLine(words, substances).amount);
    setWords('');
    setOpened(false); // it would lie over the line that was just added
  };
  // Enter takes what the words say at once: a line pasted whole is there before the list that shows it.
  const takeOnEnter = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key !== 'Enter' || event.nativeEvent.isComposing || !words.trim()) return;
    const { matches } = typedLine(words, substances);
    const list = (event.target as HTMLElement).getAttribute('aria-controls');
    const highlighted = list ? window.document.getElementById(list)?.querySelector<HTMLElement>('[data-combobox-selected]') : null;
    const reached = matches.find((each) => highlighted?.firstElementChild?.firstChild?.textContent === each.title);
    const chosen = reached ?? matches[0];
    event.preventDefault();
    event.stopPropagation();
    if (chosen) choose(chosen.id);
  };
  return (
    <div onKeyDownCapture={takeOnEnter} onBlurCapture={() => (leaving.current = true)} onBlur={() => (leaving.current = false)}>
      <Select
        id={id}
        size="xs"
        variant="unstyled"
        className={classes.addLine}
        classNames={{ input: classes.addInput }}
        aria-label={`Add an ingredient to ${title}`}
        placeholder="+ add: pear juice, or 2 tsp blossom water"
        searchable
        selectFirstOptionOnChange
        nothingFoundMessage="Nothing in the pantry by that name."
        data={substances.map((each) => ({ value: each.id, label: each.title }))}
        filter={({ search }) => typedLine(search, substances).matches.map((each) => ({ value: each.id, label: each.title }))}
        renderOption={({ option }) => {
          const { amount } = typedLine(words, substances);
          return (
            <span>
              {option.label}
              {amount && <span className={classes.dim}> · {amount}</span>}
            </span>
          );
        }}
        dropdownOpened={opened}
        onDropdownOpen={() => setOpened(true)}
        onDropdownClose={() => setOpened(false)}
        searchValue={words}
        // What was typed stays when the field is left.
        onSearchChange={(typed) => !leaving.current && setWords(typed)}
        value={null}
        onChange={(value) => value && choose(value)}
        limit={40}
        maxDropdownHeight={260}
      />
    </div>
  );
}
