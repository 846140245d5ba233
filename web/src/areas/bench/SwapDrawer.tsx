import { ActionIcon, Checkbox, Loader } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { Hit, MethodDocument, ReadingReport, SuggestionReport } from '../../api/types';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { SideDrawer } from '../../parts/SideDrawer';
import { WayCard } from '../../parts/WayCard';
import { IngredientPick } from '../pantry/IngredientPick';
import classes from './SwapDrawer.module.css';

/** Readings a cook may want to keep through a swap. */
const KEPT = ['brix', 'yield_g', 'yield_l', 'sweetness', 'fat', 'sugars_100g', 'acidity', 'water_activity'];
const MOST = 4;

/** The line whose ingredient goes. */
export interface Swapping {
  line: string;
  name: string;
}

interface SwapDrawerProps {
  swapping: Swapping | null;
  document: MethodDocument;
  readings: ReadingReport[];
  readOnly: boolean;
  onTake: (way: SuggestionReport) => void;
  onClose: () => void;
}

/** One ingredient for another or for a blend, with readings held, and what changes all the same. */
export function SwapDrawer({ swapping, onClose, ...props }: SwapDrawerProps) {
  return (
    <SideDrawer
      opened={swapping !== null}
      title={swapping && `In place of ${swapping.name.toLowerCase()}`}
      closeLabel="Close the swap"
      width={560}
      onClose={onClose}
    >
      {swapping && <Swap key={swapping.line} swapping={swapping} {...props} />}
    </SideDrawer>
  );
}

interface Part {
  hit: Hit;
  share: number;
}

function Swap({
  swapping,
  document,
  readings,
  readOnly,
  onTake,
}: Omit<SwapDrawerProps, 'swapping' | 'onClose'> & { swapping: Swapping }) {
  const [parts, setParts] = useState<Part[]>([]);
  const [hold, setHold] = useState<string[] | null>(null);
  const ask = {
    line: swapping.line,
    parts: Object.fromEntries(parts.filter((part) => part.share > 0).map((part) => [part.hit.id, part.share])),
    ...(hold ? { hold } : {}),
  };
  const found = useQuery({
    queryKey: ['swap', ask, document],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/substitute', { body: { document, ask }, signal })),
    enabled: Object.keys(ask.parts).length > 0,
    retry: false,
    staleTime: 0,
    gcTime: 0,
  });
  const held = hold ?? found.data?.held ?? [];
  const choose = (hit: Hit) =>
    !parts.some((part) => part.hit.id === hit.id) &&
    setParts([...parts, { hit, share: parts.length === 0 ? 100 : 50 }]);
  const about = readings.filter((reading) => KEPT.includes(reading.id) && reading.value !== null);
  return (
    <>
      <ul className={classes.parts}>
        {parts.map((part, n) => (
          <li key={part.hit.id}>
            <span>{part.hit.title}</span>
            {parts.length > 1 && (
              <NumberField
                label={`Share of ${part.hit.title}`}
                unit="parts"
                above={0}
                high={1000}
                value={part.share}
                onNumber={(share) => setParts(parts.map((each, i) => (i === n ? { ...each, share } : each)))}
              />
            )}
            <ActionIcon
              variant="subtle"
              color="gray"
              size={36}
              aria-label={`Without ${part.hit.title}`}
              onClick={() => setParts(parts.filter((_, i) => i !== n))}
            >
              <IconX size={16} />
            </ActionIcon>
          </li>
        ))}
      </ul>
      {parts.length < MOST && (
        <IngredientPick
          key={parts.length}
          size="md"
          label={parts.length === 0 ? 'Replace with' : 'and beside it'}
          value={null}
          onChoose={choose}
        />
      )}
      {parts.length > 0 && about.length > 0 && (
        <Checkbox.Group label="Keep as it is" value={held} onChange={setHold} className={classes.hold}>
          <div className={classes.boxes}>
            {about.map((reading) => (
              <Checkbox key={reading.id} value={reading.id} label={reading.title} />
            ))}
          </div>
        </Checkbox.Group>
      )}
      {found.isFetching && !found.data && (
        <p role="status">
          <Loader size="xs" /> Calculating
        </p>
      )}
      {found.error && <Notice tone="stop" text={found.error.message} />}
      {found.data?.why_not.map((text) => (
        <Notice key={text} tone="look" text={text} />
      ))}
      {found.data && (
        <>
          <ul className={classes.list} aria-label="Ways to swap">
            {found.data.suggestions.map((way) => (
              <WayCard key={way.id} way={way} onTake={readOnly ? undefined : () => onTake(way)} />
            ))}
          </ul>
          {found.data.differences.length > 0 && (
            <table className={classes.table}>
              <caption>What else changes</caption>
              <thead>
                <tr>
                  <th scope="col" aria-label="About" />
                  <th scope="col">now</th>
                  <th scope="col">then</th>
                </tr>
              </thead>
              <tbody>
                {found.data.differences.map((each) => (
                  <tr key={each.about}>
                    <th scope="row">{each.about}</th>
                    <td>{each.before}</td>
                    <td>{each.after}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
    </>
  );
}
