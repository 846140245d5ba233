import { Button, Group, Modal } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { VersionCard } from '../../api/types';
import { GrowingText } from '../../parts/GrowingText';
import { Notice } from '../../parts/Notice';

interface VersionDialogProps {
  id: string;
  opened: boolean;
  /** Saves what is not saved yet and gives the draft's number. */
  onSave: () => Promise<number>;
  onKept: (version: VersionCard) => void;
  onClose: () => void;
}

/** Keeps the draft as a version, with a reason. */
export function VersionDialog({ id, opened, onSave, onKept, onClose }: VersionDialogProps) {
  const [note, setNote] = useState('');
  const queryClient = useQueryClient();
  const keep = useMutation({
    mutationFn: async () => {
      const draft = await onSave();
      return answer(
        client.POST('/api/v1/formulas/{formula_id}/versions', {
          params: { path: { formula_id: id } },
          body: { draft, note },
        }),
      );
    },
    onSuccess: (version) => {
      void queryClient.invalidateQueries({ queryKey: keys.versions(id) });
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
        <p>
          A version never changes: it keeps this kitchen and these ingredients. What you change later is a new draft.
        </p>
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
