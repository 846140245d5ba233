import { Textarea, type TextareaProps } from '@mantine/core';

/** Browsers that grow a field by themselves need not be asked how tall it is after each key. */
const GROWS_BY_ITSELF = typeof CSS !== 'undefined' && CSS.supports('field-sizing', 'content');

const rows = (count: number): string => `calc(${count}lh + 2 * var(--input-padding-y, 0px) + 2px)`;

type Props = Omit<TextareaProps, 'autosize' | 'rows' | 'styles'>;

/** A field for whole sentences, as tall as what is in it. */
export function GrowingText({ minRows = 1, maxRows, ...field }: Props) {
  if (!GROWS_BY_ITSELF) return <Textarea autosize minRows={minRows} maxRows={maxRows} {...field} />;
  const input = {
    fieldSizing: 'content',
    resize: 'none',
    minHeight: rows(minRows),
    ...(maxRows && { maxHeight: rows(maxRows) }),
  } as const;
  return <Textarea styles={{ input }} {...field} />;
}
