import { Button, Modal, NumberInput, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import type { What } from '../../api/types';
import { GrowingText } from '../../parts/GrowingText';
import dialog from './EntryDialog.module.css';

interface NoteDialogProps {
  opened: boolean;
  stage: string | null;
  enter: (what: What) => void;
  onClose: () => void;
  /** What it begins as. @default 'noted' */
  begin?: 'noted' | 'wasted';
}

/** Something worth remembering, or something thrown away. */
export function NoteDialog({ opened, stage, enter, onClose, begin = 'noted' }: NoteDialogProps) {
  return (
    <Modal opened={opened} onClose={onClose} title="Note" centered size={460} classNames={{ title: dialog.title }} closeButtonProps={{ 'aria-label': 'Close without keeping', size: 44 }}>
      {opened && <Note stage={stage} enter={enter} onClose={onClose} begin={begin} />}
    </Modal>
  );
}

function Note({ stage, enter, onClose, begin }: Required<Omit<NoteDialogProps, 'opened'>>) {
  const [kind, setKind] = useState<string>(begin);
  const [text, setText] = useState('');
  const [mass, setMass] = useState<number | string>('');
  const wasted = kind === 'wasted';
  const ready = text.trim() !== '' && (!wasted || Number(mass) > 0);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        enter(wasted ? { kind: 'wasted', mass_g: Number(mass), reason: text.trim().slice(0, 500), stage } : { kind: 'noted', text: text.trim(), stage });
        onClose();
      }}
    >
      <SegmentedControl
        fullWidth
        size="lg"
        mb="md"
        aria-label="What it is"
        value={kind}
        onChange={setKind}
        data={[
          { value: 'noted', label: 'Note' },
          { value: 'wasted', label: 'Thrown away' },
        ]}
      />
      {wasted && <NumberInput label="How much" suffix=" g" size="lg" min={0.01} max={1_000_000} value={mass} onChange={setMass} mb="md" hideControls />}
      <GrowingText label={wasted ? 'Why' : 'What is worth remembering'} size="lg" data-autofocus minRows={3} maxLength={wasted ? 500 : 4000} value={text} onChange={(event) => setText(event.currentTarget.value)} />
      <Button type="submit" h={64} fullWidth mt="md" disabled={!ready} fz={18}>
        Keep it
      </Button>
    </form>
  );
}
