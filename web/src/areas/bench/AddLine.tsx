import { Select } from '@mantine/core';
import { useState } from 'react';
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
  return (
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
      searchValue={words}
      onSearchChange={setWords}
      value={null}
      onChange={(value) => {
        if (!value) return;
        onChoose(value, typedLine(words, substances).amount);
        setWords('');
      }}
      limit={40}
      maxDropdownHeight={260}
    />
  );
}
