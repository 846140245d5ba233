import { Button, Menu } from '@mantine/core';
import { IconDots } from '@tabler/icons-react';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { Kitchen, MethodDocument } from '../../api/types';
import type { Archived } from '../../parts/JustArchived';
import { saveFile } from '../../lib/saveFile';

interface FormulaMenuProps {
  /** The family it names, if that is one that is known. */
  family: string | null;
  id: string;
  document: MethodDocument;
  kitchen: Kitchen | undefined;
  /** Whether the server has it. */
  kept: boolean;
  readOnly: boolean;
  onProblem: (text: string) => void;
  onVersion: () => void;
  onUsed: () => void;
  /** Nothing where it does not walk yet. */
  onCost: (() => void) | undefined;
  /** Nothing where it does not walk yet. */
  onAim: (() => void) | undefined;
}

/** What else may be done with a formula. */
export function FormulaMenu({
  id,
  family,
  document,
  kitchen,
  kept,
  readOnly,
  onProblem,
  onVersion,
  onUsed,
  onCost,
  onAim,
}: FormulaMenuProps) {
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const putAway = useMutation({
    mutationFn: () => answer(client.DELETE('/api/v1/formulas/{formula_id}', { params: { path: { formula_id: id } } })),
    onSuccess: () => {
      // Forgotten, not only out of date: the list must not show it beside the words that it is archived.
      queryClient.removeQueries({ queryKey: keys.formulaLists, type: 'inactive' });
      void queryClient.invalidateQueries({ queryKey: keys.formulaLists });
      void navigate('/formulas', { state: { archived: { id, name: document.name } } satisfies Archived });
    },
    onError: (problem) => onProblem(problem.message),
  });
  const give = useMutation({
    mutationFn: (form: 'recipe' | 'lines') => answer(client.POST('/api/v1/export', { body: { document, form } })),
    onSuccess: (made) => saveFile(`${document.name || 'formula'}${made.ending}`, made.text, made.media),
    onError: (problem) => onProblem(problem.message),
  });
  return (
    <Menu position="bottom-end" width={260}>
      <Menu.Target>
        <Button variant="default" aria-label="More for this formula">
          <IconDots size={18} aria-hidden="true" />
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {!readOnly && (
          <Menu.Item disabled={!kept} onClick={onVersion}>
            Save as a version
          </Menu.Item>
        )}
        <Menu.Item disabled={!kept} onClick={() => void navigate(`/formulas/${id}/versions`)}>
          Versions, side by side
        </Menu.Item>
        <Menu.Item disabled={!kept} onClick={onUsed}>
          Where it is used
        </Menu.Item>
        <Menu.Item disabled={!onCost} onClick={onCost}>
          What it costs
        </Menu.Item>
        {!readOnly && (
          <Menu.Item disabled={!kept} onClick={() => void navigate(`/formulas/copy/${id}`)}>
            Copy
          </Menu.Item>
        )}
        <Menu.Item disabled={!onAim} onClick={onAim}>
          Aim at a benchmark
        </Menu.Item>
        {!readOnly && family && (
          <Menu.Item onClick={() => void navigate(`/formulas/new?family=${family}`)}>Other methods for this</Menu.Item>
        )}
        <Menu.Item
          onClick={() =>
            saveFile(
              `${document.name || 'formula'}.json`,
              JSON.stringify({ ...document, kitchen }, null, 2),
              'application/json',
            )
          }
        >
          Export as JSON, with everything
        </Menu.Item>
        <Menu.Item onClick={() => give.mutate('recipe')}>Export as a recipe for other programs</Menu.Item>
        <Menu.Item onClick={() => give.mutate('lines')}>Export the ingredients as CSV</Menu.Item>
        {!readOnly && (
          <Menu.Item color="red" disabled={!kept} onClick={() => putAway.mutate()}>
            Archive
          </Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
