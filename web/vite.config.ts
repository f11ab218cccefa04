import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  build: {
    // The server's content security policy allows no inline files.
    assetsInlineLimit: 0,
    // Whose work ships inside, served with it.
    license: { fileName: 'licences.md' },
    // React, MUI and the chart together; the long lists have a chunk of their own.
    chunkSizeWarningLimit: 900,
  },
  server: {
    proxy: { '/api': 'http://127.0.0.1:8420' },
  },
  test: { include: ['src/**/*.test.ts'] },
});
