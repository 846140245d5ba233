/** The worker's own name for where it keeps the page; vite.config.ts says the same. */
const PAGE = 'page';

/** Lets this tablet open the app without a network; where the browser cannot, it needs one. */
export function keepOpenable() {
  if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return;
  window.addEventListener('load', () => void register());
}

async function register() {
  try {
    await navigator.serviceWorker.register('/sw.js', { updateViaCache: 'none' });
    await navigator.serviceWorker.ready;
    // This visit's page came before the worker: fetched once more, it is there for the next without a network.
    const kept = await caches.open(PAGE);
    await kept.add('/');
  } catch (error) {
    console.warn('This tablet cannot open the app without a network yet.', error);
  }
}
