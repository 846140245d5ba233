import { Button, Group, Modal } from '@mantine/core';
import type { FormulaOut } from '../../api/types';
import { ago } from '../../lib/format';

interface ConflictDialogProps {
  theirs: FormulaOut | null;
  message: string;
  onKeepMine: () => void;
  onTakeTheirs: () => void;
  onClose: () => void;
}

/** Somebody saved first: both drafts stand, and a person decides. */
export function ConflictDialog({ theirs, message, onKeepMine, onTakeTheirs, onClose }: ConflictDialogProps) {
  return (
    <Modal opened={theirs !== null} onClose={onClose} title="Two drafts of one formula" centered>
      {theirs && (
        <>
          <p>{message}</p>
          <p>
            Theirs is draft {theirs.draft}, saved {ago(theirs.touched_at)}, with {theirs.document.stages.length} stages.
            Both are kept: whichever you choose, the other stays among the saves, and using theirs can be undone here.
          </p>
          <Group justify="flex-end">
            <Button variant="default" onClick={onTakeTheirs}>
              Use theirs
            </Button>
            <Button onClick={onKeepMine}>Save mine over it</Button>
          </Group>
        </>
      )}
    </Modal>
  );
}
