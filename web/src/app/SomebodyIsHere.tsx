import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { client } from '../api/client';
import { keys } from '../api/queries';

/** Somebody who only looks says so no oftener than this. */
const OFTEN_MS = 5 * 60_000;

/** Lets the server know that somebody is at the tablet, so that its session does not rest under their hands. */
export function SomebodyIsHere() {
  const queryClient = useQueryClient();
  useEffect(() => {
    let last = Date.now();
    const here = () => {
      if (Date.now() - last < OFTEN_MS) return;
      last = Date.now();
      void client.POST('/api/v1/session/here').then(
        ({ response }) => {
          if (response.status === 401) void queryClient.invalidateQueries({ queryKey: keys.session });
        },
        () => undefined, // without a network nothing rests either: it is asked for when it is back
      );
    };
    const events = ['pointerdown', 'keydown', 'wheel'] as const;
    events.forEach((each) => window.addEventListener(each, here, { passive: true }));
    return () => events.forEach((each) => window.removeEventListener(each, here));
  }, [queryClient]);
  return null;
}
