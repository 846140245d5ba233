import { Button } from '@mantine/core';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import { drinkVersionPagesQuery, keys } from '../../api/queries';
import type { DrinkOut } from '../../api/types';
import { useMay } from '../../app/person';
import { ago } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import { ReadyForService } from '../../parts/ReadyForService';
import { ShowMore } from '../../parts/ShowMore';
import { SideDrawer } from '../../parts/SideDrawer';
import { VersionDialog } from '../../parts/VersionDialog';
import classes from './Drinks.module.css';

interface DrinkVersionDialogProps {
  id: string;
  /** Saves what is not saved yet and gives the draft's number. */
  onSave: () => Promise<number>;
  onClose: () => void;
}

/** Keeps the draft as a version, with a reason. */
export function DrinkVersionDialog({ id, onSave, onClose }: DrinkVersionDialogProps) {
  const queryClient = useQueryClient();
  return (
    <VersionDialog
      opened
      onClose={onClose}
      onKeep={async (note) =>
        answer(
          client.POST('/api/v1/drinks/{drink_id}/versions', {
            params: { path: { drink_id: id } },
            body: { draft: await onSave(), note },
          }),
        )
      }
      onKept={() => {
        void queryClient.invalidateQueries({ queryKey: keys.drinks });
        onClose();
      }}
    >
      A version never changes: it keeps this kitchen and all that goes in. What you change later is a new draft.
    </VersionDialog>
  );
}

interface DrinkVersionsDrawerProps {
  id: string;
  base: number;
  /** Whether something is not saved yet: that would be lost beneath an earlier version. */
  changed: boolean;
  onTake: (drink: DrinkOut) => void;
  onClose: () => void;
}

/** A drink's versions, newest first: which is served, and how an earlier one becomes the draft again. */
export function DrinkVersionsDrawer({ id, base, changed, onTake, onClose }: DrinkVersionsDrawerProps) {
  const pages = useInfiniteQuery(drinkVersionPagesQuery(id));
  const mayEdit = useMay('edit_formulas');
  const queryClient = useQueryClient();
  const take = useMutation({
    mutationFn: (number: number) =>
      answer(
        client.POST('/api/v1/drinks/{drink_id}/versions/{number}/draft', {
          params: { path: { drink_id: id, number } },
          body: { draft: base },
        }),
      ),
    onSuccess: (drink) => {
      void queryClient.invalidateQueries({ queryKey: keys.drinkLists });
      onTake(drink);
    },
  });
  const say = (number: number) => async (ready: boolean, reason: string) => {
    await answer(
      client.POST('/api/v1/drinks/{drink_id}/versions/{number}/ready', {
        params: { path: { drink_id: id, number } },
        body: { ready, reason },
      }),
    );
    void queryClient.invalidateQueries({ queryKey: keys.drinks });
  };
  const versions = pages.data?.pages.flatMap((page) => page.versions) ?? [];
  return (
    <SideDrawer opened title="Versions and service" closeLabel="Close the versions" width={520} onClose={onClose}>
      {pages.isError && <Notice tone="stop" text={pages.error.message} />}
      {take.isError && <Notice tone="stop" text={take.error.message} />}
      {pages.data && versions.length === 0 && (
        <p>No version yet. Save one from the menu once the drink is as it should be served.</p>
      )}
      <ul className={classes.list}>
        {versions.map((version) => (
          <li key={version.number} className={classes.way}>
            <strong>Version {version.number}</strong>
            <span>{version.note}</span>
            <span className={classes.small}>
              {version.saved_by}, {ago(version.saved_at)}
            </span>
            <ReadyForService number={version.number} said={version.service} say={say(version.number)} />
            {mayEdit && (
              <Button
                size="sm"
                variant="default"
                disabled={changed}
                loading={take.isPending && take.variables === version.number}
                onClick={() => take.mutate(version.number)}
              >
                Make it the draft again
              </Button>
            )}
          </li>
        ))}
      </ul>
      {changed && versions.length > 0 && (
        <p className={classes.small}>Save what you changed before you go back to a version.</p>
      )}
      <ShowMore of={pages} />
    </SideDrawer>
  );
}
