/**
 * Keys for what is to be made once. A request whose answer never came is sent again with the key it had, so that the server
 * makes the thing once and answers as it would have; whatever was answered is done with.
 */
export class OnceKeys {
  private readonly unanswered = new Map<string, string>();

  /** Sends a request with its key, the one it had before if nobody answered that. */
  async send(what: string, send: (key: string) => Promise<Response>): Promise<Response> {
    const key = this.unanswered.get(what) ?? crypto.randomUUID();
    this.unanswered.set(what, key);
    const response = await send(key);
    // A server that was away or busy may have made it all the same.
    if (response.status < 500) this.unanswered.delete(what);
    return response;
  }
}

/** Where something is made; whatever else is sent changes nothing, or says itself which one it is. */
const MAKES = /^\/api\/v1\/(formulas(\/[^/]+\/versions)?|substances(\/[^/]+\/(packs|lots))?|benchmarks|batches)$/;

/** Whether a request makes something. */
export function makes(method: string, path: string): boolean {
  return method === 'POST' && MAKES.test(path);
}
