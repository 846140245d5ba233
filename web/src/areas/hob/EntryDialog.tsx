import { Modal } from '@mantine/core';
import { useLandscape } from '../../lib/useLandscape';
import type { Ask } from './ask';
import { Entry } from './Entry';
import classes from './EntryDialog.module.css';

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
      closeButtonProps={{ 'aria-label': 'Cancel', size: 48 }}
    >
      {ask && <Entry key={ask.id ?? ask.title} ask={ask} batch={batch} onClose={onClose} />}
    </Modal>
  );
}
