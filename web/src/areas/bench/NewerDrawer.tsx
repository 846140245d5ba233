import { Button, Loader } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import type { MadeHere, MethodDocument, WalkReport } from '../../api/types';
import { useReadingWords } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import { replaceSubstance } from './edits';
import classes from './SwapDrawer.module.css';

interface NewerDrawerProps {
  made: MadeHere | null;
  document: MethodDocument;
  report: WalkReport | null;
  readOnly: boolean;
  onTake: (document: MethodDocument, words: string) => void;
  onClose: () => void;
}

/** What a newer version of a formula that stands in this one would change here, side by side, before it is used. */
export function NewerDrawer({ made, document, report, readOnly, onTake, onClose }: NewerDrawerProps) {
  const newest = made?.newest_substance ?? null;
  const next = made && newest ? replaceSubstance(made.substance, newest)(document) : null;
  const walked = useQuery({
    queryKey: ['newer', made?.substance, document],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/walk', { body: next!, signal })),
    enabled: next !== null,
    retry: false,
    gcTime: 0,
  });
  const words = useReadingWords();
  const now = report?.readings ?? [];
  const rows = (walked.data?.readings ?? [])
    .map((reading) => ({
      id: reading.id,
      title: reading.title,
      before: words(reading.id, now.find((each) => each.id === reading.id)?.value, reading.digits, reading.unit),
      after: words(reading.id, reading.value, reading.digits, reading.unit),
    }))
    .filter((row) => row.before !== row.after);
  const allergens = (found: WalkReport | null | undefined) =>
    (found?.allergens ?? []).map((each) => each.allergen).join(', ') || 'none known';
  const others = [
    { title: 'Allergens', before: allergens(report), after: allergens(walked.data) },
    {
      title: 'Keeping',
      before: report?.keeping.words ?? '',
      after: walked.data?.keeping.words ?? '',
    },
  ].filter((row) => walked.data && row.before !== row.after);
  return (
    <SideDrawer
      opened={made !== null}
      title={made && `${made.name}, version ${made.version} to ${made.newest}`}
      closeLabel="Close the newer version"
      width={560}
      onClose={onClose}
    >
      {walked.isFetching && (
        <p role="status">
          <Loader size="xs" /> Calculating
        </p>
      )}
      {walked.error && <Notice tone="stop" text={walked.error.message} />}
      {made && walked.data && (
        <>
          {rows.length === 0 && others.length === 0 ? (
            <p>No reading of this formula changes.</p>
          ) : (
            <table className={classes.table}>
              <caption>What would change here</caption>
              <thead>
                <tr>
                  <th scope="col">Reading</th>
                  <th scope="col">Version {made.version}</th>
                  <th scope="col">Version {made.newest}</th>
                </tr>
              </thead>
              <tbody>
                {[...others, ...rows].map((row) => (
                  <tr key={row.title}>
                    <th scope="row">{row.title}</th>
                    <td>{row.before}</td>
                    <td>{row.after}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {!readOnly && (
            <Button mt={14} onClick={() => next && onTake(next, `${made.name}, version ${made.newest}`)}>
              Use version {made.newest}
            </Button>
          )}
        </>
      )}
    </SideDrawer>
  );
}
