import { Table } from '@mantine/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { changesQuery } from '../../api/queries';
import type { ChangeOut } from '../../api/types';
import { when } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ShowMore } from '../../parts/ShowMore';
import classes from './PinCard.module.css';

/** Who changed formulas, kitchen, pantry, lots, people and PINs, and from where: kept by the database, whoever changes them. */
export function ChangesCard() {
  const changes = useInfiniteQuery(changesQuery);
  const rows = changes.data?.pages.flatMap((page) => page.items) ?? [];
  return (
    <Card title="Who changed what" aside="nobody can change this list" className={classes.card}>
      {changes.isError && <Notice tone="stop" text={changes.error.message} />}
      <Table.ScrollContainer minWidth={480}>
        <Table aria-label="Who changed what" verticalSpacing="xs" fz="md">
          <Table.Thead>
            <Table.Tr>
              <Table.Th>When</Table.Th>
              <Table.Th>Who and where</Table.Th>
              <Table.Th>What</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {rows.map((row, place) => (
              <Table.Tr key={`${row.at} ${place}`}>
                <Table.Td>{when(row.at)}</Table.Td>
                <Table.Td>{[row.by, row.how === 'PIN' && 'by PIN', row.address].filter(Boolean).join(', ')}</Table.Td>
                <Table.Td>
                  {row.kind} <strong>{row.what}</strong> {row.deed}
                  {row.differs.length > 0 && `: ${differs(row)}`}
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </Table.ScrollContainer>
      {changes.data && rows.length === 0 && <p>Nothing was changed yet.</p>}
      <ShowMore of={changes} label="Show earlier ones" />
    </Card>
  );
}

function differs({ differs, more }: ChangeOut): string {
  const told = differs.map((each) => `${each.name} ${each.before} → ${each.after}`).join('; ');
  return more > 0 ? `${told}; and ${more} more` : told;
}
