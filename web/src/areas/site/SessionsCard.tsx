import { Button, Table } from '@mantine/core';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import { keys, signedInQuery } from '../../api/queries';
import type { SignedIn } from '../../api/types';
import { when } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ShowMore } from '../../parts/ShowMore';
import classes from './PinCard.module.css';

/** Where somebody is signed in, and the press that ends it: a tablet that was left somewhere, a phone that is gone. */
export function SessionsCard({ all }: { all: boolean }) {
  const queryClient = useQueryClient();
  const sessions = useInfiniteQuery(signedInQuery);
  const end = useMutation({
    mutationFn: (session_id: string) =>
      answer(client.DELETE('/api/v1/session/all/{session_id}', { params: { path: { session_id } } })),
    onSettled: () => void queryClient.invalidateQueries({ queryKey: keys.signedIn }),
  });
  const problem = sessions.error ?? end.error;
  return (
    <Card
      title={all ? 'Who is signed in' : 'Where you are signed in'}
      aside="ending a session takes seconds; entries made in it stay"
      className={classes.card}
    >
      {problem && <Notice tone="stop" text={problem.message} />}
      <Table.ScrollContainer minWidth={480}>
        <Table aria-label={all ? 'Who is signed in' : 'Where you are signed in'} verticalSpacing="xs" fz="md">
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Who</Table.Th>
              <Table.Th>Since</Table.Th>
              <Table.Th>Last did something</Table.Th>
              <Table.Th>Where</Table.Th>
              <Table.Th aria-label="What can be done" />
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {(sessions.data?.pages.flatMap((page) => page.items) ?? []).map((session) => (
              <Table.Tr key={session.id}>
                <Table.Td>
                  {session.name}
                  {session.by_pin && ', by PIN'}
                </Table.Td>
                <Table.Td>{session.began_at ? when(session.began_at) : '–'}</Table.Td>
                <Table.Td>{session.seen_at ? when(session.seen_at) : '–'}</Table.Td>
                <Table.Td>{session.this_one ? 'here' : where(session)}</Table.Td>
                <Table.Td>
                  {!session.this_one && (
                    <Button
                      size="sm"
                      variant="default"
                      loading={end.isPending}
                      onClick={() => end.mutate(session.id)}
                      aria-label={`End: ${session.name}, ${where(session)}`}
                    >
                      End
                    </Button>
                  )}
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </Table.ScrollContainer>
      <ShowMore of={sessions} />
    </Card>
  );
}

const KINDS: [RegExp, string][] = [
  [/iPad|Android(?!.*Mobile)|Tablet/, 'a tablet'],
  [/Mobile|iPhone/, 'a phone'],
  [/Windows|Macintosh|Linux|CrOS/, 'a computer'],
];

/** What it was signed in with, as far as its browser says, and from which address. */
function where({ browser, address }: SignedIn): string {
  const kind = KINDS.find(([pattern]) => pattern.test(browser))?.[1] ?? 'something else';
  return address ? `${kind}, ${address}` : kind;
}
