import { Button, Group, Modal } from '@mantine/core';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { drinkVersionPagesQuery, keys } from '../../api/queries';
import type { DrinkOut, DrinkVersionCard } from '../../api/types';
import { useMay } from '../../app/person';
import { ago } from '../../lib/format';
import { GrowingText } from '../../parts/GrowingText';
import { Notice } from '../../parts/Notice';
import { ShowMore } from '../../parts/ShowMore';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './Drinks.module.css';

interface DrinkVersionDialogProps {
  id: string;
  /** Saves what is not saved yet and gives the draft's number. */
  onSave: () => Promise<number>;
  onClose: () => void;
}

/** Keeps the draft as a version, with a reason. */
export function DrinkVersionDialog({ id, onSave, onClose }: DrinkVersionDialogProps) {
  const [note, setNote] = useState('');
  const queryClient = useQueryClient();
  const keep = useMutation({
    mutationFn: async () => {
      const draft = await onSave();
      return answer(
        client.POST('/api/v1/drinks/{drink_id}/versions', {
          params: { path: { drink_id: id } },
          body: { draft, note },
        }),
      );
    },
    onSuccess: () => {
      void queryClient.invalidateQueries({ queryKey: keys.drinks });
      onClose();
    },
  });
  return (
    <Modal opened onClose={onClose} title="Save as a version" centered>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <p>
          A version never changes: it keeps this kitchen and all that goes in. What you change later is a new draft.
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
            <Service drink={id} version={version} />
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

/** Whether a version may be served: what was said last, and what a lead may say now. */
function Service({ drink, version }: { drink: string; version: DrinkVersionCard }) {
  const mayMark = useMay('mark_ready');
  const queryClient = useQueryClient();
  const [reason, setReason] = useState('');
  const said = version.service;
  const say = useMutation({
    mutationFn: (ready: boolean) =>
      answer(
        client.POST('/api/v1/drinks/{drink_id}/versions/{number}/ready', {
          params: { path: { drink_id: drink, number: version.number } },
          body: { ready, reason },
        }),
      ),
    onSuccess: () => {
      setReason('');
      void queryClient.invalidateQueries({ queryKey: keys.drinks });
    },
  });
  const asked = say.error?.textFor('reason');
  return (
    <>
      <span className={classes.small}>
        {said?.ready ? (
          <>
            <strong>Ready for service</strong>, {said.said_by}, {ago(said.said_at)}
            {said.reason && ` · ${said.reason}`}
          </>
        ) : (
          'Not marked as ready for service'
        )}
      </span>
      {say.error && <Notice tone={asked ? 'look' : 'stop'} text={asked ?? say.error.message} />}
      {asked && (
        <GrowingText
          size="sm"
          label="Why it may be served anyway"
          minRows={2}
          maxLength={500}
          value={reason}
          autoFocus
          onChange={(event) => setReason(event.currentTarget.value)}
        />
      )}
      {mayMark && (
        <Button
          size="sm"
          variant={said?.ready ? 'default' : 'filled'}
          loading={say.isPending}
          onClick={() => say.mutate(!said?.ready)}
        >
          {said?.ready ? 'No longer ready for service' : asked ? 'Ready anyway' : 'Ready for service'}
        </Button>
      )}
    </>
  );
}
