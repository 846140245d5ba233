import { ActionIcon, Button, Menu } from '@mantine/core';
import { IconDots, IconPlus } from '@tabler/icons-react';
import type { Stage, Starters } from '../../api/types';
import { Drawing } from '../../parts/Drawing';
import { type Edit, insertStage, moveStage, removeStage } from './edits';
import classes from './MethodCard.module.css';

interface AddStageProps {
  starters: Starters;
  label: string;
  onEdit: (of: string, edit: Edit) => void;
}

/** Puts a stage at the end. */
export function AddStage({ starters, label, onEdit }: AddStageProps) {
  return (
    <Menu position="bottom-start" width={330}>
      <Menu.Target>
        <Button variant="subtle" size="xs" leftSection={<IconPlus size={15} />}>
          {label}
        </Button>
      </Menu.Target>
      <Menu.Dropdown className={classes.long}>
        {starters.stages.map((starter) => (
          <Menu.Item
            key={starter.kind}
            leftSection={<Drawing of={{ stage: starter.kind }} size={22} />}
            onClick={() => onEdit(`stage.${Date.now()}`, insertStage(starter, null))}
          >
            <strong>{starter.title}</strong> <span className={classes.dim}>{starter.words}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

interface StageMenuProps {
  stage: Stage;
  title: string;
  starters: Starters;
  first: boolean;
  last: boolean;
  onNote: () => void;
  onEdit: (of: string, edit: Edit) => void;
}

/** What else may be done with a stage. */
export function StageMenu({ stage, title, starters, first, last, onNote, onEdit }: StageMenuProps) {
  return (
    <Menu position="bottom-end" width={300}>
      <Menu.Target>
        <ActionIcon
          variant="subtle"
          color="gray"
          size={28}
          aria-label={`More for stage ${title}`}
          className={classes.more}
        >
          <IconDots size={17} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown className={classes.long}>
        <Menu.Item disabled={first} onClick={() => onEdit('move', moveStage(stage.id, -1))}>
          Move earlier
        </Menu.Item>
        <Menu.Item disabled={last} onClick={() => onEdit('move', moveStage(stage.id, 1))}>
          Move later
        </Menu.Item>
        <Menu.Item onClick={onNote}>Write a note</Menu.Item>
        <Menu.Item color="red" onClick={() => onEdit('remove', removeStage(stage.id))}>
          Remove this stage
        </Menu.Item>
        <Menu.Label>Put behind it</Menu.Label>
        {starters.stages.map((starter) => (
          <Menu.Item
            key={starter.kind}
            leftSection={<Drawing of={{ stage: starter.kind }} size={22} />}
            onClick={() => onEdit(`stage.${Date.now()}`, insertStage(starter, stage.id))}
          >
            {starter.title} <span className={classes.dim}>{starter.words}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
