import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  root: import.meta.dirname,
  worker: { format: 'es' },
  build: { outDir: '../dist', emptyOutDir: true, chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
});
