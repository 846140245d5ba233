import { configure } from '@testing-library/react';
import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';

// jsdom has neither; the component library asks for both.
window.matchMedia ??= vi.fn().mockImplementation((query: string) => ({
  matches: false,
  media: query,
  onchange: null,
  addEventListener: vi.fn(),
  removeEventListener: vi.fn(),
  addListener: vi.fn(),
  removeListener: vi.fn(),
  dispatchEvent: vi.fn(),
}));
window.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
afterEach(cleanup);
// jsdom lays nothing out, so there is nothing to scroll to.
Element.prototype.scrollIntoView ??= vi.fn();

// A busy machine takes longer than the second that is usual: what is waited for comes, or the test's own limit ends it.
configure({ asyncUtilTimeout: 10_000 });
