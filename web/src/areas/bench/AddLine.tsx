import { Select } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type KeyboardEvent, useRef, useState } from 'react';
import { typedQuery } from '../../api/queries';
import classes from './MethodCard.module.css';

interface AddLineProps {
  /** The stage's name. */
  title: string;
  id: string;
  onChoose: (substance: string, amount: string) => void;
}

/** Adds an ingredient: its name, or a whole line such as “2 tsp blossom water”. */
export function AddLine({ title, id, onChoose }: AddLineProps) {
  const [words, setWords] = useState('');
  const [opened, setOpened] = useState(false);
  const leaving = useRef(false);
  const queryClient = useQueryClient();
  const [asked] = useDebouncedValue(words.trim(), 40);
  const found = useQuery({ ...typedQuery(asked), enabled: opened || asked !== '' });
  const hits = found.data?.hits ?? [];
  const settled = asked === words.trim() && !found.isPlaceholderData && !found.isFetching;
  const choose = (substance: string, amount: string, taken: string) => {
    onChoose(substance, amount);
    // What was typed on while the answer came is the beginning of the next line.
    setWords((now) => (now.startsWith(taken) ? now.slice(taken.length) : now));
    setOpened(false); // it would lie over the line that was just added
  };
  // Enter takes what the words say at once: a line pasted whole is there before the list that shows it.
  const takeOnEnter = async (event: KeyboardEvent<HTMLElement>) => {
    if (event.key !== 'Enter' || event.nativeEvent.isComposing || !words.trim()) return;
    const list = (event.target as HTMLElement).getAttribute('aria-controls');
    const highlighted = list
      ? window.document.getElementById(list)?.querySelector<HTMLElement>('[data-combobox-selected]')
      : null;
    const reached = settled
      ? hits.find((each) => highlighted?.firstElementChild?.firstChild?.textContent === each.title)
      : undefined;
    event.preventDefault();
    event.stopPropagation();
    const parted =
      settled && found.data ? found.data : await queryClient.fetchQuery(typedQuery(words.trim())).catch(() => null);
    const chosen = reached ?? parted?.hits[0];
    if (chosen && parted) choose(chosen.id, parted.amount, words);
  };
  // An old choice beside a new text: the amount is that of what stands in the field now.
  const takeChosen = async (value: string) => {
    const parted =
      settled && found.data
        ? found.data
        : words.trim()
          ? await queryClient.fetchQuery(typedQuery(words.trim())).catch(() => null)
          : null;
    choose(value, parted?.amount ?? '', words);
  };
  return (
    <div
      onKeyDownCapture={(event) => void takeOnEnter(event)}
      onBlurCapture={() => (leaving.current = true)}
      onBlur={() => (leaving.current = false)}
    >
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
        nothingFoundMessage={
          found.isError ? found.error.message : settled ? 'Nothing in the pantry by that name.' : 'Looking …'
        }
        data={hits.map((each) => ({ value: each.id, label: each.title }))}
        filter={({ options }) => options}
        renderOption={({ option }) => (
          <span>
            {option.label}
            {hits.find((each) => each.id === option.value)?.kind === 'made' && (
              <span className={classes.dim}> · made here</span>
            )}
            {found.data?.amount && <span className={classes.dim}> · {found.data.amount}</span>}
          </span>
        )}
        dropdownOpened={opened}
        onDropdownOpen={() => setOpened(true)}
        onDropdownClose={() => setOpened(false)}
        searchValue={words}
        // What was typed stays when the field is left.
        onSearchChange={(typed) => !leaving.current && setWords(typed)}
        value={null}
        onChange={(value) => value && void takeChosen(value)}
        maxDropdownHeight={260}
      />
    </div>
  );
}
