import { Button, Modal, SegmentedControl, TextInput } from '@mantine/core';
import type { What } from '../../api/types';
import { figure } from '../../lib/format';
import { valueIn, wrongIn } from '../../lib/figures';
import { useKept } from '../../lib/useKept';
import { GrowingText } from '../../parts/GrowingText';
import dialog from './EntryDialog.module.css';

interface NoteDialogProps {
  opened: boolean;
  /** The batch it is of: what is typed is kept for it until it is entered. */
  batch: string;
  stage: string | null;
  enter: (what: What) => void;
  onClose: () => void;
  /** What is there, and the most that can be: more cannot be thrown away. */
  there: { grams: number; most: number };
  /** What it begins as. @default 'noted' */
  begin?: 'noted' | 'wasted';
}

/** Something worth remembering, or something thrown away. */
export function NoteDialog({ opened, batch, stage, there, enter, onClose, begin = 'noted' }: NoteDialogProps) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title="Note"
      centered
      size={460}
      classNames={{ title: dialog.title }}
      closeButtonProps={{ 'aria-label': 'Cancel', size: 44 }}
    >
      {opened && <Note batch={batch} stage={stage} there={there} enter={enter} onClose={onClose} begin={begin} />}
    </Modal>
  );
}

function Note({ batch, stage, there, enter, onClose, begin }: Required<Omit<NoteDialogProps, 'opened'>>) {
  // A touch beside the dialog, or a page that is drawn anew, loses nothing that was typed.
  const kept = useKept(`hob.${batch}.note.${begin}`, { kind: begin as string, text: '', mass: '' });
  const { kind, text, mass } = kept.value;
  const put = (change: Partial<typeof kept.value>) => kept.set((before) => ({ ...before, ...change }));
  const grams = valueIn(mass, 'g');
  const wrong =
    wrongIn(mass, 'g', { above: 0 }) ??
    (grams > there.most
      ? `There are only ${figure(there.grams)} g of it by what was entered. Weigh it again.`
      : undefined);
  const wasted = kind === 'wasted';
  const ready = text.trim() !== '' && (!wasted || (grams > 0 && !wrong));
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        enter(
          wasted
            ? { kind: 'wasted', mass_g: grams, reason: text.trim().slice(0, 500), stage }
            : { kind: 'noted', text: text.trim(), stage },
        );
        kept.forget();
        onClose();
      }}
    >
      <SegmentedControl
        fullWidth
        size="lg"
        mb="md"
        aria-label="What it is"
        value={kind}
        onChange={(kind) => put({ kind })}
        data={[
          { value: 'noted', label: 'Note' },
          { value: 'wasted', label: 'Thrown away' },
        ]}
      />
      {wasted && (
        <TextInput
          label="How much"
          rightSection="g"
          inputMode="decimal"
          size="lg"
          value={mass}
          error={wrong}
          onChange={(event) => put({ mass: event.currentTarget.value })}
          mb="md"
        />
      )}
      <GrowingText
        label={wasted ? 'Why' : 'What is worth remembering'}
        size="lg"
        data-autofocus
        minRows={3}
        maxLength={wasted ? 500 : 4000}
        value={text}
        onChange={(event) => put({ text: event.currentTarget.value })}
      />
      <Button type="submit" h={64} fullWidth mt="md" disabled={!ready} fz={18}>
        Save
      </Button>
    </form>
  );
}
