/**
 * Every call goes through one door. It is shut while a session passes to somebody else: what was asked before is
 * answered first, what is asked meanwhile waits, so that nothing is refused with a session that is no more.
 */
export class Door {
  private readonly underWay = new Set<Promise<unknown>>();
  private shut: Promise<void> | null = null;

  /** Waits while the door is shut; at once when it is not. */
  async opened(): Promise<void> {
    while (this.shut) await this.shut;
  }

  /** Makes a call once the door is open. */
  async through<T>(call: () => Promise<T>): Promise<T> {
    while (this.shut) await this.shut;
    const answer = call();
    this.underWay.add(answer);
    const gone = () => this.underWay.delete(answer);
    answer.then(gone, gone);
    return answer;
  }

  /** Makes a call with nothing else under way; one that hangs is waited for no longer than this. [ms] */
  async alone<T>(call: () => Promise<T>, mostWait = 3000): Promise<T> {
    while (this.shut) await this.shut;
    let open = () => {};
    this.shut = new Promise((resolve) => (open = resolve));
    try {
      await Promise.race([
        Promise.allSettled(this.underWay),
        new Promise((resolve) => window.setTimeout(resolve, mostWait)),
      ]);
      return await call();
    } finally {
      this.shut = null;
      open();
    }
  }
}

export const door = new Door();
