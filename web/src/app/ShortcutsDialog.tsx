import { Kbd, Modal, Table } from '@mantine/core';
import { useShortcutList } from './shortcuts';

/** The shortcuts of the screen that is shown, and those that are everywhere. */
export function ShortcutsDialog({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="Shortcuts" centered>
      <ShortcutTable />
    </Modal>
  );
}

function ShortcutTable() {
  const own = useShortcutList();
  const everywhere = [
    { keys: '/', does: 'Find a formula, an ingredient or a batch' },
    { keys: '?', does: 'This list' },
  ];
  return (
    <Table>
      <Table.Tbody>
        {[...own, ...everywhere].map((each) => (
          <Table.Tr key={each.keys + each.does}>
            <Table.Td>
              <Kbd>{each.keys}</Kbd>
            </Table.Td>
            <Table.Td>{each.does}</Table.Td>
          </Table.Tr>
        ))}
      </Table.Tbody>
    </Table>
  );
}
