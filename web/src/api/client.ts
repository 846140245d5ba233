import createClient from 'openapi-fetch';
import { door } from './door';
import { makes, OnceKeys } from './once';
import { networkProblem, problemFrom } from './problem';
import type { paths } from './schema';

function cookie(name: string): string {
  const found = document.cookie.split('; ').find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : '';
}

const once = new OnceKeys();

/** Sends a request with the token that belongs to the session it goes out with; what makes something with a key that has it made once. */
async function send(request: Request): Promise<Response> {
  if (!['GET', 'HEAD'].includes(request.method)) request.headers.set('X-CSRFToken', cookie('oakenjug_csrf'));
  const { pathname } = new URL(request.url);
  if (!makes(request.method, pathname)) return fetch(request);
  return once.send(`${pathname} ${await request.clone().text()}`, (key) => {
    request.headers.set('Idempotency-Key', key);
    return fetch(request);
  });
}

export const client = createClient<paths>({ baseUrl: '', fetch: (request) => door.through(() => send(request)) });

const sessions = createClient<paths>({ baseUrl: '', fetch: send });

/** Changes whose session it is, with no other call under way. */
export const passOn = <T>(change: (by: typeof sessions) => Promise<T>): Promise<T> =>
  door.alone(() => change(sessions));

const signedOut = new EventTarget();

/** Calls back whenever an answer says that nobody is signed in; gives what ends it. */
export function onSignedOut(call: () => void): () => void {
  signedOut.addEventListener('signed-out', call);
  return () => signedOut.removeEventListener('signed-out', call);
}

/** Waits for a call and gives its data; throws an ApiProblem for anything else. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await call;
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw networkProblem();
  }
  if (result.response.status === 401) signedOut.dispatchEvent(new Event('signed-out'));
  if (!result.response.ok) throw problemFrom(result.response.status, result.error);
  return result.data as T;
}
