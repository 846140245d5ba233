import { Button } from '@mantine/core';
import { Component, type ReactNode, Suspense } from 'react';
import { Notice } from '../parts/Notice';
import classes from './App.module.css';

/** A screen while it is loaded, and what to do where it could not be: a new release may have taken its file away. */
export function Loaded({ children, quiet }: { children: ReactNode; quiet?: boolean }) {
  return (
    <Missing>
      <Suspense
        fallback={
          quiet ? null : (
            <p role="status" className={classes.waiting}>
              Opening …
            </p>
          )
        }
      >
        {children}
      </Suspense>
    </Missing>
  );
}

class Missing extends Component<{ children: ReactNode }, { error: unknown }> {
  override state = { error: null as unknown };

  static getDerivedStateFromError(error: unknown) {
    return { error };
  }

  override render() {
    if (this.state.error === null) return this.props.children;
    if (!couldNotLoad(this.state.error)) throw this.state.error;
    return (
      <Notice tone="stop" text="This screen could not be loaded: the network is away, or the app was updated.">
        <Button size="xs" variant="default" onClick={() => window.location.reload()}>
          Reload
        </Button>
      </Notice>
    );
  }
}

/** Whether a file of the app did not come: each browser says so in words of its own. */
function couldNotLoad(error: unknown): boolean {
  return (
    error instanceof Error &&
    /dynamically imported module|module script|Importing a module|Unable to preload/i.test(error.message)
  );
}
