import { Button } from '@mantine/core';
import { Notice } from './Notice';

interface TheirsNoticeProps {
  /** What somebody else changed meanwhile, in words. */
  text: string;
  onTake: () => void;
  onSave: () => void;
}

/** Somebody else saved first: take theirs, or save one's own over it. */
export function TheirsNotice({ text, onTake, onSave }: TheirsNoticeProps) {
  return (
    <Notice tone="stop" text={text}>
      <Button size="xs" variant="default" onClick={onTake}>
        Use theirs
      </Button>
      <Button size="xs" onClick={onSave}>
        Save mine over it
      </Button>
    </Notice>
  );
}
