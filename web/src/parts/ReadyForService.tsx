import { Button } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useMay } from '../app/person';
import { ago } from '../lib/format';
import { GrowingText } from './GrowingText';
import { Notice } from './Notice';
import classes from './ReadyForService.module.css';

interface ReadyForServiceProps {
  /** Of which version. */
  number: number;
  /** What was said last of serving it. */
  said: { ready: boolean; said_by: string; said_at: string; reason: string; unanswered: string[] } | null | undefined;
  /** Says it; what shows it is then fetched anew. */
  say: (ready: boolean, reason: string) => Promise<unknown>;
}

/** Whether a version may be served: what was said last, and what a lead may say now. What is not answered wants a reason. */
export function ReadyForService({ number, said, say }: ReadyForServiceProps) {
  const mayMark = useMay('mark_ready');
  const [reason, setReason] = useState('');
  const saying = useMutation({ mutationFn: (ready: boolean) => say(ready, reason), onSuccess: () => setReason('') });
  const asked = saying.error?.textFor('reason');
  const word = said?.ready ? 'No longer ready for service' : asked ? 'Ready anyway' : 'Ready for service';
  return (
    <div className={classes.service}>
      <span className={classes.note}>
        {said?.ready ? (
          <>
            <strong>Ready for service</strong>, {said.said_by}, {ago(said.said_at)}
            {said.unanswered.length > 0 && ` · anyway, with no answer to: ${said.unanswered.join(' ')}`}
            {said.reason && ` · ${said.reason}`}
          </>
        ) : (
          `Not marked as ready for service${said ? ` since ${ago(said.said_at)}, ${said.said_by}${said.reason && `: ${said.reason}`}` : ''}`
        )}
      </span>
      {saying.error && <Notice tone={asked ? 'look' : 'stop'} text={asked ?? saying.error.message} />}
      {asked && (
        <GrowingText
          size="sm"
          label="Why it may be served anyway"
          minRows={2}
          maxLength={500}
          value={reason}
          autoFocus
          onChange={(event) => setReason(event.currentTarget.value)}
        />
      )}
      {mayMark && (
        <Button
          size="xs"
          variant="default"
          loading={saying.isPending}
          disabled={Boolean(asked) && reason.trim() === ''}
          aria-label={`${word}: version ${number}`}
          onClick={() => saying.mutate(!said?.ready)}
        >
          {word}
        </Button>
      )}
    </div>
  );
}
