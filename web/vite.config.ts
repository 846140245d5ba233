import babel from '@rolldown/plugin-babel';
import react, { reactCompilerPreset } from '@vitejs/plugin-react';
import { VitePWA } from 'vite-plugin-pwa';
import { defineConfig } from 'vitest/config';

const BASE = '/static/app/';

export default defineConfig({
  base: BASE,
  plugins: [
    react(),
    // What a change does not touch is not rendered anew. It goes by the rules that the linter holds.
    babel({ presets: [reactCompilerPreset()] }),
    // What the tablet by the hob needs to open without a network: the page and its files, nothing of the data.
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: null,
      manifest: false,
      workbox: {
        globPatterns: ['assets/*.{js,css,woff2}', '*.svg'],
        modifyURLPrefix: { '': BASE },
        inlineWorkboxRuntime: true,
        sourcemap: false,
        clientsClaim: true,
        skipWaiting: true,
        navigateFallback: null,
        // The page carries a nonce and a policy that belong together: the newest from the server, else the last one seen.
        runtimeCaching: [
          {
            urlPattern: ({ request, url }) => request.mode === 'navigate' && !url.pathname.startsWith('/api/'),
            handler: 'NetworkFirst',
            options: {
              cacheName: 'page',
              networkTimeoutSeconds: 4,
              // One page serves every address.
              plugins: [{ cacheKeyWillBeUsed: () => Promise.resolve('/') }],
            },
          },
        ],
      },
    }),
  ],
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    // Nearly all of it is the library's, which the first page needs; a file for each screen is a request more and saves nothing.
    cssCodeSplit: false,
    rolldownOptions: {
      output: {
        codeSplitting: {
          // A file of its own for everything that two screens share would be fifty files before the bench is there.
          groups: [
            { name: 'first', tags: ['$initial'], priority: 2 },
            { name: 'shared', minShareCount: 2, priority: 1 },
          ],
        },
      },
    },
  },
  test: {
    testTimeout: 20_000,
    environment: 'jsdom',
    setupFiles: ['./src/test/setup.ts'],
    include: ['src/**/*.test.{ts,tsx}'],
    css: false,
  },
});
