import { ActionIcon, Button, MultiSelect, NativeSelect, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import { keys, kitchenQuery } from '../../api/queries';
import type { Kitchen, Equipment } from '../../api/types';
import { useMay } from '../../app/person';
import { Card } from '../../parts/Card';
import { NumberField } from '../../parts/NumberField';
import { ALLERGENS } from '../pantry/words';
import classes from './KitchenForm.module.css';

const KINDS: Record<Equipment['kind'], string> = {
  blender: 'Blender',
  stick_blender: 'Stick blender',
  frother: 'Frother',
  hand_mixer: 'Hand mixer',
  whisk: 'Whisk',
  jar: 'Shaking jar',
  siphon: 'Siphon',
  mill: 'Grinder',
  press: 'Press',
  sieve: 'Sieve or cloth',
  pump: 'Pump',
  flask: 'Vacuum flask',
};

interface EquipmentCardProps {
  kitchen: Kitchen;
  readOnly: boolean;
  errorAt: (path: string) => string | undefined;
  onChange: (kitchen: Kitchen) => void;
}

/** Equipment that meets allergens, or is kept free of them; what the site's formulas say of it is offered. */
export function EquipmentCard({ kitchen, readOnly, errorAt, onChange }: EquipmentCardProps) {
  const seen = useQuery({
    queryKey: [...keys.kitchen, 'equipment'],
    queryFn: () => answer(client.GET('/api/v1/equipment')),
  });
  // What batches added since a piece was washed is the server's to say, whatever is being edited here.
  const now = useQuery(kitchenQuery);
  const met = new Map((now.data?.kitchen.equipment ?? []).map((piece) => [piece.id, piece]));
  const equipment = kitchen.equipment ?? [];
  const put = (next: Equipment[]) => onChange({ ...kitchen, equipment: next.length > 0 ? next : null });
  const patch = (id: string, change: Partial<Equipment>) =>
    put(equipment.map((piece) => (piece.id === id ? { ...piece, ...change } : piece)));
  const add = (kind: Equipment['kind'], allergens_met: string[]) => {
    let n = equipment.length + 1;
    while (equipment.some((piece) => piece.id === `gear-${n}`)) n += 1;
    put([
      ...equipment,
      { id: `gear-${n}`, name: KINDS[kind], kind, allergens_met, holds_ml: null, met_at_batches: [] },
    ]);
  };
  const untold = (seen.data ?? []).filter((each) => !equipment.some((piece) => piece.kind === each.kind));
  return (
    <Card title="Shared equipment" aside="it may carry over what it meets; leave one that is kept free empty">
      {equipment.length === 0 && (
        <p className={classes.none}>None described: one of each kind is assumed for all formulas.</p>
      )}
      <ul className={classes.things}>
        {equipment.map((piece) => (
          <li key={piece.id} className={classes.thing}>
            <TextInput
              label="Name of it"
              value={piece.name}
              readOnly={readOnly}
              error={errorAt(`equipment.${piece.id}.name`) ?? errorAt(`equipment.${piece.id}`)}
              onChange={(event) => patch(piece.id, { name: event.currentTarget.value })}
            />
            <NativeSelect
              label="Kind"
              disabled={readOnly}
              data={Object.entries(KINDS).map(([value, label]) => ({ value, label }))}
              value={piece.kind}
              onChange={(event) => patch(piece.id, { kind: event.currentTarget.value as Equipment['kind'] })}
            />
            <MultiSelect
              label="Meets"
              placeholder={(piece.allergens_met ?? []).length === 0 ? 'kept free of all' : undefined}
              disabled={readOnly}
              data={ALLERGENS}
              value={piece.allergens_met ?? []}
              onChange={(allergens_met) => patch(piece.id, { allergens_met })}
            />
            <NumberField
              shown
              size="sm"
              label="Holds at most"
              unit="ml"
              placeholder="unknown"
              above={0}
              high={200_000}
              value={piece.holds_ml ?? null}
              readOnly={readOnly}
              error={errorAt(`equipment.${piece.id}.holds_ml`)}
              onNumber={(holds_ml) => patch(piece.id, { holds_ml })}
              onClear={() => patch(piece.id, { holds_ml: null })}
            />
            <Met piece={met.get(piece.id)} name={piece.name} />
            {!readOnly && (
              <ActionIcon
                variant="subtle"
                color="gray"
                size={36}
                aria-label={`Remove ${piece.name}`}
                onClick={() => put(equipment.filter((each) => each.id !== piece.id))}
              >
                <IconX size={17} />
              </ActionIcon>
            )}
          </li>
        ))}
      </ul>
      {untold.map((each) => (
        <p key={each.kind} className={classes.none}>
          By your formulas the {each.title} meets{' '}
          {Object.entries(each.allergens)
            .map(([allergen, names]) => `${allergen} (${few(names)})`)
            .join(', ')}
          .{' '}
          {!readOnly && (
            <Button
              size="xs"
              variant="default"
              aria-label={`Add it: ${each.title}`}
              onClick={() => add(each.kind, Object.keys(each.allergens))}
            >
              Add it
            </Button>
          )}
        </p>
      ))}
      {!readOnly && (
        <Button variant="default" className={classes.add} onClick={() => add('blender', [])}>
          Add equipment
        </Button>
      )}
    </Card>
  );
}

function few(names: string[]): string {
  return names.length > 2 ? `${names[0]} and ${names.length - 1} more` : names.join(' and ');
}

/** What a piece met at batches since it was last washed by the allergen clean, and the press that says it was. */
function Met({ piece, name }: { piece: Equipment | undefined; name: string }) {
  const mayCook = useMay('cook');
  const queryClient = useQueryClient();
  const clean = useMutation({
    mutationFn: (key: string) =>
      answer(client.POST('/api/v1/kitchen/equipment/{key}/cleaned', { params: { path: { key } } })),
    onSuccess: (found) => queryClient.setQueryData(keys.kitchen, found),
  });
  const always = piece?.allergens_met ?? [];
  const besides = (piece?.met_at_batches ?? []).filter((each) => !always.includes(each.allergen));
  if (!piece || besides.length === 0) return null;
  return (
    <p className={`${classes.none} ${classes.met}`}>
      Met {besides.map((each) => `${each.allergen} (${each.at})`).join(', ')}, and was not washed of it since.{' '}
      {mayCook && (
        <Button
          size="xs"
          variant="default"
          loading={clean.isPending}
          aria-label={`Washed by the allergen clean: ${name}`}
          onClick={() => clean.mutate(piece.id)}
        >
          Washed by the allergen clean
        </Button>
      )}
      {clean.error && ` ${clean.error.message}`}
    </p>
  );
}
