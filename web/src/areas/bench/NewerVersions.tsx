import { Button } from '@mantine/core';
import type { MadeHere } from '../../api/types';
import { Notice } from '../../parts/Notice';

interface NewerVersionsProps {
  made: MadeHere[];
  onLook: (made: MadeHere) => void;
}

/** Which of the formulas that stand in this one have a newer version. */
export function NewerVersions({ made, onLook }: NewerVersionsProps) {
  const behind = made.filter(
    (each, at) => each.newest && made.findIndex((other) => other.substance === each.substance) === at,
  );
  return behind.map((each) => (
    <Notice
      key={each.substance}
      tone="look"
      text={`This is made with version ${each.version} of ${each.name}. Its newest is version ${each.newest}.`}
    >
      <Button size="xs" variant="default" onClick={() => onLook(each)}>
        See what would change
      </Button>
    </Notice>
  ));
}
