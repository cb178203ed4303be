import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** For working on the pages: `npx vite packages/web` beside a running server. */
export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4173' } },
  build: { target: 'es2023', chunkSizeWarningLimit: 1200 },
});
