import { Button, Group, Modal } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { GrowingText } from './GrowingText';
import { Notice } from './Notice';

interface VersionDialogProps<T> {
  opened: boolean;
  /** Saves what is not saved yet, and keeps it as a version with this reason. */
  onKeep: (note: string) => Promise<T>;
  onKept: (version: T) => void;
  onClose: () => void;
  /** What a version is. */
  children: ReactNode;
}

/** Keeps a draft as a version, with a reason. */
export function VersionDialog<T>({ opened, onKeep, onKept, onClose, children }: VersionDialogProps<T>) {
  const [note, setNote] = useState('');
  const keep = useMutation({
    mutationFn: () => onKeep(note),
    onSuccess: (version) => {
      setNote('');
      onKept(version);
    },
  });
  return (
    <Modal opened={opened} onClose={onClose} title="Save as a version" centered>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <p>{children}</p>
        <GrowingText
          label="What is new in it"
          data-autofocus
          minRows={2}
          maxLength={500}
          value={note}
          onChange={(event) => setNote(event.currentTarget.value)}
        />
        {keep.isError && <Notice tone="stop" text={keep.error.message} />}
        <Group justify="flex-end" mt="md">
          <Button variant="default" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" loading={keep.isPending} disabled={note.trim() === ''}>
            Save the version
          </Button>
        </Group>
      </form>
    </Modal>
  );
}
