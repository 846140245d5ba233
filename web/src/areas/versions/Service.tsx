import { Button } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { VersionCard } from '../../api/types';
import { useMay } from '../../app/person';
import { ago } from '../../lib/format';
import { GrowingText } from '../../parts/GrowingText';
import { Notice } from '../../parts/Notice';
import classes from './VersionsScreen.module.css';

/** Whether a version may be served: what was said last, and what a lead may say now. What is not answered wants a reason. */
export function Service({ formula, version }: { formula: string; version: VersionCard }) {
  const mayMark = useMay('mark_ready');
  const queryClient = useQueryClient();
  const [reason, setReason] = useState('');
  const said = version.service;
  const say = useMutation({
    mutationFn: (ready: boolean) =>
      answer(
        client.POST('/api/v1/formulas/{formula_id}/versions/{number}/ready', {
          params: { path: { formula_id: formula, number: version.number } },
          body: { ready, reason },
        }),
      ),
    onSuccess: () => {
      setReason('');
      void queryClient.invalidateQueries({ queryKey: keys.versions(formula) });
    },
  });
  const asked = say.error?.textFor('reason');
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
      {say.error && <Notice tone={asked ? 'look' : 'stop'} text={asked ?? say.error.message} />}
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
          loading={say.isPending}
          disabled={Boolean(asked) && reason.trim() === ''}
          aria-label={`${word}: version ${version.number}`}
          onClick={() => say.mutate(!said?.ready)}
        >
          {word}
        </Button>
      )}
    </div>
  );
}
