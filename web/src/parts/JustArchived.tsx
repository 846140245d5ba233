import { Button } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useLocation, useNavigate } from 'react-router';
import { Notice } from './Notice';

/** What the screen that was left says of what it archived. */
export interface Archived {
  archived: { id: string; name: string };
}

interface JustArchivedProps {
  /** Brings it back; what shows it is then fetched anew. */
  restore: (id: string) => Promise<unknown>;
}

/** Just archived: it can be brought back from here. */
export function JustArchived({ restore }: JustArchivedProps) {
  const location = useLocation();
  const navigate = useNavigate();
  const gone = (location.state as Partial<Archived> | null)?.archived;
  const back = useMutation({
    mutationFn: restore,
    onSuccess: () => void navigate('.', { replace: true, state: null }),
  });
  if (!gone) return null;
  return (
    <Notice tone="fine" text={back.error?.message ?? `${gone.name} is archived. You can restore it at any time.`}>
      <Button size="xs" variant="default" loading={back.isPending} onClick={() => back.mutate(gone.id)}>
        Restore
      </Button>
    </Notice>
  );
}
