import { Button, Loader } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys, kitchenQuery } from '../../api/queries';
import type { Kitchen, KitchenOut } from '../../api/types';
import { useMay, usePerson } from '../../app/person';
import { Notice } from '../../parts/Notice';
import { TheirsNotice } from '../../parts/TheirsNotice';
import { ScreenHead } from '../../parts/ScreenHead';
import { BusinessCard } from './BusinessCard';
import { ChangesCard } from './ChangesCard';
import { KitchenForm } from './KitchenForm';
import { PeopleCard } from './PeopleCard';
import { PinCard } from './PinCard';
import { PlacesCard } from './PlacesCard';
import { SessionsCard } from './SessionsCard';

/** The kitchen: where it is, and what hangs on its wall. */
export function SiteScreen() {
  const kitchen = useQuery(kitchenQuery);
  const person = usePerson();
  const mayCook = useMay('cook');
  const looksAfterPeople = useMay('look_after_people');
  const seesChanges = useMay('see_changes');
  if (kitchen.isError) return <Notice tone="stop" text={kitchen.error.message} />;
  if (!kitchen.data) return <Loader aria-label="Loading the kitchen" />;
  return (
    <>
      <Editor data={kitchen.data} site={person.site} />
      <BusinessCard />
      <PlacesCard />
      {mayCook && <PinCard />}
      {looksAfterPeople && <PeopleCard />}
      <SessionsCard all={looksAfterPeople} />
      {seesChanges && <ChangesCard />}
    </>
  );
}

function Editor({ data, site }: { data: KitchenOut; site: string }) {
  const [edited, setEdited] = useState<Kitchen | null>(null);
  const [base, setBase] = useState(data.number);
  const readOnly = !useMay('edit_kitchen');
  const queryClient = useQueryClient();
  const save = useMutation({
    mutationFn: (number: number) =>
      answer(client.PUT('/api/v1/kitchen', { body: { number, kitchen: edited ?? data.kitchen } })),
    onSuccess: (out) => {
      queryClient.setQueryData(keys.kitchen, out);
      void queryClient.invalidateQueries({ queryKey: keys.formulas });
      setBase(out.number);
      setEdited(null);
    },
  });
  const theirs = save.error?.status === 409 ? (save.error.theirs as KitchenOut) : null;
  const current = edited ?? data.kitchen;
  const other = save.error && !theirs && !save.error.items.some((item) => item.field.startsWith('kitchen.'));
  return (
    <>
      <ScreenHead title="Site" aside={site}>
        <span role="status">{edited ? 'not saved yet' : save.isSuccess ? 'saved' : ''}</span>
        {!readOnly && (
          <>
            <Button variant="default" disabled={!edited} onClick={() => setEdited(null)}>
              Discard changes
            </Button>
            <Button disabled={!edited} loading={save.isPending} onClick={() => save.mutate(base)}>
              Save
            </Button>
          </>
        )}
      </ScreenHead>
      {theirs && (
        <TheirsNotice
          text="Somebody changed the kitchen while you were at it."
          onTake={() => {
            queryClient.setQueryData(keys.kitchen, theirs);
            setBase(theirs.number);
            setEdited(null);
            save.reset();
          }}
          onSave={() => save.mutate(theirs.number)}
        />
      )}
      {other && <Notice tone="stop" text={save.error?.message ?? ''} />}
      <KitchenForm
        kitchen={current}
        readOnly={readOnly}
        errorAt={(path) => save.error?.textFor(`kitchen.${path}`)}
        onChange={setEdited}
      />
    </>
  );
}
