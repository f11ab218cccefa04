/// <reference types="node" />
import react from '@vitejs/plugin-react';
import { VitePWA } from 'vite-plugin-pwa';
import { defineConfig } from 'vitest/config';
import { language } from './language';

/** Left alone every few shared lines would be a file, and a page would come in thirty of them. */
const TOGETHER = [
  { name: 'first', tags: ['$initial' as const], priority: 1 },
  // What many pages are made of; what reads forms is large, and signing in does without it.
  { name: 'parts', test: /node_modules[\\/](?!@mui[\\/]x-|d3-|zod)/, minShareCount: 16 },
  { name: 'drawing', test: /node_modules[\\/]d3-|[\\/]src[\\/](chart|plot)[\\/]/, minShareCount: 5 },
];

export default defineConfig({
  plugins: [
    language(process.env.NUVEK_LANGUAGE ?? ''),
    react(),
    VitePWA({
      manifest: {
        name: 'Nuvek',
        short_name: 'Nuvek',
        description: 'Samples, control charts, signals and their review.',
        start_url: '/rounds',
        display: 'standalone',
        background_color: '#f4f2ed',
        theme_color: '#1c2733',
        icons: [
          { src: '/mark-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/mark-512.png', sizes: '512x512', type: 'image/png', purpose: 'any maskable' },
        ],
      },
      // A page that somebody types on is not reloaded under their hands: a new version starts with the next page.
      registerType: 'prompt',
      injectRegister: null,
      workbox: {
        globPatterns: ['**/*.{html,js,css,svg,png,woff2}'],
        navigateFallback: null,
        // The page comes from the server while it answers, for its fresh style number.
        runtimeCaching: [
          {
            urlPattern: ({ request, url }) => request.mode === 'navigate' && !url.pathname.startsWith('/api/'),
            handler: 'NetworkOnly',
            options: { precacheFallback: { fallbackURL: '/index.html' } },
          },
        ],
      },
    }),
  ],
  build: {
    // The server's content security policy allows no inline files.
    assetsInlineLimit: 0,
    // Whose work ships inside, served with it.
    license: { fileName: 'licences.md' },
    // React, MUI and the chart together; the long lists have a chunk of their own.
    chunkSizeWarningLimit: 900,
    rolldownOptions: { output: { codeSplitting: { groups: TOGETHER } } },
  },
  server: {
    // Where `make dev` lets the server listen.
    proxy: { '/api': `http://127.0.0.1:${process.env.PORT ?? '8420'}` },
  },
  test: { include: ['src/**/*.test.ts', 'lint/*.test.js'] },
});
